/** What can happen in a settled state (docs/flow-format.md, section 4). */
import { canHappenTo, isLevel, usedUp, type Id } from '../document/types.ts';
import { evaluate } from '../language/evaluate.ts';
import type { FittingRule } from './fit.ts';
import type { Flow } from './flow.ts';
import { candidateOf } from './handle.ts';
import { active, bottom, type State } from './state.ts';
import { leftOf, readingOf, type Event } from './turn.ts';

/** Is told of each choice looked at: whether the rule offers the level now. */
export type OfferWatcher = (rule: FittingRule, level: Id, offered: boolean) => void;

/** The events that can happen in a settled state, in a fixed order. */
export function eventsIn(flow: Flow, state: State, offers: OfferWatcher = () => {}): Event[] {
  const frame = active(state);
  const { labels, by, deadlines } = flow.applying(frame.place, bottom(state).place);
  const events: Event[] = labels.map((press) => ({ press }));
  const place = flow.document.places[frame.place]!;
  if (place.kind === 'level') {
    const pieces = Object.entries(place.pieces);
    const players = pieces.filter(([, piece]) => piece.kind === 'player');
    const someoneUp = players.length === 0 || players.some(([id]) => leftOf(flow, state, id) > 0);
    for (const [id, piece] of pieces) {
      const there = !usedUp(piece) || leftOf(flow, state, id) > 0;
      if (!there) continue;
      if (someoneUp && canHappenTo('touch', piece.kind)) events.push({ touch: id });
      if (someoneUp && canHappenTo('collect', piece.kind)) events.push({ collect: id });
      if (canHappenTo('defeat', piece.kind) && (someoneUp || piece.kind === 'player')) events.push({ defeat: id });
    }
  }
  for (const rule of by.choose) {
    for (const level of flow.document.orders[(rule.rule.when as { choose: Id }).choose]!.levels) {
      if (!isLevel(flow.document, level)) continue;
      const offered =
        !rule.condition || (evaluate(rule.condition, readingOf(flow, state, candidateOf(flow, state, rule, level))) as boolean);
      offers(rule, level, offered);
      if (offered) events.push({ choose: level, rule: rule.id });
    }
  }
  if (frame.phase < deadlines.length) events.push({ time: true });
  return events;
}
