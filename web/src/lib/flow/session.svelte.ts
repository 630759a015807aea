/** The trial that is going on: kept while other views are looked at, and played again when the flow changes. */
import { timed, type TimedPart } from '@crow-lane/core/document/numbers';
import { nextMoment, type Moment } from '@crow-lane/core/trial/clock';
import { lengthOf, spansOf } from '$lib/parts/transition.ts';
import {
  findRule,
  own,
  type FlowDocument,
  type Id,
  type Rule,
  type Step,
  type Draw,
  type Event
} from '@crow-lane/core/document/types';
import type { Value } from '@crow-lane/core/language/evaluate';
import type { Place } from '@crow-lane/core/plan/automaton';
import type { State } from '@crow-lane/core/play/state';
import type { Beginning } from '@crow-lane/core/play/handle';
import {
  act,
  beginFrom,
  beginTrial,
  choicesOf,
  drawsOf,
  leftFor,
  lineOf,
  playSteps,
  rewind,
  stepsOf,
  withValue,
  type Line,
  type Trial
} from '@crow-lane/core/trial/trial';

export interface Choice {
  event: Event;
  /** What it would come to now. */
  line: Line;
  /** The draws that it can make, where it makes any. */
  draws: Draw[][];
}

export class Session {
  trial: Trial | undefined = $state.raw(undefined);
  /** By line the conditions that are expected to hold after it, to be kept with the run. */
  expects: ReadonlyMap<number, string[]> = $state.raw(new Map());
  /** The recorded run that is being played. */
  run: Id | undefined = $state.raw(undefined);
  /** How fast the clock of a place runs; 0 is stopped. */
  speed = $state(0);
  /** How fast transitions run; 0 skips them. */
  pace = $state(0);
  /** Seconds that have passed in each frame since its last tick or deadline. */
  elapsed: number[] = $state.raw([]);
  /** What is still to be shown on the plan of the level that is played. */
  following: Step[] = [];
  /** A tour over its plan that the player is to walk; foes that patrol are left out where it does not know of them. */
  tour: { way: Place[]; withFoes: boolean } | undefined;
  /** The move that is being shown, part by part, `lasts` the seconds of this one; nothing can be done meanwhile. */
  moving: { rule: Rule; part: TimedPart; lasts: number; leaving: State } | undefined = $state.raw(undefined);
  /** What the player sees: until the screen is covered still the place that is left. */
  readonly seen: State | undefined = $derived.by(() => {
    const { moving, trial } = this;
    return moving && (moving.part === 'wait' || moving.part === 'out') ? moving.leaving : trial?.state;
  });
  pinned: Set<Id> = $state.raw(new Set());
  /** What could not be played again after the flow was changed. */
  lost: string | undefined = $state(undefined);

  readonly choices: Choice[] = $derived.by(() => {
    const { seen } = this;
    const trial = this.trial && seen && { ...this.trial, state: seen };
    if (!trial) return [];
    return choicesOf(trial).map((event) => {
      const line = lineOf(trial, event);
      return { event, line, draws: line.step.draws ? drawsOf(trial, event) : [] };
    });
  });
  /** What time brings next where the player is. */
  readonly moment: Moment | undefined = $derived.by(() => {
    const { trial, seen } = this;
    return trial && seen ? nextMoment(trial, seen) : undefined;
  });

  private document: FlowDocument | undefined;

  /** Shows a document: the first time from its start, afterwards the same steps again on what it now is. */
  show(document: FlowDocument): void {
    if (this.document === document) return;
    const before = this.trial;
    this.document = document;
    if (!before) return this.begin();
    const { from } = before;
    // made-up values are none of the steps: such a trial begins anew
    if (before.madeUp !== undefined || from) {
      if (from && (from.at === undefined || own(document.places, from.at))) this.beginFrom(from);
      else this.begin();
      return;
    }
    const { expects, run } = this;
    const again = playSteps(document, stepsOf(before), before.seed);
    const done = before.lines.length - 1;
    this.put(again?.trial);
    this.expects = expects;
    this.run = run !== undefined && own(document.runs, run) ? run : undefined;
    if (again && again.played < done)
      this.lost = `The flow was changed: what was done after line ${again.played} is no longer possible.`;
  }

  private put(trial: Trial | undefined): void {
    this.trial = trial;
    this.expects = new Map();
    this.run = undefined;
    this.following = [];
    this.tour = undefined;
    this.settle();
  }

  private settle(): void {
    this.elapsed = [];
    this.moving = undefined;
    this.lost = undefined;
  }

  begin(seed = 1): void {
    this.put(this.document && beginTrial(this.document, seed));
  }

  /** In a place, with what a returning player has kept; all else as it begins. */
  beginFrom(from: Beginning): void {
    this.put(this.document && beginFrom(this.document, from));
  }

  /**
   * After the steps of a route, as far as they can be done; gives how many could not. Those that follow are shown, where the
   * player then is on a plan.
   */
  beginAfter(
    document: FlowDocument,
    steps: Step[],
    { following = [], seed = 1 }: { following?: Step[]; seed?: number } = {}
  ): number {
    this.document = document;
    const again = playSteps(document, steps, seed);
    this.put(again?.trial);
    this.following = following;
    return steps.filter((step) => !('start' in step)).length - (again?.played ?? 0);
  }

  /** Goes on with a trial that was made elsewhere. */
  take(trial: Trial, run: Id, expects: ReadonlyMap<number, string[]>): void {
    this.put(trial);
    this.run = run;
    this.expects = expects;
  }

  /** Expects conditions to hold after a line. */
  expect(line: number, conditions: string[]): void {
    this.expects = new Map([...this.expects, [line, conditions]]);
  }

  do(event: Event, forced?: Draw[]): void {
    if (!this.trial || this.moving) return;
    const before = this.trial.state;
    this.trial = act(this.trial, event, forced);
    this.lost = undefined;
    const line = this.trial.lines.at(-1)!;
    this.elapsed = this.trial.state.stack.map((frame, index) =>
      ('time' in event || 'every' in event) && index === this.trial!.state.stack.length - 1 && line.entered.length === 0
        ? 0
        : before.stack[index]?.place === frame.place && !line.entered.includes(frame.place)
          ? (this.elapsed[index] ?? 0)
          : 0
    );
    this.showMove(line);
  }

  /** Does an event as often as it can be done, or until `but` are left to do, while one stays in the place. */
  many(event: Event, but: number): void {
    for (let n = 0; n < 10_000; n++) {
      const { trial } = this;
      if (!trial || this.moving) return;
      if (leftFor(trial, event) <= but) return;
      this.do(event);
      const last = this.trial!.lines.at(-1)!;
      if (last.moves.length > 0 || !last.state) return;
    }
  }

  rewind(line: number): void {
    if (!this.trial) return;
    this.trial = rewind(this.trial, line);
    this.expects = new Map([...this.expects].filter(([at]) => at <= line));
    this.settle();
  }

  setValue(variable: Id, value: Value): void {
    if (this.trial) this.trial = withValue(this.trial, variable, value);
  }

  pin(variable: Id): void {
    const pinned = new Set(this.pinned);
    if (!pinned.delete(variable)) pinned.add(variable);
    this.pinned = pinned;
  }

  /** Shows a move part by part: nothing can be done meanwhile. */
  private showMove(line: Line): void {
    const mover = line.moves.at(-1);
    const rule = mover && this.document && findRule(this.document, mover.rule)?.rule;
    const by = rule?.by && timed(this.document!, rule.by);
    if (!mover || !rule || !by || this.pace === 0) return;
    const spans = spansOf(by).filter(({ share }) => share > 0);
    const step = (index: number) => {
      if (index > 0 && this.moving?.rule !== rule) return;
      const span = spans[index];
      if (!span) {
        this.moving = undefined;
        return;
      }
      const lasts = (span.share * lengthOf(by)) / this.pace;
      this.moving = { rule, part: span.part, lasts, leaving: mover.leaving };
      setTimeout(() => step(index + 1), lasts * 1000);
    };
    step(0);
  }

  /** The clock of the active place: ticks and deadlines happen when they are due. */
  tick(seconds: number): void {
    const { trial, moment } = this;
    if (!trial || !moment || this.moving || this.speed === 0) return;
    const top = trial.state.stack.length - 1;
    const passed = (this.elapsed[top] ?? 0) + seconds * this.speed;
    this.elapsed = trial.state.stack.map((_, index) => (index === top ? passed : (this.elapsed[index] ?? 0)));
    if (passed >= moment.at - moment.reached) this.do(moment.event);
  }
}
