/** Prints an expression with the fewest brackets that keep its meaning. Parsing it again gives the same tree. */
import type { Expression } from './ast.ts';
import { parse } from './parse.ts';

const ranks = { or: 0, and: 1, not: 2, compare: 3, sum: 4, product: 5, unary: 6, atom: 7 } as const;

function rank(expression: Expression): number {
  switch (expression.kind) {
    case 'or':
    case 'and':
    case 'not':
    case 'compare':
      return ranks[expression.kind];
    case 'arithmetic':
      return expression.operator === '*' ? ranks.product : ranks.sum;
    case 'negative':
      return ranks.unary;
    default:
      return ranks.atom;
  }
}

export function print(expression: Expression): string {
  const inside = (part: Expression, least: number) => (rank(part) < least ? `(${print(part)})` : print(part));
  switch (expression.kind) {
    case 'integer':
    case 'truth':
      return String(expression.value);
    case 'literal':
      return `'${expression.id}'`;
    case 'variable':
      return expression.id;
    case 'negative':
      return `-${inside(expression.of, ranks.unary)}`;
    case 'not':
      return `not ${inside(expression.of, ranks.not)}`;
    case 'and':
    case 'or':
      return `${inside(expression.left, rank(expression))} ${expression.kind} ${inside(expression.right, rank(expression) + 1)}`;
    case 'compare':
      return `${inside(expression.left, ranks.sum)} ${expression.operator} ${inside(expression.right, ranks.sum)}`;
    case 'arithmetic':
      return `${inside(expression.left, rank(expression))} ${expression.operator} ${inside(expression.right, rank(expression) + 1)}`;
    case 'min':
    case 'max':
      return `${expression.kind}(${print(expression.left)}, ${print(expression.right)})`;
    case 'left':
    case 'taken':
      return `${expression.kind}(${expression.piece})`;
    case 'won':
      return `won(${expression.level})`;
    case 'wonCandidate':
      return `won(${expression.which})`;
    case 'wins':
      return `wins(${expression.of})`;
    case 'last':
      return `last(${expression.which})`;
    case 'has':
      return `has(${[expression.what, ...(expression.order === undefined ? [] : [expression.order])].join(', ')})`;
    case 'saved':
      return 'saved(progress)';
    case 'at':
      return `at(${expression.spot})`;
    case 'all':
    case 'count':
      return `${expression.kind}(${expression.of})`;
    case 'position':
      return 'position';
  }
}

/** One condition that asks for both of two texts, or for the one there is. */
export function bothOf(one: string | undefined, other: string): string {
  if (one === undefined) return other;
  const left = parse(one);
  return print({ kind: 'and', left, right: parse(other), at: left.at });
}
