/** What can happen in a settled state (docs/flow-format.md, section 4). */
import {
  isLevel,
  type Deed,
  type DeedKind,
  type Event,
  type EventKind,
  type Id,
  type Level,
  type PieceKind,
  type Step
} from '../document/types.ts';
import { leadsTo } from '../document/ground.ts';
import { same } from '../document/same.ts';
import { evaluate } from '../language/evaluate.ts';
import { pieceKinds } from '../vocabulary/pieces.ts';
import { canHappenTo, deedKinds, waysToTouch } from '../vocabulary/triggers.ts';
import type { FittingPassage, FittingRule } from './fit.ts';
import type { Applying, Clock, Flow } from './flow.ts';
import { candidateOf } from './handle.ts';
import { asksFor, isUsed, slotsOf } from './slots.ts';
import { active, bottom, type Frame, type State } from './state.ts';
import { heapsHere, leftOf, readingOf } from './turn.ts';

/** Is told of each choice and each passage looked at: whether the rule offers a level now, whether the passage is open. */
export type OfferWatcher = (asked: FittingRule | FittingPassage, offered: boolean) => void;

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
  const { press, slot, choose, walk, every, time } = possible;
  return [press, slot, deedsIn, walk, choose, every, time].flatMap((events): Event[] => events(sight));
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
        offers(rule, offered);
        return offered;
      });
      return open.map((level) => ({ choose: level, rule: rule.id }));
    }),
  walk: ({ flow, state, frame, offers }) => {
    const { spot } = state;
    if (spot === null || state.stack.length > 1 || !someoneUp(flow, state)) return [];
    const from = flow.passagesIn(frame.place).filter(({ passage }) => leadsTo(passage, spot) !== undefined);
    const open = from.filter((passage) => {
      const isOpen = !passage.condition || (evaluate(passage.condition, readingOf(flow, state)) as boolean);
      offers(passage, isOpen);
      return isOpen;
    });
    return open.map(({ name }) => ({ walk: name }));
  },
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

/** Whether some player of the bottom level is up; always where it has none to be defeated. */
export function someoneUp(flow: Flow, state: State): boolean {
  const { pieces } = flow.document.places[bottom(state).place] as Level;
  const players = Object.keys(pieces).filter((id) => pieces[id]!.kind === 'player');
  return players.length === 0 || players.some((id) => leftOf(flow, state, id) > 0);
}

function deedsIn({ flow, state, frame, applying }: Sight): Event[] {
  const place = flow.document.places[frame.place]!;
  if (place.kind !== 'level') return [];
  const asked = applying.by.touch.map(({ rule }) => rule.when);
  const isUp = someoneUp(flow, state);
  return Object.entries(place.pieces).flatMap(([id, { kind }]) => {
    const heaps = heapsHere(flow, state, id);
    const done = deedKinds.filter((deed) => canHappenTo(deed, kind) && doable[deed](kind, isUp));
    return done.flatMap((deed): Event[] => {
      const one = { [deed]: id } as unknown as Deed;
      if (pieceKinds[kind].usedUpBy === deed) return heaps.map(({ of }) => (of === undefined ? one : { ...one, of }));
      // whichever of them is touched, the same follows
      return heaps.length === 0 ? [] : deed === 'touch' ? waysToTouch(id, asked) : [one];
    });
  });
}

/** The spot to which an event that can happen walks; undefined for what walks nowhere. */
export function walkedTo({ document }: Flow, { stack, spot }: State, event: Event): Id | undefined {
  const level = document.places[stack[0]!.place]!;
  return 'walk' in event && level.kind === 'level' ? leadsTo(level.passages[event.walk]!, spot!) : undefined;
}

/** An event as routes name it: the rule of a choice, and the entry of a deed, only where others could be meant. */
export function stepOfEvent(events: Event[], event: Event): Step {
  const { rule: _rule, of: _of, ...brief } = event as Event & { rule?: Id; of?: number };
  return events.filter((other) => means(brief as Step, other)).length > 1 ? event : (brief as Step);
}

/** Whether a step can be an event: what it leaves out is whatever the event says. */
export function means({ draws: _draws, ...step }: Step, event: Event): boolean {
  const { rule, of, ...brief } = event as Event & { rule?: Id; of?: number };
  const asked = step as { rule?: Id; of?: number };
  return same({ ...brief, ...(asked.rule !== undefined && { rule }), ...(asked.of !== undefined && { of }) }, step);
}
