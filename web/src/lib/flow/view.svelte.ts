/** What is being looked at: nothing of it is kept with the flow. */
import type { Id, PlaceKind, Step } from '@crow-lane/core/document/types';

export class View {
  /** The selected place; undefined shows the whole flow in the desk. */
  selected: Id | undefined = $state(undefined);
  /** Further places that are copied together with the selected one. */
  also: Set<Id> = $state.raw(new Set());
  /** All that are selected. */
  get all(): Id[] {
    return this.selected === undefined ? [] : [this.selected, ...this.also];
  }
  /** The lane is read as a list instead of a picture. */
  listed: boolean = $state(false);
  /** A route of a check, shown on the lane and as steps; up to the step `at`, where that is said. */
  shown: { title: string; steps: Step[]; at?: number } | undefined = $state.raw(undefined);
  /** A dialog that is open. */
  dialog:
    | {
        is: 'place';
        from?: Id;
        kind: PlaceKind;
        name?: string;
        order?: Id;
        into?: { rules: Id[]; from: Id[]; to: Id | undefined };
      }
    | { is: 'move'; from: Id }
    | { is: 'door'; from: Id }
    | { is: 'delete'; places: Id[] }
    | { is: 'value'; id: Id }
    | { is: 'keys' }
    | { is: 'find' }
    | undefined = $state.raw(undefined);
  /** The history is shown in the desk; with places that differ, by how they do. */
  history: boolean = $state(false);
  differing: Map<Id, 'added' | 'removed' | 'changed'> | undefined = $state.raw(undefined);
  /** Asks the lane to bring a place into sight. */
  seek: { place: Id } | undefined = $state.raw(undefined);

  /** Takes a place into the selection, or out of it. */
  toggle(place: Id): void {
    if (this.selected === undefined) return this.select(place, false);
    const also = new Set(this.also);
    if (!also.delete(place) && place !== this.selected) also.add(place);
    this.also = also;
  }

  select(place: Id | undefined, seek = true): void {
    this.selected = place;
    this.also = new Set();
    this.history = false;
    this.differing = undefined;
    if (place !== undefined && seek) this.seek = { place };
  }
}
