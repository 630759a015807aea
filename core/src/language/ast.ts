/** Conditions and expressions as trees (docs/flow-format.md, section 2). */
import type { Id } from '../document/types.ts';

/** Where in its text something stands: offsets counted from 0, the end behind its last character. */
export interface Span {
  start: number;
  end: number;
}

export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>=';
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

/** The ids of the pieces that a tree names. */
export function piecesIn(expression: Expression): Id[] {
  return parts(expression).flatMap((part) => (part.kind === 'left' || part.kind === 'taken' ? [part.piece] : []));
}

/** The ids of the variables that a tree reads. */
export function variablesIn(expression: Expression): Id[] {
  return [...new Set(parts(expression).flatMap((part) => (part.kind === 'variable' ? [part.id] : [])))];
}

const termKinds: readonly string[] = ['variable', 'left', 'taken', 'won', 'wins'] satisfies Expression['kind'][];

/** The parts of an expression whose values change in play. */
export const termsIn = (expression: Expression): Expression[] => parts(expression).filter(({ kind }) => termKinds.includes(kind));
