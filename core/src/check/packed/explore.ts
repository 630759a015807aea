/** The packed exploration: the same facts as the plain one, breadth first over packed states. */
import type { Id } from '../../document/types.ts';
import { parts, type Expression } from '../../language/ast.ts';
import { print } from '../../language/print.ts';
import type { Flow } from '../../play/flow.ts';
import { mostFirings } from '../../play/handle.ts';
import { can, type Arrow, type Facts, type Progress, type RuleFacts } from '../facts.ts';
import type { Step } from '../report.ts';
import { compile } from './expressions.ts';
import { Machine, type PackedEvent, type PackedRule, type PackedWatcher } from './machine.ts';
import type { Needs } from './needs.ts';
import { Ranges } from './ranges.ts';
import { Growing, StateTable } from './table.ts';

/**
 * Explores up to `limit` states. A generator, so that its driver can show progress, pause or stop. `needs` says what of
 * a state is kept; tests leave out too much of it to see that this is noticed.
 */
export function* explorePacked(flow: Flow, limit: number, needs?: Needs): Generator<Progress, Facts> {
  const found = new PackedExploration(flow, needs);
  found.start();
  for (let state = 0; state < found.table.count; state++) {
    if (found.table.count >= limit) {
      found.complete = false;
      break;
    }
    found.expand(state);
    if (state % 1024 === 1023 || !found.complete) {
      yield { states: found.table.count, waiting: found.table.count - state, complete: found.complete };
    }
  }
  return found.facts();
}

class PackedExploration implements PackedWatcher {
  readonly machine: Machine;
  readonly table: StateTable;
  complete = true;
  private readonly pack;
  private readonly unpack;
  private readonly base: Int32Array;
  private readonly initial: Int32Array;
  /** By state: the state and the event (its number in the place's list) it was first found by, and which series of draws. */
  private readonly parents = new Growing();
  private readonly via = new Growing();
  private readonly ways = new Growing();
  /** By expanded state where its edges begin; each is twice the state, plus one when no place was entered afresh. */
  private readonly edgeStarts = new Growing();
  private readonly edges = new Growing();
  private can = new Uint8Array(1024);
  private arrived = new Uint8Array(1024);

  private readonly entered_ = new Map<Id, Arrow>();
  private readonly fired_: (Arrow | undefined)[];
  private readonly completed_ = new Map<Id, Arrow>();
  private readonly stranded_ = new Map<Id, Arrow>();
  private readonly unsettled_: Facts['unsettled'] = new Map();
  private readonly unexpected_ = new Map<string, Arrow>();
  private readonly carried_: Facts['carried'] = new Map();
  private readonly clamped_: Facts['clamped'] = new Map();
  private readonly present: Uint8Array;
  private readonly happened: Uint8Array;
  private readonly wasTrue: Uint8Array;
  private readonly wasFalse: Uint8Array;
  private readonly seen: (RuleFacts['seen'] | undefined)[];
  private readonly arrivals: (Ranges | undefined)[] = [];
  private readonly rules;
  private readonly goals: (boolean | undefined)[];
  private readonly endings: boolean[];
  private readonly expected = new Map<number, { key: string; condition: () => boolean }[]>();
  private readonly terms = new Map<
    PackedRule,
    { term: string; expression: Expression; value: () => number | bigint | boolean }[]
  >();

  // of the way of the event that is being run
  private from = -1;
  private event = -1;
  private bits = 0;
  private afresh = false;
  /** The rules that fired, and how many. */
  private readonly last = new Int32Array(mostFirings);
  private lastCount = 0;
  private firsts: ((arrow: Arrow) => void)[] = [];
  /** While a route is played again nothing is noted but its draws. */
  private quiet: ((way: number) => void) | undefined;

  /** Whether anything is ever drawn. */
  private readonly drawing: boolean;

  constructor(
    private readonly flow: Flow,
    needs: Needs | undefined
  ) {
    this.drawing = Object.values(flow.document.orders).some(({ draw }) => draw !== 'fixed');
    this.machine = new Machine(flow, this, needs);
    const { at } = this.machine;
    const { words, pack, unpack } = at.slots.packing();
    this.table = new StateTable(words);
    this.pack = pack;
    this.unpack = unpack;
    this.initial = at.initial;
    this.base = Int32Array.from(at.initial);
    this.rules = [...flow.rules.values()];
    const count = this.rules.length;
    [this.present, this.happened, this.wasTrue, this.wasFalse] = [0, 1, 2, 3].map(() => new Uint8Array(count)) as [
      Uint8Array,
      Uint8Array,
      Uint8Array,
      Uint8Array
    ];
    this.fired_ = new Array<Arrow | undefined>(count).fill(undefined);
    this.seen = new Array<RuleFacts['seen'] | undefined>(count).fill(undefined);
    this.goals = at.placeIds.map((id) => {
      const place = flow.document.places[id]!;
      return place.kind === 'level' ? place.goal === 'leave' : undefined;
    });
    this.endings = at.placeIds.map((id) => flow.document.places[id]!.kind === 'ending');
  }

  // ---- exploring ---------------------------------------------------------------------------------------------------

  start(): void {
    if (!this.machine.at.placeIndex.has(this.flow.document.start)) {
      this.complete = false;
      return;
    }
    this.follow(undefined);
  }

  expand(state: number): void {
    const { machine, base } = this;
    this.load(state, base);
    machine.v.set(base);
    this.from = state;
    this.edgeStarts.push(this.edges.length);
    const events = machine.events();
    let changed = false;
    for (let index = 0; index < events.length; index++) {
      const event = events[index]!;
      if (changed) machine.v.set(base);
      changed = false;
      const possible = event.can();
      if ('choose' in event.event) this.offered(event.rules[0]!, possible);
      if (!possible) continue;
      this.event = index;
      this.follow(event);
      changed = true;
    }
  }

  private load(state: number, into: Int32Array): void {
    into.set(this.initial);
    this.unpack(this.table.words, state * this.table.width, into);
  }

  private follow(event: PackedEvent | undefined): void {
    if (this.machine.everyDraw(this.base, event)) this.complete = false;
  }

  /** One way of an event has been run to its end. */
  done(settled: boolean, way: number): void {
    if (this.quiet) this.quiet(way);
    else this.finish(settled, way);
    this.bits = 0;
    this.afresh = false;
    this.lastCount = 0;
    if (this.firsts.length > 0) this.firsts.length = 0;
  }

  private finish(settled: boolean, way: number): void {
    const { machine, from } = this;
    const { v, at } = machine;
    if (from >= 0) this.can[from]! |= this.bits;
    if (settled) {
      const inLevel = machine.arrived && at.levels[v[at.place[0]!]!] !== undefined;
      if (inLevel) this.freshen();
      if (machine.newFrames !== 0) this.noteSettled();
      const state = this.add(way);
      if (inLevel) this.arrived[state] = 1;
      if (from >= 0) this.edges.push(state * 2 + (this.afresh ? 0 : 1));
    }
    if (this.firsts.length === 0) return;
    const arrow = { from, step: this.step(machine.draws.length > 0 ? machine.draws : undefined) };
    for (const tell of this.firsts) tell(arrow);
  }

  private add(way: number): number {
    const { table } = this;
    const offset = table.room();
    this.pack(this.machine.v, table.words, offset);
    const known = table.count;
    const state = table.take();
    if (state === known) {
      this.parents.push(this.from);
      this.via.push(this.event);
      this.ways.push(way);
      if (state >= this.can.length) {
        this.can = larger(this.can);
        this.arrived = larger(this.arrived);
      }
    }
    return state;
  }

  /** A level was entered afresh and has settled: what is stale is a finding of the rule that led here, and then fresh. */
  private freshen(): void {
    const { machine } = this;
    const { v, at, arrival } = machine;
    const found = at.run.some(({ stale }) => v[stale] === 1);
    if (!found) return;
    if (arrival && !machine.arrivedBack && !this.carried_.has(arrival.rule.id)) {
      const variables = [...at.variables].filter(([, { stale }]) => v[stale] === 1).map(([id]) => id);
      this.firsts.push((arrow) => this.carried_.set(arrival.rule.id, { arrow, variables }));
    }
    for (const { stale } of at.run) v[stale] = 0;
  }

  private noteSettled(): void {
    const { machine } = this;
    const { v, at, newFrames } = machine;
    for (let frame = 0; frame < v[at.depth]!; frame++) {
      if ((newFrames & (1 << frame)) === 0) continue;
      const place = v[at.place[frame]!]!;
      (this.arrivals[place] ??= new Ranges([...at.variables.values()].map(({ slot }) => slot))).note(v);
      if (this.flow.expectations.length > 0) this.noteExpectations(place, v[at.place[0]!]!);
    }
  }

  private noteExpectations(place: number, bottom: number): void {
    for (const { key, condition } of this.expectationsAt(place, bottom)) {
      if (this.unexpected_.has(key) || condition()) continue;
      this.firsts.push((arrow) => this.unexpected_.has(key) || this.unexpected_.set(key, arrow));
    }
  }

  private expectationsAt(place: number, bottom: number) {
    const { machine, flow } = this;
    const id = machine.at.placeIds[place]!;
    const key = place * machine.at.placeIds.length + bottom;
    let found = this.expected.get(key);
    if (!found) {
      const level = flow.document.places[machine.at.placeIds[bottom]!]!;
      const pieces = level.kind === 'level' ? level.pieces : {};
      found = flow.expectations
        .filter((each) => each.place === id)
        .filter(({ condition }) =>
          [...parts(condition)].every(
            (part) => (part.kind !== 'left' && part.kind !== 'taken') || Object.hasOwn(pieces, part.piece)
          )
        )
        .map(({ index, condition }) => ({
          key: `${id}/${index}`,
          condition: compile(condition, machine.names(bottom), machine.v) as () => boolean
        }));
      this.expected.set(key, found);
    }
    return found;
  }

  // ---- watching ----------------------------------------------------------------------------------------------------

  happens(rules: PackedRule[]): void {
    for (const { index } of rules) this.happened[index] = 1;
  }

  read(rule: PackedRule, truth: boolean): void {
    if (truth) this.wasTrue[rule.index] = 1;
    else {
      this.wasFalse[rule.index] = 1;
      if (!this.wasTrue[rule.index]) this.noteValues(rule);
    }
  }

  private offered({ index }: PackedRule, offered: boolean): void {
    this.happened[index] = 1;
    (offered ? this.wasTrue : this.wasFalse)[index] = 1;
  }

  fired({ index }: PackedRule): void {
    this.last[this.lastCount++] = index;
    if (!this.fired_[index]) this.firsts.push((arrow) => (this.fired_[index] ??= arrow));
  }

  moving({ rule }: PackedRule, to: number, afresh: boolean): void {
    const { v, at } = this.machine;
    const place = v[at.place[0]!]!;
    const goal = this.goals[place];
    if (goal === undefined || v[at.depth]! > 1) return;
    const leaves = afresh && to !== place;
    const completes = goal ? leaves : rule.rule.result === 'won';
    if (completes) this.first(this.completed_, at.placeIds[place]!);
    if (this.afresh) return;
    if (completes) this.bits |= can.complete;
    if (leaves || rule.rule.result) this.bits |= can.leave;
  }

  entered(place: number, afresh: boolean, { all, holds }: { all: number[]; holds: PackedRule[] }): void {
    if (afresh) {
      this.afresh = true;
      this.bits |= can.enter;
    }
    if (this.endings[place]) this.bits |= can.end;
    this.first(this.entered_, this.machine.at.placeIds[place]!);
    for (const rule of all) this.present[rule] = 1;
    for (const { index } of holds) this.happened[index] = 1;
  }

  stranded({ rule }: PackedRule): void {
    this.first(this.stranded_, rule.id);
  }

  unsettled({ index }: PackedRule): void {
    const { v, at } = this.machine;
    const place = at.placeIds[v[at.place[v[at.depth]! - 1]!]!]!;
    if (this.unsettled_.has(place)) return;
    const fired = [...this.last.subarray(0, this.lastCount)];
    const loop = fired.slice(fired.lastIndexOf(index));
    const rules = [...new Set(loop.length > 0 ? loop : [index])].map((each) => this.rules[each]!.id);
    this.firsts.push((arrow) => this.unsettled_.has(place) || this.unsettled_.set(place, { arrow, rules }));
  }

  clamped(rule: Id, variable: Id): void {
    if (this.quiet) return;
    const known = this.clamped_.get(variable);
    if (known?.rules.has(rule)) return;
    if (known) known.rules.add(rule);
    else {
      this.firsts.push((arrow) => {
        const found = this.clamped_.get(variable);
        if (found) found.rules.add(rule);
        else this.clamped_.set(variable, { arrow, rules: new Set([rule]) });
      });
    }
  }

  private first(map: Map<Id, Arrow>, id: Id): void {
    if (!map.has(id)) this.firsts.push((arrow) => map.has(id) || map.set(id, arrow));
  }

  /** What the terms of a false condition were, to be able to say later why it never held. */
  private noteValues(rule: PackedRule): void {
    let terms = this.terms.get(rule);
    if (!terms) {
      const { machine } = this;
      const names = machine.names(machine.v[machine.at.place[0]!]!);
      const kinds = ['variable', 'left', 'taken', 'won', 'wins'];
      const expressions = [rule.rule.condition, rule.rule.holds]
        .flatMap((text) => (text ? [...parts(text)] : []))
        .filter(({ kind }) => kinds.includes(kind));
      terms = expressions.map((expression) => ({
        term: print(expression),
        expression,
        value: compile(expression, names, machine.v)
      }));
      this.terms.set(rule, terms);
    }
    if (terms.length === 0) return;
    const seen = (this.seen[rule.index] ??= new Map());
    for (const { term, expression, value } of terms) {
      let known = seen.get(term);
      if (!known) seen.set(term, (known = { expression, values: new Set() }));
      if (known.values.size < 64) known.values.add(value() as number | boolean);
    }
  }

  // ---- telling -----------------------------------------------------------------------------------------------------

  /** The step of the event being run; the rule of a choice is named only where two rules offer the same level. */
  private step(draws: Step['draws']): Step {
    if (this.from < 0) return draws ? { start: true, draws } : { start: true };
    const v = this.machine.v;
    const kept = Int32Array.from(v);
    const step = this.stepOf(this.from, this.event);
    v.set(kept);
    return draws ? { ...step, draws } : step;
  }

  private stepOf(state: number, index: number): Step {
    const { machine } = this;
    this.load(state, machine.v);
    const events = machine.events();
    const { event } = events[index]!;
    if (!('choose' in event)) return event;
    const offers = events.filter((other) => 'choose' in other.event && other.event.choose === event.choose && other.can());
    return offers.length > 1 ? event : { choose: event.choose };
  }

  private readonly steps = new Map<number, Step | undefined>();

  /** The step by which a state was found; worked out once, as many routes share it. */
  private stepTo(state: number): Step | undefined {
    if (!this.steps.has(state)) this.steps.set(state, this.findStep(state));
    return this.steps.get(state);
  }

  private findStep(state: number): Step | undefined {
    const from = this.parents.values[state]!;
    const index = this.via.values[state]!;
    const wanted = this.ways.values[state]!;
    let draws: Step['draws'];
    if (this.drawing) {
      this.quiet = (way) => {
        if (way === wanted && this.machine.draws.length > 0) draws = this.machine.draws;
      };
      if (from < 0) this.base.set(this.initial);
      else this.load(from, this.base);
      this.machine.v.set(this.base);
      this.machine.everyDraw(this.base, from < 0 ? undefined : this.machine.events()[index]);
      this.quiet = undefined;
    }
    if (from < 0) return draws && { start: true, draws };
    const step = this.stepOf(from, index);
    return draws ? { ...step, draws } : step;
  }

  private routeToState(state: number): Step[] {
    const steps: Step[] = [];
    for (let at = state; at >= 0; at = this.parents.values[at]!) {
      const step = this.stepTo(at);
      if (step) steps.push(step);
    }
    return steps.reverse();
  }

  facts(): Facts {
    const { table, machine, edgeStarts, edges } = this;
    const { at } = machine;
    const expanded = edgeStarts.length;
    const work = Int32Array.from(this.initial);
    const count = table.count;
    const lengths = new Int32Array(count);
    const actives = new Uint16Array(count);
    const bottoms = new Uint16Array(count);
    const overs = new Uint8Array(count);
    for (let state = 0; state < count; state++) {
      this.load(state, work);
      actives[state] = work[at.place[work[at.depth]! - 1]!]!;
      bottoms[state] = work[at.place[0]!]!;
      overs[state] = work[at.over]!;
      const parent = this.parents.values[state]!;
      lengths[state] = parent < 0 ? 0 : lengths[parent]! + 1;
    }
    const rules = new Map<Id, RuleFacts>();
    this.rules.forEach(({ id }, index) =>
      rules.set(id, {
        present: this.present[index] === 1,
        happened: this.happened[index] === 1,
        wasTrue: this.wasTrue[index] === 1,
        wasFalse: this.wasFalse[index] === 1,
        seen: this.seen[index] ?? new Map()
      })
    );
    const fired = new Map<Id, Arrow>();
    this.fired_.forEach((arrow, index) => arrow && fired.set(this.rules[index]!.id, arrow));
    const arrivals: Facts['arrivals'] = new Map();
    this.arrivals.forEach(
      (values, place) => values && arrivals.set(at.placeIds[place]!, values.told(this.flow, [...at.variables.keys()]))
    );
    return {
      flow: this.flow,
      complete: this.complete,
      count,
      bytes:
        table.bytes +
        [this.parents, this.via, this.ways, edgeStarts, edges].reduce((sum, { length }) => sum + 4 * length, 2 * count),
      active: (state) => at.placeIds[actives[state]!]!,
      bottom: (state) => at.placeIds[bottoms[state]!]!,
      over: (state) => overs[state] === 1,
      stack: (state) => {
        this.load(state, work);
        return at.place.slice(0, work[at.depth]).map((slot) => at.placeIds[work[slot]!]!);
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
      entered: this.entered_,
      fired,
      completed: this.completed_,
      stranded: this.stranded_,
      unsettled: this.unsettled_,
      unexpected: this.unexpected_,
      carried: this.carried_,
      clamped: this.clamped_,
      rules,
      arrivals,
      lengthOf: (state) => lengths[state]!,
      routeToState: (state) => this.routeToState(state),
      routeTo: ({ from, step }) => {
        if (from < 0) return step.draws ? [step] : [];
        return [...this.routeToState(from), step];
      }
    };
  }
}

function larger(values: Uint8Array): Uint8Array<ArrayBuffer> {
  const grown = new Uint8Array(values.length * 2);
  grown.set(values);
  return grown;
}
