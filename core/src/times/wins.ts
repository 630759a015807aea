/** What a level asks for before it is won, as far as a plan can tell (docs/flow-format.md, section 13). */
import { countOf } from '../vocabulary/pieces.ts';
import { secondsOf } from '../document/numbers.ts';
import { own, type Id, type Level, type Trigger } from '../document/types.ts';
import { turned, type Comparison, type Expression } from '../language/ast.ts';
import { renewalOf, type Flow } from '../play/flow.ts';
import type { FittingRule } from '../play/fit.ts';

/** One way to win a level. */
export interface Win {
  rule: Id;
  /** By piece how many have to be taken. */
  needs: Map<Id, number>;
  /** What is come to at the end; undefined where the last thing taken wins. */
  ends?: { piece: Id } | { reached: Id };
  /** Before so many seconds have passed it does not happen. */
  wait: number;
  /** Some of it can be done in one attempt, kept at a save, and the rest in a later one. */
  splits: boolean;
}

/**
 * The ways to win a level: of each rule that wins what its condition counts, joined by "and", and what its trigger touches or
 * reaches. Whatever else it asks is left out, so that no win can take less.
 */
export function winsOf(flow: Flow, id: Id): Win[] {
  const level = flow.document.places[id] as Level;
  const uncounted = uncountedIn(flow, id);
  const saves = flow.applying(id, id).all.some(({ rule }) => rule.do?.some((each) => 'save' in each));
  return flow
    .applying(id, id)
    .all.filter(({ rule }) => rule.result === 'won')
    .map((rule) => {
      const win = winBy(level, rule);
      for (const piece of uncounted) win.needs.delete(piece);
      const stops = [...win.needs.values()].reduce((sum, n) => sum + n, win.ends ? 1 : 0);
      return { ...win, wait: waitOf(flow, rule), splits: saves && stops > 1 };
    });
}

/**
 * The pieces of which how many are left says nothing of where the player has been: rules take them away by themselves, or they
 * stay taken from one attempt to the next.
 */
export function uncountedIn(flow: Flow, id: Id): Set<Id> {
  const { pieces } = flow.document.places[id] as Level;
  const stay = Object.entries(pieces).flatMap(([piece, value]) => (['run', 'never'].includes(renewalOf(value)) ? [piece] : []));
  const effects = flow.applying(id, id).all.flatMap(({ rule }) => rule.do ?? []);
  const taken = effects.flatMap((each) => ('remove' in each ? [each.remove] : 'defeat' in each ? [each.defeat] : []));
  return new Set([...stay, ...taken]);
}

function winBy(level: Level, { id, rule: { when }, condition, holds }: FittingRule): Pick<Win, 'rule' | 'needs' | 'ends'> {
  const needs = new Map<Id, number>();
  for (const text of [condition, holds]) for (const [piece, n] of text ? takenBefore(level, text) : []) raise(needs, piece, n);
  const ends = endOf(when);
  if ('collect' in when) raise(needs, when.collect, 1);
  if ('defeat' in when) raise(needs, when.defeat, 1);
  return { rule: id, needs, ...(ends && { ends }) };
}

function waitOf({ document }: Flow, { rule: { when } }: FittingRule): number {
  const span = 'after' in when ? when.after : 'every' in when ? when.every : 0;
  return secondsOf(document, span) ?? 0;
}

function endOf(when: Trigger): Win['ends'] {
  if ('touch' in when) return { piece: when.touch };
  return 'reach' in when ? { reached: when.reach } : undefined;
}

function raise(needs: Map<Id, number>, piece: Id, n: number): void {
  if (n > (needs.get(piece) ?? 0)) needs.set(piece, n);
}

/** By piece how many have to be taken before a condition can hold, as far as comparisons joined by "and" say. */
export function takenBefore(level: Level, condition: Expression): Map<Id, number> {
  const needs = new Map<Id, number>();
  const read = (part: Expression): void => {
    if (part.kind === 'and') {
      read(part.left);
      read(part.right);
    } else if (part.kind === 'compare') {
      least(level, part.left, part.operator, part.right, needs);
      least(level, part.right, turned[part.operator], part.left, needs);
    }
  };
  read(condition);
  return needs;
}

function least(level: Level, term: Expression, operator: Comparison, other: Expression, needs: Map<Id, number>): void {
  if (term.kind !== 'taken' && term.kind !== 'left') return;
  const piece = own(level.pieces, term.piece);
  const n = numberOf(level, other);
  if (!piece || n === undefined) return;
  if (term.kind === 'taken') {
    if (operator === '>=' || operator === '=') raise(needs, term.piece, n);
    else if (operator === '>') raise(needs, term.piece, n + 1);
    return;
  }
  const all = countOf(piece);
  if (operator === '<=' || operator === '=') raise(needs, term.piece, all - n);
  else if (operator === '<') raise(needs, term.piece, all - n + 1);
}

/** The number that an expression always is; undefined where it is now one and now another. */
function numberOf(level: Level, expression: Expression): number | undefined {
  if (expression.kind === 'integer') return Number(expression.value);
  if (expression.kind === 'negative') {
    const value = numberOf(level, expression.of);
    return value === undefined ? undefined : -value;
  }
  if (expression.kind !== 'arithmetic') return undefined;
  const { operator, left, right } = expression;
  // count(lamp), spelled out
  if (operator === '+' && left.kind === 'left' && right.kind === 'taken' && left.piece === right.piece) {
    const piece = own(level.pieces, left.piece);
    return piece && countOf(piece);
  }
  const [a, b] = [numberOf(level, left), numberOf(level, right)];
  if (a === undefined || b === undefined) return undefined;
  return operator === '+' ? a + b : operator === '-' ? a - b : a * b;
}
