/** A document made ready for play: its rules parsed, and by place those that apply. */
import {
  homeOf,
  levelsOf,
  own,
  type FlowDocument,
  type Id,
  type Level,
  type Piece,
  type Seconds,
  type Renewal,
  type Trigger,
  type TriggerKind,
  type With
} from '../document/types.ts';
import { heapsOf, type Heap } from '../document/ground.ts';
import { secondsOf, timesIn } from '../document/numbers.ts';
import { hasAll } from '../document/rule-pieces.ts';
import { fit, type Expectation, type FittingObjective, type FittingPassage, type FittingRule } from './fit.ts';
import type { Misfit } from './misfits.ts';
import type { Expression } from '../language/ast.ts';
import { triggerKind, triggerKinds } from '../vocabulary/triggers.ts';
import { usedUp } from '../vocabulary/pieces.ts';

/** A rule with a trigger of one kind. */
export type Listening<K extends TriggerKind> = FittingRule & { rule: { when: With<Trigger, K> } };

/** The rules that apply in a place over a certain bottom level, in reading order. */
export interface Applying {
  all: FittingRule[];
  by: { [K in TriggerKind]: Listening<K>[] };
  /** The different `after` seconds, ascending. */
  deadlines: number[];
  /** The clocks that repeat, in reading order, each number of seconds once. */
  clocks: Clock[];
  /** Too many ticks lie before the last deadline to be kept in their order. */
  ticksFree: boolean;
  /** The different labels of `press` rules, in reading order. */
  labels: string[];
}

/** A clock that repeats, with how many of its ticks are due up to each deadline; with none where they are free of order. */
export interface Clock {
  seconds: number;
  /** As the first rule that it is of writes it. */
  written: Seconds;
  due: number[];
}

/** So many ticks of all clocks of a place, before its last deadline, are kept in order with the deadlines. */
export const mostTicks = 1000;

export interface Flow {
  document: FlowDocument;
  misfits: Misfit[];
  rules: Map<Id, FittingRule>;
  expectations: Expectation[];
  objectives: FittingObjective[];
  /** By `level/passage` those that can be taken, and by level. */
  passages: Map<string, FittingPassage>;
  passagesIn(level: Id): FittingPassage[];
  levels: [Id, Level][];
  /** The start place if it is a menu without a `choose` rule, else the first such menu, if any (section 6). */
  home: Id | undefined;
  applying(place: Id, bottom: Id): Applying;
}

/** Makes a document ready for play. Rules that do not fit are set aside and listed in `misfits`. */
export function prepare(document: FlowDocument): Flow {
  const { misfits, rules, expectations, objectives, passages } = fit(document);
  const byLevel = new Map<Id, FittingPassage[]>();
  for (const passage of passages.values()) byLevel.set(passage.level, [...(byLevel.get(passage.level) ?? []), passage]);
  const known = new Map<string, Applying>();
  return {
    document,
    misfits,
    rules,
    expectations,
    objectives,
    passages,
    passagesIn: (level) => byLevel.get(level) ?? [],
    levels: levelsOf(document),
    home: homeOf(document),
    applying(place, bottom) {
      const key = `${place} ${bottom}`;
      let found = known.get(key);
      if (!found) known.set(key, (found = applying(document, rules, place, bottom)));
      return found;
    }
  };
}

/** The conditions that only checks ask, each with the place at which it is asked. */
export const askedBeside = ({ expectations, objectives }: Flow): { place: Id; condition: Expression }[] => [
  ...expectations,
  ...objectives
];

/** The rules read in a place, those that name something the bottom level lacks left out (section 3). */
function applying(document: FlowDocument, rules: Map<Id, FittingRule>, id: Id, bottomId: Id): Applying {
  const place = document.places[id]!;
  const bottom = document.places[bottomId]!;
  const group = place.kind === 'level' && place.group !== undefined ? own(document.groups, place.group) : undefined;
  const read = [...place.rules, ...(group?.rules ?? []), ...(place.kind === 'level' ? document.rules : [])];
  const all = read
    .flatMap((rule) => rules.get(rule.id) ?? [])
    .filter((rule) => hasAll(bottom.kind === 'level' ? bottom : undefined, rule));
  const by = Object.fromEntries(triggerKinds.map((kind) => [kind, [] as FittingRule[]])) as Record<TriggerKind, FittingRule[]>;
  const deadlines = new Set<number>();
  const every = new Map<number, Seconds>();
  const labels = new Set<string>();
  for (const rule of all) {
    const { when } = rule.rule;
    by[triggerKind(when)].push(rule);
    if ('after' in when) deadlines.add(secondsOf(document, when.after)!);
    if ('every' in when) {
      const seconds = secondsOf(document, when.every)!;
      if (!every.has(seconds)) every.set(seconds, when.every);
    }
    if ('press' in when) labels.add(when.press);
  }
  const moments = [...deadlines].sort((a, b) => a - b);
  const clocks = [...every].map(([seconds, written]): Clock => {
    return { seconds, written, due: moments.map((moment) => timesIn(moment, seconds)) };
  });
  const ticksFree = clocks.reduce((sum, { due }) => sum + (due.at(-1) ?? 0), 0) > mostTicks;
  return {
    all,
    by: by as Applying['by'],
    deadlines: moments,
    clocks: ticksFree ? clocks.map((clock) => ({ ...clock, due: [] })) : clocks,
    ticksFree,
    labels: [...labels]
  };
}

export function renewalOf(piece: Piece): Renewal {
  return piece.renew ?? 'attempt';
}

/** The pieces of a level that are used up and renew in one of the given ways. */
export function piecesThatRenew(level: Level, ...ways: Renewal[]): [Id, Piece][] {
  return Object.entries(level.pieces).filter(([, piece]) => usedUp(piece) && ways.includes(renewalOf(piece)));
}

/** The heaps of these pieces. */
export const heapsThatRenew = (level: Level, ...ways: Renewal[]): Heap[] =>
  piecesThatRenew(level, ...ways).flatMap(([id, piece]) => heapsOf(id, piece));

/** A level's entry by default: its first; null for the one unnamed entry of a level without any. */
export function defaultEntry(level: Level): Id | null {
  return Object.keys(level.entries)[0] ?? null;
}
