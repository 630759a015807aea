/** A plan as a picture: SVG 1.1 (W3C) of its own, without scripts, styles from elsewhere or fonts that must be there. */
import type { Cell, Level, Plan } from '../document/types.ts';
import { widthOf } from '../plan/draw.ts';
import { foeShapes, planShapes, type Look, type Shape } from '../plan/picture.ts';
import { escaped } from './junit.ts';

const mark = '#e39a12';
const looks: Record<Look, { line: string; fill: string }> = {
  paper: { line: '#c5ced6', fill: '#ffffff' },
  solid: { line: '#161c26', fill: '#343d4a' },
  line: { line: '#161c26', fill: 'none' },
  thing: { line: '#0b6f5e', fill: '#d9efe9' },
  acts: { line: '#161c26', fill: '#f7f9fa' },
  entry: { line: '#44597b', fill: '#ffffff' },
  gate: { line: '#9c3d25', fill: '#f8e4dd' },
  link: { line: '#44597b', fill: 'none' },
  area: { line: '#4f5a67', fill: 'none' },
  patrol: { line: '#44597b', fill: '#44597b' },
  letter: { line: '#161c26', fill: 'none' }
};

/** The whole plan, `size` pixels a cell, some cells marked. */
export function planSvg(level: Level, plan: Plan, { size = 24, marked = [] }: { size?: number; marked?: Cell[] } = {}): string {
  const [width, height] = [widthOf(plan) * size, plan.rows.length * size];
  const grid = [
    ...Array.from({ length: widthOf(plan) + 1 }, (_, x) => `M${x * size} 0V${height}`),
    ...Array.from({ length: plan.rows.length + 1 }, (_, y) => `M0 ${y * size}H${width}`)
  ].join('');
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif">
<title>${escaped(level.name)}</title>
<rect width="${width}" height="${height}" fill="${looks.paper.fill}"/>
<path d="${grid}" stroke="${looks.paper.line}" stroke-width="0.5" fill="none"/>
${[...planShapes(level, plan), ...foeShapes(level, plan)].map((shape) => drawn(shape, size)).join('\n')}
${marked
  .map(
    ([x, y]) =>
      `<rect x="${x * size}" y="${y * size}" width="${size}" height="${size}" fill="none" stroke="${mark}" stroke-width="3"/>`
  )
  .join('\n')}
</svg>
`;
}

const rounded = (value: number) => Math.round(value * 100) / 100;

function drawn(shape: Shape, size: number): string {
  const { line, fill } = looks[shape.look];
  const at = (value: number) => rounded(value * size);
  if (shape.is === 'rect')
    return `<rect x="${at(shape.x)}" y="${at(shape.y)}" width="${at(shape.width)}" height="${at(shape.height)}" fill="${fill}"/>`;
  if (shape.is === 'text')
    return `<text x="${at(shape.x)}" y="${at(shape.y + shape.size * 0.36)}" font-size="${at(shape.size)}" font-weight="bold" text-anchor="middle" fill="${line}">${escaped(shape.text)}</text>`;
  const path = shape.points.map(([x, y], n) => `${n === 0 ? 'M' : 'L'}${at(x)} ${at(y)}`).join('');
  const isRun = shape.look === 'patrol' && !shape.filled;
  const dash = isRun
    ? ' stroke-dasharray="0.1 6" stroke-linecap="round"'
    : shape.look === 'area'
      ? ' stroke-dasharray="6 4"'
      : '';
  return `<path d="${path}" stroke="${line}" stroke-width="${isRun ? 3 : 1.5}"${dash} fill="${shape.filled ? fill : 'none'}"/>`;
}
