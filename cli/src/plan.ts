import { parseArgs } from 'node:util';
import { levelsOf, type Level } from '@crow-lane/core/document/types';
import type { Derived } from '@crow-lane/core/plan/derive';
import { derivedOf } from '@crow-lane/core/plan/grown';
import { load } from './files.ts';
import { misused, type Output } from './output.ts';

/** `crow-lane plan`: 0 when it is printed, 2 when the input is wrong. */
export async function planCommand(args: string[], output: Output): Promise<0 | 2> {
  const options = parse(args);
  if (typeof options === 'string') return misused(output, options);
  const loaded = await load(options.file, output);
  if (!loaded) return 2;
  const { document } = loaded;
  const found = levelsOf(document).find(([id, { name }]) => id === options.level || name === options.level);
  if (!found) {
    output.err(`${options.file}: there is no level "${options.level}"`);
    return 2;
  }
  const [, level] = found;
  const derived = derivedOf(document, level);
  if (!derived) {
    output.err(`${options.file}: ${level.name} has no plan`);
    return 2;
  }
  output.out(options.json ? JSON.stringify(told(derived), undefined, 2) : inWords(level, derived));
  return 0;
}

function parse(args: string[]): { file: string; level: string; json: boolean } | string {
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean' } } });
    const [file, level, more] = positionals;
    if (file === undefined || level === undefined || more !== undefined) return 'plan takes a file and a level.';
    return { file, level, json: values.json ?? false };
  } catch (error) {
    return (error as Error).message;
  }
}

/** What is derived, as other tools read it: passages as a list. */
function told({ spots, passages, at, entries }: Derived) {
  return {
    spots,
    passages: Object.entries(passages).map(([id, passage]) => ({ id, ...passage })),
    at,
    entries
  };
}

function inWords({ name, pieces }: Level, { spots, passages, at }: Derived): string {
  const pieceName = (id: string) => pieces[id]?.name ?? id;
  const lines = [`${name}: ${Object.keys(spots).length} spots, ${Object.keys(passages).length} passages`];
  for (const [id, { name: spot, cells }] of Object.entries(spots)) {
    const here = Object.entries(at).flatMap(([piece, standings]) => {
      const n = standings.filter(({ spots: from }) => from.includes(id)).reduce((sum, each) => sum + each.n, 0);
      return n > 0 ? [`${n} ${pieceName(piece)}`] : [];
    });
    lines.push('', `${id}  ${spot}, cells: ${cells.length}${here.length > 0 ? `; ${here.join(', ')}` : ''}`);
    for (const { from, to, if: asks, through } of Object.values(passages)) {
      if (from !== id) continue;
      const past = through.length > 0 ? `, past ${through.map(pieceName).join(', ')}` : '';
      lines.push(`  to ${to}  ${spots[to]!.name}${past}${asks.length > 0 ? `, if ${asks.join(' and ')}` : ''}`);
    }
  }
  return lines.join('\n');
}
