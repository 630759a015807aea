/** Which part of the lane is in sight, and how large. */
import type { Id } from '@crow-lane/core/document/types';
import type { LaneLayout, Point } from '@crow-lane/core/lane/layout';

const smallest = 0.15;
const largest = 2;
/** The names of the rows stand over this much of the picture's left edge. */
const names = 104;

export class Sight {
  width = $state(1280);
  height = $state(430);
  zoom = $state(1);
  x = $state(0);
  y = $state(0);
  /** Too small to read more than a number and a name; large enough to list the ways out. */
  readonly far = $derived(this.zoom < 0.55);
  readonly near = $derived(this.zoom >= 1.4);

  /** How far beside what is in sight tiles are drawn, in widths: not at all at first, so that a large flow opens in small steps. */
  private beside = $state(0);
  /** The tiles in sight stand; now the rest may be drawn. */
  readonly begun = $derived(this.beside > 0);

  /** What is drawn: the part in sight and some more to each side, in steps, so that a small pan draws nothing anew. */
  readonly from = $derived(Math.floor((-this.x - this.width * this.beside) / this.zoom / 500) * 500);
  readonly to = $derived(Math.ceil((-this.x + this.width * (1 + this.beside)) / this.zoom / 500) * 500);

  constructor(private readonly lane: () => LaneLayout) {}

  /** Begins: tall flows at a size that can be read, wide ones are panned along. Returns what ends it. */
  begin(): () => void {
    const soon = setTimeout(() => (this.beside = 0.6));
    const { width, height } = this.lane();
    // a small flow fills a large window, and no tile of it stands outside
    const most = this.width >= 1600 ? Math.max(1, Math.min(1.6, this.width / width)) : 1;
    this.zoom = Math.min(most, Math.max(0.87, this.height / height));
    this.keepInside();
    return () => clearTimeout(soon);
  }

  moveTo(x: number, y: number): void {
    this.x = x;
    this.y = y;
    this.keepInside();
  }

  zoomTo(next: number, at: Point = { x: this.width / 2, y: this.height / 2 }): void {
    const to = Math.min(largest, Math.max(smallest, next));
    this.x = at.x - ((at.x - this.x) * to) / this.zoom;
    this.y = at.y - ((at.y - this.y) * to) / this.zoom;
    this.zoom = to;
    this.keepInside();
  }

  fit(): void {
    const { width, height } = this.lane();
    this.zoom = Math.min(1, Math.max(smallest, Math.min(this.width / width, this.height / height)));
    this.moveTo(0, 0);
  }

  bring(place: Id): void {
    const tile = this.lane().tiles.get(place);
    if (!tile) return;
    const [left, right] = [tile.x * this.zoom + this.x, (tile.x + tile.width) * this.zoom + this.x];
    const [top, bottom] = [tile.y * this.zoom + this.y, (tile.y + tile.height) * this.zoom + this.y];
    if (left < names) this.x += names - left;
    else if (right > this.width - 20) this.x -= right - (this.width - 20);
    if (top < 8) this.y += 8 - top;
    else if (bottom > this.height - 8) this.y -= bottom - (this.height - 8);
    this.keepInside();
  }

  /** A point of the window in the lane's own measure. `box` is the picture's. */
  inLane({ clientX, clientY }: PointerEvent, box: DOMRect): Point {
    return { x: (clientX - box.left - this.x) / this.zoom, y: (clientY - box.top - this.y) / this.zoom };
  }

  private keepInside(): void {
    const { width, height } = this.lane();
    const inside = (at: number, size: number, room: number) => (size <= room ? 0 : Math.min(0, Math.max(room - size, at)));
    this.x = inside(this.x, width * this.zoom, this.width);
    this.y = inside(this.y, height * this.zoom, this.height);
  }
}
