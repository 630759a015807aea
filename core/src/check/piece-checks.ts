/** Whether the player gets to the pieces of a level, and what of them can be missed or lost for good. */
import { heapsOf } from '../document/ground.ts';
import type { Id, Level, Piece } from '../document/types.ts';
import { parts, type Expression } from '../language/ast.ts';
import { renewalOf, type Flow } from '../play/flow.ts';
import { groundsOf, openableOf } from '../explore/grounds.ts';
import { reaching, type Asked, type Facts, type HeapFacts } from '../explore/facts.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { takenWord, usedUp } from '../vocabulary/pieces.ts';
import { counted, spotName } from '../words/words.ts';
import { neverYet, numberOf, whyNotThere } from './ground-checks.ts';
import { statesFrom, trapWhy } from './trap-checks.ts';
import { verdict, withoutFault } from './verdict.ts';

/** What is looked at of a piece: what there is of it to be had, and what has ever been had of it. */
interface Watched {
  id: Id;
  level: Level;
  piece: Id;
  value: Piece;
  heaps: (HeapFacts & { had: boolean })[];
}

/** What is asked of some pieces of all states at once: by piece its bit, and by state the bits of those that can be had there. */
interface Question {
  bits: Map<Watched, number>;
  goals: Uint8Array;
}

/** `piece-in-reach`, `missable` and `lost-for-good`. */
export function pieceChecks(facts: Facts): Verdict[] {
  const watched = facts.flow.levels.flatMap(([id, level]) =>
    Object.entries(level.pieces).flatMap(([piece, value]): Watched[] => {
      if (value.at === undefined && !(usedUp(value) && value.kind !== 'player')) return [];
      return [{ id, level, piece, value, heaps: facts.heaps(id, piece).map((heap) => ({ ...heap, had: false })) }];
    })
  );
  const misses = watched.filter((each) => canBeMissed(facts.flow, each));
  const losses = watched.filter(({ value }) => value.kind === 'pickup' && !renewsInLevel(value));
  const inPlay = new Set(openableOf(facts.flow).length > 0 ? misses : misses.filter((each) => canBeOutOfReach(facts, each)));
  // each level's own: no question of what is missed goes beyond its level
  const numbers = new Map<Id, number>();
  const missing = questions(facts, [...inPlay], ({ id }) => {
    const n = numbers.get(id) ?? 0;
    numbers.set(id, n + 1);
    return n;
  });
  const losing = questions(facts, losses, (each) => losses.indexOf(each));
  const looked = watched.filter((each) => each.value.at !== undefined || inPlay.has(each) || losses.includes(each));
  if (looked.length > 0) lookFor(facts, looked, [...missing, ...losing]);
  return [
    ...watched.flatMap((each) => (each.value.at === undefined ? [] : pieceInReach(facts, each))),
    ...missable(facts, misses, missing),
    ...lostForGood(facts, losses, losing)
  ];
}

/** Whether some of it may be left where the player cannot have it, while the level is played. */
const canBeOutOfReach = (facts: Facts, { id, heaps }: Watched): boolean =>
  facts.isUp(id) !== undefined || heaps.some(({ spots }) => spots !== undefined);

/** So many are asked for at once. */
const atOnce = 8;

function questions(facts: Facts, watched: Watched[], number: (watched: Watched) => number): Question[] {
  const found: Question[] = [];
  for (const each of watched) {
    const n = number(each);
    const question = (found[Math.floor(n / atOnce)] ??= { bits: new Map(), goals: new Uint8Array(facts.count) });
    question.bits.set(each, 1 << (n % atOnce));
  }
  return found;
}

/** Finds out in which states what can be had. */
function lookFor(facts: Facts, watched: Watched[], asked: Question[]): void {
  const there = facts.places.map((place) => {
    const here = watched.filter(({ id }) => id === place);
    const heaps = here.flatMap((each) =>
      each.heaps.map((heap) => ({
        heap,
        goals: asked.flatMap(({ bits, goals }) => (bits.has(each) ? [{ goals, bit: bits.get(each)! }] : []))
      }))
    );
    const spots = new Set(heaps.flatMap(({ heap }) => heap.spots ?? []));
    const bySpot = new Map(
      [...spots].map((spot) => [spot, heaps.filter(({ heap }) => !heap.spots || heap.spots.includes(spot))])
    );
    return {
      isUp: here.length > 0 ? facts.isUp(place) : undefined,
      bySpot,
      everywhere: heaps.filter(({ heap }) => !heap.spots),
      some: heaps.length > 0
    };
  });
  for (let state = 0; state < facts.count; state++) {
    const bottom = facts.bottom(state);
    const { isUp, bySpot, everywhere, some } = there[bottom]!;
    if (!some || facts.active(state) !== bottom || (isUp && !isUp(state))) continue;
    const spot = bySpot.size === 0 ? undefined : facts.spotIn(state);
    for (const { heap, goals } of (spot !== undefined && bySpot.get(spot)) || everywhere) {
      if (heap.left(state) === 0) continue;
      heap.had = true;
      for (const { goals: reached, bit } of goals) reached[state]! |= bit;
    }
  }
}

const renewsInLevel = (piece: Piece) => ['arrival', 'attempt'].includes(renewalOf(piece));

/** Of foes only those matter that are asked for, or whose defeat is. */
function canBeMissed(flow: Flow, { id, piece, value }: Watched): boolean {
  if (!renewsInLevel(value) || !usedUp(value)) return false;
  if (value.kind !== 'foe') return true;
  const asks = (text: Expression | undefined) =>
    text !== undefined && parts(text).some((part) => (part.kind === 'left' || part.kind === 'taken') && part.piece === piece);
  const rules = [...flow.rules.values()].filter(
    ({ owner }) => !('place' in owner) || owner.place === id || !isLevelIn(flow, owner.place)
  );
  return (
    flow.passagesIn(id).some(({ condition }) => asks(condition)) ||
    rules.some(
      ({ rule, condition, holds }) => ('defeat' in rule.when && rule.when.defeat === piece) || asks(condition) || asks(holds)
    )
  );
}

const isLevelIn = ({ document }: Flow, place: Id) => document.places[place]!.kind === 'level';

function pieceInReach(facts: Facts, { id, level, piece, value, heaps }: Watched): Verdict {
  const [subject, pointer] = [`${id}/${piece}`, `/places/${id}/pieces/${piece}`];
  const had = new Set(heaps.flatMap(({ had: reached, entries }) => (reached ? entries : [])));
  const far = facts.touchedOnWay.has(subject) ? [] : heapsOf(piece, value).filter((_, entry) => !had.has(entry));
  if (far.length === 0)
    return verdict('piece-in-reach', subject, 'holds', `The player gets to every ${value.name} in ${level.name}.`, { pointer });
  const outcome = neverYet(facts, id);
  const spots = [...new Set(far.flatMap(({ spots: some = [] }) => some))];
  const where = spots.map((spot) => spotName(facts.flow.document, { place: id }, spot)).join(', ');
  const all = numberOf(heapsOf(piece, value));
  const message =
    outcome === 'open'
      ? `It is not settled whether the player gets to every ${value.name} in ${level.name}.`
      : `The player never gets to ${numberOf(far) === all ? '' : `${numberOf(far)} of `}${counted(value.name, all)} in ${level.name}: ${where}.`;
  const why = spots
    .filter((spot) => !facts.stood.has(`${id}/${spot}`))
    .flatMap((spot) => whyNotThere(facts, id, spot).map((reason) => ({ ...reason, spots: [spot] })));
  return verdict('piece-in-reach', subject, outcome, message, { pointer, ...(outcome === 'fails' && why.length > 0 && { why }) });
}

/** `missable`: in an attempt that goes on, what is left can still be had, without a place entered afresh before. */
function missable(facts: Facts, all: Watched[], asked: Question[]): Verdict[] {
  const isUp = new Map(all.map(({ id }) => [id, facts.isUp(id)]));
  const bad = new Map(
    asked.flatMap((question) => [
      ...firstBad(facts, question, { all: 255, within: 255, run: 0, erased: 0 }, ({ id }, state) => {
        return !facts.over(state) && isUp.get(id)?.(state) !== false;
      })
    ])
  );
  return all.map((each) => {
    const { id, level, piece, value } = each;
    const words = `${value.name} in ${level.name}`;
    const at = bad.get(each);
    const taken = takenWord(value.kind);
    const message =
      at === undefined
        ? `What is left of ${words} can always be ${taken}.`
        : `${words} can be missed: some left can no longer be ${taken}.`;
    return outcomeOf(facts, 'missable', id, piece, message, at);
  });
}

/** `lost-for-good`: what stays taken beyond its level can still be had, from everywhere; of what a new run brings back, in this one. */
function lostForGood(facts: Facts, all: Watched[], asked: Question[]): Verdict[] {
  const kinds = facts.places.map((id) => facts.flow.document.places[id]!.kind);
  const bad = new Map(
    asked.flatMap((question) => {
      const perRun = [...question.bits].reduce((bits, [each, bit]) => bits | (isPerRun(each) ? bit : 0), 0);
      return [
        ...firstBad(facts, question, { all: 255, within: 0, run: perRun, erased: 255 }, (each, state) => {
          const kind = kinds[facts.bottom(state)];
          return isPerRun(each) ? kind === 'level' : kind !== 'ending';
        })
      ];
    })
  );
  return all.map((each) => {
    const { id, level, piece, value } = each;
    const words = `${value.name} in ${level.name}`;
    const at = bad.get(each);
    const until = isPerRun(each) ? ' until a new run begins' : '';
    const message =
      at === undefined
        ? `What is left of ${words} can always be collected later.`
        : `${words} can be lost${until || ' for good'}: some left can no longer be collected${until}.`;
    const found = outcomeOf(facts, 'lost-for-good', id, piece, message, at);
    return { ...found, ...(isPerRun(each) && { severity: 'information' as const }) };
  });
}

const isPerRun = ({ value }: Watched) => renewalOf(value) === 'run';

/** For each piece the first state in which it is asked for and can no longer be had, with some left that ever can. */
function firstBad(
  facts: Facts,
  { bits, goals }: Question,
  asked: Asked,
  isAsked: (watched: Watched, state: number) => boolean
): Map<Watched, number> {
  const bad = new Map<Watched, number>();
  const watched = [...bits].flatMap(([each, bit]) => {
    const heaps = each.heaps.filter(({ had }) => had);
    return heaps.length > 0 ? [{ each, bit, heaps }] : [];
  });
  const there = facts.places.map((place) => watched.filter(({ each }) => asked.within === 0 || each.id === place));
  /** The first states from which it cannot be had, as far as is known by `reached`, each with its piece. */
  const doubtful = function* (reached: Uint8Array): Generator<[Watched, number]> {
    for (let state = 0; state < facts.count && bad.size < watched.length; state++)
      for (const { each, bit, heaps } of there[facts.bottom(state)]!) {
        if ((reached[state]! & bit) !== 0 || bad.has(each) || !isAsked(each, state)) continue;
        if (heaps.some((heap) => heap.left(state) > 0)) yield [each, state];
      }
  };
  // mostly it can be had at once wherever it is asked for
  if (doubtful(goals).next().done) return bad;
  for (const [each, state] of doubtful(reaching(facts, goals, asked))) bad.set(each, state);
  return bad;
}

function outcomeOf(
  facts: Facts,
  check: 'missable' | 'lost-for-good',
  id: Id,
  piece: Id,
  message: string,
  at: number | undefined
): Verdict {
  const pointer = `/places/${id}/pieces/${piece}`;
  if (at === undefined) return verdict(check, `${id}/${piece}`, withoutFault(facts, facts.entered.has(id)), message, { pointer });
  const why = check === 'missable' ? spotsWhy(facts, id, at) : trapWhy(facts, at);
  return verdict(check, `${id}/${piece}`, 'fails', message, { pointer, ...(why.length > 0 && { why }), facts, at });
}

/** The spots to which the player still gets in a level, where that is not all of it. */
function spotsWhy(facts: Facts, id: Id, from: number): Reason[] {
  const { spots } = facts.flow.document.places[id] as Level;
  // where spots are not told apart, the player gets to all of them
  if (!groundsOf(facts.flow).get(id)?.kept) return [];
  const found = new Set([...statesFrom(facts, from, true)].flatMap((state) => facts.spotIn(state) ?? []));
  if (found.size === 0 || found.size === Object.keys(spots).length) return [];
  const names = Object.keys(spots)
    .filter((spot) => found.has(spot))
    .map((spot) => spots[spot]!.name);
  return [{ text: `From there the player only gets to ${names.join(', ')}.` }];
}
