/** Walking a plan cell by cell, as by keys or toward a cell that was pointed at. */
import FlatQueue from 'flatqueue';
import type { Cell } from '../document/types.ts';
import { out, type Automaton, type Move, type Place } from './automaton.ts';
import type { Beats } from './patrols.ts';

/** What is held down. `use` takes a link. */
export interface Keys {
  left?: boolean;
  right?: boolean;
  up?: boolean;
  down?: boolean;
  use?: boolean;
}

/** Whether conditions hold now. */
export type Holding = (conditions: readonly string[]) => boolean;

/**
 * Where the player is a tick later; undefined where it stays, `out` where it falls out of the rows. In the air it falls by
 * itself; standing it stays where nothing is held.
 */
export function tick(automaton: Automaton, place: Place, keys: Keys, holds: Holding): Place | typeof out | undefined {
  const { ground } = automaton;
  const [x, y] = ground.cellOf(place.cell);
  const all = automaton.movesFrom(place);
  const open = all.filter((move): move is Move => move !== out && holds(move.asks));
  const dx = Number(keys.right ?? false) - Number(keys.left ?? false);
  const dy = Number(keys.down ?? false) - Number(keys.up ?? false);
  /** The move by so many cells; of several jumps the highest and farthest. */
  const by = (wx: number, wy: number, isStanding?: boolean): Place | undefined =>
    open
      .filter(({ to }) => {
        const [tx, ty] = ground.cellOf(to.cell);
        return tx - x === wx && ty - y === wy && (isStanding === undefined || isStanding === (to.air === undefined));
      })
      .map(({ to }) => to)
      .sort((a, b) => heightOf(b) - heightOf(a))[0];
  if (keys.use && !place.air) {
    const linked = open.find(({ to }) => {
      const [tx, ty] = ground.cellOf(to.cell);
      return Math.abs(tx - x) > 1 || Math.abs(ty - y) > 2;
    });
    return linked?.to;
  }
  if (ground.drawn.plan.view === 'above') {
    if (dx !== 0 && dy !== 0) return by(dx, dy) ?? by(dx, 0) ?? by(0, dy);
    return dx !== 0 ? by(dx, 0) : dy !== 0 ? by(0, dy) : undefined;
  }
  if (!place.air) {
    if (dy > 0) return by(0, 1, true) ?? by(0, 2, true) ?? (dx !== 0 ? by(dx, 0) : undefined);
    if (dy < 0) {
      const climbed = by(0, -1, true) ?? by(0, -2, true);
      if (climbed) return climbed;
      const jump = by(0, 0, false);
      // a jump begins and rises at once
      return jump ? tick(automaton, jump, keys, holds) : undefined;
    }
    return dx === 0 ? undefined : (by(dx, 0, true) ?? by(dx, 0));
  }
  const { rise, fallen, across } = place.air;
  const rising = dy < 0 && rise > 0 ? ((dx !== 0 ? by(dx, -1) : undefined) ?? by(0, -1)) : undefined;
  if (rising) return rising;
  const landed = by(0, 0, true);
  if (landed && (dx === 0 || fallen > 0 || across === 0)) return landed;
  if (dx !== 0) {
    const along = fallen === 0 ? by(dx, 0, false) : undefined;
    if (along) return along;
    if (landed) return landed;
    const slanting = by(dx, 1);
    if (slanting) return slanting;
  }
  return landed ?? by(0, 1) ?? (all.includes(out) ? out : undefined);
}

const heightOf = ({ air }: Place): number => (air ? 1 + air.rise * 100 + air.across : 0);

/**
 * The places on the shortest way to a cell, the last one in it; undefined where none leads there. What acts by touch is gone
 * round where that can be.
 */
export function wayTo(automaton: Automaton, from: Place, to: Cell, holds: Holding): Place[] | undefined {
  const { ground } = automaton;
  const target = ground.at(...to);
  if (target === undefined) return undefined;
  const isThere = ({ cell }: Place) => cell === target;
  const clear = wayWhere(automaton, from, isThere, holds, ({ cell }) => !ground.acting.has(cell));
  return (clear ?? wayWhere(automaton, from, isThere, holds))?.places;
}

/** The places on a way after that where it begins, and the ticks that it takes. */
export interface Way {
  places: Place[];
  ticks: number;
}

/** The shortest way to a place that is looked for, past those only that may be passed; undefined where none leads there. */
export function wayWhere(
  automaton: Automaton,
  from: Place,
  isThere: (place: Place) => boolean,
  holds: Holding,
  mayPass: (place: Place) => boolean = () => true
): Way | undefined {
  const start = automaton.codeOf(from);
  const far = new Map<number, { ticks: number; before: number }>([[start, { ticks: 0, before: start }]]);
  const done = new Set<number>();
  const open = openWhere(automaton, holds);
  const queue = new FlatQueue<number>();
  queue.push(start, 0);
  while (queue.length > 0) {
    const code = queue.pop()!;
    if (done.has(code)) continue;
    done.add(code);
    const { ticks } = far.get(code)!;
    const place = automaton.placeOf(code);
    if (isThere(place)) {
      const places: Place[] = [];
      for (let at = code; at !== start; at = far.get(at)!.before) places.unshift(automaton.placeOf(at));
      return { places, ticks };
    }
    if (code !== start && !mayPass(place)) continue;
    automaton.eachMove(code, (next, asks, lasts) => {
      if (next < 0 || !open(asks) || (far.get(next)?.ticks ?? Infinity) <= ticks + lasts) return;
      far.set(next, { ticks: ticks + lasts, before: code });
      queue.push(next, ticks + lasts);
    });
  }
  return undefined;
}

/** Whether moves are open that ask for a list of conditions; each list is asked once. */
function openWhere(automaton: Automaton, holds: Holding): (asks: number) => boolean {
  const known = new Map<number, boolean>();
  return (asks) => {
    let is = known.get(asks);
    if (is === undefined) known.set(asks, (is = holds(automaton.conditions.names(asks))));
    return is;
  };
}

/** How long a move from a place to another lasts, in ticks, by the quickest one; leaving the ground and rising at once is one. */
export function ticksOf(automaton: Automaton, from: Place, to: Place): number {
  const code = automaton.codeOf(to);
  const ticks = automaton
    .movesFrom(from)
    .flatMap((move) => (move !== out && automaton.codeOf(move.to) === code ? [move.ticks] : []));
  return ticks.length > 0 ? Math.min(...ticks) : 1;
}

/** More places and moments than this are not looked at for a way past patrols. */
const mostMoments = 400_000;

/**
 * The places on the quickest way to a cell on which no foe is met that patrols, one more for each step that the player waits;
 * undefined where none is found. `now` is the step at which it begins; a tick is `scale` steps.
 */
export function wayPast(
  automaton: Automaton,
  from: Place,
  to: Cell,
  holds: Holding,
  { beats, now, scale }: { beats: Beats; now: number; scale: number }
): Place[] | undefined {
  const { ground } = automaton;
  const target = ground.at(...to);
  const start = { code: automaton.codeOf(from), step: now };
  if (target === undefined || !beats.isCounted) return undefined;
  const open = openWhere(automaton, holds);
  interface Moment {
    code: number;
    step: number;
    before?: Moment;
  }
  const seen = new Set<number>();
  const keyOf = (code: number, step: number) => code * beats.period + (step % beats.period);
  const queue = new FlatQueue<Moment>();
  const come = (moment: Moment) => {
    if (!seen.has(keyOf(moment.code, moment.step))) queue.push(moment, moment.step);
  };
  come(start);
  while (queue.length > 0 && seen.size < mostMoments) {
    const here = queue.pop()!;
    if (seen.has(keyOf(here.code, here.step))) continue;
    seen.add(keyOf(here.code, here.step));
    const cell = automaton.cellOf(here.code);
    if (cell === target) {
      const way: Place[] = [];
      for (let at: Moment = here; at.before; at = at.before) way.unshift(automaton.placeOf(at.code));
      return way;
    }
    // what acts by touch ends the way, or is where it began
    if (here.before && ground.acting.has(cell)) continue;
    const go = (next: number, lasts: number) => {
      const end = automaton.cellOf(next);
      if (beats.meets(ground.cellOf(cell), ground.cellOf(end), here.step, lasts) === undefined)
        come({ code: next, step: here.step + lasts, before: here });
    };
    const [x, y] = ground.cellOf(cell);
    if (automaton.isStanding(here.code) && ground.isFooting(x, y)) go(here.code, 1);
    automaton.eachMove(here.code, (next, asks, ticks) => {
      if (next >= 0 && open(asks)) go(next, Math.ceil(ticks * scale - 1e-9));
    });
  }
  return undefined;
}
