import { targetsOf } from '@crow-lane/core/document/edits/places';
import type { FlowDocument, Id } from '@crow-lane/core/document/types';

/** The one line under a screen's name: how one gets on from it. */
export function tileWords(document: FlowDocument, id: Id): string {
  const place = document.places[id]!;
  const parts: string[] = place.kind === 'ending' ? [place.outcome] : [];
  const buttons = place.rules.filter(({ when }) => 'press' in when).length;
  const moves = place.rules.flatMap(({ go }) => (go ? targetsOf(go) : []));
  const after = place.rules.find(({ when, go }) => 'after' in when && go);
  if (after) parts.push(`after ${(after.when as { after: number }).after} s`);
  if (place.rules.some(({ when }) => 'choose' in when)) parts.push('choose a level');
  if (buttons > 0) parts.push(buttons === 1 ? '1 button' : `${buttons} buttons`);
  if (moves.some((to) => 'move' in to && to.move === 'back')) parts.push('back');
  return parts.join(' · ') || (place.rules.length === 0 ? 'no rules yet' : '');
}
