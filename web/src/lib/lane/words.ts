import { movesOf, type MoveOutcome } from '@crow-lane/core/lane/moves';
import { placeName, targetWords } from '@crow-lane/core/words/words';
import { targetsOf, type FlowDocument, type Id } from '@crow-lane/core/document/types';

/** A way out of a place as the lane draws it, and the name of what it leads to. */
export interface WayWords {
  outcome: MoveOutcome;
  over: boolean;
  to: string;
}

/** The ways out of a place that can be drawn, each once. */
export function wayWords(document: FlowDocument, id: Id): WayWords[] {
  const ways = movesOf(document).flatMap(({ from, outcome, over, to }) => {
    if (!('place' in from) || from.place !== id) return [];
    return [
      {
        outcome,
        over,
        to:
          'place' in to
            ? placeName(document, to.place)
            : `${targetWords(document, { move: to.word })}, one of ${to.levels.length}`
      }
    ];
  });
  return [...new Map(ways.map((way) => [`${way.outcome} ${way.over} ${way.to}`, way])).values()];
}

/** The one line under a screen's name: how one gets on from it. */
export function tileWords(document: FlowDocument, id: Id): string {
  const place = document.places[id]!;
  const parts: string[] = place.kind === 'ending' ? [place.outcome] : [];
  const buttons = place.rules.filter(({ when }) => 'press' in when).length;
  const moves = place.rules.flatMap(({ go }) => (go ? targetsOf(go) : []));
  const after = place.rules.find(({ when, go }) => 'after' in when && go);
  if (after) parts.push(`after ${(after.when as { after: number }).after} s`);
  if (place.rules.some(({ when }) => 'choose' in when)) parts.push('choose a level');
  if (place.rules.some(({ when }) => 'slot' in when)) parts.push('pick a slot');
  if (buttons > 0) parts.push(buttons === 1 ? '1 button' : `${buttons} buttons`);
  if (moves.some((to) => 'move' in to && to.move === 'back')) parts.push('back');
  return parts.join(' · ') || (place.rules.length === 0 ? 'no rules yet' : '');
}
