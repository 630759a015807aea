/** Places in a list, in the order in which the lane shows them. */
import type { FlowDocument, Id } from '../document/types.ts';
import { placeKindsInOrder } from '../vocabulary/places.ts';
import { layout } from './layout.ts';

/** Levels as they are played, with their number in the order, then menus, interludes and endings. */
export function placesInOrder(document: FlowDocument): { place: Id; number: number | undefined }[] {
  return [...layout(document).tiles.values()]
    .sort((a, b) => placeKindsInOrder.indexOf(a.kind) - placeKindsInOrder.indexOf(b.kind) || a.row - b.row || a.x - b.x)
    .map(({ place, number }) => ({ place, number }));
}
