/** Edits of rules: adding, changing, moving, deleting, and wiring one place to another. */
import { change, type Change, type Patch } from '../patch.ts';
import { same } from '../same.ts';
import {
  findRule,
  levelsOf,
  own,
  ruleLists,
  rulePointer,
  targetsOf,
  type FlowDocument,
  type Id,
  type Level,
  type MoveTarget,
  type MoveWord,
  type Outcome,
  type Owner,
  type Piece,
  type PieceKind,
  type Place,
  type Rule,
  type Target,
  type Trigger
} from '../types.ts';
import { hasAll, piecesOfRule } from '../rule-pieces.ts';
import { placeKinds } from '../../vocabulary/places.ts';
import { ruleId } from './ids.ts';
import { fieldOperations } from './places.ts';

export type NewRule = Omit<Rule, 'id'>;

export function ownerName(document: FlowDocument, owner: Owner): string {
  if ('place' in owner) return document.places[owner.place]?.name ?? owner.place;
  return 'group' in owner ? (document.groups[owner.group]?.name ?? owner.group) : 'All levels';
}

/** Adds a rule last in its owner's list, or before the rule at `index`. */
export function addRule(document: FlowDocument, owner: Owner, rule: NewRule, index?: number): Change & { id: Id } {
  const id = ruleId(document);
  const path = `${rulePointer(owner)}/${index ?? '-'}`;
  return { ...change(document, `${ownerName(document, owner)}: add a rule`, [{ op: 'add', path, value: { id, ...rule } }]), id };
}

/** Gives a rule other parts; each part that differs is one operation, undefined takes it away. */
export function changeRule(document: FlowDocument, id: Id, rule: NewRule, label?: string): Change {
  const { owner, rule: before, index } = known(document, id);
  const base = `${rulePointer(owner)}/${index}`;
  const operations: Patch = [];
  for (const key of ['when', 'if', 'do', 'go', 'result', 'by', 'note'] as const) {
    if (!same(before[key], rule[key])) operations.push(...fieldOperations(`${base}/${key}`, before[key], rule[key]));
  }
  return change(document, label ?? `${ownerName(document, owner)}: change a rule`, operations);
}

export function removeRule(document: FlowDocument, id: Id): Change {
  const { owner, index } = known(document, id);
  return change(document, `${ownerName(document, owner)}: delete a rule`, [
    { op: 'remove', path: `${rulePointer(owner)}/${index}` }
  ]);
}

/** Moves a rule within its list, so that it is read earlier or later. */
export function moveRule(document: FlowDocument, id: Id, to: number): Change {
  const { owner, rule, index } = known(document, id);
  const list = rulePointer(owner);
  return change(document, `${ownerName(document, owner)}: read a rule ${to < index ? 'earlier' : 'later'}`, [
    { op: 'remove', path: `${list}/${index}` },
    { op: 'add', path: `${list}/${to}`, value: rule }
  ]);
}

/**
 * The rule that a pull from one place to another makes: what is likeliest for the two kinds, to be said more exactly in
 * the sentence afterwards. A level wins toward a level or a won ending, loses toward a lost ending.
 */
export function wireRule(document: FlowDocument, from: Id, to: Id): NewRule {
  const source = document.places[from]!;
  const target = document.places[to]!;
  const go: Target = leadsBack(target) ? { place: to, over: true } : { place: to };
  // a screen with buttons gets another one, and one that is left by itself goes on by itself
  if (goesOnByItself(source)) return { when: free(source, [{ after: 2 }], target.name), go };
  if (source.kind !== 'level') return { when: { press: target.name }, go };
  if (target.kind === 'menu') return { when: { press: target.name }, go: { place: to, over: true } };
  if (isLoss(target)) return { when: free(source, touches(source, 'hazard'), 'Lose'), go, result: 'lost' };
  // a second way to win would rob the first of its meaning: what is pulled then is a plain way out
  // and a room that is completed by leaving it is left
  if (source.goal === 'leave' || winsAlready(document, from)) return doorRule(document, from, to);
  return { when: winTrigger(source), go: target.kind === 'level' ? followed(document, from, to) : go, result: 'won' };
}

/**
 * Leads from one place to another, as a pull between them does: by a rule of its own, but where the last level of its
 * order is won toward a next one that is not there, by saying where to go then, in the rule that wins it.
 */
export function leadTo(document: FlowDocument, from: Id, to: Id): Change {
  const target = document.places[to]!;
  const open = winning(document, from).find(({ go }) => go && 'move' in go && go.move === 'next' && !go.else);
  const last = Object.values(document.orders).every(({ levels }) => !levels.includes(from) || levels.at(-1) === from);
  if (!open || !last || target.kind === 'menu' || isLoss(target))
    return addRule(document, { place: from }, wireRule(document, from, to));
  const { id, ...rule } = open;
  return changeRule(document, id, { ...rule, go: { ...(rule.go as MoveTarget), else: { place: to } } });
}

/** The rules that win a level: its own, then those that levels share and that speak of what is there. None of what is no level. */
function winning(document: FlowDocument, id: Id): Rule[] {
  const level = document.places[id]!;
  if (level.kind !== 'level') return [];
  const group = level.group === undefined ? [] : (document.groups[level.group]?.rules ?? []);
  const shared = [...group, ...document.rules].filter((rule) => hasAll(level, piecesOfRule(rule)));
  return [...level.rules, ...shared].filter(({ result }) => result === 'won');
}

/** Whether some rule wins a level. */
export const winsAlready = (document: FlowDocument, level: Id): boolean => winning(document, level).length > 0;

/** The first rule that wins in every level which has certain pieces, and these as levels have them; none where one is in no level. */
export function sharedWin(document: FlowDocument): { rule: Rule; pieces: Record<Id, Piece> } | undefined {
  const levels = levelsOf(document).map(([, level]) => level);
  for (const rule of document.rules) {
    if (rule.result !== 'won') continue;
    const found = piecesOfRule(rule).pieces.map(
      (id) => [id, levels.findLast(({ pieces }) => Object.hasOwn(pieces, id))] as const
    );
    if (found.every(([, level]) => level))
      return { rule, pieces: Object.fromEntries(found.map(([id, level]) => [id, level!.pieces[id]!])) };
  }
  return undefined;
}

/** A name for a new control that no rule waits for yet: what already does something is not said again by accident. */
export function freeControl(document: FlowDocument): string {
  const taken = new Set(
    [...ruleLists(document)].flatMap(({ rules }) => rules.map(({ when }) => ('press' in when ? when.press : '')))
  );
  const numbered = Array.from({ length: taken.size + 1 }, (_, n) => `Control ${n + 1}`);
  return ['Pause', ...numbered].find((name) => !taken.has(name))!;
}

/** Whether a place is where a loss leads: an ending says so, of an interlude the name. */
const isLoss = (place: Place) =>
  place.kind === 'ending'
    ? place.outcome === 'lost'
    : place.kind === 'interlude' && /\b(game over|lost|defeat(ed)?|dead|died|failed|out of (time|lives))\b/i.test(place.name);

/** It is opened over others: a way out of it goes back to what is below. */
const leadsBack = ({ kind, rules }: Place) =>
  placeKinds[kind].over &&
  rules.some(({ go }) => go && targetsOf(go).some((target) => 'move' in target && target.move === 'back'));

/** An interlude without buttons. */
const goesOnByItself = ({ kind, rules }: Place) => kind === 'interlude' && !rules.some(({ when }) => 'press' in when);

/** The first ending of an outcome. */
export const endingOf = (document: FlowDocument, outcome: Outcome): Id | undefined =>
  Object.keys(document.places).find((id) => {
    const place = document.places[id]!;
    return place.kind === 'ending' && place.outcome === outcome;
  });

/** What a button that moves so is usually called. */
const buttons: Partial<Record<MoveWord, string>> = {
  next: 'Next',
  previous: 'Previous',
  first: 'Begin',
  last: 'Last level',
  again: 'Start again',
  back: 'Back',
  resume: 'Continue',
  load: 'Load'
};

/** What a button that leads somewhere is usually called; nothing of one that leads nowhere. */
export function usualButton(document: FlowDocument, go: Target | undefined): string | undefined {
  if (!go) return undefined;
  return 'move' in go ? (buttons[go.move] ?? go.move) : own(document.places, go.place)?.name;
}

/** The rule that moves along an order, again or back from a place: by itself from an interlude without buttons, else by a button. */
export function wireMove(document: FlowDocument, from: Id, move: MoveWord): NewRule {
  const source = document.places[from]!;
  const won = endingOf(document, 'won');
  const go: Target = move === 'next' && won !== undefined ? { move, else: { place: won } } : { move };
  if (source.kind === 'level' && source.goal !== 'leave' && move === 'next' && !winsAlready(document, from))
    return { when: winTrigger(source), go, result: 'won' };
  const triggers: Trigger[] = goesOnByItself(source) ? [{ after: 2 }] : [];
  return { when: free(source, triggers, usualButton(document, go)!), go };
}

/** A door from one level into another: by an exit that no rule has yet, else by a button of the other's name. */
export function doorRule(document: FlowDocument, from: Id, to: Id): NewRule {
  const level = document.places[from] as Level;
  return { when: free(level, touches(level, 'exit'), document.places[to]!.name), go: { place: to } };
}

/** The likeliest way to win or lose a level: the level's own trigger, the target most other levels have for it. */
export function likelyRule(document: FlowDocument, level: Id, result: 'won' | 'lost'): NewRule {
  const place = document.places[level] as Level;
  const targets = new Map<string, { go: Target; count: number }>();
  for (const { rules } of ruleLists(document)) {
    for (const { go, result: theirs } of rules) {
      if (!go || theirs !== result) continue;
      const key = JSON.stringify(go);
      targets.set(key, { go, count: (targets.get(key)?.count ?? 0) + 1 });
    }
  }
  const [usual] = [...targets.values()].sort((a, b) => b.count - a.count);
  const ending = endingOf(document, result);
  const otherwise = ending === undefined ? {} : { else: { place: ending } };
  const go: Target = usual?.go ?? (result === 'won' ? { move: 'next', ...otherwise } : { move: 'again' });
  const lost = () => free(place, [...touches(place, 'hazard'), ...allGone(place, 'player')], 'Lose');
  return { when: result === 'won' ? winTrigger(place) : lost(), go, result };
}

function winTrigger(level: Level): Trigger {
  return free(level, [...touches(level, 'exit'), ...allGone(level, 'pickup'), ...allGone(level, 'foe')], 'Win');
}

/** That no piece of a kind is left; nothing where there is none. */
function allGone(level: Level, kind: PieceKind): Trigger[] {
  const ids = Object.keys(level.pieces).filter((id) => level.pieces[id]!.kind === kind);
  return ids.length > 0 ? [{ holds: ids.map((id) => `left(${id}) = 0`).join(' and ') }] : [];
}

function touches(level: Level, kind: PieceKind): Trigger[] {
  return Object.keys(level.pieces)
    .filter((id) => level.pieces[id]!.kind === kind)
    .map((id) => ({ touch: id }));
}

/** The first trigger that no rule of the place has yet, else a button of this name. */
function free(place: Place, triggers: Trigger[], press: string): Trigger {
  return triggers.find((trigger) => !place.rules.some(({ when }) => same(when, trigger))) ?? { press };
}

/** Toward the level that comes next anyway, "next" is meant: it stays right when the order changes. */
function followed(document: FlowDocument, from: Id, to: Id): Target {
  for (const { levels, draw } of Object.values(document.orders)) {
    const at = levels.indexOf(from);
    if (draw === 'fixed' && at >= 0 && levels[at + 1] === to) return { move: 'next', else: { place: to } };
  }
  return { place: to };
}

function known(document: FlowDocument, id: Id) {
  const found = findRule(document, id);
  if (!found) throw new Error(`There is no rule ${id}.`);
  return found;
}
