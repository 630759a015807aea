import { parseArgs } from 'node:util';
import { writeFlow } from '@crow-lane/core/formats/flow';
import { flowFormatNames, type FlowFormat } from '@crow-lane/core/formats/flow-list';
import { load } from './files.ts';
import { misused, type Output } from './output.ts';

const isFormat = (name: string | undefined): name is FlowFormat => flowFormatNames.includes(name as FlowFormat);

/** `crow-lane convert`: 0 where the flow was given in the form that was asked for, 2 when the input or the form is wrong. */
export async function convertCommand(args: string[], output: Output): Promise<number> {
  let named: string[];
  let to: string | undefined;
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { to: { type: 'string' } } });
    named = positionals;
    to = values.to;
  } catch (error) {
    return misused(output, `${(error as Error).message.split('. ')[0]!}.`);
  }
  const [file, ...rest] = named;
  if (file === undefined || rest.length > 0) return misused(output, 'convert takes one file.');
  if (!isFormat(to)) return misused(output, `--to is one of ${flowFormatNames.join(', ')}.`);
  const loaded = await load(file, output);
  if (!loaded) return 2;
  output.out(writeFlow[to](loaded.document).replace(/\r?\n$/, ''));
  return 0;
}
