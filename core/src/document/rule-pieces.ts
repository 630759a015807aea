/** Which pieces a rule speaks of. */
import { countedIn, piecesIn, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { deedOf } from '../vocabulary/triggers.ts';
import type { Id, Rule } from './types.ts';

export interface RulePieces {
  /** Named as pieces. */
  pieces: Id[];
  /** Named by `all(x)` and `count(x)`: a piece where there is one of this id, else a group or an order. */
  counted: Id[];
}

/** Rules are never changed once they are made. */
const known = new WeakMap<Rule, RulePieces>();

/** What a rule names in trigger, conditions and expressions; a text that cannot be read names none. */
export function piecesOfRule(rule: Rule): RulePieces {
  let found = known.get(rule);
  if (!found) {
    const { when } = rule;
    const texts = [
      rule.if,
      'holds' in when ? when.holds : undefined,
      ...(rule.do ?? []).map((each) => ('to' in each ? each.to : undefined))
    ];
    const trees = texts.flatMap((text) => (text === undefined ? [] : tried(text)));
    found = {
      pieces: [...(deedOf(when) ? [deedOf(when)!.piece] : []), ...trees.flatMap(piecesIn)],
      counted: trees.flatMap(countedIn)
    };
    known.set(rule, found);
  }
  return found;
}

function tried(text: string): Expression[] {
  try {
    return [parse(text)];
  } catch {
    return [];
  }
}
