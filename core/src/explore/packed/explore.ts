/** The packed exploration: the same facts as the plain one, breadth first over packed states. */
import type { Event, Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import { by, can, mark, type Arrow, type Facts, type Progress } from '../facts.ts';
import { Edges } from './edges.ts';
import { Evidence, type Watched } from './evidence.ts';
import { Growth } from './growth.ts';
import { guided, type Searched } from './guided.ts';
import type { Codes } from './known-codes.ts';
import type { Layout } from './layout.ts';
import { every, Machine, start } from './machine.ts';
import type { PackedWatcher } from './marks.ts';
import type { Needs } from './needs.ts';
import { codeOfPair } from './pair-code.ts';
import { Routes } from './routes.ts';
import { mostStates, StateTable } from './table.ts';
import { factsOf, type Told } from './telling.ts';

/** As many bytes as states, their parents and their edges may take where nothing else is said. */
export const usualBytes = 2 ** 30;

/**
 * Explores up to `limit` states or until they take `bytes`; past that it looks for what it has not seen yet. A
 * generator, so that its driver can show progress, pause or stop.
 */
export function* explorePacked(flow: Flow, limit: number, bytes = usualBytes, asked: Asked = {}): Generator<Progress, Facts> {
  const found = new PackedExploration(flow, asked);
  // one state more may lead to many
  const most = Math.min(limit, mostStates - mostSought - 2 ** 20);
  found.start();
  for (let state = 0; state < found.table.count && !found.cut;) {
    const end = state + atOnce;
    if (found.bytes > bytes) found.cut = true;
    else {
      state = found.expandTo(state, end, most);
      if (state === end) yield found.progress(state);
    }
  }
  if (found.cut) {
    yield found.progress(found.edges.looked);
    for (const _ of found.seek(Math.min(most, mostSought))) yield found.progress(found.edges.looked);
  }
  asked.inspect?.(found.inspected());
  return found.facts();
}

interface Asked {
  /** What of a state is kept; tests leave out too much of it to see that this is noticed. */
  needs?: Needs;
  /** Arrivals that are noted one by one. */
  watched?: Watched;
  /** Code that was written for earlier explorations, and is kept for later ones. */
  codes?: Codes | undefined;
  /** For debugging: is given what there is to look at when all is explored. */
  inspect?: (inspected: Inspected) => void;
}

/** What can be looked at of an exploration. */
export interface Inspected {
  at: Layout;
  /** Brings a state's slots, which are good until the next one is brought. */
  load(state: number): Int32Array;
  /** The code of what can happen in a place over itself. */
  codeOf(place: Id): { event: Event; text: string }[];
}

/** So many states are looked at between two reports of progress. */
const atOnce = 1024;

/** As many states as are looked at beyond the limit for what has not been seen: some seconds. */
const mostSought = 200_000;

class PackedExploration implements PackedWatcher, Told {
  readonly machine: Machine;
  readonly table: StateTable;
  /** The limit was reached. */
  cut = false;
  ran = 0;
  readonly evidence: Evidence;
  readonly routes: Routes;
  readonly growth: Growth | undefined;
  readonly edges = new Edges();
  can = new Uint8Array(1024);
  noted = new Uint8Array(1024);
  /** The slots, of those that are kept, that say whether a run variable is stale. */
  private readonly stale: number[];

  /** States beyond the limit that were looked at; their edges are not kept. */
  private readonly sought = new Set<number>();
  private seeking = false;
  /** The state whose events are run. */
  private from = -1;

  constructor(
    readonly flow: Flow,
    { needs, watched, codes }: Asked
  ) {
    this.evidence = new Evidence(flow, () => this.machine, watched);
    this.machine = new Machine(flow, this, this.evidence, needs, codes);
    const { at } = this.machine;
    this.table = new StateTable(at.packing.words, at.packing.firstBits);
    this.stale = at.run.map(({ stale }) => stale).filter((slot) => at.keptSlot(slot));
    this.growth = at.merged.length > 0 ? new Growth(this.machine) : undefined;
    this.routes = new Routes(this.machine, this.table, this.edges);
  }

  get complete(): boolean {
    return !this.cut && !this.machine.gaveUp;
  }

  // ---- exploring ---------------------------------------------------------------------------------------------------

  start(): void {
    this.machine.run(start);
  }

  /** Looks at states from one to before another, as far as they are known; cut off when there are `most`. */
  expandTo(from: number, end: number, most: number): number {
    const { table } = this;
    let state = from;
    for (; state < end && state < table.count; state++) {
      if (table.count >= most) {
        this.cut = true;
        break;
      }
      this.expand(state);
    }
    return state;
  }

  private expand(state: number): void {
    this.from = state;
    this.edges.looks(this.table.count);
    this.machine.from(this.table.words, state * this.table.width);
    this.machine.run(every);
  }

  /** Looks on past the limit for what has not been seen, until `budget` states more are known. */
  *seek(budget: number): Generator<void> {
    this.seeking = true;
    const searched: Searched = {
      flow: this.flow,
      machine: this.machine,
      count: () => this.table.count,
      waiting: () => {
        const known = this.edges.looked;
        return Array.from({ length: this.table.count - known }, (_, n) => known + n).filter((state) => !this.sought.has(state));
      },
      load: (state) => this.load(state),
      expand: (state) => {
        if (this.sought.has(state)) return;
        this.sought.add(state);
        this.from = state;
        this.load(state);
        this.machine.run(every);
      }
    };
    yield* guided(searched, budget);
    this.seeking = false;
  }

  progress(looked: number): Progress {
    return { states: this.table.count, waiting: this.table.count - looked, complete: this.complete };
  }

  get bytes(): number {
    const { table, edges, growth } = this;
    return table.bytes + edges.bytes + (growth?.bytes ?? 0) + 2 * table.count;
  }

  /** Brings a state back (-1: before the start). What is not kept stays as it is: nothing reads it before it is set. */
  load(state: number): void {
    const { machine, table } = this;
    if (state < 0) machine.v.set(machine.at.initial);
    else {
      machine.from(table.words, state * table.width);
      machine.load();
    }
  }

  /** What of the past the event has undone, as bits of `by`; the next one begins with none. */
  private undone(): number {
    const { machine } = this;
    const { undone } = machine;
    if (undone !== 0) machine.undone = 0;
    return undone;
  }

  /** One way of an event has been run to its end. */
  done(settled: boolean): void {
    const { machine, from } = this;
    if (this.routes.playing) {
      if (settled) {
        this.packs();
        this.routes.played(machine.event, this.entersLevel());
      }
    } else {
      this.ran++;
      if (machine.bits !== 0 && from >= 0) this.can[from]! |= machine.bits;
      if (settled) this.arrives();
      else this.growth?.note(from, -1);
    }
    this.undone();
    this.tell(machine.event);
  }

  stays(event: number): void {
    if (this.plays(event, false)) return;
    this.ran++;
    const state = this.reaches(true);
    if (this.growth) this.grows(this.growth, state, 0);
    this.tell(event);
  }

  /** The step is only run again, to see whether it is the one that led to a state. */
  private plays(event: number, arrives: boolean): boolean {
    if (!this.routes.playing) return false;
    this.routes.played(event, arrives);
    this.undone();
    this.machine.growths = [];
    this.evidence.firsts.length = 0;
    return true;
  }

  /** What a step did to the merged numbers. */
  private grows(growth: Growth, state: number, newFrames: number): void {
    const { machine } = this;
    machine.newFrames = newFrames;
    growth.note(this.from, state);
    machine.newFrames = 0;
    if (machine.growths.length > 0) machine.growths = [];
  }

  same(event: number): void {
    this.undone();
    if (this.routes.playing) return;
    this.ran++;
    this.tell(event);
  }

  moves(event: number, bits: number, level: boolean): void {
    if (this.plays(event, level)) return;
    this.ran++;
    this.can[this.from]! |= bits;
    const state = this.reaches(false);
    // before the slots are used for a look at the state
    if (this.growth) this.grows(this.growth, state, 1);
    if (this.notes(state, level ? 1 | mark.arrived : 1) && this.evidence.looks) this.looksAt(state);
    this.tell(event);
  }

  /** Whether something of what is noted of a state is new. */
  private notes(state: number, what: number): boolean {
    const before = this.noted[state]!;
    if ((before & what) === what) return false;
    this.noted[state] = before | what;
    return true;
  }

  /** A step has entered the bottom place of a state. */
  private looksAt(state: number): void {
    const { machine, table } = this;
    machine.at.packing.unpack(table.words.subarray(state * table.width), machine.v);
    machine.newFrames = 1;
    this.evidence.arrives();
    machine.calm();
    machine.fallsBehind();
  }

  /** What the event showed first is told with how it came to be. */
  private tell(event: number): void {
    const { firsts } = this.evidence;
    if (firsts.length === 0) return;
    if (!this.routes.playing) {
      const arrow: Arrow = { from: this.from, step: this.routes.stepNow(this.from, event) };
      if (this.seeking) arrow.sought = true;
      for (const first of firsts) first(arrow);
    }
    firsts.length = 0;
  }

  /** The event was run on the slots and has settled: writes the state it led to. */
  private packs(): void {
    const { machine } = this;
    const { at, v, next } = machine;
    at.packing.pack(v, next);
    if (machine.moved && this.entersLevel() && this.isStale()) {
      this.freshen();
      at.packing.pack(v, next);
    }
  }

  private arrives(): void {
    const { machine } = this;
    this.packs();
    const state = this.reaches(!machine.afresh);
    if (this.from >= 0 && machine.movesOn) this.can[this.from]! |= can.moveOn;
    // what there is to see of an arrival is seen the first time it leads to this state
    const what = this.entersLevel() ? machine.newFrames | mark.arrived : machine.newFrames;
    if (this.notes(state, what) && this.evidence.looks) this.evidence.arrives();
    this.growth?.note(this.from, state);
  }

  /** The number of the machine's next state, to which an event leads `within`, or enters some place afresh. */
  private reaches(within: boolean): number {
    const { table, from } = this;
    const how = this.undone() | (within ? by.within : 0);
    const known = table.count;
    const state = table.find(this.machine.next);
    if (state === known) {
      if (this.seeking) this.edges.finds(from);
      if (table.count > this.can.length) {
        this.can = larger(this.can);
        this.noted = larger(this.noted);
      }
      this.noted[state] = mark.by * how;
      if (this.evidence.asks) this.evidence.finds(this.machine.next);
    } else if (state !== from && from >= 0 && !this.seeking) {
      // what leads back to the same state leads nowhere
      this.edges.leads(state, how);
    }
    return state;
  }

  private entersLevel(): boolean {
    const { afresh, v, at } = this.machine;
    return afresh && at.levels[v[at.place[0]!]!] !== undefined;
  }

  /** Some variable is stale after the event. */
  private isStale(): boolean {
    const { v, mayBeStale } = this.machine;
    return mayBeStale && this.stale.some((slot) => v[slot] !== 0);
  }

  /** A level was entered afresh and has settled: what is stale is a finding of the rule that led here, and then fresh. */
  private freshen(): void {
    const { machine, stale } = this;
    const { v, at, arrival } = machine;
    // who comes back to what was played has its values on purpose, unless they are another game's
    const least = machine.arrivedBack ? 2 : 1;
    const carried = [...at.variables].filter(([, { stale: slot }]) => stale.includes(slot) && v[slot]! >= least);
    if (arrival >= 0 && carried.length > 0) {
      this.evidence.carries(
        arrival,
        carried.map(([id]) => id)
      );
    }
    for (const slot of stale) v[slot] = 0;
  }

  // ---- telling -----------------------------------------------------------------------------------------------------

  inspected(): Inspected {
    const { machine, flow } = this;
    const { at, sheet } = machine;
    return {
      at,
      load: (state) => {
        this.load(state);
        return machine.v;
      },
      codeOf(id) {
        const place = at.placeIds.indexOf(id);
        if (place < 0) throw new Error(`There is no place "${id}" among ${at.placeIds.join(', ')}.`);
        const { events, steps } = codeOfPair(sheet, { place, rules: flow.applying(id, id).all }, place);
        return events.map((event, n) => ({ event, text: steps[n]!.text }));
      }
    };
  }

  facts(): Facts {
    return factsOf(this);
  }
}

function larger(values: Uint8Array): Uint8Array<ArrayBuffer> {
  const grown = new Uint8Array(values.length * 4);
  grown.set(values);
  return grown;
}
