/** The value of an expression. Arithmetic is exact: where a number would lose digits it goes on as a BigInt. */
import type { Id } from '../document/types.ts';
import type { Expression, Had } from './ast.ts';

export type Value = number | boolean | string;
export type Exact = Value | bigint;

/** What an expression reads. */
export interface Reading {
  variable(id: Id): Value;
  left(piece: Id): number;
  count(piece: Id): number;
  won(level: Id): boolean;
  wins(groupOrOrder: Id): number;
  /** How the attempt left last ended by a rule with a result; null where none has. */
  last: 'won' | 'lost' | null;
  /** Of the moves along an order whether they would resolve; where no order is named, along the one in which play is. */
  has(what: Had, order?: Id): boolean;
  /** The progress of the saved game; 0 without one. */
  saved: number;
  /** The spot of the level at the bottom where the player is; null where it has none. */
  spot: Id | null;
  /** Only while a choose rule is read: whether the candidate, or the level before it, has been won; and its place from 1. */
  candidate?: { it: boolean; previous: boolean; position: number };
}

/** Evaluates a well-typed expression. */
export function evaluate(expression: Expression, reading: Reading): Exact {
  switch (expression.kind) {
    case 'integer':
    case 'truth':
      return expression.value;
    case 'literal':
      return expression.id;
    case 'variable':
      return reading.variable(expression.id);
    case 'negative':
      return arithmetic('-', 0, evaluate(expression.of, reading) as number);
    case 'not':
      return !evaluate(expression.of, reading);
    case 'and':
      return (evaluate(expression.left, reading) as boolean) && evaluate(expression.right, reading);
    case 'or':
      return (evaluate(expression.left, reading) as boolean) || evaluate(expression.right, reading);
    case 'compare':
      return compare(expression.operator, evaluate(expression.left, reading), evaluate(expression.right, reading));
    case 'arithmetic':
      return arithmetic(
        expression.operator,
        evaluate(expression.left, reading) as number,
        evaluate(expression.right, reading) as number
      );
    case 'min':
    case 'max': {
      const [left, right] = [evaluate(expression.left, reading), evaluate(expression.right, reading)];
      return left < right === (expression.kind === 'min') ? left : right;
    }
    case 'left':
      return reading.left(expression.piece);
    case 'taken':
      return reading.count(expression.piece) - reading.left(expression.piece);
    case 'won':
      return reading.won(expression.level);
    case 'wins':
      return reading.wins(expression.of);
    case 'last':
      return reading.last === expression.which;
    case 'has':
      return reading.has(expression.what, expression.order);
    case 'saved':
      return reading.saved;
    case 'at':
      return reading.spot === expression.spot;
    case 'all':
    case 'count':
      throw new Error(`${expression.kind}(${expression.of}) is not spelled out`);
    case 'wonCandidate':
      return reading.candidate![expression.which];
    case 'position':
      return reading.candidate!.position;
  }
}

export function compare(operator: string, left: Exact, right: Exact): boolean {
  switch (operator) {
    case '=':
      return left === right;
    case '!=':
      return left !== right;
    case '<':
      return left < right;
    case '<=':
      return left <= right;
    case '>':
      return left > right;
    default:
      return left >= right;
  }
}

/** Exact integer arithmetic. A result is a BigInt only where a number could not hold it, so equal values are always identical. */
export function arithmetic(operator: '+' | '-' | '*', left: number | bigint, right: number | bigint): number | bigint {
  if (typeof left === 'number' && typeof right === 'number') {
    const quick = operator === '+' ? left + right : operator === '-' ? left - right : left * right;
    // adding 0 makes -0 a plain 0
    if (Number.isSafeInteger(quick)) return quick + 0;
  }
  const [a, b] = [BigInt(left), BigInt(right)];
  const exact = operator === '+' ? a + b : operator === '-' ? a - b : a * b;
  const small = Number(exact);
  return Number.isSafeInteger(small) ? small : exact;
}

/** Clamps an exact number to a range of ordinary integers. */
export function clamp(value: number | bigint, min: number, max: number): number {
  return value < min ? min : value > max ? max : Number(value);
}
