/** Types of expressions: numbers, flags and choices; no value of one is ever taken for another. */
import { idPattern } from '../document/ids.ts';
import type { Id, Variable } from '../document/types.ts';
import { LanguageError, type Expression } from './ast.ts';

export type Type = { is: 'number' } | { is: 'flag' } | { is: 'choice'; choices: readonly Id[] };

/** What the ids in a text can stand for where it stands. */
export interface Surroundings {
  variable(id: Id): Variable | undefined;
  /** Whether a piece of this id can be at hand. */
  piece(id: Id): boolean;
  /** Likewise a spot. */
  spot(id: Id): boolean;
  level(id: Id): boolean;
  /** Whether a group or an order has this id. */
  groupOrOrder(id: Id): boolean;
  order(id: Id): boolean;
  /** Whether the text is the `if` of a choose rule. */
  choosing: boolean;
  /** What is called most like a word that names no variable; undefined where nothing is. */
  likely(word: string): string | undefined;
}

const number: Type = { is: 'number' };
const flag: Type = { is: 'flag' };

export function typeOfVariable(variable: Variable): Type {
  return variable.type === 'choice' ? { is: 'choice', choices: variable.choices } : { is: variable.type };
}

/** The type of an expression; throws `LanguageError` where something has the wrong one or names nothing. */
export function typeOf(expression: Expression, scope: Surroundings): Type {
  const fail = (message: string, at = expression.at): never => {
    throw new LanguageError(message, at);
  };
  const want = (part: Expression, is: 'number' | 'flag') => {
    const found = typeOf(part, scope);
    if (found.is !== is)
      fail(`This is ${article(found)}, but ${is === 'number' ? 'a number' : 'a condition'} is needed.`, part.at);
  };
  switch (expression.kind) {
    case 'integer':
      return number;
    case 'truth':
      return flag;
    case 'literal':
      if (!idPattern.test(expression.id)) fail(`'${expression.id}' cannot be a choice.`);
      return { is: 'choice', choices: [expression.id] };
    case 'variable': {
      const variable = scope.variable(expression.id);
      return variable ? typeOfVariable(variable) : fail(unknown(expression.id, scope));
    }
    case 'negative':
      want(expression.of, 'number');
      return number;
    case 'not':
      want(expression.of, 'flag');
      return flag;
    case 'and':
    case 'or':
      want(expression.left, 'flag');
      want(expression.right, 'flag');
      return flag;
    case 'arithmetic':
    case 'min':
    case 'max':
      want(expression.left, 'number');
      want(expression.right, 'number');
      return number;
    case 'compare': {
      if (expression.operator !== '=' && expression.operator !== '!=') {
        want(expression.left, 'number');
        want(expression.right, 'number');
        return flag;
      }
      for (const [side, other] of [
        [expression.left, expression.right],
        [expression.right, expression.left]
      ] as const) {
        if (side.kind !== 'variable' || scope.variable(side.id) || other.kind !== 'variable') continue;
        const type = scope.variable(other.id);
        if (type?.type === 'choice' && type.choices.includes(side.id)) fail(`A choice stands in quotes: '${side.id}'.`, side.at);
      }
      const left = typeOf(expression.left, scope);
      const right = typeOf(expression.right, scope);
      if (left.is !== right.is) fail(`This compares ${article(left)} with ${article(right)}.`);
      if (left.is === 'choice' && right.is === 'choice' && !left.choices.some((id) => right.choices.includes(id))) {
        fail(`These can never be the same: ${left.choices.join(', ')} and ${right.choices.join(', ')}.`);
      }
      return flag;
    }
    case 'left':
    case 'taken':
      return scope.piece(expression.piece) ? number : fail(`There is no piece "${expression.piece}" here.`);
    case 'won':
      return scope.level(expression.level) ? flag : fail(`There is no level "${expression.level}".`);
    case 'wins':
      return scope.groupOrOrder(expression.of) ? number : fail(`There is no group or order "${expression.of}".`);
    case 'last':
      return flag;
    case 'has':
      if (expression.order === undefined || scope.order(expression.order)) return flag;
      return fail(`There is no order "${expression.order}".`);
    case 'saved':
      return number;
    case 'at':
      return scope.spot(expression.spot) ? flag : fail(`There is no spot "${expression.spot}" here.`);
    case 'all':
    case 'count':
      // what names something has been spelled out
      return fail(`There is no piece, group or order "${expression.of}" here.`);
    case 'wonCandidate':
    case 'position':
      if (!scope.choosing) fail('This can only stand in the condition of a rule that chooses a level.');
      return expression.kind === 'position' ? number : flag;
  }
}

function unknown(id: Id, scope: Surroundings): string {
  const likely = scope.likely(id);
  return `There is no value "${id}"${likely === undefined ? '.' : `: did you mean ${likely}?`}`;
}

/** Checks that an expression can be assigned to a variable. */
export function assignable(expression: Expression, variable: Variable, scope: Surroundings): void {
  if (variable.type === 'choice' && expression.kind === 'variable' && variable.choices.includes(expression.id))
    if (!scope.variable(expression.id)) throw new LanguageError(`A choice stands in quotes: '${expression.id}'.`, expression.at);
  const found = typeOf(expression, scope);
  const wanted = typeOfVariable(variable);
  if (found.is !== wanted.is)
    throw new LanguageError(`This is ${article(found)}, but ${variable.name} is ${article(wanted)}.`, expression.at);
  if (found.is === 'choice' && wanted.is === 'choice') {
    const foreign = found.choices.filter((id) => !wanted.choices.includes(id));
    if (foreign.length > 0) throw new LanguageError(`${variable.name} cannot be ${foreign.join(' or ')}.`, expression.at);
  }
}

/** Checks that an expression is a condition. */
export function isCondition(expression: Expression, scope: Surroundings): void {
  const found = typeOf(expression, scope);
  if (found.is !== 'flag') throw new LanguageError(`This is ${article(found)}, but a condition is needed.`, expression.at);
}

function article(type: Type): string {
  return type.is === 'number' ? 'a number' : type.is === 'flag' ? 'a flag' : 'a choice';
}
