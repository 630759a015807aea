/** What the checks said of a revision, in the few numbers that the shelf shows. */
export interface Summary {
  complete: boolean;
  levels: number;
  completable: number;
  places: number;
  reached: number;
  failing: number;
  open: number;
}
