/** Whether the player gets past the patrols of a level (docs/flow-format.md, section 13). */
import QuickLRU from 'quick-lru';
import { own, type Cell, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { Automaton } from '../plan/automaton.ts';
import { startsOf } from '../plan/derive.ts';
import { Ground } from '../plan/ground.ts';
import { derivedOf, drawnOf } from '../plan/grown.ts';
import { Moves } from '../plan/moves.ts';
import { Passing, stepsOfTick } from '../plan/passing.ts';
import { Beats, patrolSpeed, runOf, type Patrol } from '../plan/patrols.ts';
import type { Flow } from '../play/flow.ts';
import { isRemoved, removalsOf, type Removals } from './removals.ts';
import { crossRounds, roundsOf, Timetable } from './rounds.ts';
import type { Crossing, Pass, Passes } from './crossing.ts';
import { endingIn, speedIn } from './times.ts';

/** A patrol alone begins again within so many steps, several together within so many. */
const longest = { alone: 100_000, together: 10_000 };
const mostPlaces = 1_000_000;

/** What was worked out last: between two edits of something else nothing is sought again. */
const latest = new QuickLRU<string, Passes>({ maxSize: 64 });

/** The patrols of a level that can be played: of a piece that is there, with a run in the plan and a speed. */
export function patrolsIn(document: FlowDocument, { plan, pieces }: Level): Patrol[] {
  return Object.entries(plan?.patrols ?? {}).flatMap(([id, patrol]): Patrol[] => {
    const speed = patrolSpeed(document, patrol);
    const cells = runOf(patrol);
    if (!own(pieces, patrol.piece) || speed === undefined || speed <= 0 || cells.length === 0) return [];
    return [{ id, piece: patrol.piece, cells, speed }];
  });
}

/** What can be said of a level's patrols; undefined where it has none. Yields how much it has looked at. */
export function* passesOf(flow: Flow, id: Id): Generator<number, Passes | undefined> {
  const { document } = flow;
  const level = document.places[id] as Level;
  if (!level.plan) return yield* roundsIn(flow, id);
  const drawn = drawnOf(document, level);
  const patrols = patrolsIn(document, level);
  if (!drawn || patrols.length === 0) return undefined;
  const ending = endingIn(flow, id);
  const outOfWay = new Map(patrols.map(({ piece }) => [piece, removalsOf(flow, id, piece)]));
  const key = JSON.stringify([drawn, [...drawn.acts], level.pieces, patrols, [...ending], [...outOfWay]]);
  const before = latest.get(key);
  if (before) return before;

  const ground = new Ground(drawn);
  const automaton = new Automaton(ground);
  const shut = new Set([...ground.acting].flatMap(([at, piece]) => (ending.has(piece) ? [at] : [])));
  const scale = stepsOfTick(drawn);
  const speed = speedIn(document, level) * scale;
  const reached = new Reached(document, level);
  const crossings = new Crossings(patrols, (piece) => outOfWay.get(piece)!);
  for (const [entry, cell] of startsOf(ground)) {
    const errand = { start: { cell }, needs: new Map<Id, number>(), ends: shut, shut, asked: () => new Map<Id, number>() };
    const moves = new Moves(automaton, errand, mostPlaces);
    yield 0;
    yield* crossings.from(function* (some) {
      const [first, ...more] = some;
      const beats = new Beats(some, speed, more.length === 0 ? longest.alone : longest.together);
      if (moves.isCut) return { entry, outcome: 'open', open: 'size' };
      if (!beats.isCounted) return { entry, outcome: 'open', open: 'period' };
      const { sides } = outOfWay.get(first!.piece)!;
      const passing = new Passing(moves, beats, (side) => more.length === 0 && sides.includes(side), scale);
      yield* passing.search();
      return reached.crossing(entry, passing, speed);
    });
  }
  latest.set(key, crossings.passes);
  return crossings.passes;
}

/** The same of a level without a plan, whose foes patrol between its spots. */
function* roundsIn(flow: Flow, id: Id): Generator<number, Passes | undefined> {
  const level = flow.document.places[id] as Level;
  const rounds = roundsOf(level);
  if (rounds.length === 0) return undefined;
  const ending = endingIn(flow, id);
  // touched from whichever side
  const crossings = new Crossings(rounds, (piece) => {
    const found = removalsOf(flow, id, piece);
    return { ...found, isFought: isRemoved(found) };
  });
  const entries = Object.keys(level.entries);
  for (const entry of entries.length > 0 ? entries : [null]) {
    yield 0;
    // eslint-disable-next-line require-yield
    yield* crossings.from(function* (some) {
      return { entry, ...crossRounds(level, entry, new Timetable(some), ending) };
    });
  }
  return crossings.passes;
}

/** How some patrols are passed: each alone, and where each can be, all together. */
class Crossings<T extends { id: string; piece: Id }> {
  readonly passes: Passes;

  constructor(
    private readonly patrols: T[],
    private readonly removals: (piece: Id) => Removals
  ) {
    this.passes = { alone: Object.fromEntries(patrols.map(({ id }) => [id, []])) };
  }

  /** From one entry on, as `cross` finds it of some of them. */
  *from(cross: (some: T[]) => Generator<number, Crossing>): Generator<number, void> {
    const { patrols, passes, removals } = this;
    let isEach = true;
    for (const patrol of patrols) {
      const found = yield* cross([patrol]);
      // one that is where the player arrives is met before it can be fought
      const isGone = found.outcome === 'blocked' && removals(patrol.piece).isFought;
      passes.alone[patrol.id]!.push(isGone ? { ...found, outcome: 'defeated' } : found);
      isEach &&= isGone || !isStopped(found);
    }
    if (patrols.length < 2 || !isEach) return;
    const all = yield* cross(patrols);
    // one that is defeated first is not in the way of the others
    const isOpen = isStopped(all) && patrols.some(({ piece }) => isRemoved(removals(piece)));
    (passes.together ??= []).push(isOpen ? { entry: all.entry, outcome: 'open', open: 'defeat' } : all);
  }
}

const isStopped = ({ outcome }: Crossing): boolean => outcome === 'blocked' || outcome === 'met';

/** What of a level there is to be reached, and what of it is. */
class Reached {
  private readonly spots: { name: string; cells: Cell[] }[];

  constructor(
    document: FlowDocument,
    private readonly level: Level
  ) {
    // in the cell of what acts nobody stays
    this.spots = Object.values(derivedOf(document, level)!.spots).filter(({ acts }) => acts === undefined);
  }

  /** Nobody wants to get to a hazard. */
  private isSought(piece: Id): boolean {
    const kind = own(this.level.pieces, piece)?.kind;
    return kind !== undefined && kind !== 'hazard';
  }

  crossing(entry: Id | null, passing: Passing, speed: number): Crossing {
    const { moves, earliest } = passing;
    const { automaton } = moves;
    const { ground } = automaton;
    const cellOf = (at: number) => automaton.cellOf(moves.codes.at(at));
    const all = new Set<number>();
    const come = new Set<number>();
    for (let at = 0; at < moves.count; at++) {
      all.add(cellOf(at));
      if (earliest[at]! < Infinity) come.add(cellOf(at));
    }
    const pieces = new Map<Id, { n: number; cells: Cell[] }>();
    for (const [cell, piece] of ground.pieces) {
      if (!all.has(cell) || come.has(cell) || !this.isSought(piece)) continue;
      const cells = [...(pieces.get(piece)?.cells ?? []), ground.cellOf(cell)];
      pieces.set(piece, { n: cells.length, cells });
    }
    const among = (cells: Cell[], some: Set<number>) => cells.some(([x, y]) => some.has(ground.at(x, y) ?? -1));
    const spots = this.spots.filter(({ cells }) => among(cells, all) && !among(cells, come)).map(({ name }) => name);
    const isLost = pieces.size > 0 || spots.length > 0;
    const lost = isLost && { lost: { pieces, spots } };
    if (passing.isMetAtOnce && !passing.isDefeated) return { entry, outcome: 'met', ...lost };
    if (isLost && passing.isCut) return { entry, outcome: 'open', open: 'size' };
    if (isLost) return { entry, outcome: 'blocked', ...lost };
    const behind = nearestBehind(passing, (piece) => this.isSought(piece));
    if (behind === undefined) return { entry, outcome: 'around' };
    return { entry, outcome: passing.isDefeated ? 'defeated' : 'passed', pass: passOf(passing, behind, speed) };
  }
}

/**
 * Of what is only to be reached across a run what is reached first: a thing, as that is what the player comes for; else ground
 * beyond the run.
 */
function nearestBehind(passing: Passing, counts: (piece: Id) => boolean): number | undefined {
  const { moves, earliest } = passing;
  const { automaton } = moves;
  const around = passing.around();
  const nearest: (number | undefined)[] = [];
  for (let at = 0; at < moves.count; at++) {
    if (around[at] || earliest[at] === Infinity) continue;
    const code = moves.codes.at(at);
    const piece = automaton.ground.pieces.get(automaton.cellOf(code));
    const isThing = piece !== undefined && counts(piece);
    if (!isThing && (passing.isOnRun(at) || !automaton.isStanding(code))) continue;
    const rank = isThing ? 0 : 1;
    if (nearest[rank] === undefined || earliest[at]! < earliest[nearest[rank]]!) nearest[rank] = at;
  }
  return nearest[0] ?? nearest[1];
}

function passOf(passing: Passing, at: number, steps: number): Pass {
  const way = passing.wayTo(at);
  const { ground } = passing.moves.automaton;
  const waits = way.flatMap(({ place, waits: n }) =>
    n > 0 ? [{ at: ground.cellOf(place.cell).join(', '), seconds: n / steps }] : []
  );
  return { seconds: way.at(-1)!.step / steps, waits, walked: { way, steps } };
}
