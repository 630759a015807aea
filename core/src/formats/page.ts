/** A page to play: the whole flow in one HTML file, which the player is built into (web/src/player). */
import { levelsOf, type FlowDocument, type Id } from '../document/types.ts';
import { write } from '../document/write.ts';
import { groundPicture } from '../lane/ground.ts';
import type { GroundPicture } from '../lane/ground-picture.ts';
import { layout } from '../lane/layout.ts';
import type { PagePart } from './flow-list.ts';
import { captionHeight, laneSvg } from './lane-svg.ts';
import { isWalked } from '../plan/grown.ts';
import { playable } from './playable.ts';

/** The lane as a picture, with where on it each place is: left, top, width and height, in pixels. */
export interface PageMap {
  svg: string;
  width: number;
  height: number;
  tiles: Record<Id, [x: number, y: number, width: number, height: number]>;
}

/** What a page plays. */
export interface PageGame {
  /** By which the browser keeps what was done apart from that of other games. */
  id: string;
  shows: { values: boolean };
  map?: PageMap;
  /** The pictures of the insides of levels that are not walked on a plan. */
  insides: Record<Id, GroundPicture>;
  /** As in a file: `filled` gives what follows. */
  flow: FlowDocument;
}

/**
 * The page as text. `template` is the built player, with `%title%` and `%game%` where these go; `id` tells the game from others
 * in a browser, and stays the same over its versions.
 */
export function pageOf(document: FlowDocument, template: string, shows: readonly PagePart[], id = document.name): string {
  const game: PageGame = {
    id,
    shows: { values: shows.includes('values') },
    ...(shows.includes('map') && { map: mapOf(document) }),
    insides: insidesOf(document),
    flow: JSON.parse(write(playable(document))) as FlowDocument
  };
  const parts = { title: escaped(document.name), game: inScript(game) };
  // in one go: what is put in is not looked at again
  return template.replaceAll(/%(title|game)%/g, (_, part: keyof typeof parts) => parts[part]);
}

function insidesOf(document: FlowDocument): PageGame['insides'] {
  const inside = levelsOf(document).filter(([, level]) => Object.keys(level.spots).length > 0 && !isWalked(document, level));
  return Object.fromEntries(inside.map(([id]) => [id, groundPicture(document, id)]));
}

function mapOf(document: FlowDocument): PageMap {
  const { width, height, tiles } = layout(document);
  return {
    svg: laneSvg(document),
    width: Math.ceil(width),
    height: Math.ceil(height) + captionHeight,
    tiles: Object.fromEntries([...tiles.values()].map(({ place, x, y, width, height }) => [place, [x, y, width, height]]))
  };
}

/** JSON inside a `script` element: nothing in it can end that, or begin a comment (HTML, 13.1.8.1). */
const inScript = (value: unknown): string => JSON.stringify(value).replaceAll('<', '\\u003c');

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
