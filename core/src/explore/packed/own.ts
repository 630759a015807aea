/**
 * The numbers in the code of a place that are its own, and those of rules: what they are is said by functions that hold
 * on to nothing, so that code can be used for other places and in later checks.
 */
import type { Id } from '../../document/types.ts';
import { termsIn, type Expression } from '../../language/ast.ts';
import type { Asking, FittingRule } from '../../play/fit.ts';
import type { Code } from './instructions.ts';
import type { Layout } from './layout.ts';
import type { Sheet } from './sheet.ts';

/** Whose code it is: the place that events happen in, and the rules read there. */
export interface Self {
  place: number;
  rules: FittingRule[];
}

/**
 * The numbers that are a place's own: which they are, and what they are in this place and in others built alike, in this
 * flow and in others that differ elsewhere (so none of them may hold on to what it is of).
 */
export class Own {
  readonly numbers: ((sheet: Sheet, self: Self) => number)[] = [];
  /** No other place has this code, whatever it is built like. */
  alone = false;
  private readonly known = new Map<string, Code>();

  /** A number; what has two keys never shares one, so that the text does not depend on what they are. */
  number(key: string, of: (sheet: Sheet, self: Self) => number): Code {
    let own = this.known.get(key);
    if (own === undefined) this.known.set(key, (own = { own: this.numbers.push(of) - 1 }));
    return own;
  }
}

/** What a number is of a rule: one of the place's own, or another one. */
export const ruleNumber =
  (id: Id, own: number, of: (sheet: Sheet, rule: Asking) => number) =>
  (sheet: Sheet, { rules }: Self) =>
    of(sheet, own < 0 ? sheet.asking(id) : rules[own]!);

/** What a number is of a place: the one itself, or another one. */
export const placeNumber = (place: number, of: (at: Layout, place: number) => number) => (sheet: Sheet, self: Self) =>
  of(sheet.at, place < 0 ? self.place : place);

export const termNumber = (n: number) => (sheet: Sheet, rule: Asking) =>
  sheet.termOf(sheet.ruleIndex.get(rule.id)!, termsOf(rule)[n]!);

export const siteNumber =
  (variable: Id) =>
  (sheet: Sheet, { id }: Asking) =>
    sheet.siteOf(id, variable);

/** The number of a place's n-th objective. */
export const objectiveNumber = (place: number, n: number) => (sheet: Sheet, self: Self) =>
  sheet.objectives[place < 0 ? self.place : place]![n]!;

export const takenSlot = (order: number) => (at: Layout, place: number) => {
  const { levels, slots } = at.orders[order]!.bag!;
  return slots[levels.indexOf(place)]!;
};

export const positionIn = (order: number) => (at: Layout, place: number) => at.orders[order]!.first[0]![place]!;

/** The slot that says whether a level is won. */
export const wonSlot = (at: Layout, place: number): number => at.won[place]!;

/** The terms of its conditions whose values are told where they are never true. */
export function termsOf(rule: Asking): Expression[] {
  let found = terms.get(rule);
  if (!found) {
    terms.set(rule, (found = [rule.condition, rule.holds].flatMap((text) => (text ? termsIn(text) : []))));
  }
  return found;
}

const terms = new WeakMap<Asking, Expression[]>();
