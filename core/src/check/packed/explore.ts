/** The packed exploration: the same facts as the plain one, breadth first over packed states. */
import type { Flow } from '../../play/flow.ts';
import type { Arrow, Facts, Progress } from '../facts.ts';
import type { Large } from '../report.ts';
import { Evidence, type Watched } from './evidence.ts';
import { Growth } from './growth.ts';
import { guided, type Searched } from './guided.ts';
import { largeness } from './largeness.ts';
import { every, Machine, start, type PackedWatcher } from './machine.ts';
import type { Needs } from './needs.ts';
import { Routes } from './routes.ts';
import { Growing, mostStates, StateTable } from './table.ts';

/** As many bytes as states, their parents and their edges may take where nothing else is said. */
export const usualBytes = 2 ** 30;

/**
 * Explores up to `limit` states or until they take `bytes`; past that it looks for what it has not seen yet. A
 * generator, so that its driver can show progress, pause or stop. `needs` says what of a state is kept; tests leave out
 * too much of it to see that this is noticed. Arrivals that are `watched` are noted one by one.
 */
export function* explorePacked(
  flow: Flow,
  limit: number,
  bytes = usualBytes,
  needs?: Needs,
  watched?: Watched
): Generator<Progress, Facts> {
  const found = new PackedExploration(flow, needs, watched);
  const most = Math.min(limit, mostStates - mostSought - 1);
  found.start();
  for (let state = 0; state < found.table.count; state++) {
    if (found.table.count >= most || (state % 1024 === 0 && found.bytes > bytes)) {
      found.cut = true;
      break;
    }
    found.expand(state);
    if (state % 1024 === 1023) yield found.progress(state);
  }
  if (found.cut) {
    yield found.progress(found.edgeStarts.length);
    for (const _ of found.seek(Math.min(most, mostSought))) yield found.progress(found.edgeStarts.length);
  }
  return found.facts();
}

/** As many states as are looked at beyond the limit for what has not been seen: some seconds. */
const mostSought = 200_000;

class PackedExploration implements PackedWatcher {
  readonly machine: Machine;
  readonly table: StateTable;
  /** The limit was reached. */
  cut = false;
  private moves = 0;
  private readonly evidence: Evidence;
  private readonly routes: Routes;
  private readonly growth: Growth | undefined;
  /** By expanded state where its edges begin; each is twice the state, plus one when no place was entered afresh. */
  readonly edgeStarts = new Growing();
  private readonly edges = new Growing();
  private can = new Uint8Array(1024);
  private arrived = new Uint8Array(1024);
  /** By state: the frames of which it has been noted that they were made on the way to it. */
  private noted = new Uint8Array(1024);
  /** The slots, of those that are kept, that say whether a run variable is stale. */
  private readonly stale: number[];

  /** States beyond the limit that were looked at; their edges are not kept. */
  private readonly sought = new Set<number>();
  private seeking = false;
  /** Something is to be done at each event besides finding its state. */
  private unusual = false;
  /** The state whose events are run. */
  private from = -1;

  constructor(
    private readonly flow: Flow,
    needs: Needs | undefined,
    watched: Watched | undefined
  ) {
    this.evidence = new Evidence(flow, () => this.machine, watched);
    this.machine = new Machine(flow, this, needs);
    const { at } = this.machine;
    this.table = new StateTable(at.packing.words);
    this.stale = at.run.map(({ stale }) => stale).filter((slot) => at.keptSlot(slot));
    this.growth = at.merged.length > 0 ? new Growth(this.machine) : undefined;
    this.unusual = this.growth !== undefined;
    this.routes = new Routes(flow, this.machine, (state) => this.load(state));
  }

  get complete(): boolean {
    return !this.cut && !this.machine.gaveUp;
  }

  // ---- exploring ---------------------------------------------------------------------------------------------------

  start(): void {
    this.machine.run(start);
  }

  expand(state: number): void {
    this.from = state;
    this.edgeStarts.push(this.edges.length);
    this.load(state);
    this.machine.run(every);
  }

  /** Looks on past the limit for what has not been seen, until `budget` states more are known. */
  *seek(budget: number): Generator<void> {
    this.seeking = this.unusual = true;
    const searched: Searched = {
      flow: this.flow,
      machine: this.machine,
      count: () => this.table.count,
      waiting: () => {
        const known = this.edgeStarts.length;
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
    const { table, routes, growth, edgeStarts, edges } = this;
    return table.bytes + routes.bytes + (growth?.bytes ?? 0) + 4 * (edgeStarts.length + edges.length) + 3 * table.count;
  }

  /** Brings a state back (-1: before the start). What is not kept stays as it is: nothing reads it before it is set. */
  private load(state: number): void {
    const { at, v, base } = this.machine;
    if (state < 0) v.set(at.initial);
    else {
      this.table.read(state, base);
      at.packing.unpack(base, v);
    }
  }

  /** One way of an event has been run to its end. */
  done(settled: boolean, way: number): void {
    const { machine, from } = this;
    if (this.routes.playing) this.routes.played(way);
    else {
      this.moves++;
      if (machine.bits !== 0 && from >= 0) this.can[from]! |= machine.bits;
      if (settled) this.settled(way);
      else this.growth?.note(from, -1);
    }
    this.tell(machine.event);
  }

  staysOne(event: number, word: number): void {
    const { table, machine } = this;
    if (this.unusual) {
      machine.next[0] = word;
      this.stays(event);
      return;
    }
    this.moves++;
    if (word !== machine.base[0]) {
      const known = table.count;
      const state = table.findOne(word);
      if (state === known) this.isNew(event, 0);
      this.edges.push(state * 2 + 1);
    }
    if (this.evidence.firsts.length > 0) this.tell(event);
  }

  staysTwo(event: number, one: number, two: number): void {
    const { table, machine } = this;
    if (this.unusual) {
      machine.next[0] = one;
      machine.next[1] = two;
      this.stays(event);
      return;
    }
    this.moves++;
    if (one !== machine.base[0] || two !== machine.base[1]) {
      const known = table.count;
      const state = table.findTwo(one, two);
      if (state === known) this.isNew(event, 0);
      this.edges.push(state * 2 + 1);
    }
    if (this.evidence.firsts.length > 0) this.tell(event);
  }

  stays(event: number): void {
    const { machine, from, growth } = this;
    if (!this.routes.playing) {
      this.moves++;
      const state = this.add(event, 0);
      growth?.note(from, state);
      if (state !== from && !this.seeking) this.edges.push(state * 2 + 1);
    }
    if (machine.growths.length > 0) machine.growths = [];
    this.tell(event);
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

  private settled(way: number): void {
    const { machine, from } = this;
    const { v, at, next } = machine;
    let inLevel = false;
    if (machine.moved) {
      inLevel = machine.afresh && at.levels[v[at.place[0]!]!] !== undefined;
      if (inLevel && this.stale.length > 0) this.freshen();
    }
    at.packing.pack(v, next);
    const state = this.add(machine.event, way);
    if (inLevel) this.arrived[state] = 1;
    // what there is to see of an arrival is seen the first time it leads to this state
    if ((machine.newFrames & ~this.noted[state]!) !== 0) {
      this.noted[state]! |= machine.newFrames;
      this.evidence.arrives();
    }
    this.growth?.note(from, state);
    // what leads back to the same state leads nowhere
    if (from >= 0 && state !== from && !this.seeking) this.edges.push(state * 2 + (machine.afresh ? 0 : 1));
  }

  /** The number of the state that the event has led to. */
  private add(event: number, way: number): number {
    const { table } = this;
    const known = table.count;
    const state = table.find(this.machine.next);
    if (state === known) this.isNew(event, way);
    return state;
  }

  /** The last state was found just now. */
  private isNew(event: number, way: number): void {
    this.routes.found(this.from, event, way);
    if (this.table.count > this.can.length) {
      this.can = larger(this.can);
      this.arrived = larger(this.arrived);
      this.noted = larger(this.noted);
    }
  }

  /** A level was entered afresh and has settled: what is stale is a finding of the rule that led here, and then fresh. */
  private freshen(): void {
    const { machine, stale } = this;
    const { v, at, arrival } = machine;
    let found = 0;
    for (let index = 0; index < stale.length; index++) found |= v[stale[index]!]!;
    if (found === 0) return;
    if (arrival >= 0 && !machine.arrivedBack) {
      const carried = [...at.variables].filter(([, variable]) => stale.includes(variable.stale) && v[variable.stale] === 1);
      this.evidence.carries(
        arrival,
        carried.map(([id]) => id)
      );
    }
    for (const slot of stale) v[slot] = 0;
  }

  // ---- watching ----------------------------------------------------------------------------------------------------

  fires(rule: number): void {
    this.evidence.fires(rule);
  }
  completes(level: number): void {
    this.evidence.completes(level);
  }
  enters(place: number): void {
    this.evidence.enters(place);
  }
  stranded(rule: number): void {
    this.evidence.strands(rule);
  }
  unsettled(rule: number): void {
    this.evidence.neverSettles(rule);
  }
  clamped(site: number): void {
    this.evidence.clamps(site);
  }
  sees(term: number, value: number | boolean): void {
    this.evidence.sees(term, value);
  }

  // ---- telling -----------------------------------------------------------------------------------------------------

  private large(): Large[] {
    const { machine, table } = this;
    return largeness(this.flow, machine.at, table.count, (state) => {
      this.load(state);
      return machine.v;
    });
  }

  facts(): Facts {
    // from here on events are only run again
    this.unusual = true;
    const { table, machine, edgeStarts, edges, routes } = this;
    const { at, v } = machine;
    const { complete, bytes } = this;
    const expanded = edgeStarts.length;
    const count = table.count;
    const actives = new Uint16Array(count);
    const bottoms = new Uint16Array(count);
    const overs = new Uint8Array(count);
    const merged = at.merged.map(() => new Int32Array(count));
    for (let state = 0; state < count; state++) {
      this.load(state);
      actives[state] = v[at.place[v[at.depth]! - 1]!]!;
      bottoms[state] = v[at.place[0]!]!;
      overs[state] = v[at.over]!;
      for (let index = 0; index < merged.length; index++) merged[index]![state] = v[at.merged[index]!.slot]!;
    }
    if (this.growth) {
      const placesOf = (state: number, frames: number) => {
        this.load(state);
        return at.place.slice(0, v[at.depth]).flatMap((slot, frame) => (frames & (1 << frame) ? [v[slot]!] : []));
      };
      this.evidence.unmerge(this.growth, count, (state, index) => merged[index]![state]!, placesOf);
    }
    const lengths = routes.lengths();
    return {
      flow: this.flow,
      complete,
      large: complete ? [] : this.large(),
      count,
      moves: this.moves,
      bytes,
      active: (state) => at.placeIds[actives[state]!]!,
      bottom: (state) => at.placeIds[bottoms[state]!]!,
      over: (state) => overs[state] === 1,
      stack: (state) => {
        this.load(state);
        return at.place.slice(0, v[at.depth]).map((slot) => at.placeIds[v[slot]!]!);
      },
      can: this.can,
      expanded: (state) => state < expanded,
      arrived: this.arrived,
      eachEdge: (visit) => {
        for (let from = 0; from < expanded; from++) {
          const end = from + 1 < expanded ? edgeStarts.values[from + 1]! : edges.length;
          for (let edge = edgeStarts.values[from]!; edge < end; edge++)
            visit(from, edges.values[edge]! >> 1, (edges.values[edge]! & 1) === 1);
        }
      },
      ...this.evidence.facts(),
      lengthOf: (state) => lengths[state]!,
      routeToState: (state) => routes.to(state),
      routeTo: ({ from, step }) => {
        if (from < 0) return step.draws ? [step] : [];
        return [...routes.to(from), step];
      }
    };
  }
}

function larger(values: Uint8Array): Uint8Array<ArrayBuffer> {
  const grown = new Uint8Array(values.length * 2);
  grown.set(values);
  return grown;
}
