import { groupAround, moveLevels } from '@crow-lane/core/document/edits/levels';
import type { Id } from '@crow-lane/core/document/types';
import { placeName } from '@crow-lane/core/words/words';
import type { OpenFlow } from './open-flow.svelte.ts';

/** Moves levels along an order, and says so where one then stands in the middle of another group. */
export function moveAlong(flow: OpenFlow, order: Id, levels: Id[], index: number): void {
  const change = moveLevels(flow.document, order, levels, index);
  if (change.patch.length === 0) return;
  flow.edit(change);
  for (const level of levels) {
    const group = groupAround(flow.document, order, level);
    if (group === undefined) continue;
    const { name } = flow.document.groups[group]!;
    const text = `${placeName(flow.document, level)} now stands among the levels of ${name}, to which it does not belong.`;
    flow.notice = { bad: false, text };
    return;
  }
}
