/** The lane as a picture: SVG 1.1 (W3C) of its own, without scripts, styles from elsewhere or fonts that must be there. */
import type { FlowDocument } from '../document/types.ts';
import { labelsOf, labelSize } from '../lane/labels.ts';
import { layout, measure, type Point, type Route } from '../lane/layout.ts';
import { goalWords } from '../words/words.ts';
import { placeKinds } from '../vocabulary/places.ts';

const colours = {
  won: '#0b6e54',
  lost: '#a33a2a',
  plain: '#44587f',
  ink: '#161c26',
  dim: '#4c5866',
  paper: '#e8ecef',
  road: '#252c37'
};
/** Of the line below the lane that says whose it is. */
export const captionHeight = 28;
const dashes = { won: '', lost: ' stroke-dasharray="5 3"', plain: '' };

/** A whole picture, as large as the lane is at a zoom of 1. */
export function laneSvg(document: FlowDocument): string {
  const lane = layout(document);
  const width = Math.ceil(lane.width);
  const height = Math.ceil(lane.height) + captionHeight;
  const parts: string[] = [];
  for (const { kind, name, y, height: tall } of lane.rows) {
    if (kind === 'levels') parts.push(`<rect x="0" y="${y}" width="${width}" height="${tall}" fill="${colours.road}"/>`);
    parts.push(text(10, y + 18, name, 11, kind === 'levels' ? '#ffffff' : colours.dim, { bold: true, wide: measure.left - 16 }));
  }
  for (const { x, y, name, width: wide } of lane.stretches) parts.push(text(x + 5, y + 13, name, 11, '#ffffff', { wide }));
  for (const route of lane.routes) parts.push(...drawn(route));
  for (const { words, x, y, anchor } of labelsOf(lane.routes))
    parts.push(text(x, y, words, labelSize, colours.dim, { left: anchor === 'end' }));
  for (const { place, x, y, width: wide, height: tall, number } of lane.tiles.values()) {
    const { name, kind } = document.places[place]!;
    const line = kind === 'level' ? goalWords(document, place) : placeKinds[kind].hint;
    parts.push(`<rect x="${x}" y="${y}" width="${wide}" height="${tall}" fill="#ffffff" stroke="${colours.dim}"/>`);
    let at = y + 15;
    if (number !== undefined) {
      parts.push(text(x + 5, y + 18, String(number), 16, colours.ink, { bold: true }));
      at = y + 34;
    }
    const lines = wrapped(name, Math.floor((wide - 8) / 6)).slice(0, 2);
    lines.forEach((each, n) => parts.push(text(x + 5, at + n * 12, each, 10, colours.ink, { bold: true, wide: wide - 8 })));
    parts.push(text(x + 5, at + lines.length * 12, line, 10, colours.dim, { wide: wide - 8 }));
  }
  parts.push(text(10, height - 10, document.name, 12, colours.ink, { bold: true }));
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif">
<title>${escaped(document.name)}</title>
<rect width="${width}" height="${height}" fill="${colours.paper}"/>
${parts.join('\n')}
</svg>
`;
}

const turns = { up: 0, down: 180, left: -90, right: 90 };

function drawn({ outcome, over, feeders, trunk, end, back }: Route): string[] {
  const colour = colours[outcome];
  const dash = over ? ' stroke-dasharray="1.5 3"' : dashes[outcome];
  const line = (points: Point[], wide: number) =>
    `<path d="${points.map(({ x, y }, n) => `${n ? 'L' : 'M'}${x} ${y}`).join('')}" fill="none" stroke="${colour}" stroke-width="${wide}"${dash}/>`;
  const head =
    outcome === 'lost'
      ? `<path d="M-6 1.5H6" stroke="${colour}" stroke-width="3.4"/>`
      : outcome === 'won'
        ? `<path d="M-5 7 0 0 5 7Z" fill="${colour}"/>`
        : `<path d="M-4 6 0 1 4 6" fill="none" stroke="${colour}" stroke-width="1.8"/>`;
  return [
    ...feeders.map(({ points }) => line(points, 1.6)),
    ...(trunk.length > 0 ? [line(trunk, 2.4)] : []),
    ...[end, ...(back ? [back.end] : [])].map(
      ({ x, y, way }) => `<g transform="translate(${x} ${y}) rotate(${turns[way]})">${head}</g>`
    )
  ];
}

/** A text that is squeezed into a width where it would be wider. */
function text(
  x: number,
  y: number,
  words: string,
  size: number,
  colour: string,
  { bold = false, wide = Infinity, left = false } = {}
): string {
  const likely = words.length * size * 0.6;
  const squeezed = likely > wide ? ` textLength="${Math.round(wide)}" lengthAdjust="spacingAndGlyphs"` : '';
  const weight = bold ? ' font-weight="bold"' : '';
  const anchor = left ? ' text-anchor="end"' : '';
  return `<text x="${x}" y="${y}" font-size="${size}" fill="${colour}"${weight}${anchor}${squeezed}>${escaped(words)}</text>`;
}

function wrapped(words: string, most: number): string[] {
  const lines: string[] = [''];
  for (const word of words.split(' ')) {
    const last = lines.at(-1)!;
    if (last === '' || last.length + word.length < most) lines[lines.length - 1] = `${last} ${word}`.trim();
    else lines.push(word);
  }
  return lines;
}

/** What XML 1.0 does not allow in a text is left out. */
function escaped(words: string): string {
  return words
    .replaceAll(/(?![\t\n\r])[\p{Cc}\ufffe\uffff]/gu, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
