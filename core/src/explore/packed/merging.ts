/**
 * Numbers that only grow, or go back to a number that stands in a rule, and that conditions only compare with numbers:
 * from a certain value on nothing tells their values apart. A score is the usual one. Such values are one state; what
 * was merged is worked out again where it is told (growth.ts).
 */
import type { Id } from '../../document/types.ts';
import { parts, type Expression } from '../../language/ast.ts';
import type { FittingRule } from '../../play/fit.ts';
import { askedBeside, type Flow } from '../../play/flow.ts';

/** Bounds within which sums over one event stay exact in 32 bits. */
const largest = 1_000_000_000;
const largestStep = 1_000_000;

/** How a rule assigns a number that can be merged: to another number, or by adding one. */
export type Assignment = { to: number } | { add: number };

/** What is assigned, where it is of that kind. */
export function assignmentOf(variable: Id, expression: Expression): Assignment | undefined {
  const literal = numberOf(expression);
  if (literal !== undefined) return { to: literal };
  if (expression.kind !== 'arithmetic' || expression.operator !== '+') return undefined;
  const { left, right } = expression;
  const [self, other] = left.kind === 'variable' && left.id === variable ? [left, right] : [right, left];
  const add = numberOf(other);
  if (self.kind !== 'variable' || self.id !== variable || add === undefined || add < 0 || add > largestStep) return undefined;
  return { add };
}

/** By variable the lowest value from which on all are one: those for which there is such a one below their maximum. */
export function mergedOf(flow: Flow): Map<Id, number> {
  const { document, rules } = flow;
  const tops = new Map<Id, number>();
  for (const [id, variable] of Object.entries(document.variables)) {
    if (variable.type === 'number' && variable.min >= -largest && variable.max <= largest) tops.set(id, variable.initial + 1);
  }
  for (const rule of rules.values()) {
    for (const text of [rule.condition, rule.holds]) if (text) compared(text, tops);
    assigned(rule, tops);
  }
  for (const { condition } of askedBeside(flow)) compared(condition, tops);
  for (const { condition } of flow.passages.values()) if (condition) compared(condition, tops);
  for (const [id, top] of tops) {
    const variable = document.variables[id]!;
    if (variable.type !== 'number' || top >= variable.max) tops.delete(id);
  }
  return tops;
}

/** Raises tops above what variables are compared with; one that is read in any other way has none. */
function compared(text: Expression, tops: Map<Id, number>): void {
  const fine = new Set<Expression>();
  for (const part of parts(text)) {
    if (part.kind === 'compare') {
      for (const [one, other] of [
        [part.left, part.right],
        [part.right, part.left]
      ] as const) {
        const literal = numberOf(other);
        if (one.kind !== 'variable' || literal === undefined) continue;
        fine.add(one);
        const top = tops.get(one.id);
        if (top !== undefined) tops.set(one.id, Math.max(top, Math.min(literal, largest) + 1));
      }
    }
    if (part.kind === 'variable' && !fine.has(part)) tops.delete(part.id);
  }
}

function assigned({ rule, expressions }: FittingRule, tops: Map<Id, number>): void {
  (rule.do ?? []).forEach((effect, index) => {
    const expression = expressions[index];
    if (!('set' in effect) || !expression) return;
    const assignment = assignmentOf(effect.set, expression);
    if (!assignment) tops.delete(effect.set);
    // a number that is added to itself is read there too, but nothing else may be
    if (!assignment) for (const part of parts(expression)) if (part.kind === 'variable') tops.delete(part.id);
  });
}

function numberOf(expression: Expression): number | undefined {
  if (expression.kind === 'integer') return typeof expression.value === 'number' ? expression.value : undefined;
  if (expression.kind !== 'negative') return undefined;
  const value = numberOf(expression.of);
  return value === undefined ? undefined : 0 - value;
}
