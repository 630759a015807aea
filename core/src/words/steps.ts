/** The steps of a route in words. */
import { own, type Draw, type Event, type FlowDocument, type Id, type Step } from '../document/types.ts';
import { eventSaid } from '../vocabulary/triggers.ts';
import { placeName, sayIn } from './words.ts';

/** A step in words: "press Begin", "collect Lamp". `level` is the level it happens in, whose piece is meant. */
export function stepWords(document: FlowDocument, step: Step, level?: Id): string {
  const owner = level !== undefined ? { place: level } : { flow: true as const };
  const draws = (step.draws ?? []).map((draw) => drawWords(document, draw));
  const done = 'start' in step ? 'begin' : eventSaid(step as Event, sayIn(document, owner));
  return draws.length > 0 ? `${done} (${draws.join(', ')})` : done;
}

/** What passing the next deadline means in a place: its only deadline in seconds, else that one of several passes. */
export function deadlineWords(document: FlowDocument, place: Id): string {
  const seconds = new Set(
    (own(document.places, place)?.rules ?? []).flatMap(({ when }) => ('after' in when ? [when.after] : []))
  );
  return seconds.size === 1 ? `wait ${[...seconds][0]} s` : 'wait for the next deadline';
}

/** A draw in words: "Night: row 2 drawn", "Market: Fish drawn". */
export function drawWords(document: FlowDocument, draw: Draw): string {
  const order = own(document.orders, draw.order)?.name ?? draw.order;
  return 'row' in draw ? `${order}: row ${draw.row + 1} drawn` : `${order}: ${placeName(document, draw.level)} drawn`;
}
