/** How each state was found, and the steps that lead to it. */
import type { Flow } from '../../play/flow.ts';
import type { Step } from '../report.ts';
import { start, type Machine } from './machine.ts';
import { Growing } from './table.ts';

export class Routes {
  /** Events are being run again, for what they draw. */
  playing = false;
  /** From which state. */
  from = -1;
  /** By state: the state and the event (its number in the place's list) it was first found by, and which series of draws. */
  private readonly parents = new Growing();
  private readonly events = new Growing();
  private readonly ways = new Growing();
  /** Whether anything is ever drawn. */
  private readonly drawing: boolean;
  private readonly steps = new Map<number, Step | undefined>();
  private wanted = 0;
  private draws: Step['draws'];

  /** `load` brings a state back into the machine, -1 what is before the start; `stand` only so far that its place is known. */
  constructor(
    flow: Flow,
    private readonly machine: Machine,
    private readonly load: (state: number) => void,
    private readonly stand: (state: number) => void
  ) {
    this.drawing = Object.values(flow.document.orders).some(({ draw }) => draw !== 'fixed');
  }

  get bytes(): number {
    return 4 * (this.parents.length + this.events.length + this.ways.length);
  }

  /** The next state was found, by an event from a state. */
  found(from: number, event: number, way: number): void {
    this.parents.push(from);
    this.events.push(event);
    if (this.drawing) this.ways.push(way);
  }

  /** By state: how many events lead to it. */
  lengths(): Int32Array {
    const { values, length } = this.parents;
    const lengths = new Int32Array(length);
    for (let state = 0; state < length; state++) {
      const parent = values[state]!;
      lengths[state] = parent < 0 ? 0 : lengths[parent]! + 1;
    }
    return lengths;
  }

  /** The step of the event that is being run, with what it drew. */
  stepNow(from: number, event: number): Step {
    const draws = this.drawsNow();
    if (from < 0) return draws ? { start: true, draws } : { start: true };
    const step = this.machine.eventOf(event);
    if (!('choose' in step)) return draws ? { ...step, draws } : step;
    const { v, pair } = this.machine;
    const kept = Int32Array.from(v);
    const choice = this.stepOf(from, event);
    v.set(kept);
    this.machine.pair = pair;
    this.machine.fallsBehind();
    return draws ? { ...choice, draws } : choice;
  }

  /** The rule of a choice is named only where two rules offer the same level. */
  private stepOf(state: number, index: number): Step {
    this.stand(state);
    const { events, steps, begins, own } = this.machine.pair;
    const event = events[index]!;
    if (!('choose' in event)) return event;
    this.load(state);
    const offers = events.filter((other, n) => 'choose' in other && other.choose === event.choose && steps[n]!.can(own + begins[n]!));
    return offers.length > 1 ? event : { choose: event.choose };
  }

  /** The steps to a state; a first step `start` only where something was drawn there. */
  to(state: number): Step[] {
    const steps: Step[] = [];
    for (let at = state; at >= 0; at = this.parents.values[at]!) {
      // worked out once, as many routes share it
      if (!this.steps.has(at)) this.steps.set(at, this.findStep(at));
      const step = this.steps.get(at);
      if (step) steps.push(step);
    }
    return steps.reverse();
  }

  private findStep(state: number): Step | undefined {
    const from = this.parents.values[state]!;
    const event = this.events.values[state]!;
    const draws = this.drawing ? this.drawsOf(from, event, this.ways.values[state]!) : undefined;
    if (from < 0) return draws && { start: true, draws };
    const step = this.stepOf(from, event);
    return draws ? { ...step, draws } : step;
  }

  private drawsOf(from: number, event: number, way: number): Step['draws'] {
    this.playing = true;
    this.from = from;
    this.wanted = way;
    this.draws = undefined;
    this.load(from);
    this.machine.run(from < 0 ? start : event);
    this.playing = false;
    return this.draws;
  }

  /** An event that is run again has come to its end. */
  played(way: number): void {
    if (way === this.wanted) this.draws = this.drawsNow();
  }

  private drawsNow(): Step['draws'] {
    const { draws } = this.machine;
    return draws.length > 0 ? draws : undefined;
  }
}
