/**
 * The meaning of a flow on packed states: a second writing of `play`, made for speed. What depends on the place is
 * generated (pair-code.ts); here is what runs it, and what is the same everywhere. Whatever differs from `play` is a
 * fault of these two; the property tests look for it.
 */
import type { Id, Draw, Event } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import { mostDraws, mostFirings } from '../../play/handle.ts';
import { can } from '../facts.ts';
import { Drawing } from './drawing.ts';
import { Frames } from './frames.ts';
import type { Codes } from './known-codes.ts';
import { Marks, type PackedWatcher, type Witness } from './marks.ts';
import { Naming } from './names.ts';
import type { Needs } from './needs.ts';
import type { Into } from './code.ts';
import { Orders } from './orders.ts';
import { Pairs, type Pair } from './pair.ts';
import { layoutOf, type Layout } from './layout.ts';
import { Sheet } from './sheet.ts';

/** Thrown where too many rules have fired. One for all, as it is common and its stack tells nothing. */
const neverSettles = new Error('never settles');
/** From so many states on it is worth to have all events of a place run by a function of its own. */
const mostAlike = 15_000;
const none = -1;
/** In place of an event's number: every event, and what happens at the very start. */
export const every = -1;
export const start = -2;

export class Machine {
  readonly v: Int32Array;
  readonly at: Layout;
  /** The packed state that events are run from, and the one that an event has led to. */
  readonly base: Int32Array;
  readonly next: Int32Array;
  readonly frames: Frames;
  readonly naming: Naming;
  readonly marks: Marks;
  readonly sheet: Sheet;
  readonly queue: number[] = [];
  /** The pickups, by their numbers among those that are removable, that effects have removed during this event. */
  readonly removed = new Set<number>();
  /** The active place over the bottom place. */
  pair!: Pair;

  /** Some event had too many series of draws to be run to the end. */
  gaveUp = false;

  // of the event that is run
  event = none;
  /** Which series of draws. */
  way = 0;
  /** Layout were entered or returned to. */
  moved = false;
  /** By the frames' positions: made during this event. */
  newFrames = 0;
  /** A place was entered afresh; the last time by which rule (-1: the start), and whether to where play had been. */
  afresh = false;
  arrival = none;
  arrivedBack = false;
  /** Play was, in this event, where run variables can be stale. */
  mayBeStale = false;
  /** Bits of `can`. */
  bits = 0;
  /** The rules that fired, and how many. */
  readonly series = new Int32Array(mostFirings);
  firings = 0;
  /** The most for one event, but for steps. */
  mostFired = 0;
  /** Bits of `by`: a run has begun, all has been erased. */
  undone = 0;
  /** The progress of the checkpoint that is touched, and the spot of the entry that is called like it; -1 for none. */
  progress = none;
  checkpointSpot = none;

  /** Where merged numbers grew: the assignment, which number it was before the event, and what has been added to that. */
  growths: { site: number; from: number; sum: number }[] = [];

  /** The machine has gone on with the event that was begun as a step; the draws of one are made in turn. */
  private wentOn = false;
  private inTurn = false;

  /** The slots are not those of the state that events are run from. */
  private behind = false;
  /** Nothing is ever opened over a place. */
  private readonly alwaysOne: boolean;
  readonly bottomOf: (words: Int32Array, at: number, v: Int32Array) => number;

  /** So many states have been left by one loop over their events. */
  private alike = 0;

  /** Where events are run from; undefined before the start. */
  private home: Pair | undefined;
  readonly pairs: Pairs;
  private readonly orderIds: Id[];
  private readonly drawing = new Drawing();
  readonly orders: Orders;

  constructor(
    readonly flow: Flow,
    readonly watcher: PackedWatcher,
    readonly witness: Witness,
    needs?: Needs,
    codes?: Codes
  ) {
    this.at = layoutOf(flow, needs);
    this.v = this.at.initial.slice();
    this.frames = new Frames(this.v, this.at);
    this.alwaysOne = this.at.openable.size === 0;
    this.bottomOf = this.at.packing.reader(this.at.place[0]!);
    this.base = new Int32Array(this.at.packing.words);
    this.next = new Int32Array(this.at.packing.words);
    this.naming = new Naming(flow, this.at);
    this.orderIds = Object.keys(flow.document.orders);
    this.orders = new Orders(this.v, this.at, this.drawing);
    this.sheet = new Sheet(flow, this.at, this.naming);
    const { spots, placeIds } = this.at;
    const all = spots.reduce((sum, { length }) => sum + length, 0);
    this.marks = new Marks(flow.rules.size, placeIds.length, all, flow.passages.size, this.sheet.meetable.length);
    this.pairs = new Pairs(this.sheet, this, codes);
  }

  // ---- events ------------------------------------------------------------------------------------------------------

  /** Events are run from the state whose words begin at a place. */
  from(words: Int32Array, at: number): void {
    const { base } = this;
    for (let word = 0; word < base.length; word++) base[word] = words[at + word]!;
    this.behind = true;
    if (this.alwaysOne && this.at.merged.length === 0) {
      const pair = this.pairs.alone(this.bottomOf(base, 0, this.v));
      // to write a reference costs more than to compare it
      if (this.pair !== pair) this.pair = pair;
      return;
    }
    this.load();
    this.locate();
  }

  /** The slots have been used for something else. */
  fallsBehind(): void {
    this.behind = true;
  }

  /** Brings the slots to the state that events are run from. */
  load(): void {
    if (!this.behind) return;
    this.behind = false;
    this.at.packing.unpack(this.base, this.v);
  }

  /** The active place over its bottom place, as the slots say. */
  private locate(): void {
    const { depth, active, bottom } = this.frames;
    this.pair = depth === 1 ? this.pairs.alone(bottom) : this.pairs.over(active, bottom);
  }

  /**
   * Runs an event from the present state, or every event that can happen (`start`: that of the very start), each once
   * for each series of draws, and tells the watcher of each end. An event that changes nothing is not told.
   */
  run(event: number): void {
    if (event === start) {
      this.home = undefined;
      this.runStart();
    } else {
      if (this.home !== this.pair) this.home = this.pair;
      this.begin();
      this.runFrom(this.home, event);
    }
  }

  /** Another place is active than the one that events are run from. */
  get movesOn(): boolean {
    return this.pair.place !== this.home!.place;
  }

  /** An event of the place that events are run from. */
  eventOf(number: number): Event {
    return this.home!.events[number]!;
  }

  private runFrom({ steps, begins, every: all, own }: Pair, event: number): void {
    if (event !== every) steps[event]!.run(event, own + begins[event]!);
    else if (this.alike < mostAlike) {
      // after an edit this loop is warm, where what is made of all events of a place is not
      this.alike++;
      for (let number = 0; number < steps.length; number++) steps[number]!.run(number, own + begins[number]!);
    } else all(own);
  }

  private runStart(): void {
    let whole = true;
    this.firings = 0;
    try {
      this.enter(this.at.placeIndex.get(this.flow.document.start)!, none, none, 0, false, none, 0);
    } catch (error) {
      whole = this.caught(error);
    }
    this.ended(start, whole);
  }

  /** The rules of an event have been read: `whole` unless they set each other off without end. */
  ended(event: number, whole: boolean): void {
    this.event = event;
    this.wentOn = true;
    this.watcher.done(whole && this.settles());
    if (this.firings > this.mostFired) this.mostFired = this.firings;
    if (this.way > 0) return;
    if (this.drawing.made > 0) this.otherDraws(event);
    this.clear();
  }

  private otherDraws(event: number): void {
    const { drawing, home } = this;
    while (drawing.next()) {
      if (++this.way === mostDraws) {
        this.gaveUp = true;
        break;
      }
      this.clear();
      if (home) this.runFrom(home, event);
      else this.runStart();
    }
    this.way = 0;
    drawing.end();
  }

  /** Back to the place from which events are run. */
  calm(): void {
    this.moved = this.afresh = this.arrivedBack = false;
    this.newFrames = this.bits = 0;
    this.arrival = none;
    this.begin();
  }

  /** Before the next event from the same state. */
  private begin(): void {
    if (!this.home) return;
    if (this.pair !== this.home) this.pair = this.home;
    this.mayBeStale = this.at.staleAt[this.home.bottom]!;
  }

  /** Back to the state from which events are run. */
  private clear(): void {
    if (this.moved) this.calm();
    this.progress = this.checkpointSpot = none;
    if (this.removed.size > 0) this.removed.clear();
    if (this.queue.length > 0) this.queue.length = 0;
    this.drawing.forget();
    if (this.growths.length > 0) this.growths = [];
    // before the start there is no place to run events from
    this.behind = this.home !== undefined;
    if (!this.behind) this.v.set(this.at.initial);
    else if (this.at.merged.length > 0) this.load();
  }

  /** What the event that is being run has drawn so far. */
  get draws(): Draw[] {
    const { at, orderIds } = this;
    return this.drawing.drawn.map(([number, what]) => {
      const order = orderIds[number]!;
      return at.orders[number]!.bag ? { order, level: at.placeIds[what]! } : { order, row: what };
    });
  }

  settles(): boolean {
    try {
      do {
        if (this.queue.length > 0) this.hearAll();
      } while (this.pair.slots().pass());
      return true;
    } catch (error) {
      return this.caught(error);
    }
  }

  /** Handles all signals that wait; whether a rule left. */
  hearAll(): boolean {
    let left = false;
    while (this.queue.length > 0) left = this.pair.slots().hear[this.queue.shift()!]!() || left;
    return left;
  }

  /** What an event was that did not come to its end: one that never settles. */
  caught(error: unknown): false {
    if (error === neverSettles) return false;
    throw error;
  }

  // ---- where steps end that the machine goes on with -----------------------------------------------------------------

  /** Before an event is run on the slots. A step before it may have got so far that the machine went on, and no further. */
  ready(): void {
    this.load();
    this.calm();
    this.firings = 0;
    this.progress = this.checkpointSpot = none;
  }

  /** What a step did before the slots are brought up to date, for the first time or once more (`again`). */
  spills(fired: number, bits: number, afresh: boolean, mayBeStale: boolean, again: boolean): void {
    if (!again) this.load();
    this.behind = true;
    this.wentOn = false;
    this.firings = fired;
    this.progress = this.checkpointSpot = none;
    this.bits = bits;
    this.moved = this.afresh = afresh;
    this.newFrames = afresh ? 1 : 0;
    this.mayBeStale = mayBeStale;
  }

  /** The slots are those of the words that a step has written so far. */
  readsOn(): void {
    this.at.packing.unpack(this.next, this.v);
  }

  /** Enters a place afresh, and is the end of the event. */
  go(
    event: number,
    to: number,
    order: number,
    position: number,
    saved: 0 | 1 | 2,
    back: boolean,
    rule: number,
    entry: number
  ): void {
    let whole = true;
    try {
      this.enter(to, order, position, saved, back, rule, entry);
    } catch (error) {
      whole = this.caught(error);
    }
    this.ended(event, whole);
  }

  goOver(event: number, to: number): void {
    let whole = true;
    try {
      this.open(to);
    } catch (error) {
      whole = this.caught(error);
    }
    this.ended(event, whole);
  }

  /** How a level is entered by steps; undefined where it cannot be. */
  into(level: number): Into | undefined {
    return this.pairs.alone(level).into;
  }

  /** Whether an event that ended in a step has another draw, from what was in its bag, for its move along an order; it is made. */
  another(event: number, order: number, bag: number[]): boolean {
    const { drawing } = this;
    if (!this.inTurn && (this.way > 0 || this.wentOn)) return false;
    if (this.wentOn) {
      // what it drew behind this one is only run from its beginning
      this.inTurn = false;
      this.otherDraws(event);
    } else if (drawing.made > 0 && drawing.next()) {
      this.inTurn = ++this.way < mostDraws;
      this.clear();
      if (this.inTurn) this.orders.drawFrom(order, bag);
      else this.gaveUp = true;
    } else this.inTurn = false;
    if (this.inTurn) return true;
    this.way = 0;
    drawing.end();
    this.clear();
    return false;
  }

  // ---- what generated code tells -----------------------------------------------------------------------------------

  /** Not that the rule may: that it would be one too many. */
  never(rule: number): never {
    this.witness.unsettled(rule);
    throw neverSettles;
  }

  /** A number whose value is merged grows further: whether beyond its range is known when all is explored. */
  grows(site: number, index: number): void {
    const { v, at } = this;
    const { source, added, max } = at.merged[index]!;
    const [from, sum] = [v[source]!, v[added]!];
    if (from >= 0) this.growths.push({ site, from, sum });
    else if (sum > max) this.witness.clamped(site);
  }

  /** The level at the bottom is completed. */
  completes(level: number): void {
    if (this.marks.completed[level] === 0) this.witness.completes(level);
    if (!this.afresh) this.bits |= can.complete;
  }

  /** The attempt is won, lost or left. */
  ends(): void {
    if (!this.afresh) this.bits |= can.leave;
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  back(): void {
    this.newFrames &= ~(1 << this.frames.pop());
    this.moved = true;
    this.locate();
  }

  open(to: number): void {
    this.newFrames |= 1 << this.frames.push(to);
    this.moved = true;
    this.locate();
    this.entered(to);
  }

  /**
   * Clears the stack and enters a place afresh; by an order, to a position in its row; at the entry with this number among those
   * that targets name, or as the level was entered last (-1).
   */
  enter(to: number, order: number, position: number, saved: 0 | 1 | 2, back: boolean, rule: number, entry: number): void {
    const { bottom } = this.frames;
    if (this.afresh && bottom !== to && this.at.levels[bottom] && this.marks.passed[bottom] === 0) {
      this.witness.passes(bottom, rule);
    }
    const pair = this.pairs.alone(to);
    const spot = this.at.hasSpots ? this.standsAt(to, saved, entry) : 0;
    pair.slots().enter(order, position, saved, spot);
    this.pair = pair;
    this.newFrames = 1;
    this.moved = true;
    this.afresh = true;
    this.mayBeStale ||= this.at.marksStale[to]!;
    this.arrival = rule;
    this.arrivedBack = back;
    this.progress = this.checkpointSpot = none;
    this.bits |= this.at.endings[to] ? can.enter | can.end : can.enter;
    this.entered(to);
  }

  /** The number of the spot at which a place is entered, which is noted; what is not kept was come to before. */
  private standsAt(to: number, saved: 0 | 1 | 2, entry: number): number {
    const { at, v, marks } = this;
    const isKept = at.keptAt[to]!;
    const again = isKept ? v[at.latestSpot]! : none;
    const fresh = entry < 0 ? again : at.arrivals[entry]![to]!;
    const spot = saved === 0 ? fresh : isKept ? v[at.bookSpot]! : none;
    const number = at.firstSpot[to]! + spot;
    if (spot >= 0 && marks.stood[number] === 0) this.witness.stands(number);
    return spot;
  }

  private entered(place: number): void {
    if (this.marks.entered[place] === 0) this.witness.enters(place);
    this.pair.slots().arrive();
  }

  /** A step enters a place for the first time: from now on its rules are there to be read. */
  entersFirst(place: number): void {
    this.pairs.alone(place);
    this.witness.enters(place);
  }
}
