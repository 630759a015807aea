/** Whether the player gets to every spot of a level, and through every passage; and why not. */
import { own, type Id, type Level } from '../document/types.ts';
import { piecesIn } from '../language/ast.ts';
import type { FittingPassage } from '../play/fit.ts';
import { derivedOf } from '../plan/grown.ts';
import type { Facts } from '../explore/facts.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { standingsOf } from '../vocabulary/pieces.ts';
import { conditionWords, counted, passageName, spotName } from '../words/words.ts';
import { seenValues } from './reasons.ts';
import { verdict } from './verdict.ts';

/** `spot-reached` and `passage-walked`: by arrival or passage the player comes to each spot, and takes each passage. */
export function groundChecks(facts: Facts): Verdict[] {
  return facts.flow.levels.flatMap(([id, level]) => {
    // whether the player gets on from the cell of a hazard is no question: whether it is touched is told of the piece
    const { spots = {} } = derivedOf(facts.flow.document, level) ?? {};
    const isMoment = (spot: Id) => own(spots, spot)?.acts !== undefined;
    return [
      ...Object.keys(level.spots)
        .filter((spot) => !isMoment(spot) || facts.stood.has(`${id}/${spot}`))
        .map((spot) => spotReached(facts, id, spot)),
      ...facts.flow
        .passagesIn(id)
        .filter((passage) => !isMoment(passage.passage.from) || facts.walked.has(passage.id))
        .map((passage) => passageWalked(facts, passage))
    ];
  });
}

function spotReached(facts: Facts, id: Id, spot: Id): Verdict {
  const level = facts.flow.document.places[id] as Level;
  const { name } = level.spots[spot]!;
  const [subject, pointer] = [`${id}/${spot}`, `/places/${id}/spots/${spot}`];
  const at = facts.stood.get(subject);
  if (at)
    return verdict('spot-reached', subject, 'holds', `The player comes to ${name} in ${level.name}.`, { pointer, facts, at });
  const outcome = neverYet(facts, id);
  const message =
    outcome === 'open'
      ? `It is not settled whether the player comes to ${name} in ${level.name}.`
      : `The player never comes to ${name} in ${level.name}.`;
  return verdict('spot-reached', subject, outcome, message, {
    pointer,
    ...(outcome === 'fails' && { why: whyNotThere(facts, id, spot) })
  });
}

/** What it comes to that something in a level never happened. */
export const neverYet = (facts: Facts, level: Id) =>
  !facts.complete ? 'open' : facts.entered.has(level) ? 'fails' : 'unreached';

function passageWalked(facts: Facts, passage: FittingPassage): Verdict {
  const { id: subject, level: id, name } = passage;
  const { document } = facts.flow;
  const level = document.places[id] as Level;
  const pointer = `/places/${id}/passages/${name}`;
  const words = `${passageName(document, { place: id }, name)} in ${level.name}`;
  const at = facts.walked.get(subject);
  if (at) return verdict('passage-walked', subject, 'holds', `The player can take ${words}.`, { pointer, facts, at });
  const outcome = neverYet(facts, id);
  const message =
    outcome === 'open' ? `It is not settled whether the player can take ${words}.` : `The player can never take ${words}.`;
  return verdict('passage-walked', subject, outcome, message, {
    pointer,
    ...(outcome === 'fails' && { why: [whyNotWalked(facts, passage)] })
  });
}

/** Why a passage is never taken: its start is never reached, or its condition is never true. */
function whyNotWalked(facts: Facts, passage: FittingPassage): Reason {
  const { id, level, name } = passage;
  const { document } = facts.flow;
  const owner = { place: level };
  const words = passageName(document, owner, name);
  const { from, to, both, if: condition } = passage.passage;
  const starts = both ? [from, to] : [from];
  const begins = starts.map((spot) => spotName(document, owner, spot)).join(' or ');
  if (!starts.some((spot) => facts.stood.has(`${level}/${spot}`)))
    return { text: `${words} begins at ${begins}, which the player never reaches.`, spots: starts };
  const asked = facts.rules.get(id);
  if (!asked?.wasFalse || asked.wasTrue) return { text: `${words} begins at ${begins}, where the player can never act.` };
  const values = seenValues(document, owner, asked);
  const far = standsBehind(facts, passage);
  const behind = far.map(({ piece, spots, n }) => {
    const where = spots.map((spot) => spotName(document, owner, spot)).join(', ');
    return ` ${counted(piece.name, n)} ${n === 1 ? 'stands' : 'stand'} out of reach: ${where}.`;
  });
  return {
    text: `${words} asks for “${conditionWords(document, owner, condition!)}”, which is never true${values ? ` (${values})` : ''}.${behind.join('')}`,
    never: 'condition never true',
    ...(far.length > 0 && { spots: [...new Set(far.flatMap(({ spots }) => spots))] })
  };
}

/** The pieces that a passage asks for and that stand where the player never comes. */
function standsBehind({ flow, stood }: Facts, { level: id, condition }: FittingPassage) {
  const { pieces } = flow.document.places[id] as Level;
  const asked = condition ? [...new Set(piecesIn(condition))] : [];
  return asked.flatMap((each) => {
    const piece = pieces[each]!;
    const far = (standingsOf(piece) ?? []).filter(({ spots }) => !spots.some((spot) => stood.has(`${id}/${spot}`)));
    return far.length > 0 ? [{ piece, n: numberOf(far), spots: [...new Set(far.flatMap(({ spots }) => spots))] }] : [];
  });
}

/** Why the player never comes to a spot: no passage leads there, or why those that do are never taken. */
export function whyNotThere(facts: Facts, id: Id, spot: Id): Reason[] {
  const { flow } = facts;
  const name = spotName(flow.document, { place: id }, spot);
  const leading = flow.passagesIn(id).filter(({ passage: { from, to, both } }) => to === spot || (both && from === spot));
  if (leading.length === 0) return [{ text: `No passage leads to ${name}.`, spots: [spot] }];
  return leading.map((passage) => whyNotWalked(facts, passage));
}

/** How many there are of several heaps together. */
export const numberOf = (heaps: { n: number }[]): number => heaps.reduce((all, { n }) => all + n, 0);
