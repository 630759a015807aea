/** Reads a flow from each of the forms in which others may have it (flow-list.ts). Never throws. */
import { cut } from '../document/cut.ts';
import { filled } from '../document/fill.ts';
import { apply } from '../document/patch.ts';
import { read } from '../document/read.ts';
import { emptyFlow } from '../document/shapes.ts';
import type { FlowDocument } from '../document/types.ts';
import { readDot } from './dot.ts';
import type { FlowSource } from './flow-list.ts';
import type { LeftOut, ReadFlow } from './left-out.ts';
import { readCsv, type BadCell } from './levels-csv.ts';

/** `name` is that of the file, without its ending: a flow without a name gets it. */
export const readFlow: Record<FlowSource, (text: string, name: string) => ReadFlow> = {
  json: (text) => {
    const { document, errors } = read(text);
    return document ? { document, left: [] } : { errors };
  },
  dot: readDot,
  levels: readLevels
};

/** A table of levels as a flow of its own. Its columns are as they are most likely meant; the sheet's own dialog asks more. */
function readLevels(text: string, name: string): ReadFlow {
  const empty = filled(emptyFlow(cut(name, 80) || 'Levels') as unknown as FlowDocument);
  const taken = readCsv(empty, text, undefined);
  if ('error' in taken) return { errors: [{ pointer: '', message: taken.error, line: 1, column: 1 }] };
  return { document: apply(empty, taken.change.patch), left: taken.refused.map(toldOf) };
}

const toldOf = ({ line, title, text, reason }: BadCell): LeftOut => ({
  line,
  what: title === undefined ? reason : `${title} “${text}”: ${reason}`
});
