/** Conditions and expressions as code over slots. Only numbers get into the code. */
import type { Expression, Had } from '../../language/ast.ts';
import { arithmetic } from '../../language/evaluate.ts';
import { generate } from './generate.ts';
import { js, onSlots, print, type Code } from './instructions.ts';

/** What the names in a text are, where it is read. */
export interface Names {
  /** The code of a variable's value, and within which bounds it is (for flags and choices any). */
  variable(id: string): BoundedCode;
  left(piece: string): BoundedCode;
  count(piece: string): number;
  won(level: string): Code;
  wins(of: string): { code: Code; max: number };
  last(which: 'won' | 'lost'): Code;
  has(what: Had, order?: string): Code;
  saved: Code;
  at(spot: string): Code;
  /** A number that stands for a choice id everywhere, and by variable the numbers of its values. */
  choice(id: string): number;
  choices: Int32Array[];
  candidate?: { it: Code; previous: Code; position: number };
}

export interface BoundedCode {
  code: Code;
  min: number;
  max: number;
}

const safe = Number.MAX_SAFE_INTEGER;

/** The function of a text: of a condition true or false, of a number its exact value, of a choice its number. */
export function compile(expression: Expression, names: Names, v: Int32Array): () => number | bigint | boolean {
  const { code } = codeOf(expression, names);
  type Make = (v: Int32Array, choices: Int32Array[], exact: typeof arithmetic) => () => number | bigint | boolean;
  return generate<Make>('slots, choices, exact', `return () => ${print(code, onSlots)};`)(v, names.choices, arithmetic);
}

/**
 * The code of a text, and within which bounds its value is. It reads the slots, the choices' numbers and
 * arithmetic on numbers of any size as `exact`; where a bound is not finite its value may be a BigInt.
 */
export function codeOf(expression: Expression, names: Names): BoundedCode {
  const part = (inner: Expression) => codeOf(inner, names);
  const flag = (code: Code): BoundedCode => ({ code, min: 0, max: 1 });
  switch (expression.kind) {
    case 'integer':
      if (typeof expression.value === 'bigint') return { code: `${expression.value}n`, min: safe, max: Infinity };
      return { code: expression.value, min: expression.value, max: expression.value };
    case 'truth':
      return flag(expression.value);
    case 'literal':
      return { code: names.choice(expression.id), min: 0, max: 0 };
    case 'variable':
      return names.variable(expression.id);
    case 'negative':
      return combine('-', { code: 0, min: 0, max: 0 }, part(expression.of));
    case 'not':
      return flag(js`!(${part(expression.of).code})`);
    case 'and':
    case 'or':
      return flag(js`(${part(expression.left).code} ${expression.kind === 'and' ? '&&' : '||'} ${part(expression.right).code})`);
    case 'compare': {
      const operator = expression.operator === '=' ? '===' : expression.operator === '!=' ? '!==' : expression.operator;
      return flag(js`(${part(expression.left).code} ${operator} ${part(expression.right).code})`);
    }
    case 'arithmetic':
      return combine(expression.operator, part(expression.left), part(expression.right));
    case 'min':
    case 'max': {
      const [a, b] = [part(expression.left), part(expression.right)];
      const pick = expression.kind === 'min' ? Math.min : Math.max;
      const code = js`((a, b) => a ${expression.kind === 'min' ? '<' : '>'} b ? a : b)(${a.code}, ${b.code})`;
      return { code, min: pick(a.min, b.min), max: pick(a.max, b.max) };
    }
    case 'left':
      return names.left(expression.piece);
    case 'taken': {
      const { code, max } = names.left(expression.piece);
      const count = names.count(expression.piece);
      return { code: js`(${count} - ${code})`, min: count - max, max: count };
    }
    case 'won':
      return flag(names.won(expression.level));
    case 'wins':
      return { ...names.wins(expression.of), min: 0 };
    case 'last':
      return flag(names.last(expression.which));
    case 'has':
      return flag(names.has(expression.what, expression.order));
    case 'saved':
      return { code: names.saved, min: 0, max: 100 };
    case 'at':
      return flag(names.at(expression.spot));
    case 'all':
    case 'count':
      throw new Error(`${expression.kind}(${expression.of}) is not spelled out`);
    case 'wonCandidate':
      return flag(names.candidate![expression.which]);
    case 'position': {
      const { position } = names.candidate!;
      return { code: position, min: position, max: position };
    }
  }
}

/** Plain arithmetic where the bounds say that no digit can be lost, else the exact one. */
function combine(operator: '+' | '-' | '*', a: BoundedCode, b: BoundedCode): BoundedCode {
  const corners =
    operator === '*'
      ? [a.min * b.min, a.min * b.max, a.max * b.min, a.max * b.max]
      : operator === '+'
        ? [a.min + b.min, a.max + b.max]
        : [a.min - b.max, a.max - b.min];
  const finite = corners.every((corner) => Math.abs(corner) < safe);
  const min = finite ? Math.min(...corners) : -Infinity;
  const max = finite ? Math.max(...corners) : Infinity;
  if (finite)
    return { code: operator === '*' ? js`(${a.code} * ${b.code} + 0)` : js`(${a.code} ${operator} ${b.code})`, min, max };
  return { code: js`exact('${operator}', ${a.code}, ${b.code})`, min, max };
}
