/** What can happen in a place over a bottom place, and the rules that are read when it does. */
import {
  isLevel,
  type Deed,
  type DeedKind,
  type Event,
  type EventKind,
  type PieceKind,
  type Place
} from '../../document/types.ts';
import { secondsOf } from '../../document/numbers.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Applying, Listening } from '../../play/flow.ts';
import { asksFor, slotsOf } from '../../play/slots.ts';
import { joined, js, slot as slotOf, type Code } from './instructions.ts';
import type { Layout } from './layout.ts';
import type { Self } from './own.ts';
import type { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';
import { usedUp } from '../../vocabulary/pieces.ts';
import { canHappenTo, deedKinds, waitsFor, waysToTouch } from '../../vocabulary/triggers.ts';

export interface Happening {
  event: Event;
  /** The code of whether it can happen now. */
  when: (code: RuleCode) => Code;
  /** The slot of the used-up piece that is one fewer, or of the deadlines that have passed. */
  lowers?: number;
  raises?: number;
  /** The clock, among those of the place, of which there is one tick more while fewer than so many deadlines have passed. */
  ticks?: { clock: number; before: number };
  /** The progress of the checkpoint that is touched. */
  progress?: number;
  /** Which slot is picked, and whether it is used. */
  picks?: { slot: number; used: Code };
  /** Some are read only at a deadline, or only if the picked slot is used, or is not. */
  rules: { matching: FittingRule[]; deadline?: number; used?: boolean }[];
  /** The level that the only rule goes to when it says `chosen`. */
  chosen?: number;
}

export function happeningsOf(sheet: Sheet, { place }: Self, bottom: number): Happening[] {
  const { at, flow } = sheet;
  const id = at.placeIds[place]!;
  const there: There = { sheet, place, level: flow.document.places[id]!, applying: flow.applying(id, at.placeIds[bottom]!) };
  const { press, slot, choose, every, time } = possible;
  return [...press(there), ...slot(there), ...deedsIn(there), ...choose(there), ...every(there), ...time(there)];
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
  every: ({ sheet: { at, flow }, applying: { by, clocks } }) =>
    clocks.map(({ seconds, written, due }, clock): Happening => {
      const matching = by.every.filter(({ rule }) => secondsOf(flow.document, rule.when.every) === seconds);
      const happening = { event: { every: written }, rules: [{ matching }] };
      if (due.length === 0) return { ...happening, when: () => true };
      const when = (code: RuleCode) =>
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
    const when = (code: RuleCode) => {
      const phase = code.frameSlot(at.phase);
      const before = js`${phase} < ${deadlines.length}`;
      const kept = clocks.flatMap(({ due }, clock) =>
        due.length > 0 ? [{ due, ticks: code.frameSlot(ticksOf(at, clock)) }] : []
      );
      if (kept.length === 0) return before;
      const all = deadlines.map((_, n) =>
        joined(
          kept.map(({ due, ticks }) => js`${ticks} >= ${due[n]!}`),
          ' && '
        )
      );
      return js`${before} && ${byPhase(phase, all)}`;
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
        when: (code: RuleCode) => code.offered(rule, candidate),
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

function deedsIn({ sheet: { at }, place, level, applying: { by } }: There): Happening[] {
  if (level.kind !== 'level') return [];
  const { pieces } = at.levels[place]!;
  const players = Object.keys(level.pieces)
    .filter((id) => level.pieces[id]!.kind === 'player')
    .map((id) => js`${slotOf(pieces.get(id)!.slot)} > 0`);
  const someoneUp = players.length === 0 ? true : js`(${joined(players, ' || ')})`;
  return Object.entries(level.pieces).flatMap(([id, piece]) => {
    const slot = usedUp(piece) ? pieces.get(id)!.slot : undefined;
    const there = slot === undefined ? true : js`${slotOf(slot)} > 0`;
    return deedKinds.flatMap((deed): Happening[] => {
      if (!canHappenTo(deed, piece.kind)) return [];
      const { takes, needsPlayer } = doing[deed];
      // what is not kept makes no difference: taking it unheard leads back to the same state
      const lowers = takes && slot !== undefined && at.keptSlot(slot);
      const listening: FittingRule[] = by[deed];
      const done =
        deed === 'touch'
          ? waysToTouch(
              id,
              listening.map(({ rule }) => rule.when)
            )
          : [{ [deed]: id } as unknown as Deed];
      return done.flatMap((event): Happening[] => {
        const matching = listening.filter(({ rule }) => waitsFor(rule.when, event));
        if (matching.length === 0 && !lowers) return [];
        const happening: Happening = {
          event,
          when: () => (needsPlayer(piece.kind) ? js`${there} && ${someoneUp}` : there),
          rules: [{ matching }]
        };
        if (lowers) happening.lowers = slot;
        else if (deed === 'touch' && piece.kind === 'checkpoint') happening.progress = piece.progress ?? level.progress ?? 0;
        return [happening];
      });
    });
  });
}
