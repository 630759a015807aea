/**
 * What happens in play: what can be done to pieces, the triggers that rules have, and the events that a player makes.
 * A trigger stands for "when this happens"; an event is what makes it happen.
 */
import type {
  Deed,
  DeedKind,
  Event,
  EventKind,
  Id,
  PieceKind,
  Side,
  Step,
  Trigger,
  TriggerKind,
  With
} from '../document/types.ts';
import { constant, fieldsOf, id, kindIn, type Field, type Say, type Shape } from './fields.ts';

interface DeedEntry {
  /** "Lamp is …". */
  done: string;
  /** In the list of triggers. */
  label: string;
  /** Whether it can be done to a piece of each kind (section 4). */
  to: Record<PieceKind, boolean>;
  /** The kind of a piece that is made where it is first said of one. */
  makes: PieceKind;
}

export const deeds: Record<DeedKind, DeedEntry> = {
  touch: {
    done: 'touched',
    label: 'a piece is touched',
    to: { pickup: false, foe: true, player: false, hazard: true, exit: true, checkpoint: true, switch: true, other: true },
    makes: 'exit'
  },
  collect: {
    done: 'collected',
    label: 'a piece is collected',
    to: { pickup: true, foe: false, player: false, hazard: false, exit: false, checkpoint: false, switch: false, other: false },
    makes: 'pickup'
  },
  defeat: {
    done: 'defeated',
    label: 'a foe or player is defeated',
    to: { pickup: false, foe: true, player: true, hazard: false, exit: false, checkpoint: false, switch: false, other: false },
    makes: 'foe'
  }
};

export const deedKinds = Object.keys(deeds) as DeedKind[];
export const isDeed = (kind: string): kind is DeedKind => Object.hasOwn(deeds, kind);

/** Whether something can be done to a piece of this kind (section 4). */
export const canHappenTo = (deed: DeedKind, kind: PieceKind): boolean => deeds[deed].to[kind];

/** What a trigger or an event does to which piece; undefined where it is about no piece. */
export function deedOf(thing: Trigger | Step): { deed: DeedKind; piece: Id } | undefined {
  const deed = deedKinds.find((kind) => kind in thing);
  return deed && { deed, piece: (thing as Record<DeedKind, Id>)[deed] };
}

/** From where something can be touched, in the order in which it is offered. */
export const sides = ['above', 'beside', 'below'] as const satisfies readonly Side[];
const side = constant(...sides);
const fromSide = (side: Side | undefined) =>
  side === undefined ? '' : { above: ' from above', beside: ' at its side', below: ' from below' }[side];

/** The ways in which a piece can be touched where these triggers are: from each side that one asks for, and from any other. */
export function waysToTouch(touch: Id, triggers: Trigger[]): With<Deed, 'touch'>[] {
  const asked = sides.filter((side) => triggers.some((when) => 'touch' in when && when.touch === touch && when.side === side));
  return [...asked.map((side) => ({ touch, side })), ...(asked.length < sides.length ? [{ touch }] : [])];
}

/** Whether a trigger waits for a deed: one that names no side for any. */
export function waitsFor(when: Trigger, deed: Deed): boolean {
  const [waited, done] = [deedOf(when), deedOf(deed)!];
  if (waited?.deed !== done.deed || waited.piece !== done.piece) return false;
  return !('touch' in when) || when.side === undefined || when.side === (deed as With<Deed, 'touch'>).side;
}

interface TriggerEntry<T> extends Shape {
  /** In the list of triggers. */
  label: string;
  /** When a rule fires, as the beginning of a sentence: "when Gust is touched". */
  words(when: T, say: Say): string;
}

const done = <K extends DeedKind>(deed: K): TriggerEntry<Record<K, Id>> => ({
  value: id('piece'),
  label: deeds[deed].label,
  words: (when, say) => `when ${say.piece(when[deed])} is ${deeds[deed].done}`
});

/** In the order in which they are offered. */
export const triggers: { [K in TriggerKind]: TriggerEntry<With<Trigger, K>> } = {
  press: {
    value: { is: 'name' },
    may: { key: { is: 'name' }, idle: constant('hidden', 'dimmed') },
    label: 'a button or key is pressed',
    words: ({ press }) => `when ${press} is pressed`
  },
  touch: {
    ...done('touch'),
    may: { side },
    words: ({ touch, side }, say) => `when ${say.piece(touch)} is touched${fromSide(side)}`
  },
  collect: done('collect'),
  defeat: done('defeat'),
  holds: {
    value: { is: 'condition' },
    label: 'a condition becomes true',
    words: ({ holds }, say) => `once ${say.text(holds)}`
  },
  after: { value: { is: 'seconds' }, label: 'time has passed', words: ({ after }, say) => `after ${say.seconds(after)}` },
  every: {
    value: { is: 'seconds' },
    label: 'time passes, again and again',
    words: ({ every }, say) => `every ${say.seconds(every)}`
  },
  arrive: { value: constant(true), label: 'the player arrives', words: () => 'on arrival' },
  hear: { value: id('signal'), label: 'a signal is raised', words: ({ hear }, say) => `when ${say.signal(hear)} is raised` },
  slot: {
    value: constant('used', 'empty', 'any'),
    label: 'a saved game is picked',
    words: ({ slot }) => `when ${{ used: 'a used slot', empty: 'an empty slot', any: 'a slot' }[slot]} is picked`
  },
  walk: {
    value: id('passage'),
    label: 'a passage is taken',
    words: ({ walk }, say) => `when ${say.passage(walk)} is taken`
  },
  reach: { value: id('spot'), label: 'a spot is reached', words: ({ reach }, say) => `when ${say.spot(reach)} is reached` },
  choose: {
    value: id('order'),
    label: 'a level is chosen',
    words: ({ choose }, say) => `when a level of ${say.order(choose)} is chosen`
  }
};

export const triggerKinds = Object.keys(triggers) as TriggerKind[];
export const triggerKind = (trigger: Trigger): TriggerKind => kindIn(triggers, trigger);
/** When a rule fires, as the beginning of a sentence. */
export const triggerSaid = (trigger: Trigger, say: Say): string =>
  (triggers[triggerKind(trigger)] as TriggerEntry<Trigger>).words(trigger, say);
export const triggerFields = (trigger: Trigger): Generator<[string, Field, unknown]> => {
  const kind = triggerKind(trigger);
  return fieldsOf(kind, triggers[kind], trigger);
};

interface EventEntry<T> extends Shape {
  /** What the player does: "press Begin". */
  words(event: T, say: Say): string;
}

const doing = <K extends DeedKind>(deed: K): EventEntry<Record<K, Id>> => ({
  value: id('piece'),
  may: { of: { is: 'index' } },
  words: (event, say) => `${deed} ${say.piece(event[deed])}`
});

export const events: { [K in EventKind]: EventEntry<With<Event, K>> } = {
  press: { value: { is: 'name' }, words: ({ press }) => `press ${press}` },
  touch: { ...doing('touch'), may: { side }, words: ({ touch, side }, say) => `touch ${say.piece(touch)}${fromSide(side)}` },
  collect: doing('collect'),
  defeat: doing('defeat'),
  slot: { value: { is: 'slot' }, words: ({ slot }) => `pick slot ${slot + 1}` },
  choose: { value: id('place'), may: { rule: id('rule') }, words: ({ choose }, say) => `choose ${say.place(choose)}` },
  walk: { value: id('passage'), words: ({ walk }, say) => `take ${say.passage(walk)}` },
  every: { value: { is: 'seconds' }, words: ({ every }, say) => `wait ${say.seconds(every)}` },
  time: { value: constant(true), words: () => 'let the next deadline pass' }
};

export const eventKind = (event: Event): EventKind => kindIn(events, event);
/** What the player does. */
export const eventSaid = (event: Event, say: Say): string => (events[eventKind(event)] as EventEntry<Event>).words(event, say);
