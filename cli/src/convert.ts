import { parseArgs } from 'node:util';
import { writeFlow } from '@crow-lane/core/formats/flow';
import { flowFormatNames, pagePartNames, type FlowFormat, type PagePart } from '@crow-lane/core/formats/flow-list';
import { load } from './files.ts';
import { misused, type Output } from './output.ts';

const isFormat = (name: string | undefined): name is FlowFormat => flowFormatNames.includes(name as FlowFormat);
const isPart = (name: string): name is PagePart => pagePartNames.includes(name as PagePart);

/** `crow-lane convert`: 0 where the flow was given in the form that was asked for, 2 when the input or the form is wrong. */
export async function convertCommand(args: string[], output: Output): Promise<number> {
  let named: string[];
  let to: string | undefined;
  let shows: string[];
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { to: { type: 'string' }, show: { type: 'string', multiple: true, default: [] } }
    });
    named = positionals;
    to = values.to;
    shows = values.show;
  } catch (error) {
    return misused(output, `${(error as Error).message.split('. ')[0]!}.`);
  }
  const [file, ...rest] = named;
  if (file === undefined || rest.length > 0) return misused(output, 'convert takes one file.');
  if (!isFormat(to)) return misused(output, `--to is one of ${flowFormatNames.join(', ')}.`);
  if (!shows.every(isPart)) return misused(output, `--show is one of ${pagePartNames.join(', ')}.`);
  const loaded = await load(file, output);
  if (!loaded) return 2;
  // the player is built, and large: nothing else needs it
  const page = to === 'html' ? { template: (await import('@crow-lane/web/player')).default, shows } : undefined;
  output.out(writeFlow[to](loaded.document, page).replace(/\r?\n$/, ''));
  return 0;
}
