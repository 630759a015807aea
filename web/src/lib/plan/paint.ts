/** What is seen of a plan while it is drawn: the ground with its answer, and over it what is being done. */
import type { Cell, Id, Level, Plan } from '@crow-lane/core/document/types';
import type { Derived } from '@crow-lane/core/plan/derive';
import { cornersOf, isIn, widthOf, type Part } from '@crow-lane/core/plan/draw';
import { foeShapes, planShapes, runShape } from '@crow-lane/core/plan/picture';
import type { Reach, Survey } from '@crow-lane/core/plan/reach';
import {
  paintCells,
  paintCrow,
  paintDots,
  paintGrid,
  paintHatch,
  paintPaper,
  paintShapes,
  paletteOf,
  type Palette,
  type Sight
} from '$lib/parts/plan-canvas.ts';

type Context = CanvasRenderingContext2D;

/** A canvas as large as it is shown, on any screen, and empty. */
export function cleared(canvas: HTMLCanvasElement, width: number, height: number): Context {
  const at = canvas.getContext('2d')!;
  const [w, h] = [width, height].map((each) => Math.round(each * devicePixelRatio)) as [number, number];
  if (canvas.width !== w || canvas.height !== h) [canvas.width, canvas.height] = [w, h];
  at.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
  at.clearRect(0, 0, width, height);
  return at;
}

/** The cells of a plan that are in sight. */
export function inSight(plan: Plan, { size, x, y }: Sight, width: number, height: number): Part {
  return {
    from: [Math.max(0, Math.floor(-x / size)), Math.max(0, Math.floor(-y / size))],
    to: [
      Math.min(widthOf(plan) - 1, Math.ceil((width - x) / size)),
      Math.min(plan.rows.length - 1, Math.ceil((height - y) / size))
    ]
  };
}

const isNight = () => document.documentElement.dataset.theme === 'night';
/** A wash for each spot, so that neighbours differ. */
const washOf = (index: number) =>
  isNight() ? `hsl(${(index * 67 + 40) % 360} 30% 24%)` : `hsl(${(index * 67 + 40) % 360} 55% 91%)`;

/** The ground, what stands on it, and, where it is known of this plan, what follows. */
export function paintGround(
  canvas: HTMLCanvasElement,
  at: Context,
  sight: Sight,
  seen: Part,
  { level, plan, known }: { level: Level; plan: Plan; known: { derived: Derived; survey: Survey } | undefined }
): void {
  const palette = paletteOf(canvas);
  const font = getComputedStyle(canvas).fontFamily;
  const [w, h] = [widthOf(plan), plan.rows.length];
  const visible = (cells: Cell[]) => cells.filter((cell) => isIn(seen, cell));
  paintPaper(at, sight, w, h, palette);
  if (known) {
    Object.values(known.derived.spots).forEach(({ cells }, index) => paintCells(at, visible(cells), sight, washOf(index)));
    paintHatch(at, visible(known.survey.never), sight, palette.lost);
  }
  paintGrid(at, sight, w, h, palette);
  paintShapes(at, planShapes(level, plan, seen), sight, palette, font);
  if (!known) return;
  paintDrops(at, known.survey.drops, sight, palette);
  if (sight.size >= 15) paintNames(at, known.derived.spots, sight, palette, font);
}

/** Drops without a way back: a step off the edge, and down. */
function paintDrops(at: Context, drops: Survey['drops'], sight: Sight, palette: Palette): void {
  const { size } = sight;
  at.strokeStyle = palette.lost;
  at.lineWidth = Math.max(1.5, size * 0.08);
  at.beginPath();
  for (const { cell, dx } of drops) {
    const [px, py] = [sight.x + (cell[0] + (dx > 0 ? 1 : 0)) * size, sight.y + (cell[1] + 1) * size];
    at.moveTo(px, py);
    at.lineTo(px + dx * size * 0.45, py);
    at.lineTo(px + dx * size * 0.45, py + size * 0.5);
    at.moveTo(px + dx * size * 0.27, py + size * 0.3);
    at.lineTo(px + dx * size * 0.45, py + size * 0.55);
    at.lineTo(px + dx * size * 0.63, py + size * 0.3);
  }
  at.stroke();
}

function paintNames(at: Context, spots: Derived['spots'], sight: Sight, palette: Palette, font: string): void {
  at.font = `600 10px ${font}`;
  at.textAlign = 'left';
  at.lineWidth = 3;
  at.strokeStyle = palette.paper.fill;
  at.fillStyle = palette.ink;
  for (const { name, cells } of Object.values(spots)) {
    const [x, y] = cells[0]!;
    at.strokeText(name, sight.x + x * sight.size + 2, sight.y + y * sight.size - 4);
    at.fillText(name, sight.x + x * sight.size + 2, sight.y + y * sight.size - 4);
  }
}

/** The cells of a stroke that is being made, as it would leave them. */
export function paintStroke(
  canvas: HTMLCanvasElement,
  at: Context,
  sight: Sight,
  { level, plan, cells }: { level: Level; plan: Plan; cells: Cell[] }
): void {
  const palette = paletteOf(canvas);
  const drawn = cells.filter(([x, y]) => plan.rows[y]?.[x] !== undefined);
  const [first, ...rest] = drawn;
  if (!first) return;
  const part = rest.reduce<Part>(
    ({ from, to }, [x, y]) => ({
      from: [Math.min(from[0], x), Math.min(from[1], y)],
      to: [Math.max(to[0], x), Math.max(to[1], y)]
    }),
    { from: first, to: first }
  );
  paintCells(at, drawn, sight, palette.paper.fill);
  paintShapes(at, planShapes(level, plan, part), sight, palette, getComputedStyle(canvas).fontFamily);
}

/** What is being done: where the player gets, cells that are marked, what is drawn by its corners or ends, the cell. */
export interface Doing {
  reach: Reach | undefined;
  /** Cells with something in them, which no dot covers. */
  taken: ReadonlySet<string>;
  marked: Cell[];
  box: Part | undefined;
  ends: Part | undefined;
  cell: Cell;
  tour: Cell[];
  /** The points of a patrol that is being drawn. */
  points: Cell[];
  isKeyed: boolean;
}

/** The foes that patrol at a moment, and the player that comes past them. */
export function paintFoes(
  canvas: HTMLCanvasElement,
  at: Context,
  sight: Sight,
  { level, plan, foes, player }: { level: Level; plan: Plan; foes: Record<Id, Cell>; player: Cell | undefined }
): void {
  const palette = paletteOf(canvas);
  paintShapes(
    at,
    foeShapes(level, plan, (patrol) => foes[patrol]),
    sight,
    palette,
    getComputedStyle(canvas).fontFamily
  );
  if (player) paintCrow(at, player, sight, palette);
}

/** A tour as one line, its start and its end marked, a small arrow here and there. */
function paintTour(at: Context, points: Cell[], size: number, colour: string): void {
  at.lineWidth = Math.max(2, size * 0.1);
  at.lineJoin = 'round';
  // what stands on the way is still to be read
  at.globalAlpha = 0.8;
  at.beginPath();
  points.forEach(([x, y], index) => (index === 0 ? at.moveTo(x, y) : at.lineTo(x, y)));
  at.stroke();
  at.fillStyle = colour;
  for (let index = 4; index < points.length; index += 8) {
    const [[x, y], [fromX, fromY]] = [points[index]!, points[index - 1]!];
    const turn = Math.atan2(y - fromY, x - fromX);
    const tip = (far: number, by: number): Cell => [x + Math.cos(turn + by) * far, y + Math.sin(turn + by) * far];
    at.beginPath();
    at.moveTo(...tip(size * 0.3, 0));
    at.lineTo(...tip(size * 0.3, 2.4));
    at.lineTo(...tip(size * 0.3, -2.4));
    at.fill();
  }
  for (const [x, y] of [points[0]!, points.at(-1)!]) {
    at.beginPath();
    at.arc(x, y, size * 0.18, 0, 2 * Math.PI);
    at.fill();
  }
  at.globalAlpha = 1;
}

export function paintDoing(canvas: HTMLCanvasElement, at: Context, sight: Sight, doing: Doing): void {
  const { size } = sight;
  const palette = paletteOf(canvas);
  const { accent } = palette;
  const { reach, taken, marked, box, ends, cell, tour, points } = doing;
  if (reach) {
    const bare = (cells: Cell[]) => cells.filter((each) => !taken.has(each.join()));
    paintDots(at, bare(reach.air), sight, accent, 0.07);
    paintDots(at, bare(reach.stands), sight, accent, 0.15);
  }
  at.strokeStyle = accent;
  at.lineWidth = 2;
  for (const [x, y] of marked) at.strokeRect(sight.x + x * size - 2, sight.y + y * size - 2, size + 4, size + 4);
  if (box) {
    const { left, top, right, bottom } = cornersOf(box);
    at.setLineDash([5, 4]);
    at.strokeRect(sight.x + left * size, sight.y + top * size, (right - left + 1) * size, (bottom - top + 1) * size);
    at.setLineDash([]);
  }
  const middle = ([x, y]: Cell): Cell => [sight.x + (x + 0.5) * size, sight.y + (y + 0.5) * size];
  if (points.length > 0)
    paintShapes(at, runShape({ points, turn: 'back' }), sight, { ...palette, patrol: { line: accent, fill: accent } }, '');
  if (tour.length > 1) paintTour(at, tour.map(middle), size, accent);
  if (ends) {
    at.beginPath();
    at.moveTo(...middle(ends.from));
    at.lineTo(...middle(ends.to));
    at.stroke();
  }
  at.lineWidth = doing.isKeyed ? 3 : 1.5;
  at.strokeRect(sight.x + cell[0] * size, sight.y + cell[1] * size, size, size);
}
