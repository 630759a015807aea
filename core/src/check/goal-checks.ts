/** Checks of the numbers of pieces that rules ask for. */
import { isLevel, type FlowDocument, type Id } from '../document/types.ts';
import { parts, type Comparison, type Expression, type Span } from '../language/ast.ts';
import { compare } from '../language/evaluate.ts';
import { print } from '../language/print.ts';
import type { FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import { placeName, counted } from '../words/words.ts';
import type { Reason, Verdict } from './report.ts';
import { plain, ruleNamed } from './verdict.ts';
import { usedUp, countOf } from '../vocabulary/pieces.ts';

/** A comparison of `left` or `taken` of a piece with a number, turned so that the piece stands left. */
export interface PieceComparison {
  piece: Id;
  taken: boolean;
  operator: Comparison;
  literal: number | bigint;
  text: string;
  /** Where the number stands in the condition. */
  at: Span;
}

const turned: Record<Comparison, Comparison> = { '=': '=', '!=': '!=', '<': '>', '<=': '>=', '>': '<', '>=': '<=' };

export function pieceComparisons(expression: Expression): PieceComparison[] {
  return parts(expression).flatMap((part) => {
    if (part.kind !== 'compare') return [];
    for (const [piece, other, operator] of [
      [part.left, part.right, part.operator],
      [part.right, part.left, turned[part.operator]]
    ] as const) {
      if (piece.kind !== 'left' && piece.kind !== 'taken') continue;
      const literal =
        other.kind === 'integer'
          ? other.value
          : other.kind === 'negative' && other.of.kind === 'integer'
            ? -other.of.value
            : undefined;
      if (literal !== undefined)
        return [{ piece: piece.piece, taken: piece.kind === 'taken', operator, literal, text: print(part), at: other.at }];
    }
    return [];
  });
}

/** Whether a comparison is true while so many of `count` are left. */
export function trueAt({ taken, operator, literal }: PieceComparison, left: number, count: number): boolean {
  return compare(operator, taken ? count - left : left, literal);
}

/** A comparison can only change its truth near its number or at the ends of the range, so only these are tried. */
function trials({ taken, literal }: PieceComparison, count: number): number[] {
  const near = taken ? count - Number(literal) : Number(literal);
  return [...new Set([0, count, 1, count - 1, near - 1, near, near + 1])].filter(
    (left) => Number.isInteger(left) && left >= 0 && left <= count
  );
}

/** `goal-count` and `goal-partial`. */
export function goals(flow: Flow): Verdict[] {
  const { document } = flow;
  const found: Verdict[] = [];
  const check = (
    subject: string,
    conditions: Expression[],
    levelsAsked: () => Id[],
    pointer: string,
    words: string,
    partial: Expression[]
  ) => {
    const comparisons = conditions.flatMap(pieceComparisons);
    const partials = partial.flatMap(pieceComparisons);
    if (comparisons.length + partials.length === 0) return;
    const levels = levelsAsked();
    const say = (comparison: PieceComparison, level: Id): Reason => {
      const { name, count } = pieceIn(document, level, comparison.piece);
      return {
        text: `“${comparison.text}”: ${placeName(document, level)} has ${counted(name, count)}.`,
        places: [level]
      };
    };
    const each = (list: PieceComparison[], bad: (comparison: PieceComparison, count: number) => boolean) =>
      list.flatMap((comparison) =>
        levels.flatMap((level) =>
          hasPiece(document, level, comparison.piece) && bad(comparison, pieceIn(document, level, comparison.piece).count)
            ? [say(comparison, level)]
            : []
        )
      );
    if (comparisons.length > 0) {
      const why = each(comparisons, (comparison, count) =>
        trials(comparison, count).every((left) => !trueAt(comparison, left, count))
      );
      found.push(
        plain(
          'goal-count',
          subject,
          why.length > 0 ? `${words} asks for a number that there never is.` : undefined,
          `${words} asks for numbers that there can be.`,
          { pointer, ...(why.length > 0 ? { why } : {}) }
        )
      );
    }
    if (partials.length > 0) {
      const why = each(partials, (comparison, count) =>
        trials(comparison, count).some((left) => left > 0 && trueAt(comparison, left, count))
      );
      found.push(
        plain(
          'goal-partial',
          subject,
          why.length > 0 ? `${words} is satisfied while some are left.` : undefined,
          `${words} wants all there are.`,
          { pointer, ...(why.length > 0 ? { why } : {}) }
        )
      );
    }
  };
  for (const rule of flow.rules.values()) {
    const conditions = [rule.holds, rule.condition].filter((text) => text !== undefined);
    const { words, pointer } = ruleNamed(document, rule.id);
    check(
      rule.id,
      conditions,
      () => levelsFor(flow, rule),
      pointer,
      `The rule ${words}`,
      rule.rule.result === 'won' ? conditions : []
    );
  }
  for (const { place, index, condition } of flow.expectations) {
    const levels = isLevel(document, place) ? [place] : flow.levels.map(([id]) => id);
    check(
      `${place}/${index}`,
      [condition],
      () => levels,
      `/places/${place}/expects/${index}`,
      `What ${placeName(document, place)} expects`,
      []
    );
  }
  return found;
}

export function hasPiece(document: FlowDocument, level: Id, piece: Id): boolean {
  const place = document.places[level]!;
  return place.kind === 'level' && Object.hasOwn(place.pieces, piece) && usedUp(place.pieces[piece]!);
}

function pieceIn(document: FlowDocument, level: Id, id: Id): { name: string; count: number } {
  const piece = (document.places[level] as { pieces: Record<Id, Parameters<typeof countOf>[0]> }).pieces[id]!;
  return { name: piece.name, count: countOf(piece) };
}

/** The levels that can be at the bottom when a rule applies: of a level its own, else any over which the rule is read. */
export function levelsFor(flow: Flow, { id, owner }: FittingRule): Id[] {
  if ('place' in owner && isLevel(flow.document, owner.place)) return [owner.place];
  return flow.levels
    .map(([level]) => level)
    .filter((level) => flow.applying('place' in owner ? owner.place : level, level).all.some((rule) => rule.id === id));
}
