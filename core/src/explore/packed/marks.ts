/** What an exploration is told by the machine, and what has been seen so far. */

/** Is told what is seen for the first time; the machine's fields say the rest. */
export interface Witness {
  /** A rule fires, a level is completed, a place is entered for the first time. */
  fires(rule: number): void;
  completes(level: number): void;
  enters(place: number): void;
  /** A level was entered afresh, and in the same event a rule moves on to another place. */
  passes(level: number, rule: number): void;
  stranded(rule: number): void;
  unsettled(rule: number): void;
  /** A rule assigns a number beyond its variable's range. */
  clamped(site: number): void;
  /** A rule wins a level, and an objective of it is met then or not. */
  judges(objective: number, rule: number, met: boolean): void;
  /** A rule wins in an event in which a pickup that it counts has been removed. */
  winsByRemoval(rule: number): void;
  /** A rule goes back to what was saved, in an earlier run or in this one. */
  resumes(rule: number, earlier: boolean): void;
  /** The player comes to a spot, takes a passage, and touches a piece on it, by their numbers over all levels. */
  stands(spot: number): void;
  walks(passage: number): void;
  touchesOnWay(meetable: number): void;
  /** A rule does something with the picked slot while none is picked. */
  unpicked(rule: number): void;
  /** While its rule has never been true. */
  sees(term: number, value: number | boolean): void;
}

/** Is told of each end of an event. */
export interface PackedWatcher {
  /** It has been run to its end, with one series of draws. */
  done(settled: boolean): void;
  /**
   * An event that was run as a step has settled, and the machine's `next` is the state it led to. A move entered places
   * afresh, the last of them a level or not, and what it did is said by bits of `can`.
   */
  stays(event: number): void;
  /** It fired rules, and wrote nothing. */
  same(event: number): void;
  moves(event: number, bits: number, level: boolean): void;
}

/** What has been seen so far, as bytes that the generated code reads and writes itself. */
export class Marks {
  /** By rule: it applies in a place that was entered; its trigger happened; it was read, and true, and false. */
  readonly present;
  readonly happened;
  readonly wasTrue;
  readonly wasFalse;
  /** It is known to fire. By place: it is known to be completed, and entered. */
  readonly fired;
  readonly completed;
  readonly entered;
  /** Of a level: it is known to be left in the event that entered it. */
  readonly passed;
  /** By spot of all levels: it is known to be come to; by passage, to be taken; by what can be met on one, to be touched. */
  readonly stood;
  readonly walked;
  readonly touchedOnWay;
  /** By assignment: it is known to leave its range. */
  readonly clamped: boolean[] = [];
  /** By term: its last value. */
  readonly terms: (number | boolean)[] = [];

  constructor(rules: number, places: number, spots: number, passages: number, meetable: number) {
    this.stood = new Uint8Array(spots);
    this.walked = new Uint8Array(passages);
    this.touchedOnWay = new Uint8Array(meetable);
    [this.present, this.happened, this.wasTrue, this.wasFalse, this.fired] = Array.from(
      { length: 5 },
      () => new Uint8Array(rules + passages)
    ) as [Uint8Array, Uint8Array, Uint8Array, Uint8Array, Uint8Array];
    this.completed = new Uint8Array(places);
    this.entered = new Uint8Array(places);
    this.passed = new Uint8Array(places);
  }
}
