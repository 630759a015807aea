/** A place over a bottom place, made of its code and bound to a machine. */
import { arithmetic } from '../../language/evaluate.ts';
import type { Codes, From, KnownCodes } from './known-codes.ts';
import { likeness } from './likeness.ts';
import type { Marks, PackedWatcher, Witness } from './marks.ts';
import type { Naming } from './names.ts';
import type { Orders } from './orders.ts';
import type { PlaceCode, Entrance, Into, Generated, EventStep } from './code.ts';
import { codeOfPair, entranceOf } from './pair-code.ts';
import type { Sheet } from './sheet.ts';
import type { Event } from '../../document/types.ts';

/** What can happen in a place over a bottom place, as functions on the slots. */
export interface Pair {
  place: number;
  bottom: number;
  events: Event[];
  /** By event, and all of them, each once. */
  steps: EventStep[];
  every(own: number): void;
  /** By event where its own numbers begin among those of the place, and where these begin. */
  begins: number[];
  own: number;
  into: Into | undefined;
  /** How it is entered on all slots, and what is read then; made when it is first needed, as steps do without. */
  slots(): Entrance;
}

/** The steps of a code, bound to a machine. */
interface Bound {
  steps: EventStep[];
  every(own: number): void;
}

/** What a machine gives to the code that it runs, and itself. */
export interface Machinery {
  v: Int32Array;
  base: Int32Array;
  next: Int32Array;
  watcher: PackedWatcher;
  witness: Witness;
  orders: Orders;
  queue: number[];
  marks: Marks;
  naming: Naming;
}

/** Makes pairs for a machine. */
export class Pairs {
  /** The most rules that an event fires as a step, and that one fires which enters a level. */
  mostInSteps = 0;
  mostInEntrances = 0;
  /** What all generated code is given, but for the numbers: those of all places for their events, as `Pair.own` says. */
  private readonly given: unknown[];
  private readonly numbers: number[] = [];
  private readonly bound = new Map<PlaceCode, Bound>();
  /** By what levels have in common. */
  private readonly alike = new Map<string, PlaceCode>();
  private readonly known: KnownCodes | undefined;
  private readonly marks: Marks;
  /** By place alone, and by both numbers of a place over another. */
  private readonly ofPlace: (Pair | undefined)[];
  private readonly ofTwo = new Map<number, Pair>();

  constructor(
    private readonly sheet: Sheet,
    machine: Machinery,
    codes: Codes | undefined
  ) {
    const { v, base, next, watcher, witness, orders, queue, marks, naming } = machine;
    this.marks = marks;
    this.ofPlace = new Array<Pair | undefined>(sheet.at.placeIds.length).fill(undefined);
    const { happened, wasTrue, wasFalse, fired, completed, entered, passed, stood, walked, touchedOnWay, clamped, terms } = marks;
    const noted = [happened, wasTrue, wasFalse, fired, completed, entered, passed, stood, walked, touchedOnWay, clamped, terms];
    this.given = [v, base, next, watcher, witness, machine, orders, naming.choices, naming.indexes, queue, ...noted, arithmetic];
    this.known = codes?.of(sheet);
  }

  /** A place with nothing under it. */
  alone(place: number): Pair {
    return this.ofPlace[place] ?? (this.ofPlace[place] = this.make(place, place));
  }

  over(place: number, bottom: number): Pair {
    const key = place * this.sheet.at.placeIds.length + bottom;
    let found = this.ofTwo.get(key);
    if (!found) this.ofTwo.set(key, (found = this.make(place, bottom)));
    return found;
  }

  /** A pair is made when it is first entered: that is when its rules are there to be read. */
  private make(place: number, bottom: number): Pair {
    const { sheet, numbers, marks } = this;
    const { at, flow } = sheet;
    const { all, by } = flow.applying(at.placeIds[place]!, at.placeIds[bottom]!);
    for (const { id } of all) marks.present[sheet.ruleIndex.get(id)!] = 1;
    for (const { id } of by.holds) marks.happened[sheet.ruleIndex.get(id)!] = 1;
    const self = { place, rules: all };
    const from = { self, bottom, rules: self.rules };
    const code = this.known?.find(from) ?? this.written(from);
    const { events, begins, into } = code;
    const own = numbers.length;
    for (const step of code.steps) for (const of of step.own.numbers) numbers.push(of(sheet, self));
    const made = <Made>(part: Generated<Made>) =>
      part.make(
        ...this.given,
        part.own.numbers.map((of) => of(sheet, self))
      );
    let slots: Entrance | undefined;
    return {
      place,
      bottom,
      events,
      ...this.boundOf(code),
      begins,
      own,
      into: into && made(into),
      slots: () => (slots ??= made(entranceOf(code, sheet, self, bottom)))
    };
  }

  private written(from: From): PlaceCode {
    const { sheet, alike, known } = this;
    const { self, bottom } = from;
    const like = self.place === bottom ? likeness(sheet, self) : undefined;
    let code = like === undefined ? undefined : alike.get(like);
    if (!code) {
      code = codeOfPair(sheet, self, bottom, known);
      if (like !== undefined && !code.alone) alike.set(like, code);
    }
    known?.keep(code, from);
    return code;
  }

  private boundOf(code: PlaceCode): Bound {
    let bound = this.bound.get(code);
    if (!bound) {
      const steps = code.steps.map(({ make }) => make(...this.given, this.numbers));
      this.bound.set(code, (bound = { steps, every: code.every(steps) }));
      this.mostInSteps = Math.max(this.mostInSteps, code.most.steps);
      this.mostInEntrances = Math.max(this.mostInEntrances, code.most.entrance);
    }
    return bound;
  }
}
