/** How long a level with a plan takes at the least, from each entry to the nearest win (docs/flow-format.md, section 13). */
import QuickLRU from 'quick-lru';
import { secondsOf } from '../document/numbers.ts';
import { type FlowDocument, type Id, type Level } from '../document/types.ts';
import { Automaton, type Place } from '../plan/automaton.ts';
import { startsOf } from '../plan/derive.ts';
import { placedIn } from '../plan/draw.ts';
import { Ground } from '../plan/ground.ts';
import { drawnOf } from '../plan/grown.ts';
import type { Errand } from '../plan/moves.ts';
import { shortest, type Bounds, type Tour } from '../plan/tours.ts';
import { movementIn } from '../plan/types.ts';
import type { Flow } from '../play/flow.ts';
import { conditionAt } from '../play/scope.ts';
import { uncountedIn, takenBefore, winsOf, type Win } from './wins.ts';

/** The shortest tour from an entry to a win, in seconds. */
export interface BestTime {
  /** No tour takes less. */
  least: number;
  /** A tour that was found takes this long; undefined where none was found. As long as `least` where it is the shortest. */
  most?: number;
  /** The rule by which that tour wins, and its places, that where it starts first. */
  rule?: Id;
  way?: Place[];
}

export interface Times {
  /**
   * By entry; undefined where none leads to a win. The entry is null where none is placed: the player begins at the first cell
   * in which it can stand.
   */
  best: { entry: Id | null; time: BestTime | undefined }[];
  /** What the player has at most before it loses, and the rule that says so. */
  limit?: { seconds: number; rule: Id };
  /** Part of a win can be kept at a save: it may take several attempts. */
  splits: boolean;
}

/** What was worked out last: between two edits of something else nothing is sought again. */
const latest = new QuickLRU<string, Times>({ maxSize: 64 });

/** What can be said of a level's times; undefined where it has no plan or no rule wins it. Yields how much it has looked at. */
export function* timesOf(flow: Flow, id: Id): Generator<number, Times | undefined> {
  const { document } = flow;
  const level = document.places[id] as Level;
  const wins = winsOf(flow, id);
  const drawn = drawnOf(document, level);
  if (!drawn || wins.length === 0) return undefined;
  const limit = limitOf(flow, id);
  const ending = endingIn(flow, id);
  const uncounted = uncountedIn(flow, id);
  const key = JSON.stringify([
    drawn,
    [...drawn.acts],
    level.pieces,
    document.numbers,
    wins.map(({ needs, ...win }) => [[...needs], win]),
    [...ending],
    [...uncounted],
    limit
  ]);
  const before = latest.get(key);
  if (before) return before;

  const ground = new Ground(drawn);
  const automaton = new Automaton(ground);
  const shut = new Set([...ground.acting].flatMap(([at, piece]) => (ending.has(piece) ? [at] : [])));
  const asked = new Map<string, Map<Id, number>>();
  const errand = (win: Win, cell: number): Errand => ({
    start: { cell },
    ...errandOf(win, level, ground),
    shut,
    asked: (text) => {
      let needs = asked.get(text);
      if (!needs) asked.set(text, (needs = askedBy(document, id, text, uncounted)));
      return needs;
    }
  });
  const best: Times['best'] = [];
  for (const [entry, cell] of startsOf(ground)) {
    let time: BestTime | undefined;
    for (const win of wins) {
      const found = yield* shortest(automaton, errand(win, cell));
      if (found) time = better(time, timeOf(win, { cell }, found, speedIn(document, level)));
    }
    best.push({ entry, time });
  }
  const times: Times = { best, ...(limit && { limit }), splits: wins.some((win) => win.splits) };
  latest.set(key, times);
  return times;
}

/** How fast the player is in a level with a plan, in cells a second. */
export function speedIn(document: FlowDocument, level: Level): number {
  const { above, side } = movementIn(document, level);
  return (level.plan!.view === 'above' ? above : side).speed;
}

function timeOf({ rule, wait }: Win, start: Place, found: Tour | Bounds, speed: number): BestTime {
  const tour = 'least' in found ? found.found : found;
  return {
    least: Math.max(wait, ('least' in found ? found.least : found.ticks) / speed),
    ...(tour && { most: Math.max(wait, tour.ticks / speed), rule, way: [start, ...tour.way] })
  };
}

/** Of two ways to win the quicker one, with what is sure of both. */
function better(one: BestTime | undefined, other: BestTime): BestTime {
  if (!one) return other;
  const quicker = (other.most ?? Infinity) < (one.most ?? Infinity) ? other : one;
  return { ...quicker, least: Math.min(one.least, other.least) };
}

/** What a win needs of the plan: what is not placed is had everywhere, and takes no time. */
function errandOf({ needs, ends }: Win, level: Level, ground: Ground): Pick<Errand, 'needs' | 'ends'> {
  const placed = placedIn(level.plan!);
  const cells = ends && endsAt(ends, ground);
  return { needs: new Map([...needs].filter(([piece]) => placed.has(piece))), ...(cells && { ends: cells }) };
}

function endsAt(ends: NonNullable<Win['ends']>, ground: Ground): Set<number> | undefined {
  if ('piece' in ends) {
    const cells = [...ground.pieces].flatMap(([cell, piece]) => (piece === ends.piece ? [cell] : []));
    return cells.length > 0 ? new Set(cells) : undefined;
  }
  const index = ground.areas.indexOf(ends.reached);
  if (index < 0) return undefined;
  return new Set([...ground.areaOf].flatMap((area, cell) => (area === index ? [cell] : [])));
}

/** What a condition in the plan asks to be taken; what else it asks is taken to hold. */
function askedBy(document: FlowDocument, id: Id, text: string, uncounted: ReadonlySet<Id>): Map<Id, number> {
  const condition = conditionAt(document, { place: id }, text);
  const level = document.places[id] as Level;
  const placed = placedIn(level.plan!);
  const needs = condition ? takenBefore(level, condition) : new Map<Id, number>();
  return new Map([...needs].filter(([piece, n]) => n > 0 && placed.has(piece) && !uncounted.has(piece)));
}

/** The pieces whose touch, from whichever side and whatever holds, loses the level or leads out of it. */
export function endingIn(flow: Flow, id: Id): Set<Id> {
  const rules = flow.applying(id, id).by.touch.filter(({ rule: { when, if: condition, go, result } }) => {
    return when.side === undefined && condition === undefined && (result === 'lost' || go !== undefined);
  });
  return new Set(rules.map(({ rule }) => rule.when.touch));
}

/** The first deadline at which a level is lost, whatever holds. */
function limitOf(flow: Flow, id: Id): Times['limit'] {
  let limit: Times['limit'];
  for (const { id: rule, rule: deadline } of flow.applying(id, id).by.after) {
    if (deadline.result !== 'lost' || deadline.if !== undefined) continue;
    const seconds = secondsOf(flow.document, deadline.when.after);
    if (seconds !== undefined && (!limit || seconds < limit.seconds)) limit = { seconds, rule };
  }
  return limit;
}

/** Whether the shortest tour itself is known. */
export const isExact = ({ least, most }: BestTime): boolean => most !== undefined && most - least < 1e-9;

/** What is known of a level's best time from where it is usually entered; undefined where it leads to no win. */
export const usualTime = ({ best }: Times, level: Level): BestTime | undefined =>
  (best.find(({ entry }) => entry === null || entry === Object.keys(level.entries)[0]) ?? best[0])?.time;
