/** What can happen in a settled state (docs/flow-format.md, section 4). */
import { isLevel, type Deed, type DeedKind, type Event, type EventKind, type Id, type PieceKind } from '../document/types.ts';
import { evaluate } from '../language/evaluate.ts';
import { usedUp } from '../vocabulary/pieces.ts';
import { canHappenTo, deedKinds, waysToTouch } from '../vocabulary/triggers.ts';
import type { FittingRule } from './fit.ts';
import type { Applying, Clock, Flow } from './flow.ts';
import { candidateOf } from './handle.ts';
import { asksFor, isUsed, slotsOf } from './slots.ts';
import { active, bottom, type Frame, type State } from './state.ts';
import { leftOf, readingOf } from './turn.ts';

/** Is told of each choice looked at: whether the rule offers the level now. */
export type OfferWatcher = (rule: FittingRule, level: Id, offered: boolean) => void;

/** What is looked at to see what can happen. */
interface Sight {
  flow: Flow;
  state: State;
  frame: Frame;
  applying: Applying;
  offers: OfferWatcher;
}

/** The events that can happen in a settled state, in a fixed order. */
export function eventsIn(flow: Flow, state: State, offers: OfferWatcher = () => {}): Event[] {
  const frame = active(state);
  const sight = { flow, state, frame, applying: flow.applying(frame.place, bottom(state).place), offers };
  const { press, slot, choose, every, time } = possible;
  return [...press(sight), ...slot(sight), ...deedsIn(sight), ...choose(sight), ...every(sight), ...time(sight)];
}

const possible: Record<Exclude<EventKind, DeedKind>, (sight: Sight) => Event[]> = {
  press: ({ applying }) => applying.labels.map((press) => ({ press })),
  slot: ({ flow, state, applying }) =>
    applying.by.slot.length === 0
      ? []
      : Array.from({ length: slotsOf(flow.document) }, (_, slot) => slot)
          .filter((slot) => applying.by.slot.some(({ rule }) => asksFor(rule.when.slot, isUsed(flow, state, slot))))
          .map((slot) => ({ slot })),
  choose: ({ flow, state, applying, offers }) =>
    applying.by.choose.flatMap((rule) => {
      const order = rule.rule.when.choose;
      const open = flow.document.orders[order]!.levels.filter((level) => {
        if (!isLevel(flow.document, level)) return false;
        const reading = readingOf(flow, state, candidateOf(flow, state, order, level));
        const offered = !rule.condition || (evaluate(rule.condition, reading) as boolean);
        offers(rule, level, offered);
        return offered;
      });
      return open.map((level) => ({ choose: level, rule: rule.id }));
    }),
  every: ({ frame, applying }) =>
    applying.clocks.filter((clock) => stillDue(frame, clock) !== 0).map(({ written }) => ({ every: written })),
  time: ({ frame, applying }) => {
    const waits = applying.clocks.some((clock) => (stillDue(frame, clock) ?? 0) > 0);
    return frame.phase < applying.deadlines.length && !waits ? [{ time: true }] : [];
  }
};

/** How many ticks of a clock are due up to the next deadline and have not happened; undefined where they are free. */
function stillDue({ phase, ticks }: Frame, { seconds, due }: Clock): number | undefined {
  return phase < due.length ? due[phase]! - (ticks[seconds] ?? 0) : undefined;
}

/** Whether it can be done to a piece that is there: most of it only while some player is up, where there are players. */
const doable: Record<DeedKind, (kind: PieceKind, someoneUp: boolean) => boolean> = {
  touch: (_, someoneUp) => someoneUp,
  collect: (_, someoneUp) => someoneUp,
  defeat: (kind, someoneUp) => someoneUp || kind === 'player'
};

function deedsIn({ flow, state, frame, applying }: Sight): Deed[] {
  const place = flow.document.places[frame.place]!;
  if (place.kind !== 'level') return [];
  const pieces = Object.entries(place.pieces);
  const players = pieces.filter(([, { kind }]) => kind === 'player');
  const asked = applying.by.touch.map(({ rule }) => rule.when);
  const someoneUp = players.length === 0 || players.some(([id]) => leftOf(flow, state, id) > 0);
  return pieces
    .filter(([id, piece]) => !usedUp(piece) || leftOf(flow, state, id) > 0)
    .flatMap(([id, { kind }]) =>
      deedKinds
        .filter((deed) => canHappenTo(deed, kind) && doable[deed](kind, someoneUp))
        .flatMap((deed) => (deed === 'touch' ? waysToTouch(id, asked) : [{ [deed]: id } as unknown as Deed]))
    );
}
