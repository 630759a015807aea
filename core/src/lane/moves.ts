/** The moves of a document as the lane draws them: from whose rules, to what, with which outcome. */
import {
  isLevel,
  levelsOfOwner,
  own,
  ruleLists,
  type FlowDocument,
  type Id,
  type MoveTarget,
  type MoveWord,
  type Owner,
  type Rule,
  type Target
} from '../document/types.ts';
import { targetMisfit } from '../play/fit.ts';
import { levelsAhead } from './latest.ts';

export type MoveOutcome = 'won' | 'lost' | 'plain';

/** A place, or the lane of an order where the level depends on play ("the next level"), with the levels it may be. */
export type MoveEnd = { place: Id } | { lane: Id | undefined; word: MoveWord; levels: Id[] };

export interface Move {
  rule: Id;
  from: Owner;
  to: MoveEnd;
  outcome: MoveOutcome;
  over: boolean;
}

/** Every move that can be drawn. What goes back, or to the same level again, has no other end and is left out. */
export function movesOf(document: FlowDocument): Move[] {
  let moves = known.get(document);
  if (!moves) known.set(document, (moves = findMoves(document)));
  return moves;
}

/** Documents are never changed, only replaced. */
const known = new WeakMap<FlowDocument, Move[]>();

function findMoves(document: FlowDocument): Move[] {
  const moves: Move[] = [];
  const ahead = levelsAhead(document);
  for (const { owner, rules } of ruleLists(document)) {
    for (const rule of rules) if (rule.go) moves.push(...movesOfRule(document, ahead, owner, rule));
  }
  return moves;
}

type Ahead = ReturnType<typeof levelsAhead>;

function movesOfRule(document: FlowDocument, ahead: Ahead, owner: Owner, rule: Rule): Move[] {
  const outcome = rule.result ?? 'plain';
  const move = (from: Owner, to: MoveEnd, over = false): Move => ({ rule: rule.id, from, to, outcome, over });
  const toPlace = (from: Owner, target: Target | undefined): Move[] =>
    target && 'place' in target && !targetMisfit(document, target, '')
      ? [move(from, { place: target.place }, target.over === true)]
      : [];
  const target = rule.go!;
  if ('place' in target) return toPlace(owner, target);
  const { move: word } = target;
  if (word === 'back') return toPlace(owner, target.else);
  if ((word === 'first' || word === 'last') && orderIn(document, target)?.draw === 'fixed') {
    const { levels } = orderIn(document, target)!;
    const level = word === 'first' ? levels[0]! : levels.at(-1)!;
    return isLevel(document, level) ? [move(owner, { place: level })] : toPlace(owner, target.else);
  }
  if (word === 'next' || word === 'previous') {
    const levels = levelsOfOwner(document, owner);
    if (levels) {
      const some = (from: Owner) => ahead(from, rule, target);
      return levels.flatMap((level) => alongOrder(document, { place: level }, target, move, toPlace, some));
    }
  }
  const fromLevel = !('place' in owner) || isLevel(document, owner.place);
  if (word === 'again' && fromLevel) return toPlace(owner, target.else);
  const lane =
    word === 'chosen'
      ? (rule.when as { choose?: Id }).choose
      : (target.order ?? (word === 'again' ? undefined : Object.keys(document.orders)[0]));
  return [...toSome(ahead(owner, rule, target), lane, word).map((to) => move(owner, to)), ...toPlace(owner, target.else)];
}

/** Where a move leads that may lead to several levels; nowhere when there are none. */
function toSome(levels: Id[], lane: Id | undefined, word: MoveWord): MoveEnd[] {
  if (levels.length === 0) return [];
  return [levels.length === 1 ? { place: levels[0]! } : { lane, word, levels }];
}

/** A step along a fixed order from a level: to its neighbour, at the order's end to the otherwise. */
function alongOrder(
  document: FlowDocument,
  from: { place: Id },
  target: MoveTarget,
  move: (from: Owner, to: MoveEnd) => Move,
  toPlace: (from: Owner, target: Target | undefined) => Move[],
  ahead: (from: Owner) => Id[]
): Move[] {
  const id = target.order ?? Object.keys(document.orders).find((order) => document.orders[order]!.levels.includes(from.place));
  const order = id === undefined ? undefined : own(document.orders, id);
  const at = order?.levels.indexOf(from.place) ?? -1;
  if (!order || order.draw !== 'fixed' || at < 0)
    return [...toSome(ahead(from), id, target.move).map((to) => move(from, to)), ...toPlace(from, target.else)];
  const neighbour = order.levels[target.move === 'next' ? at + 1 : at - 1];
  return neighbour !== undefined && isLevel(document, neighbour)
    ? [move(from, { place: neighbour })]
    : toPlace(from, target.else);
}

function orderIn(document: FlowDocument, target: MoveTarget) {
  const id = target.order ?? Object.keys(document.orders)[0];
  return id === undefined ? undefined : own(document.orders, id);
}
