/** The words in which the product speaks of a document: a designer's, not a checker's. */
import type { Arrival } from '../report/report.ts';
import { rulesReadIn } from '../play/reading.ts';
import {
  levelsOf,
  own,
  type Effect,
  type FlowDocument,
  type Id,
  type Level,
  type Owner,
  type Piece,
  type Rule,
  type Seconds,
  type Target,
  type Variable
} from '../document/types.ts';
import { valueNamed } from '../document/values.ts';
import type { Expression, Had } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { effectSaid } from '../vocabulary/effects.ts';
import type { Say } from '../vocabulary/fields.ts';
import { moves } from '../vocabulary/moves.ts';
import { takenWord, countOf, standingsOf } from '../vocabulary/pieces.ts';
import { slotParts } from '../vocabulary/saves.ts';
import { triggerKind, triggerSaid } from '../vocabulary/triggers.ts';

/** A name, or the id itself where nothing has it: it was deleted, or never written so. */
export function placeName(document: FlowDocument, id: Id): string {
  return own(document.places, id)?.name ?? `"${id}" (missing)`;
}

export function variableName(document: FlowDocument, id: Id): string {
  return own(document.variables, id)?.name ?? `"${id}" (missing)`;
}

/** One of our own words for so many; what the designer has named is never inflected. */
export function plural(word: string, n: number): string {
  return n === 1 ? word : `${word}s`;
}

/** So many of what a designer has named: "Lamp × 3". */
export function counted(name: string, n: number): string {
  return n === 1 ? `1 ${name}` : `${name} × ${n}`;
}

/** A text with a large first letter, as a sentence begins. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The variable that an expression is; undefined of any other. */
export function variableOf(document: FlowDocument, expression: Expression): Variable | undefined {
  return expression.kind === 'variable' ? own(document.variables, expression.id) : undefined;
}

/** The level whose thing of an id the rules of an owner see: their own, else the first that has one. */
function levelWith(document: FlowDocument, owner: Owner, map: 'pieces' | 'spots' | 'passages', id: Id): Level | undefined {
  const place = 'place' in owner ? own(document.places, owner.place) : undefined;
  const has = (level: Level) => Object.hasOwn(level[map], id);
  if (place?.kind === 'level' && has(place)) return place;
  const levels = levelsOf(document).map(([, level]) => level);
  return levels.find((level) => has(level) && (!('group' in owner) || level.group === owner.group));
}

/** The piece of an id as the rules of an owner see it. */
export const pieceFor = (document: FlowDocument, owner: Owner, id: Id): Piece | undefined =>
  levelWith(document, owner, 'pieces', id)?.pieces[id];

/** Where the pieces of a kind stand, and how many at each spot: "Yard 2, Loft or Attic 1"; empty where they are everywhere. */
export const standingWords = (document: FlowDocument, level: Id, piece: Piece): string =>
  (standingsOf(piece) ?? [])
    .map(({ spots, n }) => `${spots.map((spot) => spotName(document, { place: level }, spot)).join(' or ')} ${n}`)
    .join(', ');

/** A spot by its name; an area of a plan by its own. */
export const spotName = (document: FlowDocument, owner: Owner, id: Id): string =>
  levelWith(document, owner, 'spots', id)?.spots[id]?.name ?? areaName(document, owner, id) ?? `"${id}" (missing)`;

function areaName(document: FlowDocument, owner: Owner, id: Id): string | undefined {
  const here = 'place' in owner ? own(document.places, owner.place) : undefined;
  const levels = here?.kind === 'level' ? [here] : levelsOf(document).map(([, level]) => level);
  return levels.map(({ plan }) => own(plan?.areas ?? {}, id)?.name).find((name) => name !== undefined);
}

/** A passage by its name, else by its ends: "Yard → Loft", "Yard ↔ Loft". */
export function passageName(document: FlowDocument, owner: Owner, id: Id): string {
  const passage = levelWith(document, owner, 'passages', id)?.passages[id];
  if (!passage) return `"${id}" (missing)`;
  const [from, to] = [passage.from, passage.to].map((spot) => spotName(document, owner, spot));
  return passage.name ?? `${from} ${passage.both ? '↔' : '→'} ${to}`;
}

export function pieceName(document: FlowDocument, owner: Owner, id: Id): string {
  return pieceFor(document, owner, id)?.name ?? `"${id}" (missing)`;
}

/** A condition in words, from its text; text that does not parse is given as it stands. */
export function conditionWords(document: FlowDocument, owner: Owner, text: string): string {
  try {
    return expressionWords(document, owner, parse(text));
  } catch {
    return text;
  }
}

/** A parsed condition or expression in words. */
export function expressionWords(document: FlowDocument, owner: Owner, expression: Expression): string {
  const words = (part: Expression) => expressionWords(document, owner, part);
  const bracket = (part: Expression) => (part.kind === 'or' || part.kind === 'and' ? `(${words(part)})` : words(part));
  switch (expression.kind) {
    case 'integer':
    case 'truth':
      return String(expression.value);
    case 'literal':
      return expression.id.replaceAll('_', ' ');
    case 'variable':
      return own(document.variables, expression.id)
        ? variableName(document, expression.id)
        : numberWords(document, expression.id);
    case 'negative':
      return `−${bracket(expression.of)}`;
    case 'not':
      return `not ${bracket(expression.of)}`;
    case 'and':
      return `${expression.left.kind === 'or' ? bracket(expression.left) : words(expression.left)} and ${expression.right.kind === 'or' ? bracket(expression.right) : words(expression.right)}`;
    case 'or':
      return `${words(expression.left)} or ${words(expression.right)}`;
    case 'compare':
      return comparisonWords(document, owner, expression);
    case 'arithmetic':
      return `${bracket(expression.left)} ${{ '+': '+', '-': '−', '*': '×' }[expression.operator]} ${bracket(expression.right)}`;
    case 'min':
    case 'max':
      return `the ${expression.kind === 'min' ? 'smaller' : 'larger'} of ${words(expression.left)} and ${words(expression.right)}`;
    case 'left':
    case 'taken': {
      const piece = pieceFor(document, owner, expression.piece);
      const name = piece?.name ?? expression.piece;
      return expression.kind === 'left' ? `${name} left` : `${name} ${takenWord(piece?.kind ?? 'pickup')}`;
    }
    case 'won':
      return `${placeName(document, expression.level)} is won`;
    case 'wonCandidate':
      return expression.which === 'it' ? 'it is won' : 'the one before it is won';
    case 'wins':
      return `levels won of ${listName(document, expression.of)}`;
    case 'last':
      return `the last attempt was ${expression.which}`;
    case 'has': {
      const { what, order } = expression;
      const along = order === undefined ? '' : ` in ${own(document.orders, order)?.name ?? order}`;
      return `${haveWords[what]}${along}`;
    }
    case 'saved':
      return 'the saved progress';
    case 'at':
      return `the player is at ${spotName(document, owner, expression.spot)}`;
    case 'all': {
      const piece = pieceFor(document, owner, expression.of);
      return piece ? allTakenWords(piece) : `all of ${listName(document, expression.of)} is won`;
    }
    case 'count': {
      const piece = pieceFor(document, owner, expression.of);
      return piece ? `how many ${piece.name} there are` : `how many levels ${listName(document, expression.of)} has`;
    }
    case 'position':
      return 'its number';
  }
}

/** What is asked by `has(…)`. */
export const haveWords: Record<Had, string> = {
  next: 'there is a next level',
  previous: 'there is a previous level',
  save: 'there is a saved game',
  slot: 'the picked slot is used'
};

/** The name of a group, else of an order. */
const listName = (document: FlowDocument, id: Id) => own(document.groups, id)?.name ?? own(document.orders, id)?.name ?? id;

/** Of a piece that is used up: "Lamp × 7 are all collected". */
export function allTakenWords(piece: Piece): string {
  const count = countOf(piece);
  const done = takenWord(piece.kind);
  return count === 1 ? `${piece.name} is ${done}` : `${counted(piece.name, count)} are all ${done}`;
}

/** "left(lamp) = 0" is said as "Lamp × 7 are all collected", "taken(lamp) >= 5" as "Lamp × 5 are collected". */
function comparisonWords(
  document: FlowDocument,
  owner: Owner,
  { left, operator, right }: Expression & { kind: 'compare' }
): string {
  if ((left.kind === 'left' || left.kind === 'taken') && right.kind === 'integer') {
    const piece = pieceFor(document, owner, left.piece);
    if (piece) {
      const count = countOf(piece);
      const done = takenWord(piece.kind);
      const n = Number(right.value);
      const all =
        (left.kind === 'left' && operator === '=' && n === 0) || (left.kind === 'taken' && operator === '>=' && n === count);
      if (all) return allTakenWords(piece);
      if (left.kind === 'taken' && operator === '>=') return `${counted(piece.name, n)} ${n === 1 ? 'is' : 'are'} ${done}`;
    }
  }
  // a choice's value goes by its label, which the variable beside it has
  const literal = ([one, other]: [Expression, Expression]) =>
    one.kind === 'literal' && other.kind === 'variable'
      ? valueNamed(own(document.variables, other.id), one.id)
      : expressionWords(document, owner, one);
  const signs = { '=': 'is', '!=': 'is not', '<': 'is less than', '<=': 'is at most', '>': 'is more than', '>=': 'is at least' };
  return `${literal([left, right])} ${signs[operator]} ${literal([right, left])}`;
}

/** How the things of a document are called in the rules of an owner. */
export function sayIn(document: FlowDocument, owner: Owner): Say {
  const nameIn = (map: Record<Id, { name: string }>) => (id: Id) => own(map, id)?.name ?? `"${id}" (missing)`;
  return {
    variable: nameIn(document.variables),
    signal: nameIn(document.signals),
    order: nameIn(document.orders),
    place: nameIn(document.places),
    seconds: (seconds) => secondsWords(document, seconds),
    piece: (id) => pieceName(document, owner, id),
    spot: (id) => spotName(document, owner, id),
    passage: (id) => passageName(document, owner, id),
    value: (id, text) => {
      const [, choice] = /^\s*'([a-z0-9_]+)'\s*$/.exec(text) ?? [];
      return choice === undefined ? conditionWords(document, owner, text) : valueNamed(own(document.variables, id), choice);
    },
    text: (text) => conditionWords(document, owner, text)
  };
}

/** A named number with what it is, as conditions speak of it: "Goal (15)". */
function numberWords(document: FlowDocument, id: Id): string {
  const found = own(document.numbers, id);
  return found ? `${found.name} (${found.value})` : variableName(document, id);
}

/** Seconds as they are meant: "1.2 s", or with the number that says it, "Gust pause (1.2 s)". */
export function secondsWords(document: FlowDocument, seconds: Seconds): string {
  if (typeof seconds === 'number') return `${seconds} s`;
  const found = own(document.numbers, seconds);
  return found ? `${found.name} (${found.value} s)` : `"${seconds}" (missing)`;
}

/** When a rule fires, as the beginning of a sentence: "when Gust is touched". */
export function triggerWords(document: FlowDocument, owner: Owner, { when }: Rule): string {
  return triggerSaid(when, sayIn(document, owner));
}

export function ownerWords(document: FlowDocument, owner: Owner): string {
  if ('place' in owner) return placeName(document, owner.place);
  return 'group' in owner ? `every level of ${own(document.groups, owner.group)?.name ?? owner.group}` : 'every level';
}

/** A rule named in a sentence: “once Lamp × 7 are all collected” in Quay Street. */
export function ruleWords(document: FlowDocument, owner: Owner, rule: Rule): string {
  const condition = rule.if === undefined ? '' : `, if ${conditionWords(document, owner, rule.if)}`;
  return `“${triggerWords(document, owner, rule)}${condition}” in ${ownerWords(document, owner)}`;
}

/** What an effect does: "take 1 from Lives", "begin a new run". */
export function effectWords(document: FlowDocument, owner: Owner, effect: Effect): string {
  return effectSaid(effect, sayIn(document, owner));
}

/** The same with when the player sees it, where that is said. */
export function effectSeenWords(document: FlowDocument, owner: Owner, effect: Effect): string {
  const seen = { leaving: ' (seen while leaving)', hidden: ' (unseen)' };
  return effectWords(document, owner, effect) + (effect.at ? seen[effect.at] : '');
}

/** An objective of a level, as it is spoken of: "“Light every lamp”". */
export function objectiveWords(document: FlowDocument, level: Id, id: Id): string {
  return `“${(document.places[level] as Level).objectives[id]!.text}”`;
}

/** Where a target leads, in words. */
export function targetWords(document: FlowDocument, target: Target): string {
  if ('place' in target) {
    const place = own(document.places, target.place);
    const at = target.entry && place?.kind === 'level' ? ` at ${own(place.entries, target.entry)?.name ?? target.entry}` : '';
    return `${placeName(document, target.place)}${at}`;
  }
  const order =
    target.order && Object.keys(document.orders).length > 1
      ? ` of ${own(document.orders, target.order)?.name ?? target.order}`
      : '';
  const otherwise = target.else ? `, or ${targetWords(document, target.else)}` : '';
  return `${moves[target.move].words}${order}${otherwise}`;
}

/** "3, which show Level, Progress, Score"; undefined where nothing is said of saved games. */
export function savesWords(document: FlowDocument): string | undefined {
  if (!document.saves) return undefined;
  const { slots = 1, shows = [] } = document.saves;
  const names = shows.map((what) => own(slotParts, what) ?? variableName(document, what));
  return names.length > 0 ? `${slots}, which show ${names.join(', ')}` : String(slots);
}

/** How a level is won, in a few words for its tile: "Lamp × 7", "reach Ferry". */
export function goalWords(document: FlowDocument, level: Id): string {
  const place = document.places[level];
  if (place?.kind !== 'level') return '';
  const winning = rulesReadIn(document, level).flatMap(({ rule }) => (rule.result === 'won' ? [rule] : []));
  if (place.goal === 'leave') return 'leave it';
  if (winning.length === 0) return 'no way to win';
  const owner: Owner = { place: level };
  const short = winning.map(({ when }) => {
    if ('touch' in when) return `reach ${pieceName(document, owner, when.touch)}`;
    if ('press' in when) return when.press;
    if ('after' in when) return `last ${secondsWords(document, when.after)}`;
    if ('holds' in when)
      return conditionWords(document, owner, when.holds).replace(/ (is|are|are all) (collected|defeated)/g, '');
    return triggerKind(when);
  });
  return [...new Set(short)].join(' or ');
}

/** The values with which a place is entered: "1 to 3", "yes or no". */
export function arrivalWords(arrival: Arrival, variable?: Variable): string {
  if ('min' in arrival) return arrival.min === arrival.max ? String(arrival.min) : `${arrival.min} to ${arrival.max}`;
  return arrival.values.map((value) => valueNamed(variable, value)).join(' or ');
}
