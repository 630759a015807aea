/** Which levels have the same code: many levels of a game are built alike, and writing code takes time. */
import type { Rule, Target } from '../../document/types.ts';
import type { Self } from './own.ts';
import type { Sheet } from './sheet.ts';

/** All that a level's code depends on, but for the numbers that are its own; undefined for what shares none. */
export function likeness({ at, flow }: Sheet, { place, rules }: Self): string | undefined {
  const id = at.placeIds[place]!;
  const level = flow.document.places[id]!;
  const slots = at.levels[place];
  // which of its own rules a choice is of stands in the events
  if (level.kind !== 'level' || !slots || rules.some(({ rule }) => 'choose' in rule.when)) return undefined;
  // where things are is mostly a level's own
  if (at.spots[place]!.length > 0) return undefined;
  const kept = (slot: number | undefined) => (slot !== undefined && at.keptSlot(slot) ? slot : -1);
  const itself = (target: Target | undefined): unknown => {
    if (target && 'place' in target && target.place === id) return { ...target, place: 0 };
    return target && 'else' in target ? { ...target, else: itself(target.else) } : target;
  };
  const own = ({ when, if: condition, do: effects, go, result }: Rule) => [when, condition, effects, itself(go), result];
  const inOrders = at.walked.map((order) => {
    const { bag, first } = at.orders[order]!;
    return bag ? kept(bag.slots[bag.levels.indexOf(place)]) >= 0 : first.map((places) => places[place]! >= 0);
  });
  return JSON.stringify([
    level.goal,
    level.progress,
    Object.entries(level.pieces).map(([piece, { kind, count, progress }]) => [
      piece,
      kind,
      count,
      progress,
      slots.pieces.get(piece)?.heaps.map(({ slot }) => kept(slot))
    ]),
    Object.values(level.objectives).map(({ met }) => met),
    slots.here.filter(({ slot }) => at.keptSlot(slot)).map(({ slot, count }) => [slot, count]),
    slots.attemptPieces,
    rules.map(({ rule, owner }) => ['place' in owner ? '' : rule.id, own(rule)]),
    at.packing.fields[at.won[place]!]?.word,
    inOrders
  ]);
}
