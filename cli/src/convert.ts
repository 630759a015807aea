import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { writeFlow } from '@crow-lane/core/formats/flow';
import {
  flowFormatNames,
  flowSourceNames,
  pagePartNames,
  sourceOf,
  type FlowFormat,
  type FlowSource,
  type PagePart
} from '@crow-lane/core/formats/flow-list';
import { readFlow } from '@crow-lane/core/formats/read-flow';
import { tellErrors, textOf } from './files.ts';
import { misused, type Output } from './output.ts';

const isFormat = (name: string | undefined): name is FlowFormat => flowFormatNames.includes(name as FlowFormat);
const isSource = (name: string): name is FlowSource => flowSourceNames.includes(name as FlowSource);
const isPart = (name: string): name is PagePart => pagePartNames.includes(name as PagePart);

/** `crow-lane convert`: 0 where the flow was given in the form that was asked for, 2 when the input or the form is wrong. */
export async function convertCommand(args: string[], output: Output): Promise<number> {
  let named: string[];
  let to: string | undefined;
  let from: string | undefined;
  let shows: string[];
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        to: { type: 'string', default: 'json' },
        from: { type: 'string' },
        show: { type: 'string', multiple: true, default: [] }
      }
    });
    named = positionals;
    to = values.to;
    from = values.from;
    shows = values.show;
  } catch (error) {
    return misused(output, `${(error as Error).message.split('. ')[0]!}.`);
  }
  const [file, ...rest] = named;
  if (file === undefined || rest.length > 0) return misused(output, 'convert takes one file.');
  if (!isFormat(to)) return misused(output, `--to is one of ${flowFormatNames.join(', ')}.`);
  if (!shows.every(isPart)) return misused(output, `--show is one of ${pagePartNames.join(', ')}.`);
  if (from !== undefined && !isSource(from)) return misused(output, `--from is one of ${flowSourceNames.join(', ')}.`);
  const text = await textOf(file, output);
  if (text === undefined) return 2;
  const found = readFlow[from ?? sourceOf(file)](text, basename(file).replace(/\.[^.]*$/, ''));
  if (found.errors) {
    tellErrors(file, found.errors, output);
    return 2;
  }
  for (const { line, what } of found.left) output.err(`${file}:${line}: left out: ${what}`);
  // the player is built, and large: nothing else needs it
  const page = to === 'html' ? { template: (await import('@crow-lane/web/player')).default, shows } : undefined;
  output.out(writeFlow[to](found.document, page).replace(/\r?\n$/, ''));
  return 0;
}
