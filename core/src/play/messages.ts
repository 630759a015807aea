/** Which text a place shows in a state, and what its placeholders say then (docs/flow-format.md, section 1). */
import { casesOf, placeholder, withPlaceholders, type Placeholder, type ShownWord } from '../document/messages.ts';
import { numbersOf } from '../document/orders.ts';
import { levelsCounted, own, type Id, type Level } from '../document/types.ts';
import { piecesIn } from '../language/ast.ts';
import { evaluate } from '../language/evaluate.ts';
import { valueNamed } from '../document/values.ts';
import { conditionAt } from './scope.ts';
import type { Flow } from './flow.ts';
import { orderOf } from './orders.ts';
import { active, bottom, type State } from './state.ts';
import { readingOf, valueOf } from './turn.ts';
import { countOf } from '../vocabulary/pieces.ts';

/** Which of its texts the active place shows, counted from 0; -1 where it has none that fits. */
function caseShown(flow: Flow, state: State): number {
  const place = active(state).place;
  return casesOf(own(flow.document.places, place)?.message).findIndex(
    ({ if: condition }) => condition === undefined || holdsIn(flow, state, place, condition)
  );
}

/** The text that the active place shows, with what its placeholders say; undefined where it shows none. */
export function messageIn(flow: Flow, state: State): string | undefined {
  const { message } = flow.document.places[active(state).place] ?? {};
  const found = casesOf(message)[caseShown(flow, state)];
  return found && withPlaceholders(found.text, (content) => said(flow, state, placeholder(content)));
}

/** A condition that cannot be read, or that asks for a piece which is not there, does not hold. */
function holdsIn(flow: Flow, state: State, place: Id, text: string): boolean {
  const condition = conditionAt(flow.document, { place }, text);
  const pieces = levelAt(flow, state)?.pieces ?? {};
  if (!condition || !piecesIn(condition).every((piece) => Object.hasOwn(pieces, piece))) return false;
  return evaluate(condition, readingOf(flow, state)) === true;
}

function levelAt({ document }: Flow, state: State): Level | undefined {
  const place = own(document.places, bottom(state).place);
  return place?.kind === 'level' ? place : undefined;
}

type Say = (flow: Flow, state: State, name: Id) => string | undefined;

const ofPiece =
  (count: (left: number, all: number) => number): Say =>
  (flow, state, name) => {
    const piece = own(levelAt(flow, state)?.pieces ?? {}, name);
    return piece && String(count(readingOf(flow, state).left(name), countOf(piece)));
  };

/** The level at the bottom, else the one played last. */
const playing = ({ document }: Flow, state: State): Id | undefined => {
  const level = bottom(state).place;
  return own(document.places, level)?.kind === 'level' ? level : state.latest?.level;
};

/** What can be shown besides values, by the word before the brackets. */
const words: Record<ShownWord, Say> = {
  left: ofPiece((left) => left),
  taken: ofPiece((left, all) => all - left),
  count: (flow, state, name) => {
    const counted = levelsCounted(flow.document, name);
    return ofPiece((_, all) => all)(flow, state, name) ?? counted?.toString();
  },
  wins: (flow, state, name) => {
    return levelsCounted(flow.document, name) === undefined ? undefined : String(readingOf(flow, state).wins(name));
  },
  name: (flow, state) => flow.document.places[playing(flow, state) ?? '']?.name ?? '',
  number: (flow, state) => {
    const level = playing(flow, state);
    const numbers = level === undefined ? [] : numbersOf(flow.document, level);
    const order = orderOf(flow, state);
    return String((numbers.find((each) => each.order === order) ?? numbers[0])?.number ?? '');
  },
  saved: (_, state) => String(state.bookmark?.progress ?? 0)
};

function said(flow: Flow, state: State, shows: Placeholder | undefined): string | undefined {
  if (!shows) return undefined;
  if (shows.word !== undefined) return own<Say>(words, shows.word)?.(flow, state, shows.name);
  return (
    own(flow.document.variables, shows.name) && valueNamed(flow.document.variables[shows.name], valueOf(flow, state, shows.name))
  );
}
