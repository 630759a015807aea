/** Versions of flows: what differs between two, the merging of two that go back to one, and files as they are written. */
import { execFile } from 'node:child_process';
import { readFile, stat } from 'node:fs/promises';
import { parseArgs, promisify } from 'node:util';
import { merge } from '@crow-lane/core/document/merge';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { write } from '@crow-lane/core/document/write';
import { conflictWords } from '@crow-lane/core/words/conflicts';
import { differences } from '@crow-lane/core/words/differences';
import { documentIn, filesOf, load, longest, replaceFile } from './files.ts';
import { misused, type Output } from './output.ts';

const isFile = (name: string) =>
  stat(name).then(
    (found) => found.isFile(),
    () => false
  );

/** A file, or what one was at a revision, as git names it: `HEAD~3:flows/round.crow.json`. */
async function version(name: string, output: Output): Promise<FlowDocument | undefined> {
  const [, revision, path] = /^([^:-][^:]*):(.+)$/.exec(name) ?? [];
  if (revision === undefined || path === undefined || (await isFile(name))) return (await load(name, output))?.document;
  try {
    const { stdout } = await promisify(execFile)('git', ['show', `${revision}:${path}`], { maxBuffer: longest });
    return documentIn(name, stdout, output);
  } catch (error) {
    const { stderr, message } = error as { stderr?: string; message: string };
    output.err(`${name}: cannot be read (${(stderr ?? '').trim() || message})`);
    return undefined;
  }
}

const signs = { added: '+', removed: '-', changed: '~' };

/** `crow-lane diff`: 0 where both say the same, 1 where they differ, 2 when the input is wrong. */
export async function diffCommand(args: string[], output: Output): Promise<number> {
  const options = parsed(args, 2, 2, { json: { type: 'boolean' } });
  if (typeof options === 'string') return misused(output, options);
  const [before, after] = [await version(options.named[0]!, output), await version(options.named[1]!, output)];
  if (!before || !after) return 2;
  const found = differences(before, after);
  if (options.values.json) output.out(JSON.stringify(found, undefined, 2));
  else for (const { is, text } of found) output.out(`${signs[is]} ${text}`);
  return found.length > 0 ? 1 : 0;
}

/** `crow-lane merge`: 0 where all fits together, 1 where something was changed on both sides, 2 when the input is wrong. */
export async function mergeCommand(args: string[], output: Output): Promise<number> {
  const options = parsed(args, 3, 3, { print: { type: 'boolean' } });
  if (typeof options === 'string') return misused(output, options);
  const [base, own, other] = options.named as [string, string, string];
  const [ours, theirs] = [(await load(own, output))?.document, (await load(other, output))?.document];
  if (!ours || !theirs) return 2;
  // where both have begun the file there is no version before
  const before = (await isEmpty(base)) ? nothingOf(ours) : (await load(base, output))?.document;
  if (!before) return 2;
  const { document, conflicts } = merge(before, ours, theirs);
  if (options.values.print) output.out(write(document).trimEnd());
  else await replaceFile(own, write(document));
  for (const conflict of conflicts) output.err(`${own}: ${conflictWords(ours, theirs, conflict)}`);
  if (conflicts.length > 0)
    output.err(
      `${own}: ${conflicts.length === 1 ? 'one part was' : `${conflicts.length} parts were`} changed on both sides; what is here is kept.`
    );
  return conflicts.length > 0 ? 1 : 0;
}

const isEmpty = async (file: string): Promise<boolean> => (await isFile(file)) && (await readFile(file, 'utf8')).trim() === '';

/** A flow in which nothing is said yet. */
const nothingOf = (ours: FlowDocument): FlowDocument => {
  const parts = { variables: {}, numbers: {}, signals: {}, assets: {}, orders: {}, groups: {}, places: {}, runs: {} };
  return { format: ours.format, version: ours.version, name: '', start: '', ...parts, rules: [], accepted: [] };
};

/** `crow-lane format`: 0 where all files are as they are written, or now are; 1 with --check where some are not. */
export async function formatCommand(args: string[], output: Output): Promise<number> {
  const options = parsed(args, 1, Infinity, { check: { type: 'boolean' } });
  if (typeof options === 'string') return misused(output, options);
  const files = await filesOf(options.named, output);
  if (!files) return 2;
  let [bad, other] = [0, 0];
  for (const file of files) {
    const loaded = await load(file, output);
    if (!loaded) {
      bad++;
      continue;
    }
    const text = write(loaded.document);
    if (file === '-') output.out(text.trimEnd());
    else if ((await readFile(file, 'utf8')) !== text) {
      other++;
      output.out(options.values.check ? `${file}: is written otherwise` : `${file}: written`);
      if (!options.values.check) await replaceFile(file, text);
    }
  }
  return bad > 0 ? 2 : options.values.check && other > 0 ? 1 : 0;
}

type Flags = Record<string, { type: 'boolean' }>;

function parsed(
  args: string[],
  least: number,
  most: number,
  options: Flags
): { named: string[]; values: Record<string, boolean> } | string {
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, options });
    if (positionals.length < least) return least === 1 ? 'a file or folder is missing.' : `${least} files are needed.`;
    if (positionals.length > most) return `${most} files are needed, and there are ${positionals.length}.`;
    return { named: positionals, values: values as Record<string, boolean> };
  } catch (error) {
    return `${(error as Error).message.split('. ')[0]!}.`;
  }
}
