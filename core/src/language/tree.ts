/** Conditions and expressions as nested lists, so that who reads them in another language needs no parser. */
import type { Expression } from './ast.ts';

/** A number, true or false, a choice as a text; else a list of what is done and with what: `[">=", ["value", "score"], 5]`. */
export type Tree = number | boolean | string | Tree[];

/** As it is evaluated: `spelledOut` before, it has only a few kinds of parts. */
export function treeOf(expression: Expression): Tree {
  switch (expression.kind) {
    case 'integer':
      return Number(expression.value);
    case 'truth':
      return expression.value;
    case 'literal':
      return expression.id;
    case 'variable':
      return ['value', expression.id];
    case 'negative':
    case 'not':
      return [expression.kind, treeOf(expression.of)];
    case 'and':
    case 'or':
    case 'min':
    case 'max':
      return [expression.kind, treeOf(expression.left), treeOf(expression.right)];
    case 'compare':
    case 'arithmetic':
      return [expression.operator, treeOf(expression.left), treeOf(expression.right)];
    case 'left':
    case 'taken':
      return [expression.kind, expression.piece];
    case 'won':
      return ['won', expression.level];
    case 'wonCandidate':
      return ['won-candidate', expression.which];
    case 'wins':
    case 'all':
    case 'count':
      return [expression.kind, expression.of];
    case 'last':
      return ['last', expression.which];
    case 'has':
      return ['has', expression.what, ...(expression.order === undefined ? [] : [expression.order])];
    case 'at':
      return ['at', expression.spot];
    case 'saved':
    case 'position':
      return [expression.kind];
  }
}
