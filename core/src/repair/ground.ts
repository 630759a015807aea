/** Findings inside a level: spots that are never reached, passages that are never open, pieces out of reach, points of no return. */
import type { Change } from '../document/patch.ts';
import { openSpots } from '../document/ground.ts';
import { addPassage, changePassage, movePiece, removePassage, removeSpot, standsAt } from '../document/edits/ground.ts';
import { changePiece } from '../document/edits/parts.ts';
import { own, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { piecesIn } from '../language/ast.ts';
import type { Verdict } from '../report/report.ts';
import { counted, passageName, spotName } from '../words/words.ts';
import { named, type Offers } from './offers.ts';
import { planned } from './plan.ts';
import { goalNumbers, parsed } from './rules.ts';

/** The level and the thing in it that a subject names. What follows from a plan is mended in the plan. */
function subjectOf(document: FlowDocument, { subject }: Pick<Verdict, 'subject'>): { id: Id; level: Level; thing: Id } {
  const [id, thing] = subject.split('/') as [Id, Id];
  return { id, level: document.places[id] as Level, thing };
}

const titled = (document: FlowDocument, level: Id, passage: Id) => passageName(document, { place: level }, passage);

function bothWays(document: FlowDocument, level: Id, passage: Id): Change {
  return changePassage(document, level, passage, { both: true }, `Open ${titled(document, level, passage)} both ways`);
}

function newPassage(document: FlowDocument, level: Id, from: Id, to: Id): Change {
  const words = `Add a passage from ${spotName(document, { place: level }, from)} to ${spotName(document, { place: level }, to)}`;
  return named(words, addPassage(document, level, { from, to, both: true }));
}

/** What a passage asks for is put within reach, or it asks for what there is, or for nothing. */
function opened(document: FlowDocument, id: Id, passage: Id, far: Id[]): Change[] {
  const level = document.places[id] as Level;
  const { if: condition, from } = level.passages[passage]!;
  if (condition === undefined) return [];
  const open = openSpots(level);
  const side = open.has(from) ? from : [...open][0];
  const put = (text: string, words: string) => changePassage(document, id, passage, { if: text }, words);
  return [
    ...(side === undefined ? [] : brought(document, id, asked(condition), far, side)),
    ...goalNumbers(document, [id], [{ text: condition, put }]),
    changePassage(document, id, passage, { if: undefined }, `Leave ${titled(document, id, passage)} open`)
  ];
}

const asked = (condition: string): Id[] => {
  const tree = parsed(condition);
  return tree ? [...new Set(piecesIn(tree))] : [];
};

/** Pieces that stand where the player never comes come to stand at a spot. */
function brought(document: FlowDocument, id: Id, pieces: Id[], far: Id[], to: Id): Change[] {
  const level = document.places[id] as Level;
  return pieces.flatMap((piece) => {
    const value = own(level.pieces, piece);
    const from = value ? far.filter((spot) => standsAt(value, spot) > 0) : [];
    return from.map((spot) =>
      named(
        `Move ${counted(value!.name, standsAt(value!, spot))} to ${level.spots[to]!.name}`,
        movePiece(document, id, piece, to, spot)
      )
    );
  });
}

const farIn = ({ why = [] }: Pick<Verdict, 'why'>): Id[] => [...new Set(why.flatMap(({ spots = [] }) => spots))];

const spotReached: Offers = (document, verdict) => {
  const { id, level, thing: spot } = subjectOf(document, verdict);
  if (level.plan) return planned(document, id, verdict);
  return [
    ...reached(document, id, spot, farIn(verdict)),
    named(`Delete the spot ${level.spots[spot]!.name}`, removeSpot(document, id, spot))
  ];
};

/** A spot comes within reach: what leads there is opened, or there is a passage. */
function reached(document: FlowDocument, id: Id, spot: Id, far: Id[]): Change[] {
  const level = document.places[id] as Level;
  if (!own(level.spots, spot)) return [];
  const open = openSpots(level);
  const passages = Object.entries(level.passages);
  const leading = passages.filter(([, { to, from, both }]) => to === spot || (both && from === spot));
  const away = passages.filter(([, { from, to, both }]) => !both && from === spot && open.has(to));
  const [start] = open;
  return [
    ...leading.flatMap(([passage]) => opened(document, id, passage, far)),
    ...away.map(([passage]) => bothWays(document, id, passage)),
    ...(start === undefined || open.has(spot) ? [] : [newPassage(document, id, start, spot)])
  ];
}

const passageWalked: Offers = (document, verdict) => {
  const { id, level, thing: passage } = subjectOf(document, verdict);
  if (level.plan) return planned(document, id, verdict);
  const far = farIn(verdict);
  const { from } = level.passages[passage]!;
  return [
    ...opened(document, id, passage, far),
    ...(far.includes(from) ? reached(document, id, from, far) : []),
    named(`Delete the passage ${titled(document, id, passage)}`, removePassage(document, id, passage))
  ];
};

const pieceInReach: Offers = (document, verdict) => {
  const { id, level, thing: piece } = subjectOf(document, verdict);
  if (level.plan) return planned(document, id, verdict, piece);
  const far = farIn(verdict);
  const [start] = openSpots(level);
  return [
    ...far.flatMap((spot) => reached(document, id, spot, far)),
    ...(start === undefined ? [] : brought(document, id, [piece], far, start))
  ];
};

/** Passages that lead back, where some lead only one way; the first of which no other leads back. */
export function waysBack(document: FlowDocument, id: Id): Change[] {
  const level = own(document.places, id);
  if (level?.kind !== 'level' || level.plan) return [];
  const passages = Object.entries(level.passages);
  const single = passages.filter(
    ([, { from, to, both }]) =>
      !both && !passages.some(([, other]) => other.from === to && other.to === from && other.if === undefined)
  );
  return single.slice(0, 3).map(([passage]) => bothWays(document, id, passage));
}

const canBeMissed: Offers = (document, verdict) => waysBack(document, subjectOf(document, verdict).id);

const canBeLost: Offers = (document, verdict) => {
  const { id, level, thing: piece } = subjectOf(document, verdict);
  const { name } = level.pieces[piece]!;
  return [
    ...waysBack(document, id),
    named(`Bring ${name} back with each attempt`, changePiece(document, id, piece, { renew: 'attempt' }))
  ];
};

/** What a player who is stuck in a level may lack is a way back in it. */
const withWaysBack =
  (offers: Offers): Offers =>
  (document, verdict) => [...waysBack(document, verdict.subject), ...offers(document, verdict)];

/** The offers for findings of whole levels, with those for what is inside them. */
export const withGround = <K extends string>(offers: Record<K, Offers>): Record<K, Offers> => ({
  ...offers,
  ...Object.fromEntries(
    (['level-completable', 'arrival-completable', 'attempt-ends', 'never-stuck'] as const)
      .filter((check): check is K & typeof check => check in offers)
      .map((check) => [check, withWaysBack(offers[check])])
  )
});

export const groundRepairs = {
  'spot-reached': spotReached,
  'passage-walked': passageWalked,
  'piece-in-reach': pieceInReach,
  missable: canBeMissed,
  'lost-for-good': canBeLost
};
