/** What is different between two documents of one flow, in the designer's words. */
import {
  own,
  type Cell,
  type FlowDocument,
  type Id,
  type Level,
  type Objective,
  type Owner,
  type Piece,
  type Place,
  type Plan,
  type Rule
} from '../document/types.ts';
import { same } from '../document/same.ts';
import { casesOf } from '../document/messages.ts';
import {
  conditionWords,
  effectSeenWords,
  passageName,
  placeName,
  ruleWords,
  savesWords,
  standingWords,
  targetWords,
  triggerWords
} from './words.ts';
import { bare } from '../plan/grown.ts';
import { countOf } from '../vocabulary/pieces.ts';
import { triggerKind } from '../vocabulary/triggers.ts';

export interface Difference {
  is: 'added' | 'removed' | 'changed';
  text: string;
  /** The place it is about. */
  place?: Id;
}

const lists = {
  variables: 'value',
  numbers: 'number',
  signals: 'signal',
  assets: 'shared asset',
  orders: 'order',
  groups: 'group'
} as const;

export function differences(before: FlowDocument, after: FlowDocument): Difference[] {
  const found: Difference[] = [];
  if (before.name !== after.name) found.push({ is: 'changed', text: `The flow is called ${after.name}, not ${before.name}.` });
  if (before.start !== after.start)
    found.push({
      is: 'changed',
      text: `Play begins at ${placeName(after, after.start)}, not at ${placeName(before, before.start)}.`,
      place: after.start
    });
  found.push(
    ...changed(
      'The flow',
      { note: before.brief, limit: before.limit, 'saved games': savesWords(before) },
      { note: after.brief, limit: after.limit, 'saved games': savesWords(after) },
      naming(before, after)
    )
  );
  for (const id of ids(before.places, after.places)) found.push(...ofPlace(before, after, id));
  for (const [list, one] of Object.entries(lists) as [keyof typeof lists, string][]) {
    for (const id of ids(before[list], after[list])) {
      const [old, now] = [before[list][id], after[list][id]];
      if (!old) found.push({ is: 'added', text: `The ${one} ${now!.name}.` });
      else if (!now) found.push({ is: 'removed', text: `The ${one} ${old.name}.` });
      else found.push(...changed(`The ${one} ${now.name}`, withoutRules(old), withoutRules(now), naming(before, after)));
    }
  }
  for (const id of ids(before.groups, after.groups)) {
    const name = (after.groups[id] ?? before.groups[id])!.name;
    found.push(
      ...ofRules(before, after, { group: id }, `All levels of ${name}`, before.groups[id]?.rules, after.groups[id]?.rules)
    );
  }
  found.push(...ofRules(before, after, { flow: true }, 'All levels', before.rules, after.rules));
  for (const id of ids(before.runs, after.runs)) {
    const [old, now] = [before.runs[id], after.runs[id]];
    if (!old) found.push({ is: 'added', text: `The run ${now!.name}.` });
    else if (!now) found.push({ is: 'removed', text: `The run ${old.name}.` });
    else if (!same(old, now)) found.push({ is: 'changed', text: `The run ${now.name} was recorded again.` });
  }
  if (!same(before.accepted, after.accepted))
    found.push({ is: 'changed', text: `Accepted findings: ${before.accepted.length} → ${after.accepted.length}.` });
  return found;
}

function ofPlace(before: FlowDocument, after: FlowDocument, id: Id): Difference[] {
  // what follows from a plan is told by what is drawn
  const [old, now] = [before.places[id], after.places[id]].map((place) => (place?.kind === 'level' ? bare(place) : place));
  if (!old) return [{ is: 'added', text: `${now!.name}.`, place: id }];
  if (!now) return [{ is: 'removed', text: `${old.name}.`, place: id }];
  const { name } = now;
  const found: Difference[] = [];
  /** Where pieces stand is said by the names of spots. */
  const said = (document: FlowDocument, { at, ...thing }: Named[Id]) =>
    at === undefined ? thing : { ...thing, at: standingWords(document, id, { ...thing, at } as Piece) };
  const plain = ({ rules: _rules, ...rest }: Place) => {
    const {
      pieces: _pieces,
      entries: _entries,
      objectives: _objectives,
      spots: _spots,
      passages: _passages,
      plan: _plan,
      ...fields
    } = rest as unknown as Record<string, unknown>;
    const texts = casesOf(rest.message).map(({ if: condition, text }) => {
      const when = condition === undefined ? '' : ` if ${conditionWords(after, { place: id }, condition)}`;
      return `“${text}”${when}`;
    });
    return { ...fields, ...(texts.length > 0 && { message: texts.join('; ') }) };
  };
  found.push(...changed(name, plain(old), plain(now), naming(before, after)));
  for (const [part, what] of Object.entries({ pieces: 'piece', entries: 'entry', spots: 'spot', passages: 'passage' }) as Parts) {
    const [theirs, ours] = [namedIn(before, id, part), namedIn(after, id, part)];
    for (const each of ids(theirs, ours)) {
      const [was, is] = [theirs[each], ours[each]];
      if (!was) found.push({ is: 'added', text: `${name}: the ${what} ${is!.name}${amount(is!)}.` });
      else if (!is) found.push({ is: 'removed', text: `${name}: the ${what} ${was.name}.` });
      else found.push(...changed(`${name}, ${is.name}`, said(before, was), said(after, is), naming(before, after)));
    }
  }
  const [theirs, ours] = [old, now].map((place) => (place.kind === 'level' ? place.objectives : {})) as [Objectives, Objectives];
  for (const each of ids(theirs, ours)) {
    const [was, is] = [theirs[each], ours[each]].map((objective) => objective && objectiveSaid(after, id, objective));
    if (was === undefined) found.push({ is: 'added', text: `${name}: the objective ${is}.` });
    else if (is === undefined) found.push({ is: 'removed', text: `${name}: the objective ${was}.` });
    else if (was !== is) found.push({ is: 'changed', text: `${name}: the objective ${was} → ${is}.` });
  }
  if (old.kind === 'level' && now.kind === 'level') found.push(...ofPlan(old, now, naming(before, after)));
  found.push(...ofRules(before, after, { place: id }, name, old.rules, now.rules));
  return found.map((each) => ({ ...each, place: id }));
}

/** What has been drawn otherwise: ground cell by cell, what stands on it by its name, and what has a name or a run. */
function ofPlan(old: Level, now: Level, words: (value: unknown) => string): Difference[] {
  const { name } = now;
  const [was, is] = [old.plan, now.plan];
  if (!was && !is) return [];
  if (!was) return [{ is: 'added', text: `${name}: its plan, ${sizeOf(is!)} cells.` }];
  if (!is) return [{ is: 'removed', text: `${name}: its plan.` }];
  const found: Difference[] = [];
  const said = (text: string) => found.push({ is: 'changed', text: `${name}: ${text}` });
  if (sizeOf(was) !== sizeOf(is)) said(`its plan ${sizeOf(was)} → ${sizeOf(is)} cells.`);
  const drawn = is.rows.reduce(
    (sum, row, y) => sum + [...row].filter((char, x) => was.rows[y]?.[x] !== undefined && was.rows[y][x] !== char).length,
    0
  );
  if (drawn > 0) said(`other ground in ${drawn} ${drawn === 1 ? 'cell' : 'cells'} of its plan.`);
  const [before, after] = [standing(old, was), standing(now, is)];
  for (const thing of ids(before, after)) {
    const [gone, come] = [missing(before[thing], after[thing]), missing(after[thing], before[thing])];
    if (gone.length + come.length === 0) continue;
    const parts = [come.length > 0 && `drawn at ${cellWords(come)}`, gone.length > 0 && `no longer at ${cellWords(gone)}`];
    said(`${thing} ${parts.filter(Boolean).join(', ')}.`);
  }
  for (const [part, what] of Object.entries({ links: 'link', areas: 'area', patrols: 'patrol' }) as ['links', string][]) {
    const [theirs, ours] = [was[part] ?? {}, is[part] ?? {}] as Record<Id, object>[];
    for (const each of ids(theirs!, ours!)) {
      const [one, other] = [theirs![each], ours![each]];
      const called = ((other ?? one) as { name?: string; piece?: Id }).name ?? pieceOf(now, other ?? one) ?? each;
      if (!one) found.push({ is: 'added', text: `${name}: the ${what} ${called}.` });
      else if (!other) found.push({ is: 'removed', text: `${name}: the ${what} ${called}.` });
      else found.push(...changed(`${name}, ${what} ${called}`, one, other, words));
    }
  }
  const { rows: _a, things: _b, links: _c, areas: _d, patrols: _e, ...rest } = was;
  const { rows: _f, things: _g, links: _h, areas: _i, patrols: _j, ...others } = is;
  found.push(...changed(`${name}, plan`, rest, others, words));
  return found;
}

const sizeOf = ({ rows }: Plan): string => `${Math.max(0, ...rows.map(({ length }) => length))} × ${rows.length}`;
const pieceOf = ({ pieces }: Level, thing: object | undefined): string | undefined =>
  thing && 'piece' in thing ? own(pieces, thing.piece as Id)?.name : undefined;

/** By name of what stands in a plan the cells in which it does. */
function standing(level: Level, { things = {} }: Plan): Record<string, Cell[]> {
  const found: Record<string, Cell[]> = {};
  for (const thing of Object.values(things)) {
    const called =
      'piece' in thing
        ? (own(level.pieces, thing.piece)?.name ?? thing.piece)
        : 'entry' in thing
          ? `the entry ${own(level.entries, thing.entry)?.name ?? thing.entry}`
          : (thing.name ?? `the gate “${thing.gate}”`);
    found[called] = [...(found[called] ?? []), ...('entry' in thing ? [thing.cell] : thing.cells)];
  }
  return found;
}

const missing = (cells: Cell[] = [], others: Cell[] = []): Cell[] => {
  const there = new Set(others.map(String));
  return cells.filter((cell) => !there.has(String(cell)));
};
const mostCellsTold = 4;
const cellWords = (cells: Cell[]): string =>
  cells.length > mostCellsTold ? `${cells.length} cells` : cells.map(([x, y]) => `${x}, ${y}`).join('; ');

type Part = 'pieces' | 'entries' | 'spots' | 'passages';
type Parts = [Part, string][];

/** The things of a level, each with its name; a passage without one goes by its ends. */
function namedIn(document: FlowDocument, id: Id, part: Part): Named {
  const place = document.places[id]!;
  if (place.kind !== 'level') return {};
  if (part !== 'passages' || place.plan) return bare(place)[part] as Named;
  return Object.fromEntries(
    Object.entries(place.passages).map(([each, passage]) => [
      each,
      { ...passage, name: passageName(document, { place: id }, each) }
    ])
  );
}

type Objectives = Record<Id, Objective>;
const objectiveSaid = (document: FlowDocument, level: Id, { text, met, needed }: Objective) =>
  `“${text}”, met if ${conditionWords(document, { place: level }, met)}${needed ? ', needed' : ''}`;

type Named = Record<Id, { name: string; count?: number; at?: unknown }>;
const amount = (piece: { count?: number; at?: unknown }) =>
  piece.count === undefined && piece.at === undefined ? '' : ` (${countOf(piece as never)})`;
const withoutRules = (value: object) => {
  const { rules: _rules, ...rest } = value as Record<string, unknown>;
  return rest;
};

/** One line for each field that differs. */
function changed(what: string, before: object, after: object, words: (value: unknown) => string): Difference[] {
  const [old, now] = [before, after] as [Record<string, unknown>, Record<string, unknown>];
  return ids(old, now)
    .filter((field) => !same(old[field], now[field]))
    .map((field) => ({ is: 'changed', text: `${what}: ${field} ${words(old[field])} → ${words(now[field])}.` }));
}

/** A value in words; ids of places become names. */
function naming(before: FlowDocument, after: FlowDocument): (value: unknown) => string {
  const word = (value: unknown): string => {
    if (value === undefined) return 'none';
    if (Array.isArray(value)) return value.length === 0 ? 'none' : value.map(word).join(', ');
    if (typeof value === 'object') return JSON.stringify(value);
    if (typeof value !== 'string') return String(value);
    return (after.places[value] ?? before.places[value])?.name ?? value;
  };
  return word;
}

function ofRules(
  before: FlowDocument,
  after: FlowDocument,
  owner: Owner,
  name: string,
  old: Rule[] = [],
  now: Rule[] = []
): Difference[] {
  const found: Difference[] = [];
  for (const [was, is] of paired(before, after, owner, old, now)) {
    if (!was) found.push({ is: 'added', text: `The rule ${ruleWords(after, owner, is!)}.` });
    else if (!is) found.push({ is: 'removed', text: `The rule ${ruleWords(before, owner, was)}.` });
    else
      for (const [part, words] of Object.entries(parted)) {
        if (same(was[part as keyof Rule], is[part as keyof Rule])) continue;
        const [old, now] = [words(before, owner, was), words(after, owner, is)];
        const change = old === now ? `${part === 'by' ? 'its transition' : 'its note'} has changed` : `${old} → ${now}`;
        found.push({ is: 'changed', text: `The rule ${ruleWords(after, owner, is)}: ${change}.` });
      }
  }
  const order = (rules: Rule[], other: Rule[]) =>
    rules.filter(({ id }) => other.some((each) => each.id === id)).map(({ id }) => id);
  if (!same(order(old, now), order(now, old)))
    found.push({ is: 'changed', text: `${name}: its rules are read in another order.` });
  return found;
}

/**
 * Each rule with what it was: the one with its id, else one that reads the same, else one with the same trigger, or
 * with the same kind of trigger and the same effects and move; so that
 * no sentence is told as taken away and added again.
 */
function paired(
  before: FlowDocument,
  after: FlowDocument,
  owner: Owner,
  old: Rule[],
  now: Rule[]
): [Rule | undefined, Rule | undefined][] {
  const pairs = new Map<Rule, Rule>();
  const left = new Set(old);
  const pair = (alike: (was: Rule, is: Rule) => boolean) => {
    for (const is of now) {
      if (pairs.has(is)) continue;
      const was = [...left].find((each) => alike(each, is));
      if (!was) continue;
      pairs.set(is, was);
      left.delete(was);
    }
  };
  pair((was, is) => was.id === is.id);
  pair((was, is) => sentence(before, owner, was) === sentence(after, owner, is));
  pair((was, is) => triggerWords(before, owner, was) === triggerWords(after, owner, is));
  pair((was, is) => triggerKind(was.when) === triggerKind(is.when) && leads(before, owner, was) === leads(after, owner, is));
  return [
    ...[...left].map((was): [Rule, undefined] => [was, undefined]),
    ...now.map((is): [Rule | undefined, Rule] => [pairs.get(is), is])
  ];
}

/** What a rule does and where it leads. */
const leads = (document: FlowDocument, owner: Owner, rule: Rule) =>
  ['do', 'go', 'result'].map((part) => parted[part]!(document, owner, rule)).join('\n');

/** All that a rule says, but how it looks. */
const sentence = (document: FlowDocument, owner: Owner, rule: Rule) =>
  ['when', 'if', 'do', 'go', 'result'].map((part) => parted[part]!(document, owner, rule)).join('\n');

/** By part of a rule what it says; a transition and a note only by whether there is one. */
const parted: Record<string, (document: FlowDocument, owner: Owner, rule: Rule) => string> = {
  when: triggerWords,
  if: (document, owner, rule) => (rule.if === undefined ? 'always' : `if ${conditionWords(document, owner, rule.if)}`),
  do: (document, owner, rule) =>
    (rule.do ?? []).map((effect) => effectSeenWords(document, owner, effect)).join(', ') || 'no effect',
  go: (document, _, { go }) =>
    go ? `go to ${targetWords(document, go)}${'over' in go && go.over ? ' over it' : ''}` : 'no move',
  result: (_, __, { result }) => (result === undefined ? 'neither wins nor loses' : result === 'won' ? 'wins' : 'loses'),
  by: (_, __, { by }) => (by ? 'a transition' : 'no transition'),
  note: (_, __, { note }) => (note ? 'a note' : 'no note')
};

const ids = (a: object, b: object) => [...new Set([...Object.keys(a), ...Object.keys(b)])];
