import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { setPlan } from '@crow-lane/core/document/edits/plan';
import { apply } from '@crow-lane/core/document/patch';
import { levelsOf, type FlowDocument, type Id, type Level, type Plan, type PlanRead } from '@crow-lane/core/document/types';
import { write } from '@crow-lane/core/document/write';
import type { Derived } from '@crow-lane/core/plan/derive';
import { derivedOf } from '@crow-lane/core/plan/grown';
import { drawnFrom, gridOf, TooLarge, unknownIn } from '@crow-lane/core/plan/text';
import { grounds } from '@crow-lane/core/vocabulary/ground';
import { finish } from '@crow-lane/core/check/check';
import { prepare } from '@crow-lane/core/play/flow';
import { isExact, speedIn, timesOf, type Times } from '@crow-lane/core/times/times';
import { patrolName } from '@crow-lane/core/plan/fits';
import type { Crossing, Passes } from '@crow-lane/core/times/crossing';
import { passesOf } from '@crow-lane/core/times/passes';
import { bestWords, crossingWords } from '@crow-lane/core/words/times';
import { load, replaceFile } from './files.ts';
import { misused, type Output } from './output.ts';

interface Options {
  file: string;
  level: string;
  json: boolean;
  from?: string;
  view?: Plan['view'];
  reads: string[];
  write: boolean;
}

/** `crow-lane plan`: 0 when it is printed or written, 2 when the input is wrong. */
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
  const [id, level] = found;
  if (options.from !== undefined) return drawFrom(document, id, options, output);
  const derived = derivedOf(document, level);
  if (!derived) {
    output.err(`${options.file}: ${level.name} has no plan`);
    return 2;
  }
  const flow = prepare(document);
  const times = finish(timesOf(flow, id));
  const passes = finish(passesOf(flow, id));
  const speed = speedIn(document, level);
  output.out(
    options.json
      ? JSON.stringify({ ...told(derived), best: bestOf(times, speed), patrols: patrolsOf(derived, passes, speed) }, undefined, 2)
      : [inWords(level, derived, times), ...patrolLines(level, passes)].join('\n')
  );
  return 0;
}

function parse(args: string[]): Options | string {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        from: { type: 'string' },
        view: { type: 'string' },
        read: { type: 'string', multiple: true },
        write: { type: 'boolean' }
      }
    });
    const [file, level, more] = positionals;
    if (file === undefined || level === undefined || more !== undefined) return 'plan takes a file and a level.';
    const { from, view, read: reads = [], json = false, write: writes = false } = values;
    if (view !== undefined && view !== 'side' && view !== 'above') return '--view is side or above.';
    if (from === undefined && (view !== undefined || reads.length > 0 || writes))
      return '--view, --read and --write go with --from.';
    if (from === '-' && file === '-') return 'Only one of them can come from the standard input.';
    if (writes && file === '-') return '--write needs a file to write to.';
    return { file, level, json, reads, write: writes, ...(from !== undefined && { from }), ...(view && { view }) };
  } catch (error) {
    return (error as Error).message;
  }
}

/** Draws the plan of a level from a grid, and prints or writes the whole document. */
async function drawFrom(document: FlowDocument, id: Id, options: Options, output: Output): Promise<0 | 2> {
  const level = document.places[id] as Level;
  const from = options.from!;
  const failed = (message: string) => {
    output.err(message);
    return 2 as const;
  };
  let text: string;
  try {
    text = from === '-' ? await output.input() : await readFile(from, 'utf8');
  } catch (error) {
    return failed(`${from}: cannot be read (${(error as NodeJS.ErrnoException).code ?? (error as Error).message})`);
  }
  const view = options.view ?? level.plan?.view;
  if (view === undefined) return failed(`${level.name} has no plan yet: say --view side or --view above`);
  const reads: Plan['reads'] = { ...level.plan?.reads };
  for (const each of options.reads) {
    const at = each.indexOf('=', 1);
    const meant = at < 0 ? undefined : meaning(level, each.slice(at + 1));
    if (meant === undefined)
      return failed(
        `--read ${each}: say CHARACTER=MEANING, which is solid, open, ledge, climb, or a piece or an entry of ${level.name}`
      );
    reads[each.slice(0, at)] = meant;
  }
  const before: Plan = { ...(level.plan ?? { rows: ['#'] }), view, ...(Object.keys(reads).length > 0 && { reads }) };
  const cells = gridOf(text.replace(/^\uFEFF/, ''));
  const unknown = unknownIn(cells, level, before);
  if (unknown.size > 0) {
    const told = [...unknown].map(([char, n]) => `"${char}" (${n})`).join(', ');
    return failed(`${from}: not known what these mean: ${told}. Say it once with --read CHARACTER=MEANING; it is kept.`);
  }
  let plan: Plan;
  try {
    plan = drawnFrom(cells, level, before);
  } catch (error) {
    if (error instanceof TooLarge) return failed(`${from}: ${error.message}`);
    throw error;
  }
  const drawn = apply(document, setPlan(document, id, plan, 'from a grid').patch);
  if (options.write) {
    await replaceFile(options.file, write(drawn));
    output.out(
      `${options.file}: ${inWords(drawn.places[id] as Level, derivedOf(drawn, drawn.places[id] as Level)!).split('\n')[0]!}`
    );
  } else output.out(write(drawn).trimEnd());
  return 0;
}

/** What a character stands for, by the word or the name that was given. */
function meaning({ pieces, entries }: Level, word: string): PlanRead | undefined {
  const ground = Object.entries(grounds).find(([char, { words }]) => char === word || words === word);
  if (ground) return ground[0];
  const named = (all: Record<Id, { name: string }>) =>
    Object.entries(all).find(([id, { name }]) => id === word || name === word)?.[0];
  const piece = named(pieces);
  if (piece !== undefined) return { piece };
  const entry = named(entries);
  return entry === undefined ? undefined : { entry };
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

/** By entry the ticks of the shortest tour to a win, or bounds; null where none wins. A level without entries has one, ''. */
function bestOf(times: Times | undefined, speed: number) {
  const ticks = (seconds: number) => Number((seconds * speed).toFixed(6));
  const found = (times?.best ?? []).map(({ entry, time }) => {
    if (!time) return [entry ?? '', null];
    const { least, most } = time;
    if (isExact(time)) return [entry ?? '', ticks(least)];
    return [entry ?? '', { least: ticks(least), ...(most !== undefined && { most: ticks(most) }) }];
  });
  return Object.fromEntries(found) as Record<Id, number | null | { least: number; most?: number }>;
}

/** By patrol its run, the spots from which its foe can be touched, and by entry how it is passed: ticks and waits where it is. */
function patrolsOf({ patrols }: Derived, passes: Passes | undefined, speed: number) {
  const ticks = (seconds: number) => Number((seconds * speed).toFixed(6));
  const crossed = ({ entry, outcome, pass }: Crossing) => {
    const told = pass && {
      ticks: ticks(pass.seconds),
      waits: pass.waits.map(({ at, seconds }) => ({ at, ticks: ticks(seconds) }))
    };
    return [entry ?? '', { outcome, ...told }];
  };
  return Object.fromEntries(
    patrols.map(({ id, piece, cells, spots }) => [
      id,
      { piece, cells, spots, from: Object.fromEntries((passes?.alone[id] ?? []).map(crossed)) as object }
    ])
  );
}

function patrolLines(level: Level, passes: Passes | undefined): string[] {
  return Object.entries(passes?.alone ?? {}).flatMap(([id, crossings]) =>
    crossings.map(({ entry, ...crossing }) => {
      const from = entry === null ? '' : ` from ${level.entries[entry]?.name ?? entry}`;
      return `${patrolName(level, id)}${from}: ${crossingWords(crossing)}`;
    })
  );
}

function inWords({ name, pieces, entries }: Level, { spots, passages, at }: Derived, times?: Times): string {
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
  for (const { entry, time } of times?.best ?? []) {
    const from = entry === null ? '' : ` from ${entries[entry]?.name ?? entry}`;
    lines.push('', time ? `Best time${from}: ${bestWords(time)} s` : `No route${from} wins`);
  }
  return lines.join('\n');
}
