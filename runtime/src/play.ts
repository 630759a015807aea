/** Plays a flow inside a game: what can happen now, doing it, and what came of it. */
import { own, type Event, type FlowDocument, type Id, type PlaceKind, type Step } from '@crow-lane/core/document/types';
import type { GameFile } from '@crow-lane/core/formats/game';
import type { Value } from '@crow-lane/core/language/evaluate';
import { eventsIn, means, walkedTo } from '@crow-lane/core/play/events';
import { prepare, type Flow } from '@crow-lane/core/play/flow';
import { beginOnce, handleOnce, type Pick } from '@crow-lane/core/play/handle';
import { messageIn } from '@crow-lane/core/play/messages';
import { active, bottom, type State } from '@crow-lane/core/play/state';
import { leftOf, valueOf, type Watcher } from '@crow-lane/core/play/turn';
import { stepWords } from '@crow-lane/core/words/steps';
import { PlayError } from './errors.ts';
import { returningWith, slotsIn, stateFrom, type Saved, type SavedSlots } from './saved.ts';

export { PlayError, type Event, type GameFile, type Saved, type SavedSlots, type Step, type Value };

export interface Options {
  /** A number from 0 up to 1, as `Math.random` gives, from which draws are made. */
  random?: () => number;
  /** The saved games of earlier times, as `slots()` gave them. */
  slots?: SavedSlots;
}

export interface Place {
  id: Id;
  name: string;
  kind: PlaceKind;
}

/** What an event comes to: the rules that fire, where play is then, and which values are others. */
export interface Outcome {
  fired: Id[];
  place: Id;
  values: Record<Id, Value>;
}

export interface Choice {
  event: Event;
  /** "press Begin", "collect Lamp". */
  label: string;
  /** What it would come to now; undefined where it never settles. Where something is drawn, one of the ways it can go. */
  does: Outcome | undefined;
}

export type Timer = { event: Event; at: number } | { event: Event; each: number };

export interface Happenings {
  entered: { place: Id };
  left: { place: Id };
  fired: { rule: Id };
  saved: { level: Id; progress: number; slot: number };
}
type Listener<K extends keyof Happenings> = (what: Happenings[K]) => void;

/** Begins a game. Throws a `PlayError` where it cannot begin. */
export function start(game: GameFile, options: Options = {}): Play {
  const flow = flowOf(game);
  const { document } = flow;
  if (!own(document.places, document.start))
    throw new PlayError(`${document.name} begins in "${document.start}", and there is no such place`);
  const happened: Happening[] = [];
  const result = beginOnce(flow, pickBy(options.random), () => {}, watcherOf(happened), {
    ...(options.slots && { saved: returningWith(flow, options.slots) })
  });
  if (!result.state) throw new PlayError(`${document.name} cannot begin: its rules go on forever in ${document.start}`);
  return new Play(flow, result.state, options);
}

/** Goes on where `save()` was asked, also with another version of the flow. Throws a `PlayError` where that cannot be. */
export function restore(game: GameFile, saved: Saved, options: Omit<Options, 'slots'> = {}): Play {
  const flow = flowOf(game);
  return new Play(flow, stateFrom(flow, saved), options);
}

function flowOf(game: GameFile): Flow {
  const { format, version, flow } = game as { format: unknown; version: unknown; flow: FlowDocument };
  if (format !== 'crow-lane-game')
    throw new PlayError(
      format === 'crow-lane'
        ? 'this is a flow as it is written: "crow-lane convert FILE --to game" makes a game of it'
        : `the format of a game is "crow-lane-game", not ${JSON.stringify(format)}`
    );
  if (version !== 1 && version !== 2) throw new PlayError(`version ${JSON.stringify(version)} is not known here: 1 and 2 are`);
  return prepare(flow);
}

const pickBy =
  (random: () => number = Math.random): Pick =>
  (options) =>
    Math.min(options - 1, Math.floor(random() * options));

/** One thing that happened, in order. */
type Happening = { [K in keyof Happenings]: [kind: K, what: Happenings[K]] }[keyof Happenings];

function watcherOf(happened: Happening[]): Watcher {
  return {
    fired: ({ id }) => void happened.push(['fired', { rule: id }]),
    moving: (_rule, to, afresh, { state }) => {
      const left = afresh ? [...state.stack].reverse() : to === null ? [active(state)] : [];
      for (const { place } of left) happened.push(['left', { place }]);
    },
    entered: (place) => void happened.push(['entered', { place }])
  };
}

export class Play {
  private readonly listeners: { [K in keyof Happenings]: Set<Listener<K>> } = {
    entered: new Set(),
    left: new Set(),
    fired: new Set(),
    saved: new Set()
  };

  /** Use `start` or `restore`. */
  constructor(
    private readonly flow: Flow,
    private state: State,
    private readonly options: Options
  ) {}

  /** Where the player is: of places opened over one another the topmost. */
  get place(): Place {
    return this.placeOf(active(this.state).place);
  }

  /** The places that it was opened over, the lowest first. */
  get under(): Place[] {
    return this.state.stack.slice(0, -1).map(({ place }) => this.placeOf(place));
  }

  private placeOf(id: Id): Place {
    const { name, kind } = this.flow.document.places[id]!;
    return { id, name, kind };
  }

  /** Where in the level the player is; null where it has no such parts. */
  get spot(): Id | null {
    return this.state.spot;
  }

  /** The text that the place shows now, with its values. */
  get message(): string | undefined {
    return messageIn(this.flow, this.state);
  }

  /** All values by their ids, as they are now. */
  get values(): Record<Id, Value> {
    return valuesIn(this.flow, this.state);
  }

  /** How many of a piece of the present level are left. Throws a `PlayError` where it has none of this id. */
  left(piece: Id): number {
    const { place } = bottom(this.state);
    const level = this.flow.document.places[place]!;
    if (level.kind !== 'level' || !own(level.pieces, piece))
      throw new PlayError(`${level.name} ("${place}") has no piece "${piece}"`);
    return leftOf(this.flow, this.state, piece);
  }

  /** Whether something can be done now. */
  can(step: Step): boolean {
    return this.eventOf(step) !== undefined;
  }

  /** What can be done now, and what it would come to. */
  choices(): Choice[] {
    return eventsIn(this.flow, this.state).map((event) => {
      const { state, happened } = this.handled(event, () => 0);
      return {
        event,
        label: stepWords(this.flow.document, event, bottom(this.state).place, walkedTo(this.flow, this.state, event)),
        does: state && this.outcome(state, happened)
      };
    });
  }

  /**
   * Does something: `{ press: "Begin" }`, `{ collect: "lamp" }`, `{ time: true }`. Tells the listeners of it, in the order in which it
   * happened. Throws a `PlayError`, and leaves all as it is, where that cannot be done now, or would never end.
   */
  do(step: Step): Outcome {
    const event = this.eventOf(step);
    const { document } = this.flow;
    if (!event) {
      const can = eventsIn(this.flow, this.state).map((each) => JSON.stringify(each));
      throw new PlayError(
        `${JSON.stringify(step)} cannot be done in ${this.place.name} ("${this.place.id}"): ${can.length === 0 ? 'nothing can' : `what can is ${can.join(', ')}`}`
      );
    }
    const before = this.state;
    const { state, happened } = this.handled(event, pickBy(this.options.random));
    if (!state) {
      const last = happened.flatMap(([kind, what]) => (kind === 'fired' ? [what.rule] : [])).slice(-3);
      throw new PlayError(
        `${JSON.stringify(step)} never settles in ${document.name}: the rules ${last.join(', ')} go on forever`
      );
    }
    const { bookmark, slot } = state;
    if (bookmark !== before.bookmark && bookmark?.thisRun && slot === before.slot)
      happened.push(['saved', { level: bookmark.level, progress: bookmark.progress, slot }]);
    const outcome = this.outcome(state, happened);
    this.state = state;
    for (const [kind, what] of happened) for (const tell of this.listeners[kind]) (tell as (about: typeof what) => void)(what);
    return outcome;
  }

  /**
   * What time brings here, in seconds: a deadline `at` so many since the place was entered, clocks that tick with `each` so many.
   * Who keeps time does their events when they are due.
   */
  timers(): Timer[] {
    const { place, phase } = active(this.state);
    const { deadlines, clocks } = this.flow.applying(place, bottom(this.state).place);
    const at = deadlines[phase];
    const ticks = clocks.map(({ written, seconds }): Timer => ({ event: { every: written }, each: seconds }));
    return at === undefined ? ticks : [{ event: { time: true }, at }, ...ticks];
  }

  private eventOf(step: Step): Event | undefined {
    return eventsIn(this.flow, this.state).find((event) => means(step, event));
  }

  private handled(event: Event, pick: Pick): { state: State | undefined; happened: Happening[] } {
    const happened: Happening[] = [];
    return { state: handleOnce(this.flow, this.state, event, pick, () => {}, watcherOf(happened)).state, happened };
  }

  private outcome(state: State, happened: Happening[]): Outcome {
    const [before, after] = [this.values, valuesIn(this.flow, state)];
    return {
      fired: happened.flatMap(([kind, what]) => (kind === 'fired' ? [what.rule] : [])),
      place: active(state).place,
      values: Object.fromEntries(Object.entries(after).filter(([id, value]) => before[id] !== value))
    };
  }

  /** Listens to what happens. Gives the function that ends it. */
  on<K extends keyof Happenings>(kind: K, listener: Listener<K>): () => void {
    const all = this.listeners[kind] as Set<Listener<K>> | undefined;
    if (!all) throw new PlayError(`what happens is ${Object.keys(this.listeners).join(', ')}, not ${JSON.stringify(kind)}`);
    all.add(listener);
    return () => void all.delete(listener);
  }

  /** All of the game as it is now, as JSON. */
  save(): Saved {
    return { format: 'crow-lane-state', version: 1, flow: this.flow.document.name, state: structuredClone(this.state) };
  }

  /** The player's saved games, and what else outlasts a run, as JSON: keep it, and give it to `start` the next time. */
  slots(): SavedSlots {
    return slotsIn(this.flow, this.state);
  }
}

const valuesIn = (flow: Flow, state: State): Record<Id, Value> =>
  Object.fromEntries(Object.keys(flow.document.variables).map((id) => [id, valueOf(flow, state, id)]));
