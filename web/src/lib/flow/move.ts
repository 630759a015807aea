import { groupAround, moveLevels } from '@crow-lane/core/document/edits/levels';
import type { Id } from '@crow-lane/core/document/types';
import { placeName } from '@crow-lane/core/words/words';
import type { OpenFlow } from './open-flow.svelte.ts';

/** Moves levels along an order, and says so where one then stands in the middle of another group. */
export function moveAlong(flow: OpenFlow, order: Id, levels: Id[], index: number): void {
  const change = moveLevels(flow.document, order, levels, index);
  if (change.patch.length === 0) return;
  flow.edit(change);
  const strayed = levels.find((level) => groupAround(flow.document, order, level) !== undefined);
  if (strayed === undefined) return;
  const { name } = flow.document.groups[groupAround(flow.document, order, strayed)!]!;
  const text = `${placeName(flow.document, strayed)} now stands among the levels of ${name}, to which it does not belong.`;
  flow.notice = { bad: false, text };
}
