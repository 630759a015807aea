/** Whether the player gets past the patrols of a level (docs/flow-format.md, section 13). */
import { LRUCache } from 'lru-cache';
import { own, type Cell, type FlowDocument, type Id, type Level, type Side } from '../document/types.ts';
import { piecesIn } from '../language/ast.ts';
import { Automaton } from '../plan/automaton.ts';
import { startsOf } from '../plan/derive.ts';
import { Ground } from '../plan/ground.ts';
import { derivedOf, drawnOf } from '../plan/grown.ts';
import { Moves } from '../plan/moves.ts';
import { Passing, stepsOfTick, type Timed } from '../plan/passing.ts';
import { Beats, patrolSpeed, runOf, type Patrol } from '../plan/patrols.ts';
import type { Flow } from '../play/flow.ts';
import { endingIn, speedIn } from './times.ts';

/** How the player comes past one patrol, or past all of them at once, from one entry. */
export interface Crossing {
  /** Null where no entry is placed. */
  entry: Id | null;
  /**
   * Nothing is only to be reached across the run (`around`); all is reached in time; all is reached once the foe is defeated; some
   * is not; the player is met as it arrives; or not all could be looked at.
   */
  outcome: 'around' | 'passed' | 'defeated' | 'blocked' | 'met' | 'open';
  /** The nearest place behind it, and how the player comes there. */
  pass?: Pass;
  /** What is never reached: pieces by their cells, and spots by their names. */
  lost?: { pieces: Map<Id, Cell[]>; spots: string[] };
}

export interface Pass {
  seconds: number;
  way: Timed[];
  /** Where the player waits, and how many seconds. */
  waits: { cell: Cell; seconds: number }[];
  /** So many steps of the way are a second. */
  steps: number;
}

export interface Passes {
  /** Each patrol that can be played, by its id. */
  alone: Record<Id, Crossing[]>;
  /** Several patrols at once, where each alone can be passed; undefined where that is not asked. */
  together?: Crossing[];
}

/** A patrol alone begins again within so many steps, several together within so many. */
const longest = { alone: 100_000, together: 10_000 };
const mostPlaces = 1_000_000;

/** What was worked out last: between two edits of something else nothing is sought again. */
const latest = new LRUCache<string, Passes>({ max: 64 });

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
  const passes: Passes = { alone: Object.fromEntries(patrols.map((patrol) => [patrol.id, []])) };
  const reached = new Reached(document, level);
  const together: Crossing[] = [];
  for (const [entry, cell] of startsOf(ground)) {
    const errand = { start: { cell }, needs: new Map<Id, number>(), ends: shut, shut, asked: () => new Map<Id, number>() };
    const moves = new Moves(automaton, errand, mostPlaces);
    yield 0;
    const cross = function* (some: Patrol[], most: number, defeats: (side: Side) => boolean) {
      const beats = new Beats(some, speed, most);
      if (moves.isCut || !beats.isCounted) return { entry, outcome: 'open' } satisfies Crossing;
      const passing = new Passing(moves, beats, defeats, scale);
      yield* passing.search();
      return reached.crossing(entry, passing, speed);
    };
    for (const patrol of patrols) {
      const { sides, isFought } = outOfWay.get(patrol.piece)!;
      const found = yield* cross([patrol], longest.alone, (side) => sides.includes(side));
      passes.alone[patrol.id]!.push(found.outcome === 'blocked' && isFought ? { ...found, outcome: 'defeated' } : found);
    }
    const alone = patrols.map((patrol) => passes.alone[patrol.id]!.at(-1)!.outcome);
    if (patrols.length < 2 || alone.some((outcome) => outcome === 'blocked' || outcome === 'met')) continue;
    const all = yield* cross(patrols, longest.together, () => false);
    // one that is defeated first is not in the way of the others
    const isOpen = all.outcome === 'blocked' && patrols.some(({ piece }) => isRemoved(outOfWay.get(piece)!));
    together.push(isOpen ? { entry, outcome: 'open' } : all);
  }
  if (together.length > 0) passes.together = together;
  latest.set(key, passes);
  return passes;
}

/** How a foe can be taken out of the way. */
interface Removals {
  /** The sides from which a touch does. */
  sides: Side[];
  /** Rules speak of its being defeated: there may be a way to fight it. */
  isFought: boolean;
}

const isRemoved = ({ sides, isFought }: Removals): boolean => sides.length > 0 || isFought;

function removalsOf(flow: Flow, id: Id, piece: Id): Removals {
  const { all, by } = flow.applying(id, id);
  const sides = (['above', 'beside', 'below'] as const).filter((side) => {
    const heard = by.touch.filter(
      ({ rule: { when } }) => when.touch === piece && (when.side === undefined || when.side === side)
    );
    const ends = heard.some(({ rule: { result, go, if: condition } }) => condition === undefined && (result === 'lost' || go));
    const takes = heard.some(({ rule }) =>
      rule.do?.some((each) => ('defeat' in each && each.defeat === piece) || ('remove' in each && each.remove === piece))
    );
    return takes && !ends;
  });
  const isCounted = all.some(({ condition, holds, expressions }) =>
    [condition, holds, ...expressions].some((each) => each && [...piecesIn(each)].includes(piece))
  );
  return { sides, isFought: isCounted || by.defeat.some(({ rule }) => rule.when.defeat === piece) };
}

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
    const pieces = new Map<Id, Cell[]>();
    for (const [cell, piece] of ground.pieces) {
      if (!all.has(cell) || come.has(cell) || own(this.level.pieces, piece)?.kind === 'hazard') continue;
      pieces.set(piece, [...(pieces.get(piece) ?? []), ground.cellOf(cell)]);
    }
    const among = (cells: Cell[], some: Set<number>) => cells.some(([x, y]) => some.has(ground.at(x, y) ?? -1));
    const spots = this.spots.filter(({ cells }) => among(cells, all) && !among(cells, come)).map(({ name }) => name);
    const isLost = pieces.size > 0 || spots.length > 0;
    const lost = isLost && { lost: { pieces, spots } };
    if (passing.isMetAtOnce && !passing.isDefeated) return { entry, outcome: 'met', ...lost };
    if (isLost) return { entry, outcome: passing.isCut ? 'open' : 'blocked', ...lost };
    const behind = nearestBehind(passing);
    if (behind === undefined) return { entry, outcome: 'around' };
    return { entry, outcome: passing.isDefeated ? 'defeated' : 'passed', pass: passOf(passing, behind, speed) };
  }
}

/** Of what is only to be reached across a run the place that is reached first: beyond the run, else a thing on it. */
function nearestBehind(passing: Passing): number | undefined {
  const { moves, earliest } = passing;
  const { automaton } = moves;
  const around = passing.around();
  let [beyond, on]: (number | undefined)[] = [];
  for (let at = 0; at < moves.count; at++) {
    if (around[at] || earliest[at] === Infinity) continue;
    const code = moves.codes.at(at);
    const isNearer = (than: number | undefined) => than === undefined || earliest[at]! < earliest[than]!;
    if (!passing.isOnRun(at)) {
      if (automaton.isStanding(code) && isNearer(beyond)) beyond = at;
    } else if (automaton.ground.pieces.has(automaton.cellOf(code)) && isNearer(on)) on = at;
  }
  return beyond ?? on;
}

function passOf(passing: Passing, at: number, steps: number): Pass {
  const way = passing.wayTo(at);
  const { ground } = passing.moves.automaton;
  return {
    seconds: way.at(-1)!.step / steps,
    way,
    waits: way.flatMap(({ place, waits }) => (waits > 0 ? [{ cell: ground.cellOf(place.cell), seconds: waits / steps }] : [])),
    steps
  };
}
