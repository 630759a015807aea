/** The steps of a route in words. */
import { own, type Draw, type Event, type FlowDocument, type Id, type Owner, type Step } from '../document/types.ts';
import type { Played } from '../play/replay.ts';
import { bottom as bottomOf, type State } from '../play/state.ts';
import { eventSaid } from '../vocabulary/triggers.ts';
import { passageName, placeName, sayIn, spotName } from './words.ts';

/**
 * A step in words: "press Begin", "collect Lamp", "walk to Loft". `level` is the level it happens in, whose piece is meant; `to`
 * is the spot that a walk leads to, where that is known.
 */
export function stepWords(document: FlowDocument, step: Step, level?: Id, to?: Id): string {
  const owner = level !== undefined ? { place: level } : { flow: true as const };
  const draws = (step.draws ?? []).map((draw) => drawWords(document, draw));
  const done =
    'start' in step
      ? 'begin'
      : 'walk' in step
        ? walkWords(document, owner, step.walk, to)
        : eventSaid(step as Event, sayIn(document, owner));
  return draws.length > 0 ? `${done} (${draws.join(', ')})` : done;
}

/** A step as it was played: with the deadline that passed, or the spot that was reached. */
export const playedWords = (document: FlowDocument, { step, from, bottom, state }: Played): string =>
  'time' in step && from !== undefined ? deadlineWords(document, from) : stepWords(document, step, bottom, spotIn(state, bottom));

/** Where the player is after something in a level; undefined where the level was left, or has no spots. */
export const spotIn = (state: State | undefined, level: Id | undefined): Id | undefined =>
  state && bottomOf(state).place === level ? (state.spot ?? undefined) : undefined;

/** "walk to Loft", "walk to Loft by Trapdoor"; "take Trapdoor" of one that leads both ways, where it is not known to where. */
function walkWords(document: FlowDocument, owner: Owner, id: Id, to: Id | undefined): string {
  const level = 'place' in owner ? own(document.places, owner.place) : undefined;
  const passage = level?.kind === 'level' ? own(level.passages, id) : undefined;
  const leads = to ?? (passage && !passage.both ? passage.to : undefined);
  if (!passage || leads === undefined) return `take ${passageName(document, owner, id)}`;
  return `walk to ${spotName(document, owner, leads)}${passage.name === undefined ? '' : ` by ${passage.name}`}`;
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
