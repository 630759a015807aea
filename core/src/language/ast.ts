/** Conditions and expressions as trees (docs/flow-format.md, section 2). */
import type { Id } from '../document/types.ts';

/** Where in its text something stands: offsets counted from 0, the end behind its last character. */
export interface Span {
  start: number;
  end: number;
}

export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>=';
/** What there can be: a level further on along an order, or before, a saved game, and something in the picked slot. */
export type Had = 'next' | 'previous' | 'save' | 'slot';
/** How a comparison reads from its other side. */
export const turned: Record<Comparison, Comparison> = { '=': '=', '!=': '!=', '<': '>', '<=': '>=', '>': '<', '>=': '<=' };
export type Arithmetic = '+' | '-' | '*';

export type Expression = { at: Span } & (
  | { kind: 'integer'; value: number | bigint }
  | { kind: 'truth'; value: boolean }
  | { kind: 'literal'; id: Id }
  | { kind: 'variable'; id: Id }
  | { kind: 'negative' | 'not'; of: Expression }
  | { kind: 'and' | 'or'; left: Expression; right: Expression }
  | { kind: 'compare'; operator: Comparison; left: Expression; right: Expression }
  | { kind: 'arithmetic'; operator: Arithmetic; left: Expression; right: Expression }
  | { kind: 'min' | 'max'; left: Expression; right: Expression }
  | { kind: 'left' | 'taken'; piece: Id }
  | { kind: 'won'; level: Id }
  | { kind: 'wonCandidate'; which: 'it' | 'previous' }
  | { kind: 'wins'; of: Id }
  | { kind: 'last'; which: 'won' | 'lost' }
  | { kind: 'has'; what: Had; order?: Id }
  | { kind: 'saved' }
  | { kind: 'at'; spot: Id }
  | { kind: 'all' | 'count'; of: Id }
  | { kind: 'position' }
);

/** What is wrong with a condition, and where. The column is counted from 1. */
export class LanguageError extends Error {
  readonly at: Span;
  constructor(message: string, at: Span) {
    super(message);
    this.at = at;
  }
  get column(): number {
    return this.at.start + 1;
  }
}

/** Every part of a tree, the tree itself first. */
export function parts(expression: Expression): readonly Expression[] {
  let found = known.get(expression);
  if (found) return found;
  known.set(expression, (found = []));
  const waiting = [expression];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    found.push(next);
    if ('right' in next) waiting.push(next.right, next.left);
    else if (next.kind === 'negative' || next.kind === 'not') waiting.push(next.of);
  }
  return found;
}

/** Trees are never changed once they are made, and the same ones are read again after every edit. */
const known = new WeakMap<Expression, Expression[]>();

/** What the name in `all(…)` or `count(…)` stands for where it stands: a piece, else so many levels of a group or an order. */
export type Counted = 'piece' | { levels: number } | undefined;

/** What names stand for where a tree is read. */
export interface Names {
  counted(id: Id): Counted;
  /** The value of a named number. */
  numbered(id: Id): number | undefined;
  /** The spots in an area of a plan; undefined for what is none. */
  within(id: Id): Id[] | undefined;
}

/** What is said in the other words of the language. */
const isShort: ReadonlySet<Expression['kind']> = new Set(['all', 'count', 'variable', 'at'] as const);

/**
 * A tree in which `all`, `count`, `at` of an area and named numbers are said in the other words of the language, so that whoever reads it
 * further knows these alone: all(lamp) is left(lamp) = 0, all(harbour) is wins(harbour) = 4 while it has four levels. What
 * names nothing stays as it is. A named number that is not whole is an error.
 */
export function spelledOut(expression: Expression, names: Names): Expression {
  if (!parts(expression).some(({ kind }) => isShort.has(kind))) return expression;
  const inner = (part: Expression) => spelledOut(part, names);
  if (expression.kind === 'variable') {
    const { id, at } = expression;
    const value = names.numbered(id);
    if (value === undefined) return expression;
    if (!Number.isInteger(value)) throw new LanguageError(`"${id}" is ${value}, and only whole numbers can be asked for`, at);
    const literal: Expression = { kind: 'integer', value: Math.abs(value), at };
    return value < 0 ? { kind: 'negative', of: literal, at } : literal;
  }
  if ('right' in expression) return { ...expression, left: inner(expression.left), right: inner(expression.right) };
  if (expression.kind === 'negative' || expression.kind === 'not') return { ...expression, of: inner(expression.of) };
  if (expression.kind === 'at') {
    const { at, spot } = expression;
    const spots = names.within(spot);
    if (!spots) return expression;
    const stands = spots.map((each): Expression => ({ kind: 'at', spot: each, at }));
    return stands.reduce<Expression>(
      (left, right) => ({ kind: 'or', left, right, at }),
      stands.shift() ?? { kind: 'truth', value: false, at }
    );
  }
  if (expression.kind !== 'all' && expression.kind !== 'count') return expression;
  const { at, of, kind } = expression;
  const found = names.counted(of);
  if (!found) return expression;
  const integer = (value: number): Expression => ({ kind: 'integer', value, at });
  if (found !== 'piece') {
    const levels = integer(found.levels);
    return kind === 'count' ? levels : { kind: 'compare', operator: '=', left: { kind: 'wins', of, at }, right: levels, at };
  }
  const left: Expression = { kind: 'left', piece: of, at };
  return kind === 'all'
    ? { kind: 'compare', operator: '=', left, right: integer(0), at }
    : { kind: 'arithmetic', operator: '+', left, right: { kind: 'taken', piece: of, at }, at };
}

/** The names in `all(…)` and `count(…)` of a tree in which nothing has been spelled out. */
export const countedIn = (expression: Expression): Id[] =>
  parts(expression).flatMap((part) => (part.kind === 'all' || part.kind === 'count' ? [part.of] : []));

/** The ids of the pieces that a tree names. */
export function piecesIn(expression: Expression): Id[] {
  return parts(expression).flatMap((part) => (part.kind === 'left' || part.kind === 'taken' ? [part.piece] : []));
}

/** The ids of the spots at which a tree asks whether the player is. */
export const spotsIn = (expression: Expression): Id[] =>
  parts(expression).flatMap((part) => (part.kind === 'at' ? [part.spot] : []));

/** The ids of the variables that a tree reads. */
export function variablesIn(expression: Expression): Id[] {
  return [...new Set(parts(expression).flatMap((part) => (part.kind === 'variable' ? [part.id] : [])))];
}

const termKinds: readonly string[] = [
  'variable',
  'left',
  'taken',
  'won',
  'wins',
  'last',
  'has',
  'saved',
  'at'
] satisfies Expression['kind'][];

/** The parts of an expression whose values change in play. */
export const termsIn = (expression: Expression): Expression[] => parts(expression).filter(({ kind }) => termKinds.includes(kind));
