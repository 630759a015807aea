/** The trial that is going on: kept while other views are looked at, and played again when the flow changes. */
import type { Step } from '@crow-lane/core/check/report';
import { lengthOf } from '$lib/desk/transition.ts';
import { findRule, own, type FlowDocument, type Id, type Rule } from '@crow-lane/core/document/types';
import type { Value } from '@crow-lane/core/language/evaluate';
import { active, bottom } from '@crow-lane/core/play/state';
import type { Event } from '@crow-lane/core/play/turn';
import {
  act,
  beginAt,
  beginTrial,
  choicesOf,
  leftIn,
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
}

export class Session {
  trial: Trial | undefined = $state.raw(undefined);
  /** Where it was begun, in words, when that is not the start of the game. */
  from: { place: Id } | undefined = $state.raw(undefined);
  /** How fast the clock of a place runs; 0 is stopped. */
  speed = $state(0);
  /** How fast transitions run; 0 skips them. */
  pace = $state(0);
  /** Seconds that have passed in each frame since its last deadline was set running. */
  elapsed: number[] = $state.raw([]);
  /** The move that is being shown; nothing can be done while it is. */
  moving: { rule: Rule; seconds: number } | undefined = $state.raw(undefined);
  pinned: Set<Id> = $state.raw(new Set());
  /** What could not be played again after the flow was changed. */
  lost: string | undefined = $state(undefined);

  readonly choices: Choice[] = $derived.by(() => {
    const { trial } = this;
    return trial ? choicesOf(trial).map((event) => ({ event, line: lineOf(trial, event) })) : [];
  });
  readonly deadlines: number[] = $derived.by(() => {
    const { trial } = this;
    return trial ? trial.flow.applying(active(trial.state).place, bottom(trial.state).place).deadlines : [];
  });

  private document: FlowDocument | undefined;

  /** Shows a document: the first time from its start, afterwards the same steps again on what it now is. */
  show(document: FlowDocument): void {
    if (this.document === document) return;
    const before = this.trial;
    this.document = document;
    if (!before) return this.begin();
    // made-up values are none of the steps: such a trial begins anew
    if (before.madeUp !== undefined || this.from) {
      if (this.from && own(document.places, this.from.place)) this.beginIn(this.from.place);
      else this.begin();
      return;
    }
    const steps = stepsOf(before);
    const again = playSteps(document, steps, before.seed);
    const done = before.lines.length - 1;
    this.put(again?.trial);
    if (again && again.played < done)
      this.lost = `The flow was changed: what was done after line ${again.played} cannot be done any more.`;
  }

  private put(trial: Trial | undefined): void {
    this.trial = trial;
    this.elapsed = [];
    this.moving = undefined;
    this.lost = undefined;
  }

  begin(seed = 1): void {
    this.from = undefined;
    this.put(this.document && beginTrial(this.document, seed));
  }

  /** In a place with all values as they begin. */
  beginIn(place: Id): void {
    this.from = { place };
    this.put(this.document && beginAt(this.document, place));
  }

  /** After the steps of a route. */
  beginAfter(document: FlowDocument, steps: Step[]): void {
    this.document = document;
    this.from = undefined;
    this.put(playSteps(document, steps)?.trial);
  }

  /** Goes on with a trial that was made elsewhere. */
  take(trial: Trial): void {
    this.from = undefined;
    this.put(trial);
  }

  do(event: Event): void {
    if (!this.trial || this.moving) return;
    const before = this.trial.state;
    this.trial = act(this.trial, event);
    this.lost = undefined;
    const line = this.trial.lines.at(-1)!;
    this.elapsed = this.trial.state.stack.map((frame, index) =>
      'time' in event && index === this.trial!.state.stack.length - 1 && line.entered.length === 0
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
      const left = this.leftFor(event);
      if (left <= but) return;
      this.do(event);
      const last = this.trial!.lines.at(-1)!;
      if (last.moves.length > 0 || !last.state) return;
    }
  }

  private leftFor(event: Event): number {
    const piece = 'collect' in event ? event.collect : 'defeat' in event ? event.defeat : undefined;
    return piece === undefined ? 0 : (leftIn(this.trial!.state)[piece] ?? 0);
  }

  rewind(line: number): void {
    if (!this.trial) return;
    this.trial = rewind(this.trial, line);
    this.elapsed = [];
    this.moving = undefined;
    this.lost = undefined;
  }

  setValue(variable: Id, value: Value): void {
    if (this.trial) this.trial = withValue(this.trial, variable, value);
  }

  pin(variable: Id): void {
    const pinned = new Set(this.pinned);
    if (!pinned.delete(variable)) pinned.add(variable);
    this.pinned = pinned;
  }

  private showMove(line: Line): void {
    const mover = line.moves.at(-1);
    const rule = mover && this.document && findRule(this.document, mover.rule)?.rule;
    const by = rule?.by;
    if (!rule || !by || this.pace === 0) return;
    const seconds = lengthOf(by) / this.pace;
    if (seconds <= 0) return;
    this.moving = { rule, seconds };
    setTimeout(() => {
      if (this.moving?.rule === rule) this.moving = undefined;
    }, seconds * 1000);
  }

  /** The clock of the active place: the next deadline passes when it is due. */
  tick(seconds: number): void {
    const { trial } = this;
    if (!trial || this.moving || this.speed === 0) return;
    const top = trial.state.stack.length - 1;
    const { phase } = active(trial.state);
    if (phase >= this.deadlines.length) return;
    const due = this.deadlines[phase]! - (this.deadlines[phase - 1] ?? 0);
    const passed = (this.elapsed[top] ?? 0) + seconds * this.speed;
    this.elapsed = trial.state.stack.map((_, index) => (index === top ? passed : (this.elapsed[index] ?? 0)));
    if (passed >= due) this.do({ time: true });
  }
}
