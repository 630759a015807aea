/** What can happen in a place over a bottom place, and the rules that are read when it does. */
import {
  isLevel,
  type Deed,
  type DeedKind,
  type Event,
  type EventKind,
  type Id,
  type Level,
  type Piece,
  type PieceKind,
  type Place
} from '../../document/types.ts';
import { comesTo, heapsOf, spotOf } from '../../document/ground.ts';
import { secondsOf } from '../../document/numbers.ts';
import type { FittingPassage, FittingRule } from '../../play/fit.ts';
import type { Applying, Listening } from '../../play/flow.ts';
import { asksFor, slotsOf } from '../../play/slots.ts';
import type { Names } from './expressions.ts';
import { joined, js, slot as slotOf, type Code } from './instructions.ts';
import type { Layout } from './layout.ts';
import type { Self } from './own.ts';
import { isHere } from './names.ts';
import type { Sheet } from './sheet.ts';
import { canHappenTo, deedKinds, waitsFor, waysToTouch } from '../../vocabulary/triggers.ts';

/** What whether it can happen is written with: slots of this place's frame, and what is noted of choices and passages. */
interface Asks {
  frameSlot(slots: number[]): Code;
  offered(rule: FittingRule, candidate: Names['candidate']): Code;
  passable(passage: FittingPassage): Code;
}

export interface Happening {
  event: Event;
  /** The code of whether it can happen now. */
  when: (code: Asks) => Code;
  /** The slot of the used-up piece that is one fewer, or of the deadlines that have passed. */
  lowers?: number;
  raises?: number;
  /** The clock, among those of the place, of which there is one tick more while fewer than so many deadlines have passed. */
  ticks?: { clock: number; before: number };
  /** The checkpoint that is touched. */
  checkpoint?: Checkpoint;
  /** The passage that is taken, with the numbers of its ends. */
  walks?: { passage: FittingPassage; from: number; to: number };
  /** Which slot is picked, and whether it is used. */
  picks?: { slot: number; used: Code };
  /** Some are read only at a deadline, if the picked slot is used or is not, for a piece on the way, or at a spot that is reached. */
  rules: { matching: FittingRule[]; deadline?: number; used?: boolean; touches?: TouchedOnWay; reached?: number }[];
  /** The level that the only rule goes to when it says `chosen`. */
  chosen?: number;
}

/** Whether an event leads to another state before any rule is read. */
export const changesState = ({ lowers, raises, ticks, picks, walks }: Happening): boolean =>
  [lowers, raises, ticks, picks, walks].some((change) => change !== undefined);

/** The progress that a checkpoint gives, and the spot of the entry that is called like it; -1 without one. */
export interface Checkpoint {
  progress: number;
  spot: number;
}

/** A piece on a passage: its number among those, and whether there is one. */
export interface TouchedOnWay {
  number: number;
  left: Code;
  checkpoint?: Checkpoint;
}

export function happeningsOf(sheet: Sheet, { place }: Self, bottom: number): Happening[] {
  const { at, flow } = sheet;
  const id = at.placeIds[place]!;
  const there: There = { sheet, place, level: flow.document.places[id]!, applying: flow.applying(id, at.placeIds[bottom]!) };
  const { press, slot, choose, walk, every, time } = possible;
  const here = place === bottom;
  return [press, slot, deedsIn, ...(here ? [walk] : []), choose, every, time].flatMap((happens) => happens(there));
}

interface There {
  sheet: Sheet;
  place: number;
  level: Place;
  applying: Applying;
}

const possible: Record<Exclude<EventKind, DeedKind>, (there: There) => Happening[]> = {
  press: ({ applying: { by, labels } }) =>
    labels.map((press) => {
      const matching = by.press.filter(({ rule }) => rule.when.press === press);
      return { event: { press }, when: () => true, rules: [{ matching }] };
    }),
  // of the slots those that the checks look at: the one in hand, and while that is the first the second as never used
  slot: ({ sheet: { at, flow, naming }, applying: { by } }) => {
    const hand = slotOf(at.hand);
    const rules = [true, false].map((used) => ({ used, matching: by.slot.filter(({ rule }) => asksFor(rule.when.slot, used)) }));
    const [ofUsed, ofEmpty] = rules.map(({ matching }) => matching.length > 0) as [boolean, boolean];
    if (by.slot.length === 0) return [];
    const fits = (used: Code) => js`((${used}) ? ${ofUsed} : ${ofEmpty})`;
    const first: Happening = {
      event: { slot: 0 },
      when: () => js`${hand} === 0 && ${fits(naming.used)}`,
      picks: { slot: 0, used: naming.used },
      rules
    };
    if (slotsOf(flow.document) === 1) return [first];
    const used = js`(${hand} === 1 && ${naming.used})`;
    return [first, { event: { slot: 1 }, when: () => fits(used), picks: { slot: 1, used }, rules }];
  },
  choose: ({ sheet, applying: { by } }) => by.choose.flatMap((rule) => choices(sheet, rule)),
  walk: (there) => {
    const { sheet, place } = there;
    const { at, flow } = sheet;
    // where it is not kept where the player is, nothing follows
    if (!at.keptAt[place]) return [];
    return flow.passagesIn(at.placeIds[place]!).map((passage) => walking(there, passage));
  },
  every: ({ sheet: { at, flow }, applying: { by, clocks } }) =>
    clocks.map(({ seconds, written, due }, clock): Happening => {
      const matching = by.every.filter(({ rule }) => secondsOf(flow.document, rule.when.every) === seconds);
      const happening = { event: { every: written }, rules: [{ matching }] };
      if (due.length === 0) return { ...happening, when: () => true };
      const when = (code: Asks) =>
        byPhase(
          code.frameSlot(at.phase),
          due.map((n) => js`${code.frameSlot(ticksOf(at, clock))} < ${n}`)
        );
      return { ...happening, when, ticks: { clock, before: due.length } };
    }),
  time: ({ sheet: { at, flow }, applying: { by, clocks, deadlines } }) => {
    if (deadlines.length === 0) return [];
    const rules = deadlines.map((seconds, deadline) => ({
      deadline,
      matching: by.after.filter(({ rule }) => secondsOf(flow.document, rule.when.after) === seconds)
    }));
    const when = (code: Asks) => {
      const phase = code.frameSlot(at.phase);
      const before = js`${phase} < ${deadlines.length}`;
      const kept = clocks.flatMap(({ due }, clock) =>
        due.length > 0 ? [{ due, ticks: code.frameSlot(ticksOf(at, clock)) }] : []
      );
      if (kept.length === 0) return before;
      const due = deadlines.map((_, n) =>
        joined(
          kept.map(({ due, ticks }) => js`${ticks} >= ${due[n]!}`),
          ' && '
        )
      );
      return js`${before} && ${byPhase(phase, due)}`;
    };
    return [{ event: { time: true }, when, raises: at.phase[0]!, rules }];
  }
};

/** By frame the slot that counts the ticks of a clock; frames in which no place has so many clocks have none. */
export const ticksOf = (at: Layout, clock: number): number[] => at.ticks.map((slots) => slots[clock]!);

/** What is true after so many deadlines; behind the last one everything is. */
const byPhase = (phase: Code, truths: Code[]): Code =>
  js`(${joined(
    truths.map((truth, n) => js`${phase} === ${n} ? ${truth} : `),
    ''
  )}true)`;

function choices({ at, flow, naming }: Sheet, rule: Listening<'choose'>): Happening[] {
  const { document } = flow;
  const { levels } = document.orders[rule.rule.when.choose]!;
  return levels.flatMap((id, n) => {
    if (!isLevel(document, id)) return [];
    const previous = n === 0 ? true : naming.won(levels[n - 1]!);
    const candidate = { it: naming.won(id), previous, position: n + 1 };
    return [
      {
        event: { choose: id, rule: rule.id },
        when: (code: Asks) => code.offered(rule, candidate),
        rules: [{ matching: [rule] }],
        chosen: at.placeIndex.get(id)!
      }
    ];
  });
}

/** What is done to pieces: what each takes away, and whether it can only be done while some player is up. */
const doing: Record<DeedKind, { takes: boolean; needsPlayer: (kind: PieceKind) => boolean }> = {
  touch: { takes: false, needsPlayer: () => true },
  collect: { takes: true, needsPlayer: () => true },
  defeat: { takes: true, needsPlayer: (kind) => kind !== 'player' }
};

/** Whether some player of a level is up; always where it has none to be defeated. */
function someoneUp({ sheet: { at }, place, level }: There): Code {
  const { pieces } = level as Level;
  const players = Object.keys(pieces).filter((id) => pieces[id]!.kind === 'player');
  const up = players.map((id) => js`${slotOf(at.levels[place]!.pieces.get(id)!.heaps[0]!.slot)} > 0`);
  return up.length === 0 ? true : js`(${joined(up, ' || ')})`;
}

function deedsIn(there: There): Happening[] {
  const { level } = there;
  if (level.kind !== 'level') return [];
  const up = someoneUp(there);
  return Object.keys(level.pieces).flatMap((id) => {
    const { kind } = level.pieces[id]!;
    return deedKinds
      .filter((deed) => canHappenTo(deed, kind))
      .flatMap((deed) => {
        const isUp = doing[deed].needsPlayer(kind) ? up : true;
        return doing[deed].takes ? taking(there, deed, id, isUp) : touching(there, deed, id, isUp);
      });
  });
}

/** What uses a piece up: of each of its heaps. */
function taking({ sheet: { at }, place, applying: { by } }: There, deed: DeedKind, id: Id, isUp: Code): Happening[] {
  return at.levels[place]!.pieces.get(id)!.heaps.flatMap(({ slot, of, spots }): Happening[] => {
    const event = { [deed]: id, ...(of !== undefined && { of }) } as unknown as Deed;
    const listening: FittingRule[] = by[deed];
    const matching = listening.filter(({ rule }) => waitsFor(rule.when, event));
    // what is not kept makes no difference: taking it unheard leads back to the same state
    const lowers = at.keptSlot(slot);
    const here = isHere(at, place, spots);
    if ((matching.length === 0 && !lowers) || here === false) return [];
    const when = all([js`${slotOf(slot)} > 0`, here, isUp]);
    return [{ event, when: () => when, rules: [{ matching }], ...(lowers && { lowers: slot }) }];
  });
}

/** What leaves it as it is: of any of them. */
function touching({ sheet: { at }, place, level, applying: { by } }: There, deed: DeedKind, id: Id, isUp: Code): Happening[] {
  const listening: FittingRule[] = by[deed];
  const asked = listening.map(({ rule }) => rule.when);
  const done = deed === 'touch' ? waysToTouch(id, asked) : [{ [deed]: id } as unknown as Deed];
  const near = heapsNear(at, place, id, (level as Level).pieces[id]!);
  const checkpoint = checkpointOf(at, place, level as Level, id);
  return done.flatMap((event): Happening[] => {
    const matching = listening.filter(({ rule }) => waitsFor(rule.when, event));
    if (matching.length === 0 || near === false) return [];
    return [{ event, when: () => all([near, isUp]), rules: [{ matching }], ...(checkpoint && { checkpoint }) }];
  });
}

/** All of these have to be true. */
const all = (conditions: Code[]): Code => {
  const some = conditions.filter((each) => each !== true);
  return some.length === 0 ? true : joined(some, ' && ');
};

/** Whether one of a piece is where the player is, and left. */
function heapsNear(at: Layout, place: number, id: Id, piece: Piece): Code {
  const counted = at.levels[place]!.pieces.get(id);
  if (counted) {
    const each = counted.heaps.map(({ slot, spots }) => all([js`${slotOf(slot)} > 0`, isHere(at, place, spots)]));
    return each.length === 0 ? false : js`(${joined(each, ' || ')})`;
  }
  const spots = heapsOf(id, piece).map((heap) => heap.spots);
  if (spots.includes(undefined)) return true;
  const from = spots.flatMap((some) => some ?? []);
  // where it is not kept where the player is, what is in reach is near
  return at.keptAt[place] ? isHere(at, place, from) : from.some((spot) => at.open[place]!.has(spot));
}

/** What touching a piece means for a save that follows; undefined for what is no checkpoint. */
function checkpointOf(at: Layout, place: number, level: Level, id: Id): Checkpoint | undefined {
  const piece = level.pieces[id]!;
  if (piece.kind !== 'checkpoint') return undefined;
  const spot = Object.hasOwn(level.entries, id) ? at.spots[place]!.indexOf(spotOf(level, id) ?? '') : -1;
  return { progress: piece.progress ?? level.progress ?? 0, spot };
}

/** A passage that is taken: the rules of what is touched on it, of the passage itself, and of the spot that is reached. */
function walking(there: There, passage: FittingPassage): Happening {
  const { sheet, place, level, applying } = there;
  const { at } = sheet;
  const { from, to, both, through = [] } = passage.passage;
  const ends = [from, to].map((spot) => at.spots[place]!.indexOf(spot)) as [number, number];
  const begins = both
    ? js`(${slotOf(at.spot)} === ${ends[0]} || ${slotOf(at.spot)} === ${ends[1]})`
    : js`${slotOf(at.spot)} === ${ends[0]}`;
  const touched = through.map((piece) => {
    const counted = at.levels[place]!.pieces.get(piece);
    const left = counted ? js`(${joined([...counted.heaps.map(({ slot }) => slotOf(slot)), counted.rest], ' + ')}) > 0` : true;
    const checkpoint = checkpointOf(at, place, level as Level, piece);
    const touches = { number: sheet.meetable.indexOf(`${passage.level}/${piece}`), left, ...(checkpoint && { checkpoint }) };
    const matching = applying.by.touch.filter(({ rule }) => waitsFor(rule.when, { touch: piece }));
    return { matching, touches };
  });
  const reached = (begin: Id, end: Id, number: number) => ({
    matching: applying.by.reach.filter(({ rule }) => comesTo(level as Level, rule.when.reach, begin, end)),
    ...(both && { reached: number })
  });
  return {
    event: { walk: passage.name },
    when: (code) => all([begins, someoneUp(there), code.passable(passage)]),
    walks: { passage, from: ends[0], to: ends[1] },
    rules: [
      ...touched,
      { matching: applying.by.walk.filter(({ rule }) => rule.when.walk === passage.name) },
      reached(from, to, ends[1]),
      ...(both ? [reached(to, from, ends[0])] : [])
    ]
  };
}
