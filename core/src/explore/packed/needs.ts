/**
 * What of a state can influence a verdict, a route or an arrival: only this is kept. Each rule here is sound because
 * what it leaves out is read by nothing; the property tests hold the packed exploration to the plain one.
 */
import { isLevel, targetsOf, type Id, type MoveTarget, type Piece } from '../../document/types.ts';
import { parts, piecesIn, type Expression } from '../../language/ast.ts';
import { countedHeaps, groundsOf, openableOf, type Ground } from '../grounds.ts';
import { mergedOf } from './merging.ts';
import type { FittingRule } from '../../play/fit.ts';
import { askedBeside, type Flow } from '../../play/flow.ts';
import { slotsOf } from '../../play/slots.ts';
import { stalenessOf, type Staleness } from './staleness.ts';
import { usedUp } from '../../vocabulary/pieces.ts';

export interface Needs {
  /** The most frames there can be: 1 where nothing opens over anything. */
  depth: number;
  /** Layout that can be opened over others. */
  openable: Id[];
  /** Variables that some rule assigns; the others keep their initial value. */
  assigned: Set<Id>;
  /** Of these the numbers of which high values are one, and from which value on. */
  merged: Map<Id, number>;
  /** Where run variables can be stale. */
  staleness: Staleness;
  /** Levels of which a condition asks whether they are won. */
  won: Set<Id>;
  /** Whether a condition asks how the last attempt ended. */
  last: boolean;
  /** The level played last: asked by `again` and, where no order is named, by moves along one of several. */
  latest: boolean;
  /** Whether every level stands in this fixed order, so that where play stands in it follows from the level played last. */
  line: Id | undefined;
  /** The order moved in last. */
  current: boolean;
  /** Orders along which a rule moves by position, and those of which a row or bag is drawn. */
  positions: Set<Id>;
  drawn: Set<Id>;
  /** Whether a save is ever read, and whether it brings the run back too. */
  bookmark: boolean;
  load: boolean;
  /** Whether it matters how far what was saved is, and whether it was in this run. */
  progress: boolean;
  thisRun: boolean;
  /** What of the saved games; none where no rule is about them. */
  slots: SlotNeeds;
  /** Whether a won or lost attempt can go on. */
  over: boolean;
  /** Whether some move goes to the level played last again, or back to what was saved. */
  again: boolean;
  resumes: boolean;
  /** The names of entries that targets name, and '' for where none is named. */
  entries: string[];
  /** By level, where that is taken apart: whether it matters where the player is. */
  grounds: Map<Id, Ground>;
  /** By level: the pieces whose number left is asked, or that make a difference when taken. */
  pieces(level: Id): Set<Id>;
}

export interface SlotNeeds {
  /** Which one is picked. */
  picked: boolean;
  /** Whether the one in hand is used. */
  used: boolean;
  /** Whether play can go on in another, and whether values can be brought into it. */
  other: boolean;
  taken: boolean;
  /** Whether one can be picked over a level. */
  over: boolean;
}

export function needsOf(flow: Flow): Needs {
  const { document, rules } = flow;
  const all = [...rules.values()];
  const targets = all.flatMap(({ rule }) => (rule.go ? targetsOf(rule.go) : []));
  const moves = targets.filter((target): target is MoveTarget => 'move' in target);
  const openable = openableOf(flow);
  const orders = Object.keys(document.orders);
  const along = moves.filter(({ move }) => ['next', 'previous', 'first', 'last'].includes(move));
  const asked = readIn(flow).flatMap((text) => parts(text));
  // what a condition asks of a move is read as if it were made
  const steps: { order?: Id }[] = [
    ...along.filter(({ move }) => move === 'next' || move === 'previous'),
    ...asked.flatMap((part) => (part.kind === 'has' && (part.what === 'next' || part.what === 'previous') ? [part] : []))
  ];
  const unnamed = [...along, ...steps].some(({ order }) => order === undefined) && orders.length > 1;
  const effects = all.flatMap(({ rule }) => rule.do ?? []);
  const forward = effects.some((effect) => 'save' in effect && effect.save === 'forward');
  const grounds = groundsOf(flow, openable);
  const resumes = moves.some(({ move }) => move === 'resume' || move === 'load');
  const saved = asked.some((part) => part.kind === 'saved' || (part.kind === 'has' && part.what === 'save'));
  const bookmark = resumes || saved;
  const pieces = new Map<Id, Set<Id>>();
  const named = piecesNamed(flow, all, openable);
  return {
    depth: openable.length > 0 ? 4 : 1,
    openable,
    assigned: new Set(effects.flatMap((effect) => ('set' in effect ? [effect.set] : []))),
    merged: mergedOf(flow),
    staleness: stalenessOf(flow, openable),
    won: wonAsked(flow),
    last: asked.some(({ kind }) => kind === 'last'),
    latest: moves.some(({ move }) => move === 'again') || unnamed,
    line: orders.find((id) => listsAll(flow, id)),
    current: unnamed,
    positions: new Set(steps.some(({ order }) => order === undefined) ? orders : steps.map(({ order }) => order!)),
    drawn: new Set(effects.flatMap((effect) => ('draw' in effect ? [effect.draw] : []))),
    bookmark,
    load: moves.some(({ move }) => move === 'load'),
    progress: bookmark && (forward || asked.some(({ kind }) => kind === 'saved')),
    thisRun: bookmark && (forward || moves.some(({ move }) => move === 'resume')),
    slots: slotsAsked(flow, asked, openable),
    over: all.some(({ rule }) => rule.result && rule.go && targetsOf(rule.go).some((target) => 'place' in target && target.over)),
    again: moves.some(({ move }) => move === 'again'),
    resumes,
    entries: ['', ...new Set(targets.flatMap(({ entry }) => entry ?? []))],
    grounds,
    pieces(level) {
      let found = pieces.get(level);
      if (!found) pieces.set(level, (found = piecesAsked(flow, level, named, grounds.get(level))));
      return found;
    }
  };
}

function slotsAsked({ document, rules }: Flow, asked: Expression[], openable: Id[]): SlotNeeds {
  const all = [...rules.values()];
  const does = new Set(all.flatMap(({ rule }) => (rule.do ?? []).flatMap((effect) => ('slot' in effect ? [effect.slot] : []))));
  const picking = all.filter(({ rule }) => 'slot' in rule.when);
  const conditions = asked.some((part) => part.kind === 'has' && part.what === 'slot');
  const other = slotsOf(document) > 1 && picking.length > 0;
  return {
    picked: does.size > 0 || conditions,
    used: conditions || picking.some(({ rule }) => 'slot' in rule.when && rule.when.slot !== 'any'),
    other: other && (does.has('take') || does.has('put')),
    taken: other && does.has('take'),
    over: picking.some(({ owner }) => 'place' in owner && openable.includes(owner.place))
  };
}

function listsAll({ document, levels }: Flow, order: Id): boolean {
  const { draw, levels: listed } = document.orders[order]!;
  return draw === 'fixed' && listed.length === levels.length && listed.every((id) => isLevel(document, id));
}

const texts = ({ condition, holds, expressions }: FittingRule) =>
  [condition, holds, ...expressions].filter((text): text is Expression => text !== undefined);

/** Every text that is read somewhere. */
const readIn = (flow: Flow) => [
  ...[...flow.rules.values()].flatMap(texts),
  ...askedBeside(flow).map(({ condition }) => condition),
  ...passageConditions(flow)
];

const passageConditions = ({ passages }: Flow) => [...passages.values()].flatMap(({ condition }) => condition ?? []);

function wonAsked(flow: Flow): Set<Id> {
  const { document, rules, levels } = flow;
  const asked = new Set<Id>();
  const note = (text: Expression, order: Id[]) => {
    for (const part of parts(text)) {
      if (part.kind === 'won') asked.add(part.level);
      else if (part.kind === 'wonCandidate') order.forEach((level) => asked.add(level));
      else if (part.kind === 'wins') {
        const group = Object.hasOwn(document.groups, part.of);
        const counted = group
          ? levels.filter(([, level]) => level.group === part.of).map(([id]) => id)
          : document.orders[part.of]!.levels;
        counted.forEach((level) => asked.add(level));
      }
    }
  };
  for (const rule of rules.values()) {
    const order = 'choose' in rule.rule.when ? document.orders[rule.rule.when.choose]!.levels : [];
    for (const text of texts(rule)) note(text, order);
  }
  for (const { condition } of askedBeside(flow)) note(condition, []);
  for (const condition of passageConditions(flow)) note(condition, []);
  return asked;
}

/** By level the pieces named in a text that is read there, or listened to. */
function piecesNamed(flow: Flow, all: FittingRule[], openable: Id[]): (level: Id) => Set<Id>[] {
  const everywhere = new Set<Id>();
  const of = { place: new Map<Id, Set<Id>>(), group: new Map<Id, Set<Id>>() };
  const named = (where: 'place' | 'group', id: Id) => {
    if (where === 'place' && openable.includes(id)) return everywhere;
    let found = of[where].get(id);
    if (!found) of[where].set(id, (found = new Set()));
    return found;
  };
  for (const { owner, pieces, rule } of all) {
    const into = 'place' in owner ? named('place', owner.place) : 'group' in owner ? named('group', owner.group) : everywhere;
    for (const piece of pieces) into.add(piece);
    for (const effect of rule.do ?? []) {
      // whether there is one to defeat is heard, also in the place that the same rule leads to
      if ('defeat' in effect) into.add(effect.defeat);
      // what is removed cannot be had
      if ('remove' in effect) into.add(effect.remove);
    }
  }
  for (const { place, condition } of askedBeside(flow)) {
    for (const part of parts(condition)) {
      if (part.kind === 'left' || part.kind === 'taken') named('place', place).add(part.piece);
    }
  }
  for (const { level, condition, passage } of flow.passages.values()) {
    for (const piece of condition ? piecesIn(condition) : []) named('place', level).add(piece);
    // whether some are left to be met on the way
    for (const piece of passage.through ?? []) named('place', level).add(piece);
  }
  const groups = new Map(flow.levels.map(([id, { group }]) => [id, group]));
  return (level) => {
    const group = groups.get(level);
    return [everywhere, named('place', level), ...(group === undefined ? [] : [named('group', group)])];
  };
}

/**
 * The used-up pieces of a level that make a difference: named, or a player, without whom nothing can be touched. What is
 * taken unheard and unasked changes nothing.
 */
function piecesAsked(flow: Flow, level: Id, named: (level: Id) => Set<Id>[], ground: Ground | undefined): Set<Id> {
  const place = flow.document.places[level]!;
  if (place.kind !== 'level') return new Set();
  const names = named(level);
  const asked = (id: Id, piece: Piece) =>
    piece.kind === 'player' ||
    names.some((each) => each.has(id)) ||
    // what can be had in several places can be missed in one of them
    (piece.kind === 'pickup' && countedHeaps(id, piece, ground).heaps.length > 1);
  return new Set(Object.entries(place.pieces).flatMap(([id, piece]) => (usedUp(piece) && asked(id, piece) ? [id] : [])));
}
