/** What of a document, beside its rules, names nothing. */
import { casesOf, contentsOf, placeholderMisfit } from '../document/messages.ts';
import { isLevel, own, type FlowDocument, type Id, type Level, type Owner, type Passage, type Place } from '../document/types.ts';
import { slotParts } from '../vocabulary/saves.ts';
import { standingsOf } from '../vocabulary/pieces.ts';
import { canHappenTo } from '../vocabulary/triggers.ts';
import type { Things } from './scope.ts';

export interface Misfit {
  check: 'reference' | 'condition';
  /** `rule/id`, `order/id`, `place/id` or `flow` for reference; the rule or `place/index` for condition. */
  subject: string;
  message: string;
  /** JSON pointer to the text or id at fault. */
  pointer: string;
  /** For a condition: where in its text, counted from 1. */
  column?: number;
  /** The id that names nothing, where that is the matter. */
  missing?: string;
}

/** What of a passage names nothing, or nothing that can be touched. */
export function passageMisfits(
  { name: level, spots, pieces }: Level,
  id: Id,
  { from, to, through = [] }: Passage
): Omit<Misfit, 'subject'>[] {
  const misfit = (at: string, message: string, missing: Id) => ({
    check: 'reference' as const,
    pointer: `/passages/${id}/${at}`,
    message,
    missing
  });
  const ends = [['from', from] as const, ['to', to] as const].flatMap(([at, spot]) =>
    own(spots, spot) ? [] : misfit(at, `A passage of ${level} names "${spot}", and there is no such spot.`, spot)
  );
  const met = through.flatMap((piece, index) => {
    const found = own(pieces, piece);
    if (!found)
      return misfit(`through/${index}`, `A passage of ${level} goes through "${piece}", and there is no such piece.`, piece);
    if (canHappenTo('touch', found.kind)) return [];
    return misfit(`through/${index}`, `A passage of ${level} goes through ${found.name}, which is a ${found.kind}.`, piece);
  });
  return [...ends, ...met];
}

export function documentMisfits(document: FlowDocument, misfits: Misfit[], things: (owner: Owner) => Things): void {
  const add = (subject: string, pointer: string, message: string, missing?: string) =>
    misfits.push({ check: 'reference', subject, pointer, message, missing });
  if (!own(document.places, document.start))
    add('flow', '/start', `Play begins at "${document.start}", and there is no such place.`, document.start);
  document.saves?.shows?.forEach((what, index) => {
    if (!own(document.variables, what) && !own(slotParts, what))
      add('flow', `/saves/shows/${index}`, `Saved games show "${what}", and there is no such value.`, what);
  });
  for (const [id, order] of Object.entries(document.orders)) {
    order.levels.forEach((level, index) => {
      const pointer = `/orders/${id}/levels/${index}`;
      if (!own(document.places, level))
        add(`order/${id}`, pointer, `${order.name} lists "${level}", and there is no such place.`, level);
      else if (!isLevel(document, level))
        add(`order/${id}`, pointer, `${order.name} lists ${document.places[level]!.name}, which is no level.`);
    });
    if (order.draw !== 'table') continue;
    order.rows.forEach((row, r) =>
      row.forEach((level, index) => {
        if (isLevel(document, level)) return;
        const name = own(document.places, level)?.name ?? `"${level}"`;
        add(
          `order/${id}`,
          `/orders/${id}/rows/${r}/${index}`,
          `${order.name}, row ${r + 1} has ${name}, which is no level.`,
          level
        );
      })
    );
  }
  const missingAssets = (subject: string, pointer: string, { name, uses = [] }: { name: string; uses?: Id[] }) =>
    uses.forEach((asset, index) => {
      if (!own(document.assets, asset))
        add(subject, `${pointer}/uses/${index}`, `${name} uses "${asset}", and there is no such shared asset.`, asset);
    });
  for (const [id, group] of Object.entries(document.groups)) missingAssets(`group/${id}`, `/groups/${id}`, group);
  for (const [id, place] of Object.entries(document.places)) {
    if (place.kind === 'level' && place.group !== undefined && !own(document.groups, place.group)) {
      add(
        `place/${id}`,
        `/places/${id}/group`,
        `${place.name} is in the group "${place.group}", and there is no such group.`,
        place.group
      );
    }
    missingAssets(`place/${id}`, `/places/${id}`, place);
    if (place.kind === 'level')
      missingSpots(place, (at, message, missing) => add(`place/${id}`, `/places/${id}${at}`, message, missing));
    for (const { at, text } of textsShown(id, place))
      for (const content of contentsOf(text)) {
        const found = placeholderMisfit(document, content, (piece) => things({ place: id }).piece.has(piece));
        if (found) add(`place/${id}`, at, `The text of ${place.name} shows "{${content}}", ${found.words}.`, found.missing);
      }
  }
}

/** What stands at no spot of its level, and entries that lead to none. */
function missingSpots({ spots, entries, pieces }: Level, add: (at: string, message: string, missing: Id) => void): void {
  for (const [id, { name, spot }] of Object.entries(entries))
    if (spot !== undefined && !own(spots, spot))
      add(`/entries/${id}/spot`, `${name} arrives at "${spot}", and there is no such spot.`, spot);
  for (const [id, piece] of Object.entries(pieces)) {
    const short = !Array.isArray(piece.at);
    standingsOf(piece)?.forEach((standing, n) =>
      standing.spots.forEach((spot, index) => {
        if (!own(spots, spot))
          add(
            `/pieces/${id}/at/${short ? spot : `${n}/spots/${index}`}`,
            `${piece.name} stands at "${spot}", and there is no such spot.`,
            spot
          );
      })
    );
  }
}

/** The texts of a place with where each stands. */
const textsShown = (id: Id, { message }: Place) =>
  casesOf(message).map(({ text }, index) => ({
    at: typeof message === 'string' ? `/places/${id}/message` : `/places/${id}/message/${index}/text`,
    text
  }));
