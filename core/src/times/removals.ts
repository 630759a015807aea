/** How a foe that is in the way can be taken out of it. */
import type { Id, Side } from '../document/types.ts';
import { piecesIn } from '../language/ast.ts';
import type { Flow } from '../play/flow.ts';

export interface Removals {
  /** The sides from which a touch does. */
  sides: Side[];
  /** Rules speak of its being defeated: there may be a way to fight it. */
  isFought: boolean;
}

export const isRemoved = ({ sides, isFought }: Removals): boolean => sides.length > 0 || isFought;

export function removalsOf(flow: Flow, id: Id, piece: Id): Removals {
  const { all, by } = flow.applying(id, id);
  const sides = (['above', 'beside', 'below'] as const).filter((side) => {
    const heard = by.touch.filter(
      ({ rule: { when } }) => when.touch === piece && (when.side === undefined || when.side === side)
    );
    const ends = heard.some(({ rule: { result, go, if: condition } }) => condition === undefined && (result === 'lost' || go));
    const takes = heard.some(({ rule }) =>
      rule.do?.some((each) => ('defeat' in each && each.defeat === piece) || ('remove' in each && each.remove === piece))
    );
    return takes && !ends;
  });
  const isCounted = all.some(({ condition, holds, expressions }) =>
    [condition, holds, ...expressions].some((each) => each && [...piecesIn(each)].includes(piece))
  );
  return { sides, isFought: isCounted || by.defeat.some(({ rule }) => rule.when.defeat === piece) };
}
