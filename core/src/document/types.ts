/**
 * The flow document (docs/flow-format.md, section 1), as it is held in memory: every map and list that a file may
 * leave out is there, if only empty, so that a patch always finds what it adds to.
 */

export type Id = string;

/** Every key of every part of a union. */
type KeyOf<T> = T extends T ? keyof T : never;
/** The part of a union that has a key. */
export type With<T, K extends PropertyKey> = Extract<T, Record<K, unknown>>;

export interface FlowDocument {
  format: 'crow-lane';
  /** 2 where it uses what version 1 has not: see `versionOf`. */
  version: 1 | 2;
  name: string;
  brief?: string;
  start: Id;
  /** How much the levels of one group may cost to load, all together; and one place, and the whole. */
  limit?: Limit;
  saves?: Saves;
  /** How the player moves over plans. */
  movement?: Movement;
  variables: Record<Id, Variable>;
  numbers: Record<Id, NamedNumber>;
  signals: Record<Id, Signal>;
  assets: Record<Id, Asset>;
  orders: Record<Id, Order>;
  groups: Record<Id, Group>;
  places: Record<Id, Place>;
  rules: Rule[];
  accepted: Accepted[];
  runs: Record<Id, Run>;
}

/** A trial that was kept: what was done, and after each step what came of it. */
export interface Run {
  name: string;
  brief?: string;
  /** Why it is known not to go as recorded: the flow is wrong, not the run. */
  bug?: string;
  steps: RunStep[];
}

/** One event of a run (docs/flow-format.md, section 8) with what it came to when it was recorded. */
export type RunStep = Step & {
  then: RunOutcome;
  /** Conditions that have to hold after it, however it comes about. */
  expects?: string[];
};

/** The active place after a step, the rules that fired, and the values that changed. */
export interface RunOutcome {
  in: Id;
  rules?: Id[];
  values?: Record<Id, number | boolean | string>;
}

/** The saved games that a player can have side by side: how many slots, and what is shown of each, in this order. */
export interface Saves {
  slots?: number;
  shows?: Id[];
}

/** A number that several things keep to, never changed in play. */
export interface NamedNumber {
  name: string;
  brief?: string;
  value: number;
}
/** So many seconds, or as many as a named number says. */
export type Seconds = number | Id;

export type Scope = 'attempt' | 'run' | 'kept';

interface VariableBase {
  name: string;
  brief?: string;
  scope: Scope;
}
export interface NumberVariable extends VariableBase {
  type: 'number';
  initial: number;
  min: number;
  max: number;
}
export interface FlagVariable extends VariableBase {
  type: 'flag';
  initial: boolean;
}
export interface ChoiceVariable extends VariableBase {
  type: 'choice';
  initial: Id;
  choices: Id[];
  /** What a choice is called, where that is not its id. */
  labels?: Record<Id, string>;
}
export type Variable = NumberVariable | FlagVariable | ChoiceVariable;

export interface Signal {
  name: string;
  brief?: string;
}

export interface Group {
  name: string;
  brief?: string;
  /** The shared assets that are loaded with it, besides those of its levels. */
  uses?: Id[];
  rules: Rule[];
}

interface OrderBase {
  name: string;
  brief?: string;
  levels: Id[];
}
export interface TableOrder extends OrderBase {
  draw: 'table';
  rows: Id[][];
}
export interface PlainOrder extends OrderBase {
  draw: 'fixed' | 'bag';
}
export type Order = PlainOrder | TableOrder;

export type PlaceKind = 'menu' | 'level' | 'interlude' | 'ending';
export type Outcome = 'won' | 'lost' | 'left';

/** A text that a place shows, else the first of these whose condition holds. */
export type Message = string | MessageCase[];
export interface MessageCase {
  if?: string;
  text: string;
}

interface PlaceBase {
  name: string;
  brief?: string;
  rules: Rule[];
  expects: string[];
  message?: Message;
  load?: Load;
  /** The shared assets that are loaded with it. */
  uses?: Id[];
  tags?: string[];
  look?: Record<string, unknown>;
}
/** What a designer expects of a level: how long it takes, and the chance to win an attempt (0 to 1). */
export interface Estimate {
  seconds?: number;
  chance?: number;
}

/** What a place costs to load. */
export interface Load {
  megabytes?: number;
  seconds?: number;
}
/** How much may be loaded: itself for a group. */
export interface Limit extends Load {
  place?: Load;
  whole?: Load;
}
/** Something that several places share, and that is loaded once for all of them. */
export interface Asset {
  name: string;
  brief?: string;
  megabytes: number;
}

export interface Level extends PlaceBase {
  kind: 'level';
  group?: Id;
  entries: Record<Id, Entry>;
  pieces: Record<Id, Piece>;
  goal?: 'win' | 'leave';
  progress?: number;
  objectives: Record<Id, Objective>;
  /** Where in the level the player can be, the first at the beginning; without any the level is not taken apart. */
  spots: Record<Id, Spot>;
  passages: Record<Id, Passage>;
  estimate?: Estimate;
  /** The ground as drawn: spots, passages and where the pieces stand follow from it (`grown`). */
  plan?: Plan;
  /** How the player moves here, in place of what the document says, key by key. */
  movement?: Movement;
}
export interface Menu extends PlaceBase {
  kind: 'menu';
}
export interface Interlude extends PlaceBase {
  kind: 'interlude';
}
export interface Ending extends PlaceBase {
  kind: 'ending';
  outcome: Outcome;
}
export type Place = Menu | Level | Interlude | Ending;

/** What the player is to do in a level besides winning it; what is `needed` has to be met before it is won. */
export interface Objective {
  text: string;
  met: string;
  needed?: true;
}

export interface Entry {
  name: string;
  brief?: string;
  facing?: string;
  /** Where the player stands after arriving here; else at the first spot. */
  spot?: Id;
}

/** A part of a level in which the player can be. */
export interface Spot {
  /** The area of the plan in which it is, where it follows from one: never written. */
  area?: Id;
  name: string;
  brief?: string;
}

/** How the player gets from one spot of a level to another; only that way unless `both`. */
export interface Passage {
  from: Id;
  to: Id;
  both?: true;
  if?: string;
  /** Pieces that are touched on it and cannot be avoided, in this order. */
  through?: Id[];
  name?: string;
  brief?: string;
  note?: string;
}

/** Column and row, from 0 at the left and at the top. */
export type Cell = [x: number, y: number];

/** The ground of a level, drawn cell by cell (docs/flow-format.md, section 13). */
export interface Plan {
  view: 'above' | 'side';
  /** Ground only, one character a cell, rows of one length. */
  rows: string[];
  things?: Record<Id, PlanThing>;
  links?: Record<Id, PlanLink>;
  areas?: Record<Id, PlanArea>;
  patrols?: Record<Id, PlanPatrol>;
  /** The hazard that a fall out of the rows touches. */
  below?: Id;
  /** What the characters, or the words, of grids from elsewhere mean. */
  reads?: Record<string, PlanRead>;
}

/** A character of ground, or what stands there on open ground. */
export type PlanRead = string | { piece: Id } | { entry: Id } | { gate: string };

export type PlanThing =
  | { piece: Id; cells: Cell[] }
  | { entry: Id; cell: Cell; facing?: string }
  /** Ground that is open only while a condition holds. */
  | { gate: string; cells: Cell[]; name?: string };

/** A lift, a jump pad, a teleport: from one cell to another without the cells between. */
export interface PlanLink {
  from: Cell;
  to: Cell;
  both?: true;
  if?: string;
  name?: string;
  seconds?: number;
}

/** A foe that goes straight from point to point, from the first one on, as soon as the player arrives. */
export interface PlanPatrol {
  piece: Id;
  points: Cell[];
  /** From the last point to the first again, or back the way it came. */
  turn: 'round' | 'back';
  /** In cells a second; a named number may stand for it. */
  speed: number | Id;
}

/** A rectangle with a name; both corners belong to it. */
export interface PlanArea {
  name: string;
  from: Cell;
  to: Cell;
}

/** How the player moves over plans, in cells and cells a second; what is not said is as usual (`usualMovement`). */
export interface Movement {
  above?: { speed?: number; diagonal?: true };
  side?: { speed?: number; up?: number; across?: number; drop?: number; tall?: 1 | 2 };
  abilities?: Record<Id, Ability>;
}

/** What the player can do only while a condition holds. */
export interface Ability {
  name: string;
  if: string;
  up?: number;
  across?: number;
  diagonal?: true;
}

/** So many of a piece, each of which can be had from any of these spots. */
export interface Standing {
  spots: Id[];
  n?: number;
  /** They go from one of these spots to the next, all together. */
  patrol?: Rounds;
}

/** A patrol between spots: so many seconds at each, then on to the next, round or back the way it came. */
export interface Rounds {
  turn: 'round' | 'back';
  seconds: number[];
}

export type PieceKind = 'pickup' | 'foe' | 'player' | 'hazard' | 'exit' | 'checkpoint' | 'switch' | 'other';
export type Renewal = 'arrival' | 'attempt' | 'run' | 'never';

export interface Piece {
  name: string;
  brief?: string;
  kind: PieceKind;
  count?: number;
  /** Where they stand: as a list, or by spot how many; everywhere in the level where nothing is said. The count is then the sum. */
  at?: Standing[] | Record<Id, number>;
  renew?: Renewal;
  progress?: number;
}

export interface Rule {
  id: Id;
  when: Trigger;
  if?: string;
  do?: Effect[];
  go?: Target;
  result?: 'won' | 'lost';
  by?: Transition;
  note?: string;
}

/** From where something is touched. */
export type Side = 'above' | 'beside' | 'below';
/** Something done to a piece: `touch` and its like, with the piece's id. */
export type Deed = { touch: Id; side?: Side } | { collect: Id } | { defeat: Id };
export type DeedKind = Exclude<KeyOf<Deed>, 'side'>;

/** Which slots of saved games: those that hold some progress, those that hold none, or all. */
export type SlotKind = 'used' | 'empty' | 'any';

export type Trigger =
  | Deed
  | { press: string; key?: string; idle?: 'hidden' | 'dimmed' }
  | { slot: SlotKind }
  | { after: Seconds }
  | { every: Seconds }
  | { arrive: true }
  | { hear: Id }
  | { holds: string }
  | { walk: Id }
  | { reach: Id }
  | { choose: Id };
export type TriggerKind = Exclude<KeyOf<Trigger>, 'key' | 'idle' | 'side'>;

/**
 * What can be done in a settled state (section 4). `of` on a deed says of which entry of the piece's `at`, `rule` on a choice
 * which rule offers it; these and slots count from 0.
 */
export type Event =
  | (Deed & { of?: number })
  | { press: string }
  | { slot: number }
  | { choose: Id; rule: Id }
  | { walk: Id }
  | { every: Seconds }
  | { time: true };
export type EventKind = Exclude<KeyOf<Event>, 'rule' | 'side' | 'of'>;

/** A draw made while an event is handled: the row of a table, counted from 0, or the level drawn from a bag. */
export type Draw = { order: Id; row: number } | { order: Id; level: Id };

/** An event as routes and runs name it, with its draws: `rule` and `of` only where without it two could be meant. */
export type Step = (Exclude<Event, { choose: Id }> | { choose: Id; rule?: Id } | { start: true }) & { draws?: Draw[] };

export type EffectMoment = 'leaving' | 'hidden';
export type Effect = { at?: EffectMoment } & Act;
/** What an effect does. */
export type Act =
  | { set: Id; to: string }
  | { reset: Id }
  | { raise: Id }
  | { remove: Id; by?: number }
  | { restore: Id }
  | { defeat: Id }
  | { draw: Id }
  | { begin: 'run' }
  | { save: 'always' | 'forward' }
  | { slot: 'take' | 'put' | 'clear' }
  | { forget: true }
  | { erase: true };
export type EffectKind = Exclude<KeyOf<Act>, 'to' | 'by'>;

export type MoveWord = 'next' | 'previous' | 'first' | 'last' | 'again' | 'back' | 'resume' | 'load' | 'chosen';
export interface PlaceTarget {
  place: Id;
  entry?: Id;
  over?: true;
}
export interface MoveTarget {
  move: MoveWord;
  order?: Id;
  entry?: Id;
  else?: Target;
}
export type Target = PlaceTarget | MoveTarget;

export interface Transition {
  style: 'cut' | 'fade' | 'slide' | 'iris';
  wait?: Seconds;
  out?: Seconds;
  hold?: Seconds;
  in?: Seconds;
  /** What the screen is covered in, "#rrggbb" in lower case; black where it is not said. */
  colour?: string;
  sound?: string;
  music?: 'keep' | 'stop' | 'fade';
}

export interface Accepted {
  check: string;
  subject: string;
  reason: string;
  /** What the finding rested on when it was accepted; where that is another now, it is a finding again. */
  rests?: string;
}

/** Where a rule stands. */
export type Owner = { place: Id } | { group: Id } | { flow: true };

/** Every list of rules of a document with its owner, in reading order: places, groups, flow. */
export function* ruleLists(document: FlowDocument): Generator<{ owner: Owner; rules: Rule[]; pointer: string }> {
  for (const [id, place] of Object.entries(document.places)) {
    yield { owner: { place: id }, rules: place.rules, pointer: `/places/${id}/rules` };
  }
  for (const [id, group] of Object.entries(document.groups)) {
    yield { owner: { group: id }, rules: group.rules, pointer: `/groups/${id}/rules` };
  }
  yield { owner: { flow: true }, rules: document.rules, pointer: '/rules' };
}

export function rulePointer(owner: Owner): string {
  return 'place' in owner ? `/places/${owner.place}/rules` : 'group' in owner ? `/groups/${owner.group}/rules` : '/rules';
}

/** A target and its otherwise. */
export function targetsOf(target: Target): Target[] {
  return 'move' in target && target.else ? [target, target.else] : [target];
}

export interface FoundRule {
  owner: Owner;
  rule: Rule;
  index: number;
}

/** Documents are never changed once they are made, so what is where is found out once for each. */
const ruleMaps = new WeakMap<FlowDocument, Map<Id, FoundRule>>();

/** A rule with its owner and its place in the owner's list; undefined when there is none of this id. */
export function findRule(document: FlowDocument, id: Id): FoundRule | undefined {
  let map = ruleMaps.get(document);
  if (!map) {
    map = new Map();
    for (const { owner, rules } of ruleLists(document)) {
      for (let index = 0; index < rules.length; index++) map.set(rules[index]!.id, { owner, rule: rules[index]!, index });
    }
    ruleMaps.set(document, map);
  }
  return map.get(id);
}

/** The levels of a document with their ids, in display order. */
export function levelsOf(document: FlowDocument): [Id, Level][] {
  return Object.entries(document.places).filter((entry): entry is [Id, Level] => entry[1].kind === 'level');
}

export function isLevel(document: FlowDocument, id: Id): boolean {
  return own(document.places, id)?.kind === 'level';
}

/** The start place if it is a menu without a `choose` rule, else the first such menu, if any. */
export function homeOf(document: FlowDocument): Id | undefined {
  const fits = (place: Place | undefined) => place?.kind === 'menu' && !place.rules.some((rule) => 'choose' in rule.when);
  if (fits(own(document.places, document.start))) return document.start;
  return Object.keys(document.places).find((id) => fits(document.places[id]));
}

/** What a map holds under an id, never what objects inherit. */
export function own<T>(map: Record<string, T>, id: string): T | undefined {
  return Object.hasOwn(map, id) ? map[id] : undefined;
}

/** The levels in which an owner's rules are read; undefined for a menu, interlude or ending. */
export function levelsOfOwner(document: FlowDocument, owner: Owner): Id[] | undefined {
  if ('place' in owner) return isLevel(document, owner.place) ? [owner.place] : undefined;
  const all = Object.keys(document.places).filter((id) => isLevel(document, id));
  return 'flow' in owner ? all : all.filter((id) => (document.places[id] as { group?: Id }).group === owner.group);
}

/** How many levels a group has, else an order lists; undefined where there is neither. */
export function levelsCounted(document: FlowDocument, id: Id): number | undefined {
  if (Object.hasOwn(document.groups, id)) return levelsOfOwner(document, { group: id })!.length;
  return own(document.orders, id)?.levels.length;
}
