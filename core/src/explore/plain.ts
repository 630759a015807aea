/**
 * The plain exploration: every state that can be reached, breadth first, on `play` itself. Whatever is seen first is
 * seen on a shortest route. It is slow and obviously right.
 */
import { heapsOf } from '../document/ground.ts';
import type { Id, Level, Step } from '../document/types.ts';
import { parts, termsIn } from '../language/ast.ts';
import { evaluate, type Reading, type Value } from '../language/evaluate.ts';
import { print } from '../language/print.ts';
import { isChecked } from '../play/slots.ts';
import { eventsIn, someoneUp, stepOfEvent } from '../play/events.ts';
import { piecesCounted, type FittingPassage, type FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import { begin, handle, type Result } from '../play/handle.ts';
import { active, bottom, keyOf, type State } from '../play/state.ts';
import { readingOf, valueOf, type Turn, type Watcher } from '../play/turn.ts';
import { by, can, mark, Seen, type Arrow, type Facts, type HeapFacts, type Progress, type RuleFacts } from './facts.ts';

/** Explores up to `limit` states. A generator, so that its driver can show progress, pause or stop. */
export function* explore(flow: Flow, limit: number): Generator<Progress, Facts> {
  const found = new Exploration(flow);
  const { states } = found;
  found.follow(-1, (watch) => begin(flow, watch), { start: true });
  if (!Object.hasOwn(flow.document.places, flow.document.start)) found.complete = false;
  let told = 0;
  for (let at = 0; at < states.length; at++) {
    if (states.length >= limit) {
      found.complete = false;
      break;
    }
    const state = states[at]!;
    found.next[at] = [];
    const events = eventsIn(flow, state, (asked, offered) => found.offered(asked, offered, state)).filter((event) =>
      isChecked(state, event)
    );
    for (const event of events) found.follow(at, (watch) => handle(flow, state, event, watch), stepOfEvent(events, event));
    if (at % 256 === 255 || found.results - told >= 2048 || !found.complete) {
      told = found.results;
      yield { states: states.length, waiting: states.length - at, complete: found.complete, results: told };
    }
  }
  return found.facts();
}

class Exploration {
  readonly states: State[] = [];
  /** By state: the event that led to it first. */
  readonly parents: Arrow[] = [];
  readonly lengths: number[] = [];
  /** By state: the states that follow, twice their number, plus one when no place was entered afresh on the way. */
  readonly next: number[][] = [];
  readonly can: number[] = [];
  readonly arrived: number[] = [];
  /** In the order in which they were seen: the states in which something arrived, each with the event that did first. */
  readonly arrivedBy: { at: number; arrow: Arrow }[] = [];
  complete = true;
  results = 0;
  readonly entered = new Map<Id, Arrow>();
  readonly fired = new Map<Id, Arrow>();
  readonly completed = new Map<Id, Arrow>();
  readonly passed: Facts['passed'] = new Map();
  readonly stranded = new Map<Id, Arrow>();
  readonly unsettled: Facts['unsettled'] = new Map();
  readonly unexpected = new Map<string, Arrow>();
  readonly met = new Map<string, Arrow>();
  readonly unmet: Facts['unmet'] = new Map();
  readonly judged = new Set<string>();
  readonly wonByRemoval = new Map<Id, Arrow>();
  readonly resumed = new Set<Id>();
  readonly resumedEarlier = new Map<Id, Arrow>();
  readonly unpicked = new Map<Id, Arrow>();
  readonly stood = new Map<string, Arrow>();
  readonly walked = new Map<string, Arrow>();
  readonly touchedOnWay = new Map<string, Arrow>();
  readonly carried: Facts['carried'] = new Map();
  readonly clamped: Facts['clamped'] = new Map();
  readonly rules = new Map<Id, RuleFacts>();
  readonly arrivals: Facts['arrivals'] = new Map();
  private readonly index = new Map<string, number>();

  constructor(readonly flow: Flow) {}

  follow(from: number, run: (watch: () => Watcher) => { results: Result[]; cut: boolean } | undefined, step: Step): void {
    const notes: Note[] = [];
    const outcome = run(() => {
      const note = new Note(this);
      notes.push(note);
      return note;
    });
    if (!outcome) return;
    if (outcome.cut) this.complete = false;
    this.results += outcome.results.length;
    outcome.results.forEach((result, way) => {
      const arrow = { from, step: result.draws.length > 0 ? { ...step, draws: result.draws } : step };
      const note = notes[way]!;
      note.tell(arrow);
      if (from >= 0) this.can[from]! |= note.can;
      if (!result.state) return;
      const at = this.add(result.state, arrow);
      if (from >= 0) {
        this.next[from]!.push(at * 8 + note.undone + (note.afresh ? 0 : by.within));
        if (active(result.state).place !== active(this.states[from]!).place) this.can[from]! |= can.moveOn;
      }
      this.settled(result, at, arrow);
    });
  }

  private add(state: State, arrow: Arrow): number {
    const key = keyOf(state);
    const known = this.index.get(key);
    if (known !== undefined) return known;
    const at = this.states.length;
    this.index.set(key, at);
    this.states.push(state);
    this.parents.push(arrow);
    this.lengths.push(arrow.from < 0 ? 0 : this.lengths[arrow.from]! + 1);
    this.can.push(0);
    this.arrived.push(0);
    return at;
  }

  /** What only a settled state can tell: values on arrival, expectations, what was carried over. */
  private settled({ state, arrival, settledIn }: Result, at: number, arrow: Arrow): void {
    const { flow } = this;
    if (arrival && flow.document.places[bottom(state!).place]!.kind === 'level') {
      if (this.arrived[at] === 0) this.arrivedBy.push({ at, arrow });
      this.arrived[at] = 1;
      const { rule, stale } = arrival;
      if (rule && stale.length > 0 && !this.carried.has(rule.id)) this.carried.set(rule.id, { arrow, variables: stale });
    }
    const level = flow.document.places[bottom(state!).place]!;
    const pieces = level.kind === 'level' ? level.pieces : {};
    for (const { key, condition } of flow.objectives.filter((each) => each.place === bottom(state!).place))
      if (!this.met.has(key) && evaluate(condition, readingOf(flow, state!))) this.met.set(key, arrow);
    for (const place of settledIn) {
      this.noteArrival(place, state!);
      for (const { index, condition } of flow.expectations.filter((each) => each.place === place)) {
        const key = `${place}/${index}`;
        const named = parts(condition).flatMap((part) => (part.kind === 'left' || part.kind === 'taken' ? [part.piece] : []));
        if (this.unexpected.has(key) || !named.every((piece) => Object.hasOwn(pieces, piece))) continue;
        if (!evaluate(condition, readingOf(flow, state!))) this.unexpected.set(key, arrow);
      }
    }
  }

  private noteArrival(place: Id, state: State): void {
    let values = this.arrivals.get(place);
    if (!values) this.arrivals.set(place, (values = new Map()));
    for (const [id, { type }] of Object.entries(this.flow.document.variables)) {
      const value = valueOf(this.flow, state, id);
      const known = values.get(id);
      if (type === 'number') {
        const n = value as number;
        if (!known) values.set(id, { min: n, max: n });
        else if ('min' in known) {
          known.min = Math.min(known.min, n);
          known.max = Math.max(known.max, n);
        }
      } else if (known) (known as Set<Value>).add(value);
      else values.set(id, new Set([value]));
    }
  }

  factsOf(id: Id): RuleFacts {
    let facts = this.rules.get(id);
    if (!facts)
      this.rules.set(id, (facts = { present: false, happened: false, wasTrue: false, wasFalse: false, seen: new Map() }));
    return facts;
  }

  /** A level is offered by a choice or not, a passage that begins where the player is is open or not. */
  offered(asked: FittingRule | FittingPassage, offered: boolean, state: State): void {
    const facts = this.factsOf(asked.id);
    facts.happened = true;
    if (offered) facts.wasTrue = true;
    else {
      facts.wasFalse = true;
      if ('passage' in asked && !facts.wasTrue) noteValues(facts, asked, readingOf(this.flow, state));
    }
  }

  private isUp(id: Id): ((state: number) => boolean) | undefined {
    const { pieces } = this.flow.document.places[id] as Level;
    if (Object.values(pieces).every(({ kind }) => kind !== 'player')) return undefined;
    return (at) => bottom(this.states[at]!).place === id && someoneUp(this.flow, this.states[at]!);
  }

  private heaps(id: Id, piece: Id): HeapFacts[] {
    const { states } = this;
    const level = this.flow.document.places[id] as Level;
    return heapsOf(piece, level.pieces[piece]!).map(({ key, n, spots }, entry) => ({
      entries: [entry],
      spots,
      left: (at) => {
        const { runPieces, keptPieces, pieces } = states[at]!;
        return runPieces[id]![key] ?? keptPieces[id]![key] ?? pieces[key] ?? n;
      }
    }));
  }

  facts(): Facts {
    const { states, next, parents } = this;
    const places = Object.keys(this.flow.document.places);
    const edgeStarts = [0];
    for (const list of next) edgeStarts.push(edgeStarts.at(-1)! + list.length);
    const routeTo = ({ from, step }: Arrow): Step[] => {
      const steps = from < 0 && !step.draws ? [] : [step];
      for (let at = from; at >= 0; at = parents[at]!.from) {
        const parent = parents[at]!;
        if (parent.from >= 0 || parent.step.draws) steps.push(parent.step);
      }
      return steps.reverse();
    };
    return {
      flow: this.flow,
      complete: this.complete,
      count: states.length,
      large: [],
      bytes: 0,
      moves: 0,
      places,
      active: (at) => places.indexOf(active(states[at]!).place),
      bottom: (at) => places.indexOf(bottom(states[at]!).place),
      over: (at) => bottom(states[at]!).over,
      stack: (at) => states[at]!.stack.map(({ place }) => place),
      can: Uint8Array.from(this.can),
      looked: next.length,
      marks: Uint8Array.from(this.arrived, (arrived) => arrived * mark.arrived),
      children: new Int32Array(next.length + 1),
      edges: Int32Array.from(next.flat()),
      edgeStarts: Int32Array.from(edgeStarts),
      entered: this.entered,
      fired: this.fired,
      completed: this.completed,
      passed: this.passed,
      stranded: this.stranded,
      unsettled: this.unsettled,
      unexpected: this.unexpected,
      met: this.met,
      unmet: this.unmet,
      judged: this.judged,
      wonByRemoval: this.wonByRemoval,
      resumed: this.resumed,
      resumedEarlier: this.resumedEarlier,
      unpicked: this.unpicked,
      carried: this.carried,
      clamped: this.clamped,
      rules: this.rules,
      stood: this.stood,
      walked: this.walked,
      touchedOnWay: this.touchedOnWay,
      heaps: (level, piece) => this.heaps(level, piece),
      isUp: (level) => this.isUp(level),
      spotIn: (at) => states[at]!.spot ?? undefined,
      arrivals: this.arrivals,
      arrivalAt: (wanted) => this.arrivedBy.find(({ at }) => wanted(at))?.arrow,
      lengthOf: (at) => (typeof at === 'number' ? this.lengths[at]! : at.from < 0 ? 0 : this.lengths[at.from]! + 1),
      isShortest: () => true,
      routeToState: (at) => routeTo(parents[at]!),
      routeTo
    };
  }
}

/** Watches one way of one event. What it sees first is noted once it is known which event it was. */
class Note implements Watcher {
  can = 0;
  /** Bits of `by`: a run has begun, all has been erased. */
  undone = 0;
  /** A place was entered afresh. */
  afresh = false;
  private readonly firsts: [Map<string, Arrow>, Id][] = [];
  private readonly passes: [level: Id, rule: Id][] = [];
  private readonly misses: [objective: string, rule: Id][] = [];
  private readonly faults: [place: Id, rules: Id[]][] = [];
  private readonly overflows: [variable: Id, rule: Id][] = [];
  private readonly removals = new Set<Id>();
  /** The last rules that fired: when the event never settles, those of the loop. */
  private readonly last: Id[] = [];

  constructor(private readonly found: Exploration) {}

  happens(rules: FittingRule[]): void {
    for (const { id } of rules) this.found.factsOf(id).happened = true;
  }

  read(rule: FittingRule, truth: boolean, turn: Turn): void {
    const facts = this.found.factsOf(rule.id);
    if (truth) facts.wasTrue = true;
    else {
      facts.wasFalse = true;
      if (!facts.wasTrue) noteValues(facts, rule, turn.reading());
    }
  }

  fired({ id }: FittingRule): void {
    this.firsts.push([this.found.fired, id]);
    this.last.push(id);
  }

  removed(piece: Id): void {
    this.removals.add(piece);
  }

  /** A rule is about to win the bottom level: held against its objectives, and against what was removed. */
  private wins(rule: FittingRule, place: Id, turn: Turn): void {
    const { met, judged, wonByRemoval } = this.found;
    for (const { key, condition } of turn.flow.objectives.filter((each) => each.place === place)) {
      judged.add(key);
      if (evaluate(condition, turn.reading())) this.firsts.push([met, key]);
      else this.misses.push([key, rule.id]);
    }
    if ([...piecesCounted(rule)].some((piece) => this.removals.has(piece))) this.firsts.push([wonByRemoval, rule.id]);
  }

  moving(moved: FittingRule, to: Id | null, afresh: boolean, turn: Turn): void {
    const { rule } = moved;
    const { flow, state } = turn;
    const { place } = bottom(state);
    const level = flow.document.places[place]!;
    if (rule.result === 'won') this.wins(moved, place, turn);
    if (level.kind === 'level' && this.afresh && afresh && to !== place) this.passes.push([place, rule.id]);
    if (level.kind !== 'level' || state.stack.length > 1) return;
    const leaves = afresh && to !== place;
    const completes = level.goal === 'leave' ? leaves : rule.result === 'won';
    if (completes) this.firsts.push([this.found.completed, place]);
    if (this.afresh) return;
    if (completes) this.can |= can.complete;
    if (leaves || rule.result) this.can |= can.leave;
  }

  entered(place: Id, afresh: boolean, turn: Turn): void {
    if (afresh) {
      this.afresh = true;
      this.can |= can.enter;
    }
    if (turn.flow.document.places[place]!.kind === 'ending') this.can |= can.end;
    this.firsts.push([this.found.entered, place]);
    if (afresh) this.stands(turn);
    for (const { id, holds } of turn.applying().all) {
      const facts = this.found.factsOf(id);
      facts.present = true;
      if (holds) facts.happened = true;
    }
  }

  private stands({ state }: Turn): void {
    if (state.spot !== null) this.firsts.push([this.found.stood, `${bottom(state).place}/${state.spot}`]);
  }

  walks(passage: Id, turn: Turn): void {
    this.firsts.push([this.found.walked, `${bottom(turn.state).place}/${passage}`]);
    this.stands(turn);
  }

  touchesOnWay(piece: Id, { state }: Turn): void {
    this.firsts.push([this.found.touchedOnWay, `${bottom(state).place}/${piece}`]);
  }

  undoes(all: boolean): void {
    this.undone |= all ? by.run | by.all : by.run;
  }

  resumes({ id }: FittingRule, earlier: boolean): void {
    this.found.resumed.add(id);
    if (earlier) this.firsts.push([this.found.resumedEarlier, id]);
  }

  usesSlot({ id }: FittingRule, { state }: Turn): void {
    if (state.picked === null) this.firsts.push([this.found.unpicked, id]);
  }

  stranded({ id }: FittingRule): void {
    this.firsts.push([this.found.stranded, id]);
  }

  clamped({ id }: FittingRule, variable: Id): void {
    this.overflows.push([variable, id]);
  }

  unsettled(rule: FittingRule, { state }: Turn): void {
    // the loop is what comes again before the rule that would have been one too many
    const loop = this.last.slice(this.last.lastIndexOf(rule.id));
    this.faults.push([active(state).place, [...new Set(loop.length > 0 ? loop : [rule.id])]]);
  }

  tell(arrow: Arrow): void {
    for (const [map, id] of this.firsts) if (!map.has(id)) map.set(id, arrow);
    for (const [level, rule] of this.passes) if (!this.found.passed.has(level)) this.found.passed.set(level, { arrow, rule });
    for (const [objective, rule] of this.misses)
      if (!this.found.unmet.has(objective)) this.found.unmet.set(objective, { arrow, rule });
    for (const [variable, rule] of this.overflows) {
      const known = this.found.clamped.get(variable);
      if (known) known.rules.add(rule);
      else this.found.clamped.set(variable, { arrow, rules: new Set([rule]) });
    }
    for (const [place, rules] of this.faults)
      if (!this.found.unsettled.has(place)) this.found.unsettled.set(place, { arrow, rules });
  }
}

/** Notes what the terms of a false condition were, to be able to say later why it never held. */
function noteValues(
  facts: RuleFacts,
  { condition: first, holds }: Pick<FittingRule, 'condition' | 'holds'>,
  reading: Reading
): void {
  for (const condition of [first, holds]) {
    if (!condition) continue;
    for (const expression of termsIn(condition)) {
      const term = print(expression);
      let seen = facts.seen.get(term);
      if (!seen) facts.seen.set(term, (seen = new Seen(expression)));
      seen.note(evaluate(expression, reading) as Value);
    }
  }
}
