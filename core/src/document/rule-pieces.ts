/** Which things of a level a rule speaks of. */
import { countedIn, piecesIn, spotsIn, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { deedOf } from '../vocabulary/triggers.ts';
import type { Id, Level, Rule } from './types.ts';

export interface RulePieces {
  /** Named as pieces. */
  pieces: Id[];
  /** Named by `all(x)` and `count(x)`: a piece where there is one of this id, else a group or an order. */
  counted: Id[];
  spots: Id[];
  passages: Id[];
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
      counted: trees.flatMap(countedIn),
      spots: [...('reach' in when ? [when.reach] : []), ...trees.flatMap(spotsIn)],
      passages: 'walk' in when ? [when.walk] : []
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

/** Whether a level has all pieces, spots and passages of these ids. */
export const hasAll = (
  level: Pick<Level, 'pieces' | 'spots' | 'passages' | 'plan'> | undefined,
  { pieces, spots, passages }: Pick<RulePieces, 'pieces' | 'spots' | 'passages'>
): boolean =>
  pieces.every((id) => Object.hasOwn(level?.pieces ?? {}, id)) &&
  spots.every((id) => Object.hasOwn(level?.spots ?? {}, id) || Object.hasOwn(level?.plan?.areas ?? {}, id)) &&
  passages.every((id) => Object.hasOwn(level?.passages ?? {}, id));
