/**
 * How far a condition is from being true: 0 when it is, else by how much its numbers miss (B. Korel, Automated software
 * test data generation, 1990: the branch distance). A guide for a search, never a verdict.
 */
import type { Comparison, Expression } from '../../language/ast.ts';
import { arithmetic } from '../../language/evaluate.ts';
import { codeOf, type Names } from './expressions.ts';
import { generate } from './generate.ts';
import { onSlots, print } from './instructions.ts';

const opposite: Record<Comparison, Comparison> = { '=': '!=', '!=': '=', '<': '>=', '<=': '>', '>': '<=', '>=': '<' };

export function distance(expression: Expression, names: Names, v: Int32Array): () => number {
  type Make = (v: Int32Array, choices: Int32Array[], exact: typeof arithmetic) => () => number;
  return generate<Make>('slots, choices, exact', `return () => ${codeFor(expression, names, true)};`)(
    v,
    names.choices,
    arithmetic
  );
}

/** The code of the distance from being true, or from being false. */
function codeFor(expression: Expression, names: Names, wanted: boolean): string {
  switch (expression.kind) {
    case 'not':
      return codeFor(expression.of, names, !wanted);
    case 'and':
    case 'or': {
      const both = [expression.left, expression.right].map((part) => codeFor(part, names, wanted)).join(', ');
      return (expression.kind === 'and') === wanted ? `((a, b) => a + b)(${both})` : `Math.min(${both})`;
    }
    case 'compare': {
      const [a, b] = [expression.left, expression.right].map((part) => `Number(${print(codeOf(part, names).code, onSlots)})`);
      switch (wanted ? expression.operator : opposite[expression.operator]) {
        case '=':
          return `Math.abs(${a} - ${b})`;
        case '!=':
          return `(${a} === ${b} ? 1 : 0)`;
        case '<':
          return `Math.max(0, ${a} - ${b} + 1)`;
        case '<=':
          return `Math.max(0, ${a} - ${b})`;
        case '>':
          return `Math.max(0, ${b} - ${a} + 1)`;
        default:
          return `Math.max(0, ${b} - ${a})`;
      }
    }
    default:
      return `(${print(codeOf(expression, names).code, onSlots)} ? ${wanted ? '0 : 1' : '1 : 0'})`;
  }
}
