/** What is typed into the cells of a sheet that speak of rules, read in the words in which they are shown. */
import { idNamed } from '../document/ids.ts';
import { own, levelsOf, type FlowDocument, type Id, type Level, type Target } from '../document/types.ts';
import { countOf } from '../vocabulary/pieces.ts';
import { moveKinds, moves } from '../vocabulary/moves.ts';
import type { Stroke } from './strokes.ts';

const lower = (text: string) => text.trim().toLowerCase();

/**
 * Where a rule leads: "Level 3", "Hall at Front door", "the next level, or The end", "next". Undefined where it names
 * nothing.
 */
export function targetTyped(document: FlowDocument, text: string): Target | undefined {
  const [first = '', ...rest] = text.split(/, or (?:else to )?/);
  const target = simpleTarget(document, first);
  if (!target || rest.length === 0) return target;
  const otherwise = targetTyped(document, rest.join(', or '));
  return otherwise && 'move' in target ? { ...target, else: otherwise } : undefined;
}

function simpleTarget(document: FlowDocument, text: string): Target | undefined {
  const place = idNamed(document.places, text);
  if (place !== undefined) return { place };
  const [, word, list] = /^(.*?)(?: of (.+))?$/.exec(text.trim())!;
  const move = moveKinds.find((kind) =>
    [kind, moves[kind].words, moves[kind].label].some((each) => each && each === lower(word!))
  );
  const order = list === undefined ? undefined : idNamed(document.orders, list);
  if (move !== undefined && (list === undefined || order !== undefined))
    return move === 'chosen' ? undefined : { move, ...(order !== undefined && { order }) };
  for (const [id, { name, entries }] of levelsOf(document)) {
    if (!lower(text).startsWith(`${lower(name)} at `)) continue;
    const entry = idNamed(entries, text.trim().slice(name.trim().length + 4));
    if (entry !== undefined) return { place: id, entry };
  }
  return undefined;
}

const seconds = (text: string) => Number(text.replace(',', '.'));

/** How a level is won: "Lamp × 7", "reach Ferry", "last 20 s", the name of a piece. */
export function wonTyped(document: FlowDocument, level: Id, text: string): Stroke | undefined {
  const { pieces } = document.places[level] as Level;
  const [, reached] = /^reach(?:ing)? (.+)$/i.exec(text) ?? [];
  if (reached !== undefined) return { by: 'reach', piece: reached.trim() };
  const [, lasting] = /^last(?:ing)? (?:for )?([\d.,]+) ?s?$/i.exec(text) ?? [];
  if (lasting !== undefined) return seconds(lasting) > 0 ? { by: 'within', seconds: seconds(lasting) } : undefined;
  const [, name = text, number] = /^(.+?) ?[×x*] ?(\d+)$/.exec(text) ?? [];
  const piece = own(pieces, idNamed(pieces, name) ?? '');
  if (piece?.kind === 'exit') return { by: 'reach', piece: piece.name };
  if (piece?.kind === 'foe') return { by: 'none left', piece: piece.name };
  const count = Number(number ?? 1);
  if (!piece) return number === undefined || count < 1 || count > 10_000 ? undefined : { by: 'some', piece: name.trim(), count };
  if (number === undefined || count === countOf(piece)) return { by: 'all', piece: piece.name };
  return count >= 1 && count <= 10_000 ? { by: 'some', piece: piece.name, count } : undefined;
}

/** How a level is lost: "Gust is touched", "touch Gust", "20 s". */
export function lostTyped(document: FlowDocument, level: Id, text: string): Stroke | undefined {
  const [, after] = /^(?:after )?([\d.,]+) ?s$/i.exec(text) ?? [];
  if (after !== undefined) return seconds(after) > 0 ? { by: 'within', seconds: seconds(after) } : undefined;
  const [, said] = /^touch(?:ing)? (.+)$/i.exec(text) ?? /^(.+) is touched$/i.exec(text) ?? [];
  if (said !== undefined) return { by: 'touch', piece: said.trim() };
  const { pieces } = document.places[level] as Level;
  const piece = own(pieces, idNamed(pieces, text) ?? '');
  if (!piece) return undefined;
  return piece.kind === 'player' ? { by: 'none left', piece: piece.name } : { by: 'touch', piece: piece.name };
}
