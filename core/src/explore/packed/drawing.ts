/**
 * The series of draws of one event, each run once: what is drawn is planned, and the next series differs in the last
 * draw that has another option.
 */
export class Drawing {
  /** How many draws with more than one option the series that is being run has made so far. */
  made = 0;
  /** What was drawn: the order's number, and the row of a table or the level of a bag. */
  drawn: [number, number][] = [];
  private readonly planned: number[] = [];
  /** How many of the planned draws stand; out of how many options each is. */
  private fixed = 0;
  private readonly options: number[] = [];

  /** Draws one of so many options. */
  pick(options: number): number {
    const at = this.made++;
    this.options[at] = options;
    if (at >= this.fixed) this.planned[at] = 0;
    return this.planned[at]!;
  }

  note(order: number, what: number): void {
    this.drawn.push([order, what]);
  }

  forget(): void {
    if (this.drawn.length > 0) this.drawn = [];
  }

  /** Goes on to the next series; false where there is none. */
  next(): boolean {
    const { planned, options } = this;
    // the last draw that has another option takes it, those behind it begin anew
    let last = this.made - 1;
    while (last >= 0 && planned[last] === options[last]! - 1) last--;
    if (last < 0) return false;
    this.fixed = last + 1;
    planned[last]!++;
    this.made = 0;
    return true;
  }

  end(): void {
    this.made = this.fixed = 0;
  }
}
