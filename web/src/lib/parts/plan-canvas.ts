/** Draws a plan on a canvas, from its list of shapes; only what is in sight is drawn. */
import type { Cell } from '@crow-lane/core/document/types';
import type { Look, Shape } from '@crow-lane/core/plan/picture';
import { crowPath } from './crow.ts';

/** Where the cells lie on the canvas: pixels a cell, and where the first one begins. */
export interface Sight {
  size: number;
  x: number;
  y: number;
}

export type Palette = Record<Look, { line: string; fill: string }> & { accent: string; wash: string; ink: string; lost: string };

/** The colours of the theme that is shown. */
export function paletteOf(element: HTMLElement): Palette {
  const style = getComputedStyle(element);
  const of = (name: string) => style.getPropertyValue(name).trim();
  const [ink, paper, dim, accent] = ['--color-base-content', '--color-base-100', '--dim', '--color-accent'].map(of) as [
    string,
    string,
    string,
    string
  ];
  const same = (line: string, fill = paper) => ({ line, fill });
  return {
    paper: same(of('--color-base-300'), of('--tile')),
    solid: same(ink, of('--solid')),
    line: same(ink),
    thing: same(of('--won'), of('--won-wash')),
    acts: same(ink, paper),
    entry: same(of('--plain'), of('--tile')),
    gate: same(of('--lost'), of('--lost-wash')),
    link: same(of('--plain')),
    area: same(dim),
    patrol: same(of('--plain'), of('--plain')),
    letter: same(ink),
    accent,
    wash: of('--pick-wash'),
    ink,
    lost: of('--lost')
  };
}

/** Paper, squared where the cells are large enough to be told apart. */
export function paintPaper(at: CanvasRenderingContext2D, sight: Sight, width: number, height: number, palette: Palette): void {
  at.fillStyle = palette.paper.fill;
  at.fillRect(sight.x, sight.y, width * sight.size, height * sight.size);
}

export function paintGrid(at: CanvasRenderingContext2D, sight: Sight, width: number, height: number, palette: Palette): void {
  if (sight.size < 6) return;
  at.strokeStyle = palette.paper.line;
  at.lineWidth = 0.5;
  at.beginPath();
  for (let x = 0; x <= width; x++) {
    at.moveTo(sight.x + x * sight.size, sight.y);
    at.lineTo(sight.x + x * sight.size, sight.y + height * sight.size);
  }
  for (let y = 0; y <= height; y++) {
    at.moveTo(sight.x, sight.y + y * sight.size);
    at.lineTo(sight.x + width * sight.size, sight.y + y * sight.size);
  }
  at.stroke();
}

export function paintShapes(at: CanvasRenderingContext2D, shapes: Shape[], sight: Sight, palette: Palette, font: string): void {
  const { size } = sight;
  const px = (x: number) => sight.x + x * size;
  const py = (y: number) => sight.y + y * size;
  at.textAlign = 'center';
  at.textBaseline = 'middle';
  for (const shape of shapes) {
    const { line, fill } = palette[shape.look];
    if (shape.is === 'rect') {
      at.fillStyle = fill;
      at.fillRect(px(shape.x), py(shape.y), shape.width * size + 0.5, shape.height * size + 0.5);
    } else if (shape.is === 'path') {
      at.strokeStyle = line;
      at.lineWidth = Math.max(1, size * (shape.filled ? 0.07 : 0.06));
      // where a patrol goes is dotted
      const isRun = shape.look === 'patrol' && !shape.filled;
      at.lineCap = isRun ? 'round' : 'butt';
      if (isRun) at.lineWidth = Math.max(2, size * 0.12);
      at.setLineDash(isRun ? [0.1, size * 0.25] : shape.look === 'area' ? [size * 0.25, size * 0.15] : []);
      at.beginPath();
      shape.points.forEach(([x, y], n) => (n === 0 ? at.moveTo(px(x), py(y)) : at.lineTo(px(x), py(y))));
      if (shape.filled) {
        at.fillStyle = fill;
        at.fill();
      }
      at.stroke();
      at.setLineDash([]);
      at.lineCap = 'butt';
    } else if (shape.size * size >= 5) {
      at.font = `600 ${shape.size * size}px ${font}`;
      at.fillStyle = line;
      at.fillText(shape.text, px(shape.x), py(shape.y));
    }
  }
}

/** Fills cells with a colour. */
export function paintCells(at: CanvasRenderingContext2D, cells: Iterable<Cell>, sight: Sight, colour: string): void {
  at.fillStyle = colour;
  for (const [x, y] of cells) at.fillRect(sight.x + x * sight.size, sight.y + y * sight.size, sight.size, sight.size);
}

/** Marks cells with a dot in their middle. */
export function paintDots(
  at: CanvasRenderingContext2D,
  cells: Iterable<Cell>,
  sight: Sight,
  colour: string,
  share: number
): void {
  at.fillStyle = colour;
  const { size } = sight;
  for (const [x, y] of cells) {
    at.beginPath();
    at.arc(sight.x + (x + 0.5) * size, sight.y + (y + 0.5) * size, Math.max(1, size * share), 0, 2 * Math.PI);
    at.fill();
  }
}

/** The player is our crow, over whatever it stands on. */
export function paintCrow(at: CanvasRenderingContext2D, [x, y]: Cell, { size, ...sight }: Sight, palette: Palette): void {
  at.fillStyle = palette.accent;
  at.strokeStyle = palette.ink;
  at.lineJoin = 'round';
  at.save();
  at.translate(sight.x + x * size, sight.y + (y + 0.1) * size);
  at.scale(size / 30, size / 30);
  const crow = new Path2D(crowPath);
  at.lineWidth = 5;
  at.stroke(crow);
  at.fill(crow);
  at.restore();
}

/** Hatches cells, as ground where the player never comes. */
export function paintHatch(at: CanvasRenderingContext2D, cells: Iterable<Cell>, sight: Sight, colour: string): void {
  at.strokeStyle = colour;
  at.lineWidth = 1;
  const { size } = sight;
  at.beginPath();
  for (const [x, y] of cells) {
    const [px, py] = [sight.x + x * size, sight.y + y * size];
    at.moveTo(px, py + size * 0.5);
    at.lineTo(px + size * 0.5, py);
    at.moveTo(px, py + size);
    at.lineTo(px + size, py);
    at.moveTo(px + size * 0.5, py + size);
    at.lineTo(px + size, py + size * 0.5);
  }
  at.stroke();
}

/** Follows the theme of the page: tells when other colours are shown. Gives the function that ends it. */
export function onTheme(tell: () => void): () => void {
  const observer = new MutationObserver(tell);
  observer.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
  return () => observer.disconnect();
}
