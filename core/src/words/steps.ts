/** The steps of a route in words. */
import type { Step } from '../check/report.ts';
import { own, type FlowDocument, type Id } from '../document/types.ts';
import type { Draw } from '../play/turn.ts';
import { pieceName, placeName } from './words.ts';

/** A step in words: "press Begin", "collect Lamp". `level` is the level it happens in, whose piece is meant. */
export function stepWords(document: FlowDocument, step: Step, level?: Id): string {
  const owner = level !== undefined ? { place: level } : { flow: true as const };
  const draws = (step.draws ?? []).map((draw) => drawWords(document, draw));
  const done = (() => {
    if ('press' in step) return `press ${step.press}`;
    if ('touch' in step) return `touch ${pieceName(document, owner, step.touch)}`;
    if ('collect' in step) return `collect ${pieceName(document, owner, step.collect)}`;
    if ('defeat' in step) return `defeat ${pieceName(document, owner, step.defeat)}`;
    if ('choose' in step) return `choose ${placeName(document, step.choose)}`;
    return 'time' in step ? 'let the next deadline pass' : 'begin';
  })();
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
