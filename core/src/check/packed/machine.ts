/**
 * The meaning of a flow on packed states: a second writing of `play`, function by function, made for speed. Whatever
 * differs from `play` is a fault of this file; the property tests look for it.
 */
import {
  canHappenTo,
  countOf,
  isLevel,
  usedUp,
  type Effect,
  type Id,
  type Level,
  type Piece,
  type Target
} from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import { clamp } from '../../language/evaluate.ts';
import { targetMisfit, type FittingRule } from '../../play/fit.ts';
import type { Flow } from '../../play/flow.ts';
import { mostDraws, mostFirings } from '../../play/handle.ts';
import { mostFrames } from '../../play/move.ts';
import type { Draw, Event } from '../../play/turn.ts';
import { compile, type Names } from './expressions.ts';
import type { Needs } from './needs.ts';
import { layoutOf, type Places } from './places.ts';

export interface PackedRule {
  /** Its number among all rules, and the rule itself. */
  index: number;
  rule: FittingRule;
  /** Of a choice the candidate's, else the rule's `if`; undefined where there is none. */
  condition?: () => boolean;
  holds?: () => boolean;
  effects: (() => void)[];
  target?: () => boolean;
  result: 0 | 1 | 2;
}

export interface PackedEvent {
  event: Event;
  /** Whether it can happen now. */
  can: () => boolean;
  /** What happens before rules are read. */
  prepare?: () => void;
  rules: PackedRule[];
  /** Of a choice: the level. */
  choice: number;
}

/** What applies in a place over a bottom place. */
interface Pair {
  place: number;
  bottom: number;
  all: number[];
  events: PackedEvent[];
  arrive: PackedRule[];
  hear: PackedRule[][];
  holds: PackedRule[];
  deadlines: PackedRule[][];
}

/** Is told what happens; the machine's fields say the rest. */
export interface PackedWatcher {
  happens(rules: PackedRule[]): void;
  read(rule: PackedRule, truth: boolean): void;
  fired(rule: PackedRule): void;
  /** `to` is -1 for back. The state is still as before the move. */
  moving(rule: PackedRule, to: number, afresh: boolean): void;
  entered(place: number, afresh: boolean, pair: Pair): void;
  stranded(rule: PackedRule): void;
  unsettled(rule: PackedRule): void;
  /** A rule assigns a number beyond its variable's range. */
  clamped(rule: Id, variable: Id): void;
  /** The event has been run to its end: `way` counts the series of draws. */
  done(settled: boolean, way: number): void;
}

class NeverSettles extends Error {}
const none = -1;

export class Machine {
  readonly v: Int32Array;
  readonly at: Places;
  /** By the frames' positions: made during this event. */
  newFrames = 0;
  /** The rule by which the bottom place was entered afresh; undefined when it was not or at the start. */
  arrival: PackedRule | undefined;
  arrived = false;
  arrivedBack = false;
  draws: Draw[] = [];

  private readonly pairs = new Map<number, Pair>();
  /** By place: what applies in it when nothing is opened over it. */
  private readonly alone: (Pair | undefined)[];
  private readonly ruleIndex = new Map<Id, number>();
  private readonly choices = new Map<Id, number>();
  private queue: number[] = [];
  private firings = 0;
  private checkpoint: { progress: number } | undefined;
  private choice = none;
  // the series of draws being run: what is drawn, out of how many, and how many draws so far
  private readonly planned: number[] = [];
  private readonly options: number[] = [];
  private made = 0;

  // where the rule that is moving goes
  private kind: 0 | 1 | 2 = 0;
  private to = none;
  private order = none;
  private position = none;
  private saved: 0 | 1 | 2 = 0;
  private back = false;

  constructor(
    readonly flow: Flow,
    private readonly watcher: PackedWatcher,
    needs?: Needs
  ) {
    this.at = layoutOf(flow, needs);
    this.v = this.at.slots.initials();
    this.alone = new Array<Pair | undefined>(this.at.placeIds.length).fill(undefined);
    [...flow.rules.keys()].forEach((id, index) => this.ruleIndex.set(id, index));
  }

  // ---- events ------------------------------------------------------------------------------------------------------

  /** The events of the present state's active place; each says itself whether it can happen now. */
  events(): PackedEvent[] {
    return this.pair().events;
  }

  /**
   * Runs the start or an event from the present state, which `from` is a copy of, once for each series of draws, and
   * tells the watcher of each end. Tells whether there were too many.
   */
  everyDraw(from: Int32Array, event: PackedEvent | undefined): boolean {
    const { planned, options } = this;
    if (planned.length > 0) planned.length = 0;
    for (let way = 0; ; way++) {
      if (way === mostDraws) return true;
      this.made = 0;
      if (way > 0) this.v.set(from);
      this.watcher.done(this.run(event), way);
      // the next series: the last draw that has another option takes it, those behind it begin anew
      let last = this.made - 1;
      while (last >= 0 && planned[last] === options[last]! - 1) last--;
      if (last < 0) return false;
      planned.length = last + 1;
      planned[last]!++;
    }
  }

  private pick(options: number): number {
    const at = this.made++;
    this.options[at] = options;
    return (this.planned[at] ??= 0);
  }

  private run(event: PackedEvent | undefined): boolean {
    if (this.queue.length > 0) this.queue.length = 0;
    this.firings = 0;
    this.newFrames = 0;
    this.arrival = undefined;
    this.arrived = this.arrivedBack = false;
    this.checkpoint = undefined;
    if (this.draws.length > 0) this.draws = [];
    try {
      if (event) this.respond(event);
      else this.begin();
      this.settle();
    } catch (error) {
      if (error instanceof NeverSettles) return false;
      throw error;
    }
    return true;
  }

  private begin(): void {
    this.to = this.at.placeIndex.get(this.flow.document.start)!;
    this.order = none;
    this.saved = 0;
    this.enterAfresh();
    this.arrived = true;
    const pair = this.pair();
    this.watcher.entered(this.to, true, pair);
    this.read(pair.arrive);
  }

  private respond(event: PackedEvent): void {
    if (event.rules === timeRules) {
      const slot = this.at.phase[this.v[this.at.depth]! - 1]!;
      const passed = this.v[slot]!++;
      this.read(this.pair().deadlines[passed]!);
      return;
    }
    event.prepare?.();
    this.choice = event.choice;
    this.read(event.rules);
    this.choice = none;
  }

  // ---- reading rules -----------------------------------------------------------------------------------------------

  private pair(): Pair {
    const { v, at } = this;
    const bottom = v[at.place[0]!]!;
    const depth = v[at.depth]!;
    if (depth === 1) return this.alone[bottom] ?? (this.alone[bottom] = this.pairOf(bottom, bottom));
    return this.pairOf(v[at.place[depth - 1]!]!, bottom);
  }

  private read(rules: PackedRule[]): boolean {
    if (rules.length === 0) return false;
    this.watcher.happens(rules);
    for (const rule of rules) {
      const truth = rule.condition === undefined || rule.condition();
      this.watcher.read(rule, truth);
      if (truth && this.fire(rule)) return true;
    }
    return false;
  }

  private fire(rule: PackedRule): boolean {
    if (this.firings === mostFirings) {
      this.watcher.unsettled(rule);
      throw new NeverSettles();
    }
    this.firings++;
    this.watcher.fired(rule);
    const waiting = this.queue.length;
    for (const effect of rule.effects) effect();
    if (!rule.target) return false;
    if (!rule.target()) {
      this.watcher.stranded(rule);
      return false;
    }
    if (waiting > 0) this.queue.splice(0, waiting);
    this.watcher.moving(rule, this.to, this.kind === 2);
    if (this.go(rule)) this.read(this.pair().arrive);
    return true;
  }

  private settle(): void {
    do {
      if (this.queue.length > 0) this.hearAll();
    } while (this.passFires());
  }

  private hearAll(): boolean {
    let left = false;
    while (this.queue.length > 0) {
      const signal = this.queue.shift()!;
      left = this.read(this.pair().hear[signal]!) || left;
    }
    return left;
  }

  private passFires(): boolean {
    const { v, at } = this;
    const { holds } = this.pair();
    if (holds.length === 0) return false;
    const frame = v[at.depth]! - 1;
    let fired = false;
    for (let index = 0; index < holds.length; index++) {
      const rule = holds[index]!;
      const slot = at.held[frame]![Math.floor(index / 30)]!;
      const bit = 1 << (index % 30);
      const before = (v[slot]! & bit) !== 0;
      const now = rule.holds!() && (rule.condition === undefined || rule.condition());
      if (now) v[slot]! |= bit;
      else v[slot]! &= ~bit;
      this.watcher.read(rule, now);
      if (!now || before) continue;
      fired = true;
      if (this.fire(rule) || (this.queue.length > 0 && this.hearAll())) return true;
    }
    return fired;
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  private go(rule: PackedRule): boolean {
    const { v, at } = this;
    if (rule.result !== 0) {
      if (rule.result === 1) v[at.won[v[at.place[0]!]!]!] = 1;
      v[at.over] = 1;
    }
    const depth = v[at.depth]!;
    if (this.kind === 0) {
      this.dropFrame(depth - 1);
      v[at.depth] = depth - 1;
      this.newFrames &= ~(1 << (depth - 1));
      return false;
    }
    if (this.kind === 1) {
      v[at.place[depth]!] = this.to;
      v[at.depth] = depth + 1;
      this.newFrames |= 1 << depth;
      this.watcher.entered(this.to, false, this.pair());
      return true;
    }
    this.enterAfresh();
    this.arrival = rule;
    this.arrived = true;
    this.arrivedBack = this.back;
    this.checkpoint = undefined;
    this.watcher.entered(this.to, true, this.pair());
    return true;
  }

  private dropFrame(frame: number): void {
    const { v, at } = this;
    v[at.place[frame]!] = 0;
    v[at.phase[frame]!] = 0;
    for (const slot of at.held[frame]!) v[slot] = 0;
  }

  private enterAfresh(): void {
    const { v, at, to } = this;
    for (let frame = 0; frame < v[at.depth]!; frame++) this.dropFrame(frame);
    v[at.depth] = 1;
    v[at.place[0]!] = to;
    v[at.over] = 0;
    this.newFrames = 1;
    for (const slot of at.here) v[slot] = 0;
    if (this.saved === 2) this.bringBack();
    const level = at.levels[to];
    if (!level) {
      if (at.marksStale[to]) for (const { slot, stale, initial } of at.run) if (v[slot] !== initial) v[stale] = 1;
      return;
    }
    if (this.saved) for (const { slot, saved } of at.attempt) v[slot] = v[saved]!;
    else for (const { slot, initial } of at.attempt) v[slot] = initial;
    for (const { slot, count } of level.here) v[slot] = count;
    if (this.saved) for (const { slot, saved } of level.attemptPieces) v[slot] = v[saved]!;
    v[at.latest] = to + 1;
    if (this.order !== none) v[at.current] = this.order + 1;
    for (const order of at.walked) this.standIn(order, to);
  }

  /** In every order whose row holds the level the position moves to it, and it is taken out of every bag. */
  private standIn(order: number, level: number): void {
    const { v, at } = this;
    const { position, bag } = at.orders[order]!;
    const taken = bag?.get(level);
    if (taken !== undefined) v[taken] = 0;
    if (bag) return;
    const row = this.rowOf(order);
    const first = row ? at.orders[order]!.first[this.rowIndex(order)]![level]! : none;
    if (first < 0) return;
    if (this.order === order && this.position !== none) v[position] = this.position;
    else if (row![v[position]!] !== level) v[position] = first;
  }

  private rowIndex(order: number): number {
    const { row } = this.at.orders[order]!;
    return row === none ? 0 : this.v[row]!;
  }

  private rowOf(order: number): number[] | undefined {
    return this.at.orders[order]!.rows[this.rowIndex(order)];
  }

  private bringBack(): void {
    const { v, at } = this;
    for (const [slot, saved] of at.savedRun) v[slot] = v[saved]!;
    for (const { stale } of at.run) v[stale] = 0;
    v[at.bookThisRun] = 1;
  }

  // ---- effects -----------------------------------------------------------------------------------------------------

  private beginRun(): void {
    const { v, at } = this;
    for (const { slot, stale, initial } of at.run) {
      v[slot] = initial;
      v[stale] = 0;
    }
    for (const { slot, count } of at.runPieces) v[slot] = count;
    for (const { row, position, bag } of at.orders) {
      if (row !== none) v[row] = none;
      v[position] = none;
      if (bag) for (const slot of bag.values()) v[slot] = 0;
    }
    v[at.current] = 0;
    if (v[at.bookLevel] !== 0) v[at.bookThisRun] = 0;
  }

  private forget(): void {
    const { v, at } = this;
    for (const slot of at.book) v[slot] = at.initial[slot]!;
  }

  private erase(): void {
    const { v, at } = this;
    for (const slot of at.won) v[slot] = 0;
    this.forget();
    if (v[at.latest] !== 0 && v[at.place[0]!] !== v[at.latest]! - 1) v[at.latest] = 0;
    for (const { slot, initial } of at.kept) v[slot] = initial;
    for (const { slot, count } of at.keptPieces) v[slot] = count;
    this.beginRun();
  }

  private save(forward: boolean): void {
    const { v, at } = this;
    const bottom = v[at.place[0]!]!;
    const level = at.levels[bottom];
    if (!level) return;
    const progress = this.checkpoint?.progress ?? level.progress;
    if (forward && v[at.bookLevel] !== 0 && v[at.bookThisRun] === 1 && v[at.bookProgress]! >= progress) return;
    this.forget();
    v[at.bookLevel] = bottom + 1;
    v[at.bookProgress] = progress;
    v[at.bookThisRun] = 1;
    for (const { slot, saved } of at.attempt) v[saved] = v[slot]!;
    for (const { slot, saved } of level.attemptPieces) v[saved] = v[slot]!;
    for (const [slot, saved] of at.savedRun) v[saved] = v[slot]!;
  }

  private effect(rule: Id, effect: Effect, expression: Expression | undefined, names: Names, bottom: number): () => void {
    const { v, at, flow } = this;
    const { document } = flow;
    if ('set' in effect || 'reset' in effect) {
      const id = 'set' in effect ? effect.set : effect.reset;
      const variable = document.variables[id]!;
      const { slot, stale, initial } = at.variables.get(id)!;
      if ('reset' in effect) {
        return () => {
          v[slot] = initial;
          v[stale] = 0;
        };
      }
      const value = compile(expression!, names, v);
      const assigned =
        variable.type === 'number'
          ? () => this.inRange(rule, id, value() as number | bigint, variable.min, variable.max)
          : variable.type === 'flag'
            ? () => Number(value())
            : this.choiceSetter(variable.choices, value as () => number);
      return () => {
        v[slot] = assigned();
        v[stale] = 0;
      };
    }
    if ('raise' in effect) {
      const signal = Object.keys(document.signals).indexOf(effect.raise);
      return () => void this.queue.push(signal);
    }
    if ('remove' in effect || 'restore' in effect) {
      const id = 'remove' in effect ? effect.remove : effect.restore;
      const found = at.levels[bottom]?.pieces.get(id);
      if (!found) return () => {};
      const { slot, count } = found;
      const by = 'remove' in effect ? (effect.by ?? 1) : 0;
      return 'remove' in effect ? () => void (v[slot] = Math.max(0, v[slot]! - by)) : () => void (v[slot] = count);
    }
    if ('draw' in effect) return () => this.drawOrder(Object.keys(document.orders).indexOf(effect.draw), effect.draw);
    if ('begin' in effect) return () => this.beginRun();
    if ('save' in effect) return () => this.save(effect.save === 'forward');
    if ('forget' in effect) return () => this.forget();
    return () => this.erase();
  }

  private inRange(rule: Id, variable: Id, value: number | bigint, min: number, max: number): number {
    if (value >= min && value <= max) return value as number;
    this.watcher.clamped(rule, variable);
    return clamp(value, min, max);
  }

  private choiceSetter(choices: Id[], value: () => number): () => number {
    const index = new Map(choices.map((id, n) => [this.choiceNumber(id), n]));
    return () => index.get(value())!;
  }

  private choiceNumber(id: Id): number {
    let found = this.choices.get(id);
    if (found === undefined) this.choices.set(id, (found = this.choices.size));
    return found;
  }

  private drawOrder(order: number, id: Id): void {
    const { v, at } = this;
    const { rows, row, position, bag } = at.orders[order]!;
    if (row !== none) {
      v[row] = rows.length === 1 ? 0 : this.pick(rows.length);
      v[position] = none;
      this.draws.push({ order: id, row: v[row]! });
    } else if (bag) for (const slot of bag.values()) v[slot] = 1;
  }

  // ---- targets -----------------------------------------------------------------------------------------------------

  private target(target: Target, rule: FittingRule): () => boolean {
    const one = this.oneTarget(target, rule);
    if (!('else' in target) || !target.else) return one;
    const other = this.oneTarget(target.else, rule);
    return () => one() || other();
  }

  /** Says where the move goes, or that it does not resolve. */
  private oneTarget(target: Target, rule: FittingRule): () => boolean {
    const { v, at, flow } = this;
    const { document } = flow;
    if (targetMisfit(document, target, '')) return () => false;
    const afresh = (to: number, order = none, position = none, saved: 0 | 1 | 2 = 0, back = false) => {
      this.kind = 2;
      this.to = to;
      this.order = order;
      this.position = position;
      this.saved = saved;
      this.back = back;
      return true;
    };
    if ('place' in target) {
      const to = at.placeIndex.get(target.place)!;
      if (!target.over) return () => afresh(to);
      return () => {
        if (v[at.depth]! >= mostFrames) return false;
        this.kind = 1;
        this.to = to;
        return true;
      };
    }
    switch (target.move) {
      case 'back':
        return () => {
          if (v[at.depth] === 1) return false;
          this.kind = 0;
          this.to = none;
          return true;
        };
      case 'again':
        return () => v[at.latest] !== 0 && afresh(v[at.latest]! - 1, none, none, 0, true);
      case 'resume':
      case 'load': {
        const saved = target.move === 'load' ? 2 : 1;
        return () => v[at.bookLevel] !== 0 && afresh(v[at.bookLevel]! - 1, none, none, saved, true);
      }
      case 'chosen': {
        const order = Object.keys(document.orders).indexOf((rule.rule.when as { choose: Id }).choose);
        return () => this.choice !== none && afresh(this.choice, order);
      }
      default:
        return this.inOrder(target.move as 'next' | 'previous' | 'first' | 'last', target.order, afresh);
    }
  }

  private inOrder(
    move: 'next' | 'previous' | 'first' | 'last',
    named: Id | undefined,
    afresh: (to: number, order: number, position: number) => boolean
  ): () => boolean {
    const { v, at } = this;
    const ids = Object.keys(this.flow.document.orders);
    if (ids.length === 0) return () => false;
    const fixed = named === undefined ? none : ids.indexOf(named);
    return () => {
      const order =
        fixed !== none
          ? fixed
          : v[at.current] !== 0
            ? v[at.current]! - 1
            : v[at.latest] !== 0
              ? at.listing[v[at.latest]! - 1]!
              : 0;
      const { bag, position } = at.orders[order]!;
      if (bag) {
        if (move !== 'next' && move !== 'first') return false;
        const inside = [...bag].filter(([, slot]) => v[slot] === 1);
        if (inside.length === 0) return false;
        const [level] = inside[inside.length === 1 ? 0 : this.pick(inside.length)]!;
        this.draws.push({ order: ids[order]!, level: at.placeIds[level]! });
        return afresh(level, order, none);
      }
      const row = this.rowOf(order);
      if (!row) return false;
      const to =
        move === 'next' ? v[position]! + 1 : move === 'previous' ? v[position]! - 1 : move === 'first' ? 0 : row.length - 1;
      const level = row[to];
      return level !== undefined && level !== none && afresh(level, order, to);
    };
  }

  // ---- making ready ------------------------------------------------------------------------------------------------

  pairOf(place: number, bottom: number): Pair {
    const key = place * this.at.placeIds.length + bottom;
    let found = this.pairs.get(key);
    if (!found) this.pairs.set(key, (found = this.makePair(place, bottom)));
    return found;
  }

  private makePair(place: number, bottom: number): Pair {
    const { flow, at } = this;
    const { document } = flow;
    const applying = flow.applying(at.placeIds[place]!, at.placeIds[bottom]!);
    const names = this.names(bottom);
    const packed = new Map(applying.all.map((rule) => [rule.id, this.packRule(rule, names, bottom)]));
    const of = (rules: FittingRule[]) => rules.map(({ id }) => packed.get(id)!);
    const { by, deadlines } = applying;
    const pair: Pair = {
      place,
      bottom,
      all: applying.all.map(({ id }) => this.ruleIndex.get(id)!),
      events: [],
      arrive: of(by.arrive),
      hear: Object.keys(document.signals).map((signal) =>
        of(by.hear.filter(({ rule }) => (rule.when as { hear: Id }).hear === signal))
      ),
      holds: of(by.holds),
      deadlines: deadlines.map((seconds) => of(by.after.filter(({ rule }) => (rule.when as { after: number }).after === seconds)))
    };
    for (const press of applying.labels) {
      const rules = of(by.press.filter(({ rule }) => (rule.when as { press: string }).press === press));
      pair.events.push({ event: { press }, can: always, rules, choice: none });
    }
    const level = document.places[at.placeIds[place]!]!;
    if (level.kind === 'level') {
      pair.events.push(
        ...this.pieceEvents(level, place, (trigger, piece) =>
          of(by[trigger].filter(({ rule }) => (rule.when as Record<string, Id>)[trigger] === piece))
        )
      );
    }
    for (const rule of by.choose) pair.events.push(...this.choices_(rule, names, bottom));
    if (deadlines.length > 0) {
      const slots = at.phase;
      const can = () => this.v[slots[this.v[at.depth]! - 1]!]! < deadlines.length;
      pair.events.push({ event: { time: true }, can, rules: timeRules, choice: none });
    }
    return pair;
  }

  private packRule(rule: FittingRule, names: Names, bottom: number): PackedRule {
    const choosing = 'choose' in rule.rule.when;
    const text = (expression: Expression | undefined) => expression && (compile(expression, names, this.v) as () => boolean);
    return {
      index: this.ruleIndex.get(rule.id)!,
      rule,
      // that of a choice depends on the candidate
      condition: choosing ? undefined : text(rule.condition),
      holds: text(rule.holds),
      effects: (rule.rule.do ?? []).map((effect, index) => this.effect(rule.id, effect, rule.expressions[index], names, bottom)),
      target: rule.rule.go && this.target(rule.rule.go, rule),
      result: rule.rule.result === 'won' ? 1 : rule.rule.result === 'lost' ? 2 : 0
    };
  }

  private choices_(rule: FittingRule, names: Names, bottom: number): PackedEvent[] {
    const { at, flow } = this;
    const { document } = flow;
    const { levels } = document.orders[(rule.rule.when as { choose: Id }).choose]!;
    const won = (id: Id) => this.wonCode(id);
    return levels.flatMap((id, index) => {
      if (!isLevel(document, id)) return [];
      const candidate = { it: won(id), previous: index === 0 ? 'true' : won(levels[index - 1]!), position: index + 1 };
      const condition = rule.condition && (compile(rule.condition, { ...names, candidate }, this.v) as () => boolean);
      const packed = { ...this.packRule(rule, names, bottom), condition };
      return [
        { event: { choose: id, rule: rule.id }, can: condition ?? always, rules: [packed], choice: at.placeIndex.get(id)! }
      ];
    });
  }

  private pieceEvents(
    level: Level,
    place: number,
    rulesFor: (trigger: 'touch' | 'collect' | 'defeat', piece: Id) => PackedRule[]
  ): PackedEvent[] {
    const { v, at } = this;
    const { pieces } = at.levels[place]!;
    const players = Object.keys(level.pieces)
      .filter((id) => level.pieces[id]!.kind === 'player')
      .map((id) => pieces.get(id)!.slot);
    const someoneUp = players.length === 0 ? always : () => players.some((slot) => v[slot]! > 0);
    const found: PackedEvent[] = [];
    for (const [id, piece] of Object.entries(level.pieces)) {
      const slot = usedUp(piece) ? pieces.get(id)!.slot : undefined;
      const there = slot === undefined ? always : () => v[slot]! > 0;
      // what is not kept makes no difference: taking it unheard leads back to the same state
      const matters = slot !== undefined && at.keptSlot(slot);
      const add = (trigger: 'touch' | 'collect' | 'defeat', prepare?: () => void) => {
        if (!canHappenTo(trigger, piece.kind)) return;
        const rules = rulesFor(trigger, id);
        if (rules.length === 0 && !(prepare && matters)) return;
        const needsPlayer = trigger !== 'defeat' || piece.kind !== 'player';
        const can = needsPlayer ? () => there() && someoneUp() : there;
        found.push({ event: { [trigger]: id } as unknown as Event, can, prepare, rules, choice: none });
      };
      const lower = slot === undefined ? undefined : () => void v[slot]!--;
      add('touch', piece.kind === 'checkpoint' ? () => (this.checkpoint = { progress: progressOf(piece, level) }) : undefined);
      add('collect', lower);
      add('defeat', lower);
    }
    return found;
  }

  names(bottom: number): Names {
    const { at, flow } = this;
    const { document } = flow;
    return {
      variable: (id) => {
        const variable = document.variables[id]!;
        const { slot } = at.variables.get(id)!;
        if (variable.type === 'number') return { code: `v[${slot}]`, min: variable.min, max: variable.max };
        if (variable.type === 'flag') return { code: `(v[${slot}] !== 0)`, min: 0, max: 1 };
        return { code: `[${variable.choices.map((choice) => this.choiceNumber(choice)).join()}][v[${slot}]]`, min: 0, max: 0 };
      },
      left: (piece) => {
        const count = this.countAt(bottom, piece);
        const found = at.levels[bottom]!.pieces.get(piece);
        return found ? { code: `v[${found.slot}]`, min: 0, max: count } : { code: String(count), min: count, max: count };
      },
      count: (piece) => this.countAt(bottom, piece),
      won: (level) => this.wonCode(level),
      wins: (of) => {
        const group = Object.hasOwn(document.groups, of);
        const levels = group
          ? flow.levels.filter(([, level]) => level.group === of).map(([id]) => id)
          : document.orders[of]!.levels;
        const slots = levels.filter((id) => isLevel(document, id)).map((id) => `v[${at.won[at.placeIndex.get(id)!]!}]`);
        return { code: `(${slots.join(' + ') || '0'})`, max: slots.length };
      },
      choice: (id) => this.choiceNumber(id)
    };
  }

  /** Whether a level is won; what is no level never is. */
  private wonCode(id: Id): string {
    return isLevel(this.flow.document, id) ? `(v[${this.at.won[this.at.placeIndex.get(id)!]!}] !== 0)` : 'false';
  }

  private countAt(bottom: number, piece: Id): number {
    return countOf((this.flow.document.places[this.at.placeIds[bottom]!] as Level).pieces[piece]!);
  }
}

const always = () => true;
/** Stands for "the rules of the next deadline". */
const timeRules: PackedRule[] = [];

function progressOf(piece: Piece, level: Level): number {
  return piece.progress ?? level.progress ?? 0;
}
