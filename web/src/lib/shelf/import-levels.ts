import { cut } from '@crow-lane/core/document/cut';
import { filled } from '@crow-lane/core/document/fill';
import { apply } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { write } from '@crow-lane/core/document/write';
import { readCsv, type BadCell } from '@crow-lane/core/formats/levels-csv';
import { emptyFlow } from './empty-flow.ts';

/**
 * A table of levels as a flow of its own, named after its file: its text, and what could not be taken. Its columns are as
 * they are most likely meant; the sheet's own dialog asks more. Throws where no column names the levels.
 */
export function flowOfLevels(file: string, text: string): { text: string; refused: BadCell[] } {
  const empty = filled(emptyFlow(cut(file.replace(/\.[^.]*$/, ''), 80) || 'Levels') as unknown as FlowDocument);
  const taken = readCsv(empty, text, undefined);
  if ('error' in taken) throw new Error(`${file}: ${taken.error}`);
  return { text: write(apply(empty, taken.change.patch)), refused: taken.refused };
}
