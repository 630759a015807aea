/** The words in which the product speaks of a document: a designer's, not a checker's. */
import type { Arrival } from '../check/report.ts';
import { rulesReadIn } from '../play/reading.ts';
import {
  countOf,
  own,
  triggerKind,
  type Effect,
  type FlowDocument,
  type Id,
  type Owner,
  type Piece,
  type PieceKind,
  type Rule,
  type Target
} from '../document/types.ts';
import type { Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';

export function placeName(document: FlowDocument, id: Id): string {
  return own(document.places, id)?.name ?? `"${id}" (gone)`;
}

export function variableName(document: FlowDocument, id: Id): string {
  return own(document.variables, id)?.name ?? `"${id}" (gone)`;
}

/** English plural of a name that is an ordinary word; other names stay as they are. */
export function plural(name: string, n: number): string {
  if (n === 1 || !/[a-z]$/.test(name)) return name;
  if (/[^aeiou]y$/.test(name)) return `${name.slice(0, -1)}ies`;
  return /(s|x|z|ch|sh)$/.test(name) ? `${name}es` : `${name}s`;
}

/** A text with a large first letter, as a sentence begins. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** What is done to a piece of each kind, for "all lamps are …". */
export function takenWord(kind: PieceKind): string {
  return kind === 'foe' || kind === 'player' ? 'defeated' : 'collected';
}

/** The piece of an id as the rules of an owner see it: its level's own, else that of the first level that has one. */
export function pieceFor(document: FlowDocument, owner: Owner, id: Id): Piece | undefined {
  const place = 'place' in owner ? own(document.places, owner.place) : undefined;
  if (place?.kind === 'level' && own(place.pieces, id)) return place.pieces[id];
  for (const other of Object.values(document.places)) {
    if (other.kind === 'level' && own(other.pieces, id) && (!('group' in owner) || other.group === owner.group))
      return other.pieces[id];
  }
  return undefined;
}

export function pieceName(document: FlowDocument, owner: Owner, id: Id): string {
  return pieceFor(document, owner, id)?.name ?? `"${id}" (gone)`;
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
      return variableName(document, expression.id);
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
      const name = plural(piece?.name ?? expression.piece, 2);
      return expression.kind === 'left' ? `${name} left` : `${name} ${takenWord(piece?.kind ?? 'pickup')}`;
    }
    case 'won':
      return `${placeName(document, expression.level)} is won`;
    case 'wonCandidate':
      return expression.which === 'it' ? 'it is won' : 'the one before it is won';
    case 'wins':
      return `levels won of ${own(document.groups, expression.of)?.name ?? own(document.orders, expression.of)?.name ?? expression.of}`;
    case 'position':
      return 'its number';
  }
}

/** "left(lamp) = 0" is said as "all 7 lamps are collected", "taken(lamp) >= 5" as "5 lamps are collected". */
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
      if (all) return count === 1 ? `${piece.name} is ${done}` : `all ${count} ${plural(piece.name, count)} are ${done}`;
      if (left.kind === 'taken' && operator === '>=') return `${n} ${plural(piece.name, n)} ${n === 1 ? 'is' : 'are'} ${done}`;
    }
  }
  const signs = { '=': 'is', '!=': 'is not', '<': 'is less than', '<=': 'is at most', '>': 'is more than', '>=': 'is at least' };
  return `${expressionWords(document, owner, left)} ${signs[operator]} ${expressionWords(document, owner, right)}`;
}

/** When a rule fires, as the beginning of a sentence: "when Gust is touched". */
export function triggerWords(document: FlowDocument, owner: Owner, rule: Rule): string {
  const { when } = rule;
  const piece = (id: Id) => pieceName(document, owner, id);
  if ('press' in when) return `when ${when.press} is pressed`;
  if ('touch' in when) return `when ${piece(when.touch)} is touched`;
  if ('collect' in when) return `when ${piece(when.collect)} is collected`;
  if ('defeat' in when) return `when ${piece(when.defeat)} is defeated`;
  if ('after' in when) return `after ${when.after} s`;
  if ('arrive' in when) return 'on arrival';
  if ('hear' in when) return `when ${own(document.signals, when.hear)?.name ?? when.hear} is raised`;
  if ('holds' in when) return `once ${conditionWords(document, owner, when.holds)}`;
  return `when a level of ${own(document.orders, when.choose)?.name ?? when.choose} is chosen`;
}

export function ownerWords(document: FlowDocument, owner: Owner): string {
  if ('place' in owner) return placeName(document, owner.place);
  return 'group' in owner ? `every level of ${own(document.groups, owner.group)?.name ?? owner.group}` : 'every level';
}

/** A rule named in a sentence: `"once all 7 Lamps are collected" in Quay Street`. */
export function ruleWords(document: FlowDocument, owner: Owner, rule: Rule): string {
  const condition = rule.if === undefined ? '' : `, if ${conditionWords(document, owner, rule.if)}`;
  return `“${triggerWords(document, owner, rule)}${condition}” in ${ownerWords(document, owner)}`;
}

/** What an effect does: "take 1 from Lives", "begin a new run". */
export function effectWords(document: FlowDocument, owner: Owner, effect: Effect): string {
  const piece = (id: Id) => pieceName(document, owner, id);
  const order = (id: Id) => own(document.orders, id)?.name ?? id;
  if ('set' in effect) return setWords(document, owner, effect);
  if ('reset' in effect) return `reset ${variableName(document, effect.reset)}`;
  if ('raise' in effect) return `raise ${own(document.signals, effect.raise)?.name ?? effect.raise}`;
  if ('remove' in effect) return `remove ${effect.by ?? 1} ${plural(piece(effect.remove), effect.by ?? 1)}`;
  if ('restore' in effect) return `put all ${plural(piece(effect.restore), 2)} back`;
  if ('draw' in effect) return `draw ${order(effect.draw)}`;
  if ('begin' in effect) return 'begin a new run';
  if ('save' in effect) return effect.save === 'forward' ? 'save, if further on' : 'save';
  return 'forget' in effect ? 'forget the save' : 'erase all progress';
}

/** Steps up and down are said as such; everything else is "set Lives to …". */
function setWords(document: FlowDocument, owner: Owner, { set, to }: { set: Id; to: string }): string {
  const name = variableName(document, set);
  const step = /^\s*([a-z][a-z0-9_]*)\s*([+-])\s*(\d+)\s*$/.exec(to);
  if (step && step[1] === set) return step[2] === '+' ? `add ${step[3]} to ${name}` : `take ${step[3]} from ${name}`;
  if (own(document.variables, set)?.type === 'flag' && (to === 'true' || to === 'false'))
    return `set ${name} to ${to === 'true' ? 'yes' : 'no'}`;
  return `set ${name} to ${conditionWords(document, owner, to)}`;
}

const moveWords = {
  next: 'the next level',
  previous: 'the level before',
  first: 'the first level',
  last: 'the last level',
  again: 'the same level again',
  back: 'back',
  resume: 'the checkpoint',
  load: 'the saved game',
  chosen: 'the chosen level'
};

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
  return `${moveWords[target.move]}${order}${otherwise}`;
}

/** How a level is won, in a few words for its tile: "all 7 Lamps", "reach Ferry". */
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
    if ('after' in when) return `last ${when.after} s`;
    if ('holds' in when) return conditionWords(document, owner, when.holds).replace(/ (is|are) (collected|defeated)/g, '');
    return triggerKind(when);
  });
  return [...new Set(short)].join(' or ');
}

/** The values with which a place is entered: "1 to 3", "yes or no". */
export function arrivalWords(arrival: Arrival): string {
  if ('min' in arrival) return arrival.min === arrival.max ? String(arrival.min) : `${arrival.min} to ${arrival.max}`;
  return arrival.values.map((value) => (value === true ? 'yes' : value === false ? 'no' : value)).join(' or ');
}
