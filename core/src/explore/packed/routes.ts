/** How each state was found, and the steps that lead to it. */
import type { Edges } from './edges.ts';
import { every, start, type Machine } from './machine.ts';
import type { StateTable } from './table.ts';
import { edgesFrom, goes, staysWithin, type Arrow, type Facts } from '../facts.ts';
import type { Step } from '../../document/types.ts';
import { stepOfEvent } from '../../play/events.ts';

type EdgeFacts = Pick<Facts, 'looked' | 'children' | 'edges' | 'edgeStarts'>;

export class Routes {
  /** Events are being run again, to see which one leads to a state. */
  playing = false;
  /** What led to it: the event (its number in the place's list), with what it drew. */
  private led: { event: number; draws: Step['draws'] } | undefined;
  /** Whether what an event that is run again has led to is what is looked for. */
  private wanted: (arrives: boolean) => boolean = () => false;
  private readonly steps = new Map<number, Step | undefined>();

  constructor(
    private readonly machine: Machine,
    private readonly table: StateTable,
    private readonly edges: Edges
  ) {}

  /** The step of the event that is being run, with what it drew. */
  stepNow(from: number, event: number): Step {
    const draws = this.drawsNow();
    if (from < 0) return draws ? { start: true, draws } : { start: true };
    const step = this.machine.eventOf(event);
    if (!('rule' in step || 'of' in step)) return draws ? { ...step, draws } : step;
    const { v, pair } = this.machine;
    const kept = Int32Array.from(v);
    const choice = this.stepOf(from, event);
    v.set(kept);
    this.machine.pair = pair;
    this.machine.fallsBehind();
    return draws ? { ...choice, draws } : choice;
  }

  /** What a step may leave out is only said where others could be meant. */
  private stepOf(state: number, index: number): Step {
    const { machine, table } = this;
    machine.from(table.words, state * table.width);
    const { events, steps, begins, own } = machine.pair;
    const event = events[index]!;
    if (!('rule' in event || 'of' in event)) return event;
    machine.load();
    return stepOfEvent(
      events.filter((_, n) => steps[n]!.can(own + begins[n]!)),
      event
    );
  }

  /** The steps to a state; a first step `start` only where something was drawn there. */
  to(state: number): Step[] {
    const steps: Step[] = [];
    for (let at = state; at >= 0;) {
      const { from, step } = this.found(at);
      if (step) steps.push(step);
      at = from;
    }
    return steps.reverse();
  }

  /** From which state one was found first (-1: the start), and by which step; none for a start without draws. */
  found(state: number): { from: number; step: Step | undefined } {
    // worked out once, as many routes share it
    if (!this.steps.has(state)) this.steps.set(state, this.findStep(state));
    return { from: this.edges.parentOf(state, this.table.count), step: this.steps.get(state) };
  }

  /** The step by which a state was found: of all events of the one it was found from, the first that leads to it. */
  private findStep(state: number): Step | undefined {
    const { machine, table } = this;
    const from = this.edges.parentOf(state, table.count);
    const step = this.firstStep(from, () => table.has(state, machine.next))!;
    return 'start' in step && !step.draws ? undefined : step;
  }

  /** See `Facts.arrivalAt`. Only states with an edge that enters a place afresh and leads to a wanted one are run again. */
  firstArrival(wanted: (state: number) => boolean, facts: EdgeFacts, marks: Uint8Array): Arrow | undefined {
    const { machine, table } = this;
    const { looked } = facts;
    // an event that leads back to where it began is among no edges
    const mayLead = (from: number) =>
      wanted(from) || [...edgesFrom({ ...facts, marks }, from)].some((edge) => !staysWithin(edge) && wanted(goes(edge)));
    for (let from = -1; from < looked; from++) {
      if (from >= 0 && !mayLead(from)) continue;
      const step = this.firstStep(from, (arrives) => arrives && wanted(table.find(machine.next)));
      if (step) return { from, step };
    }
    return undefined;
  }

  /** The first event from a state that leads to what is looked for, run again; undefined where none does. */
  private firstStep(from: number, wanted: (arrives: boolean) => boolean): Step | undefined {
    const { machine, table } = this;
    this.wanted = wanted;
    this.led = undefined;
    this.playing = true;
    if (from < 0) machine.v.set(machine.at.initial);
    else machine.from(table.words, from * table.width);
    machine.run(from < 0 ? start : every);
    this.playing = false;
    // what is set while events are run is not seen by the compiler
    const led = this.led as { event: number; draws: Step['draws'] } | undefined;
    if (!led) return undefined;
    const step = from < 0 ? { start: true as const } : this.stepOf(from, led.event);
    return led.draws ? { ...step, draws: led.draws } : step;
  }

  /** An event that is run again has led to the machine's next state, and has arrived in a level there or not. */
  played(event: number, arrives: boolean): void {
    if (!this.led && this.wanted(arrives)) this.led = { event, draws: this.drawsNow() };
  }

  private drawsNow(): Step['draws'] {
    const { draws } = this.machine;
    return draws.length > 0 ? draws : undefined;
  }
}
