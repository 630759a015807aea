/**
 * One measurement of a family, in a process of its own: cold, and nothing before it has made the garbage that it has to
 * clear away.
 */
import { isDeepStrictEqual } from 'node:util';
import { check, finish } from '../src/check/check.ts';
import type { Explorer } from '../src/check/explored.ts';
import { addSlotMenus, setSaves } from '../src/document/edits/slots.ts';
import { apply } from '../src/document/patch.ts';
import { explore } from '../src/explore/plain.ts';
import { Memory } from '../src/check/memory.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { prepare } from '../src/play/flow.ts';
import { Automaton } from '../src/plan/automaton.ts';
import { derive, plot } from '../src/plan/derive.ts';
import { Ground } from '../src/plan/ground.ts';
import type { Cell } from '../src/document/types.ts';
import { Moves } from '../src/plan/moves.ts';
import { Passing } from '../src/plan/passing.ts';
import { Beats, runOf } from '../src/plan/patrols.ts';
import { shortest } from '../src/plan/tours.ts';
import { stamped } from '../src/plan/draw.ts';
import { families, wholeGame } from './families.ts';
import { warehouses } from './plans.ts';

const limit = 30_000_000;
const bytes = 2 ** 33;

export interface Explored {
  seconds: number;
  count: number;
  moves: number;
  bytes: number;
}

export interface Edited {
  cold: number;
  warm: number;
  renamed: number;
}

/** How many states there are with one saved game, and with three. */
export interface Slotted {
  one: number;
  three: number;
}

/** A whole game, checked up to a million states. */
export interface Whole {
  seconds: number;
  states: number;
  /** How many verdicts stay open. */
  open: number;
}

/** A plan of so many cells: the first derivation, those after edits of one cell, a tour, and what the process has come to hold. */
export interface Planned {
  seconds: number;
  /** After one edit: the middle one and the longest of 21. */
  again: number;
  longest: number;
  megabytes: number;
  spots: number;
  /** The best time to all lamps, of which there are too many for more than bounds. */
  tour: number;
  /** Whether the player gets past one patrol: seconds, and the steps until it begins again. */
  patrol: number;
  period: number;
}

export type What = 'bare' | 'all' | 'plain' | 'edits' | 'slots' | 'whole' | 'plan';

const [what, family, size] = process.argv.slice(2);
let document = families[Number(family)]!.make(Number(size));

function time<T>(run: () => T): [seconds: number, result: T] {
  const began = performance.now();
  const result = run();
  return [(performance.now() - began) / 1000, result];
}

/** The exploration alone. */
function explored(explorer: Explorer): Explored {
  const flow = prepare(document);
  const [seconds, facts] = time(() => finish(explorer(flow, limit, bytes)));
  return { seconds, count: facts.count, moves: facts.moves, bytes: facts.bytes };
}

/** Cells all over a plan in which something else is drawn, one after the other. */
const editedCells = (width: number): Cell[] =>
  Array.from({ length: 21 }, (_, i) => [1 + ((i * 37 + 60) % (width - 2)), 1 + ((i * 23 + 2) % ((width * 2) / 3 - 2))]);

/** The named plan, or its quarter. */
function planned(width: number): Planned {
  const drawn = warehouses(width, (width * 2) / 3);
  const [seconds, first] = time(() => plot(drawn));
  const { spots } = first.derived;
  let last = first;
  const after: number[] = [];
  for (const cell of editedCells(width)) {
    const { plan } = last.ground.drawn;
    const ground = last.ground.isSolid(...cell) ? '.' : '#';
    const [took, next] = time(() => plot({ ...drawn, plan: stamped(plan, [cell], { ground }) }, {}, undefined, last));
    after.push(took);
    last = next;
  }
  const megabytes = process.memoryUsage().rss / 1e6;
  if (!isDeepStrictEqual(last.derived, derive(last.ground.drawn))) throw new Error('After edits something else is derived.');
  after.sort((a, b) => a - b);
  const [again, longest] = [after[Math.floor(after.length / 2)]!, after.at(-1)!];
  const ground = new Ground(drawn);
  const lamps = [...ground.pieces.values()].filter((piece) => piece === 'lamp').length;
  const start = { cell: ground.at(1, ground.height - 2)! };
  const asked = (text: string) => new Map([['lamp', Number(/^taken\(lamp\) >= (\d)$/.exec(text)?.[1] ?? 0)]]);
  const errand = { start, needs: new Map([['lamp', lamps]]), asked };
  const [tour] = time(() => finish(shortest(new Automaton(ground), errand)));
  const run = runOf({ points: [0, 1].map((end): Cell => [Math.floor(width / 3) + 16 * end, ground.height - 2]), turn: 'back' });
  const beats = new Beats([{ id: 'gust', piece: 'gust', cells: run, speed: 2 }], drawn.movement.side.speed);
  const [patrol] = time(() => {
    const moves = new Moves(new Automaton(ground), errand, 3_000_000);
    const passing = new Passing(moves, beats, () => false, 1);
    finish(passing.search());
    if (passing.isCut || moves.isCut) throw new Error('Not all was looked at.');
  });
  return { seconds, again, longest, megabytes, spots: Object.keys(spots).length, tour, patrol, period: beats.period };
}

/** All verdicts, from the document on. */
function checked(memory: Memory | undefined): number {
  return time(() => check(document, { limit, bytes, memory }))[0];
}

/** The first check, one more after an edit that play sees, and one more after an edit that it does not. */
function edited(): Edited {
  const memory = new Memory();
  let edits = 0;
  // each edit makes a document of its own, as it does for a designer: a rule is there, and then each time another one
  const warm = () => {
    document = structuredClone(document);
    const { rules } = document.places[document.start]!;
    if (edits++ > 0) rules.pop();
    rules.push({ id: 'more', when: { press: `More ${edits}` }, if: `${edits} > 0` });
    return checked(memory);
  };
  const renamed = () => {
    document = structuredClone(document);
    document.name += '!';
    return checked(memory);
  };
  const cold = checked(memory);
  // a flow is edited for hours: what is compiled on the way is compiled by then
  for (let run = 0; run < 24; run++) warm();
  const least = (run: () => number) => Math.min(run(), run(), run());
  return { cold, warm: least(warm), renamed: least(renamed) };
}

/** The same flow with the usual menus for saved games, of one slot and of three. */
function slotted(): Slotted {
  const whole = apply(document, addSlotMenus(document).patch);
  const states = (slots: number) => {
    const flow = prepare(apply(whole, setSaves(whole, { slots }).patch));
    return finish(explorePacked(flow, limit, bytes)).count;
  };
  return { one: states(1), three: states(3) };
}

function whole(): Whole {
  const [seconds, { states, checks }] = time(() => check(wholeGame(), { limit: 1_000_000 }));
  return { seconds, states, open: checks.filter(({ outcome }) => outcome === 'open').length };
}

const measures: Record<What, () => Explored | Edited | Slotted | Whole | Planned | { seconds: number }> = {
  bare: () => explored(explorePacked),
  all: () => ({ seconds: checked(undefined) }),
  plain: () => explored(explore),
  edits: edited,
  slots: slotted,
  whole,
  plan: () => planned(Number(size))
};
console.log(JSON.stringify(measures[what as What]()));
