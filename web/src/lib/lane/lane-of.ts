/** The picture of a document, worked out once however many parts of the page want it. */
import type { FlowDocument } from '@crow-lane/core/document/types';
import { layout, type LaneLayout } from '@crow-lane/core/lane/layout';

const known = new WeakMap<FlowDocument, LaneLayout>();

export function laneOf(document: FlowDocument): LaneLayout {
  let lane = known.get(document);
  if (!lane) known.set(document, (lane = layout(document)));
  return lane;
}
