/**
 * The code of a place over a bottom place: its events, the rules it reads, and how it is entered, as text that holds
 * numbers alone. The text names: `v` the slots, `B` the packed state that events are run from, `X` who is told of their
 * ends, `m` the machine, `Q` the signals waiting; by rule `H` its trigger happened, `T` it was true, `N` it was false,
 * `F` it is known to have fired; by place `D` it is known to be completed; `C` by assignment it is known to be clamped;
 * `S` the last value of each term of a condition. What is this place's own (which rules, which place) stands as `k0`,
 * `k1` and so on, so that levels built alike share their code.
 */
import {
  canHappenTo,
  isLevel,
  usedUp,
  type Effect,
  type Id,
  type Level,
  type Piece,
  type Target,
  type Variable
} from '../../document/types.ts';
import { parts, type Expression } from '../../language/ast.ts';
import { print } from '../../language/print.ts';
import { targetMisfit, type FittingRule } from '../../play/fit.ts';
import { mostFirings } from '../../play/handle.ts';
import { mostFrames } from '../../play/move.ts';
import type { Event } from '../../play/turn.ts';
import { codeOf, type Names } from './expressions.ts';
import { assignmentOf, type Assignment } from './merging.ts';
import type { Sheet } from './pair.ts';
import type { MergedSlot } from './places.ts';
import { others, packing } from './slots.ts';

/** The slots that something writes, or, where that is not known, all. */
export type Written = Set<number> | 'all';
/** In place of a place's number: any level. */
export const anyLevel = -1;

type NumberVariable = Extract<Variable, { type: 'number' }>;

const no = '() => false';
const number = (value: number) => (value < 0 ? `(${value})` : String(value));

/** Adds an event: when it can happen, what happens before rules are read, and the reading of its rules. */
type AddEvent = (event: Event, when: string, changes: () => string, what: () => string) => void;
const nothing = () => '';

export class Writer {
  private readonly names: Names;
  private readonly depth: string;
  /** Whether the frame of this place can be another than the lowest. */
  private readonly upper: boolean;
  private readonly signals: boolean;
  /** How the reading ends when a rule leaves. */
  private leave = '';
  /** The slots that have been written in the text so far, and the places it may lead to. */
  private written: Written = new Set();
  private leadsTo = new Set<number>();
  private readonly own: number[] = [];
  private readonly owned = new Map<string, string>();

  constructor(
    private readonly sheet: Sheet,
    private readonly place: number,
    private readonly bottom: number
  ) {
    const { at, naming, flow } = sheet;
    this.names = naming.over(bottom);
    this.depth = `v[${at.depth}]`;
    this.upper = at.openable.has(place);
    this.signals = Object.keys(flow.document.signals).length > 0;
  }

  text(): { events: Event[]; body: string; own: number[] } {
    const { at, flow } = this.sheet;
    const { document } = flow;
    const { by, deadlines, labels } = flow.applying(at.placeIds[this.place]!, at.placeIds[this.bottom]!);
    const named = (trigger: 'press' | 'touch' | 'collect' | 'defeat' | 'hear' | 'after', what: unknown) =>
      by[trigger].filter(({ rule }) => (rule.when as Record<string, unknown>)[trigger] === what);
    const events: Event[] = [];
    const can: string[] = [];
    const run: string[] = [];
    const { enter, arrive, pass, passWrites, passLeadsTo } = this.settling;
    const add: AddEvent = (event, when, changes, what) => {
      const index = events.push(event) - 1;
      can.push(`() => ${when}`);
      this.leave = 'break rules;';
      this.written = passWrites === 'all' || this.upper ? 'all' : new Set(passWrites);
      this.leadsTo = new Set(passLeadsTo);
      const first = changes();
      const rules = what();
      const ended = `m.ended(${index}, whole);`;
      const settled = this.settled(index);
      const settle = settled && by.holds.length > 0 ? 'if (!m.moved) while (pass() && !m.moved);' : '';
      // an event that changes nothing leads back to where it began
      run.push(`if ((only < 0 || only === ${index}) && ${when}) {
m.firings = 0; let whole = true; ${first}
try { rules: {\n${rules}\n} ${settle} } catch (error) { whole = m.caught(error); }
${first === '' ? 'if (m.firings !== 0) ' : ''}${settled ? `{ ${settled} }` : ended}
}`);
    };
    for (const press of labels) add({ press }, 'true', nothing, () => this.read(named('press', press)));
    const level = document.places[at.placeIds[this.place]!]!;
    if (level.kind === 'level') this.pieceEvents(level, named, add);
    for (const rule of by.choose) this.choices(rule, add);
    if (deadlines.length > 0) {
      const phase = this.frameSlot(at.phase);
      const passes = () => {
        this.writes(at.phase[0]!);
        return `const passed = ${phase}++;`;
      };
      add({ time: true }, `${phase} < ${deadlines.length}`, passes, () =>
        deadlines.map((seconds, passed) => `if (passed === ${passed}) {\n${this.read(named('after', seconds))}\n}`).join('\n')
      );
    }
    this.leave = 'return true;';
    const hear = Object.keys(document.signals).map((signal) => {
      const rules = named('hear', signal);
      return rules.length > 0 ? block(this.read(rules)) : no;
    });
    const functions = `const pass = ${pass};
return {
pass,
can: [${can.join(',\n')}],
run: (only) => {\n${run.join('\n')}\n},
enter: (o, p, saved) => {\n${enter}\n},
arrive: ${arrive},
hear: [${hear.join(',\n')}]
};`;
    const names = this.own.map((_, n) => `k${n} = k[${n}]`);
    return { events, body: names.length > 0 ? `const ${names.join(', ')};\n${functions}` : functions, own: this.own };
  }

  // ---- events ------------------------------------------------------------------------------------------------------

  private pieceEvents(
    level: Level,
    named: (trigger: 'touch' | 'collect' | 'defeat', piece: Id) => FittingRule[],
    add: AddEvent
  ): void {
    const { at } = this.sheet;
    const { pieces } = at.levels[this.place]!;
    const players = Object.keys(level.pieces)
      .filter((id) => level.pieces[id]!.kind === 'player')
      .map((id) => `v[${pieces.get(id)!.slot}] > 0`);
    const someoneUp = players.length === 0 ? 'true' : `(${players.join(' || ')})`;
    for (const [id, piece] of Object.entries(level.pieces)) {
      const slot = usedUp(piece) ? pieces.get(id)!.slot : undefined;
      const there = slot === undefined ? 'true' : `v[${slot}] > 0`;
      for (const trigger of ['touch', 'collect', 'defeat'] as const) {
        if (!canHappenTo(trigger, piece.kind)) continue;
        const rules = named(trigger, id);
        // what is not kept makes no difference: taking it unheard leads back to the same state
        const lowers = slot !== undefined && trigger !== 'touch' && at.keptSlot(slot);
        if (rules.length === 0 && !lowers) continue;
        const needsPlayer = trigger !== 'defeat' || piece.kind !== 'player';
        const first = () => {
          if (lowers) this.writes(slot);
          return lowers ? `v[${slot}]--;` : piece.kind === 'checkpoint' ? `m.progress = ${progressOf(piece, level)};` : '';
        };
        const when = needsPlayer ? `${there} && ${someoneUp}` : there;
        add({ [trigger]: id } as unknown as Event, when, first, () => this.read(rules));
      }
    }
  }

  private choices(rule: FittingRule, add: AddEvent): void {
    const { at, flow, naming } = this.sheet;
    const { document } = flow;
    const { levels } = document.orders[(rule.rule.when as { choose: Id }).choose]!;
    const index = this.index(rule);
    levels.forEach((id, n) => {
      if (!isLevel(document, id)) return;
      const previous = n === 0 ? 'true' : naming.won(levels[n - 1]!);
      const candidate = { it: naming.won(id), previous, position: n + 1 };
      const condition = rule.condition ? codeOf(rule.condition, { ...this.names, candidate }).code : 'true';
      const noted = `(H[${index}] = 1, ${condition} ? (T[${index}] = 1, true) : (N[${index}] = 1, false))`;
      add({ choose: id, rule: rule.id }, noted, nothing, () => this.fire(rule, at.placeIndex.get(id)!));
    });
  }

  /** The code that runs when the place is entered, until it has settled; what it writes and where it leads. */
  get settling() {
    return (this.settlingOnce ??= this.writeSettling());
  }
  private settlingOnce: ReturnType<Writer['writeSettling']> | undefined;

  private writeSettling() {
    const { at, flow } = this.sheet;
    const { by } = flow.applying(at.placeIds[this.place]!, at.placeIds[this.bottom]!);
    this.written = this.signals ? 'all' : new Set();
    this.leave = 'return true;';
    const pass = by.holds.length > 0 ? this.pass(by.holds) : no;
    const passWrites: Written = this.written === 'all' ? 'all' : new Set(this.written);
    const passLeadsTo = new Set(this.leadsTo);
    const arrive = by.arrive.length > 0 ? block(this.read(by.arrive)) : no;
    const enter = this.place === this.bottom ? this.enter() : '';
    return { enter, arrive, pass, passWrites, passLeadsTo, writes: this.written, leadsTo: this.leadsTo };
  }

  /**
   * What is done when an event's rules have been read: the packed state is the one before with what was written, and
   * only that is put back. Nothing where it is not known what was written.
   */
  private settled(event: number): string | undefined {
    const { sheet } = this;
    for (const place of this.leadsTo) {
      const more = sheet.writtenBy(place);
      if (more === 'all') this.written = 'all';
      else for (const slot of more) this.writes(slot);
    }
    if (this.written === 'all') return undefined;
    const { words, fields, renewed, read } = sheet.at.packing;
    const own = sheet.at.won[this.bottom]!;
    const next = Array.from({ length: words }, () => [] as string[]);
    const rest = next.map(() => -1);
    const back: string[] = [];
    for (const slot of [...this.written].sort((a, b) => a - b)) {
      const field = fields[slot];
      if (field && slot !== own) {
        next[field.word]!.push(packing(`v[${slot}]`, field));
        rest[field.word]! &= others(field);
      }
      if (slot !== own && renewed[slot] === undefined && sheet.at.keptSlot(slot)) {
        back.push(`v[${slot}] = ${read(slot, (word) => `B[${word}]`)};`);
      }
      if (renewed[slot] !== undefined) back.push(`v[${slot}] = ${renewed[slot]};`);
    }
    const kept = next.map((_, word) => (rest[word] === -1 ? `B[${word}]` : `B[${word}] & ${rest[word]!}`));
    const flag = fields[own];
    if (flag && this.written.has(own)) {
      const [slot, shift] = [this.mine('won', own), this.mine('shift', flag.shift)];
      kept[flag.word] = `(${kept[flag.word]!}) & ~(1 << ${shift})`;
      next[flag.word]!.push(`v[${slot}] << ${shift}`);
      back.push(`v[${slot}] = B[${flag.word}] >>> ${shift} & 1;`);
    }
    const packed = next.map((changed, word) => `m.next[${word}] = ${[kept[word]!, ...changed].join(' | ')};`);
    const ends =
      this.leadsTo.size === 0
        ? `if (whole) { ${packed.join(' ')} X.stays(${event}); } else m.ended(${event}, false);`
        : `if (m.moved && whole) whole = m.settles();
if (!whole || m.made > 0) m.ended(${event}, whole);
else { ${packed.join(' ')} if (m.moved) X.moves(${event}); else X.stays(${event}); }`;
    return [ends, ...back, 'm.progress = -1;'].join(' ');
  }

  private writes(slot: number): void {
    if (this.written !== 'all') this.written.add(slot);
  }

  // ---- reading rules -----------------------------------------------------------------------------------------------

  /** The rules in order, until one leaves. */
  private read(rules: FittingRule[]): string {
    const happens = rules.map((rule) => `H[${this.index(rule)}] = 1;`).join(' ');
    return [happens, ...rules.map((rule) => this.readOne(rule))].join('\n');
  }

  private readOne(rule: FittingRule): string {
    const index = this.index(rule);
    const fire = `T[${index}] = 1;\n${this.fire(rule)}`;
    if (!rule.condition) return `{ ${fire} }`;
    return `if (${this.code(rule.condition)}) {\n${fire}\n} else { ${this.wasFalse(rule)} }`;
  }

  private pass(rules: FittingRule[]): string {
    const { at } = this.sheet;
    const lines = rules.map((rule, n) => {
      const index = this.index(rule);
      const slots = at.held.map((each) => each[Math.floor(n / 30)]!);
      this.writes(slots[0]!);
      const slot = this.frameSlot(slots);
      const bit = 1 << (n % 30);
      const condition = [rule.holds!, rule.condition]
        .filter((text): text is Expression => text !== undefined)
        .map((text) => this.code(text))
        .join(' && ');
      const heard = this.signals ? 'if (Q.length > 0 && m.hearAll()) return true;' : '';
      return `if (${condition}) {
T[${index}] = 1;
if ((${slot} & ${bit}) === 0) {
${slot} |= ${bit}; fired = true;
${this.fire(rule)}
${heard}
}
} else { ${slot} &= ~${bit}; ${this.wasFalse(rule)} }`;
    });
    return `() => {\nlet fired = false;\n${lines.join('\n')}\nreturn fired;\n}`;
  }

  /** Notes that a rule was false, and while it never was true the values its terms had. */
  private wasFalse(rule: FittingRule): string {
    const { sheet } = this;
    const { ruleIndex } = sheet;
    const index = this.index(rule);
    const kinds = ['variable', 'left', 'taken', 'won', 'wins'];
    const looks = [rule.condition, rule.holds]
      .flatMap((text) => (text ? [...parts(text)] : []))
      .filter(({ kind }) => kinds.includes(kind))
      .map((expression) => {
        const own = this.mine('term', termOf(sheet, ruleIndex.get(rule.id)!, expression));
        return `x = ${this.code(expression)}; if (x !== S[${own}]) m.see(${own}, S[${own}] = x);`;
      });
    return `N[${index}] = 1;${looks.length > 0 ? ` if (T[${index}] === 0) { let x; ${looks.join(' ')} }` : ''}`;
  }

  /** A rule's effects and its move; `chosen` is the level that a choice names. */
  private fire(rule: FittingRule, chosen = -1): string {
    const index = this.index(rule);
    const { go } = rule.rule;
    const lines = [
      `if (m.firings === ${mostFirings}) m.never(${index});`,
      `m.series[m.firings++] = ${index};`,
      `if (F[${index}] === 0) m.firesFirst(${index});`
    ];
    if (go && this.signals) lines.push('const waiting = Q.length;');
    (rule.rule.do ?? []).forEach((effect, n) => lines.push(this.effect(rule, effect, rule.expressions[n])));
    if (go) {
      const targets = 'else' in go && go.else ? [go, go.else] : [go];
      for (const target of targets) lines.push(this.move(rule, target, chosen));
      lines.push(`m.strands(${index});`);
    }
    return lines.filter((line) => line !== '').join('\n');
  }

  // ---- effects -----------------------------------------------------------------------------------------------------

  private effect(rule: FittingRule, effect: Effect, expression: Expression | undefined): string {
    const { flow, at } = this.sheet;
    const { document } = flow;
    if ('set' in effect) return this.assign(rule, effect.set, expression!);
    if ('reset' in effect) {
      const { slot, stale, initial, merged } = at.variables.get(effect.reset)!;
      this.writesNumber(slot, stale, merged);
      return this.put(slot, initial) + this.put(stale, 0) + (merged ? comesFrom(merged, initial) : '');
    }
    if ('raise' in effect) return `Q.push(${Object.keys(document.signals).indexOf(effect.raise)});`;
    if ('remove' in effect || 'restore' in effect) {
      const found = at.levels[this.bottom]?.pieces.get('remove' in effect ? effect.remove : effect.restore);
      if (!found || !at.keptSlot(found.slot)) return '';
      this.writes(found.slot);
      const slot = `v[${found.slot}]`;
      if ('restore' in effect) return `${slot} = ${found.count};`;
      const by = effect.by ?? 1;
      return `${slot} = ${slot} > ${by} ? ${slot} - ${by} : 0;`;
    }
    this.written = 'all';
    if ('draw' in effect) return `m.drawOrder(${Object.keys(document.orders).indexOf(effect.draw)});`;
    if ('begin' in effect) return 'm.beginRun();';
    if ('save' in effect) return at.keptSlot(at.bookLevel) ? `m.save(${effect.save === 'forward'});` : '';
    if ('forget' in effect) return 'm.forget();';
    return 'm.erase();';
  }

  private assign(rule: FittingRule, id: Id, expression: Expression): string {
    const { flow, at, naming } = this.sheet;
    const variable = flow.document.variables[id]!;
    const { slot, stale, merged } = at.variables.get(id)!;
    this.writesNumber(slot, stale, merged);
    const { code, min, max } = codeOf(expression, this.names);
    const fresh = this.put(stale, 0);
    if (!at.keptSlot(slot)) return fresh;
    if (variable.type === 'flag') return `v[${slot}] = ${code} ? 1 : 0; ${fresh}`;
    if (variable.type === 'choice') return `v[${slot}] = d[${naming.choiceVariable(id)}][${code}]; ${fresh}`;
    if (merged) return this.assignMerged(rule, variable, merged, assignmentOf(id, expression)!) + fresh;
    if (min >= variable.min && max <= variable.max) return `v[${slot}] = ${code}; ${fresh}`;
    const site = this.site(rule, id);
    const note = `if (!C[${site}]) m.clamps(${site});`;
    const plain = Number.isFinite(min) && Number.isFinite(max) ? 'x' : 'Number(x)';
    return `{ const x = ${code};
if (x < ${number(variable.min)}) { v[${slot}] = ${variable.min}; ${note} }
else if (x > ${number(variable.max)}) { v[${slot}] = ${variable.max}; ${note} }
else v[${slot}] = ${plain}; ${fresh} }`;
  }

  private writesNumber(slot: number, stale: number, merged: MergedSlot | undefined): void {
    for (const each of merged ? [slot, stale, merged.source, merged.added] : [slot, stale]) this.writes(each);
  }

  /** A number of which high values are one: beside it is noted what it came from. */
  private assignMerged(rule: FittingRule, { min, max }: NumberVariable, merged: MergedSlot, assignment: Assignment): string {
    const { at } = this.sheet;
    const { slot, top, added } = merged;
    const site = this.site(rule, merged.variable);
    if ('to' in assignment) {
      const value = Math.min(Math.max(assignment.to, min), max);
      const note = value === assignment.to ? '' : `if (!C[${site}]) m.clamps(${site});`;
      return `v[${slot}] = ${Math.min(value, top)}; ${comesFrom(merged, value)} ${note} `;
    }
    const { add } = assignment;
    return `v[${added}] += ${add};
if (v[${slot}] === ${top}) { if (!C[${site}]) m.grows(${site}, ${at.merged.indexOf(merged)}); }
else {
if (v[${slot}] + ${add} > ${max} && !C[${site}]) m.clamps(${site});
v[${slot}] = v[${slot}] + ${add} < ${number(top)} ? v[${slot}] + ${add} : ${top};
} `;
  }

  private site(rule: FittingRule, variable: Id): string {
    return this.mine('site', this.sheet.sites.push({ rule: rule.id, variable }) - 1);
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  /** Goes to a target and ends the reading, where it resolves. */
  private move(rule: FittingRule, target: Target, chosen: number): string {
    const { flow, at } = this.sheet;
    const { document } = flow;
    if (targetMisfit(document, target, '')) return '';
    const index = this.index(rule);
    const leave = (afresh: boolean, to: string | undefined, go: string) => `${this.leaving(rule, afresh, to)}${go} ${this.leave}`;
    const afresh = (to: string, order: number | string = -1, position = '-1', saved = 0, back = false) =>
      leave(true, to, `m.enter(${to}, ${order}, ${position}, ${saved}, ${back}, ${index});`);
    if ('place' in target) {
      const number = at.placeIndex.get(target.place)!;
      if (target.over) this.written = 'all';
      else this.leadsTo.add(number);
      const to = this.mine('place', number);
      return target.over
        ? `if (${this.depth} < ${mostFrames}) { ${leave(false, undefined, `m.open(${to});`)} }`
        : `{ ${afresh(to)} }`;
    }
    switch (target.move) {
      case 'back':
        this.written = 'all';
        return `if (${this.depth} > 1) { ${leave(false, undefined, 'm.back();')} }`;
      case 'again':
        this.leadsTo.add(anyLevel);
        return `if (v[${at.latest}] !== 0) { ${afresh(`v[${at.latest}] - 1`, -1, '-1', 0, true)} }`;
      case 'resume':
      case 'load': {
        const saved = target.move === 'load' ? 2 : 1;
        if (saved === 2) this.written = 'all';
        this.leadsTo.add(anyLevel);
        return `if (v[${at.bookLevel}] !== 0) { ${afresh(`v[${at.bookLevel}] - 1`, -1, '-1', saved, true)} }`;
      }
      case 'chosen': {
        if (chosen < 0) return '';
        this.leadsTo.add(chosen);
        return `{ ${afresh(this.mine('place', chosen), Object.keys(document.orders).indexOf((rule.rule.when as { choose: Id }).choose))} }`;
      }
      default: {
        const orders = Object.keys(document.orders);
        if (orders.length === 0) return '';
        this.leadsTo.add(anyLevel);
        const order = target.order === undefined ? -1 : orders.indexOf(target.order);
        const step = ['next', 'previous', 'first', 'last'].indexOf(target.move);
        return `if (m.along(${step}, ${order})) { ${afresh('m.to', 'm.order', 'm.position')} }`;
      }
    }
  }

  /** What a move means for the attempt, before it is made. `to` is where a move that enters afresh goes. */
  private leaving({ rule }: FittingRule, afresh: boolean, to: string | undefined): string {
    const { flow, at } = this.sheet;
    const lines: string[] = [];
    if (this.signals) lines.push('if (waiting > 0) Q.splice(0, waiting);');
    const level = flow.document.places[at.placeIds[this.bottom]!]!;
    if (level.kind === 'level') {
      const here = this.mine('place', this.bottom);
      const leaves = afresh ? `${to} !== ${here}` : 'false';
      const completes = level.goal === 'leave' ? leaves : String(rule.result === 'won');
      const ends = rule.result ? 'true' : leaves;
      const told = `if (${completes}) m.completes(${here}); if (${ends}) m.ends();`;
      lines.push(this.upper || this.place !== this.bottom ? `if (${this.depth} === 1) { ${told} }` : told);
    }
    if (rule.result === 'won' && at.keptSlot(at.won[this.bottom]!)) {
      this.writes(at.won[this.bottom]!);
      lines.push(`v[${this.mine('won', at.won[this.bottom]!)}] = 1;`);
    }
    if (rule.result) lines.push(this.put(at.over, 1));
    return lines.join(' ');
  }

  private enter(): string {
    const { at } = this.sheet;
    const lines: string[] = [];
    if (at.keptSlot(at.depth)) lines.push(`if (${this.depth} > 1) m.dropUpper();`);
    this.writes(at.place[0]!);
    lines.push(
      `v[${at.place[0]!}] = ${this.mine('place', this.place)};`,
      this.put(at.phase[0]!, 0),
      ...at.held[0]!.map((slot) => this.put(slot, 0))
    );
    lines.push(this.put(at.over, 0));
    const level = at.levels[this.place];
    const counts = new Map(level?.here.map(({ slot, count }) => [slot, count]));
    for (const slot of at.here) lines.push(this.put(slot, counts.get(slot) ?? 0));
    if (at.keptSlot(at.bookLevel)) lines.push('if (saved === 2) m.bringBack();');
    if (!level) {
      if (at.marksStale[this.place]) {
        for (const { slot, stale, initial } of at.run) {
          if (!at.keptSlot(stale)) continue;
          this.writes(stale);
          lines.push(`if (v[${slot}] !== ${initial}) v[${stale}] = 1;`);
        }
      }
      return lines.join('\n');
    }
    const initial = at.attempt.map(({ slot, initial: value }) => this.put(slot, value)).join(' ');
    for (const { slot } of [...at.attempt, ...level.attemptPieces]) this.writes(slot);
    const copies = [...at.attempt, ...level.attemptPieces].map(({ slot, saved }) => `v[${slot}] = v[${saved}];`).join(' ');
    lines.push(at.keptSlot(at.bookLevel) ? `if (saved !== 0) { ${copies} } else { ${initial} }` : initial);
    for (const slot of [at.latest, at.current]) this.writes(slot);
    if (at.keptSlot(at.latest)) lines.push(`v[${at.latest}] = ${this.mine('place', this.place)} + 1;`);
    if (at.keptSlot(at.current)) lines.push(`if (o >= 0) v[${at.current}] = o + 1;`);
    for (const order of at.walked) lines.push(this.standIn(order));
    return lines.join('\n');
  }

  /** In every order whose row holds the level the position moves to it, and it is taken out of every bag. */
  private standIn(order: number): string {
    const { at } = this.sheet;
    const { bag, row, first, position } = at.orders[order]!;
    if (bag) {
      const taken = bag.slots[bag.levels.indexOf(this.place)];
      if (taken !== undefined) this.writes(taken);
      return taken === undefined || !at.keptSlot(taken) ? '' : `v[${this.mine('taken', taken)}] = 0;`;
    }
    if (!first.some((places) => places[this.place]! >= 0)) return '';
    this.writes(position);
    // a fixed order lists no level twice
    if (row >= 0) return `m.standIn(${order}, ${this.mine('place', this.place)}, o, p);`;
    return at.keptSlot(position) ? `v[${position}] = ${this.mine('position', first[0]![this.place]!)};` : '';
  }

  // ---- small things ------------------------------------------------------------------------------------------------

  /** Nothing reads what is not kept before it is set again: it need not be set. */
  private put(slot: number, value: number): string {
    this.writes(slot);
    return this.sheet.at.keptSlot(slot) ? `v[${slot}] = ${value};` : '';
  }

  /** The slot of this place's frame. */
  private frameSlot(slots: number[]): string {
    if (!this.upper) return `v[${slots[0]!}]`;
    return `v[[${slots.map((slot) => slot ?? 0).join()}][${this.depth} - 1]]`;
  }

  private code(text: Expression): string {
    return codeOf(text, this.names).code;
  }

  private index({ id }: FittingRule): string {
    return this.mine('rule', this.sheet.ruleIndex.get(id)!);
  }

  /** The name of a number that is this place's own; two kinds never share a name, so that the text depends on none. */
  private mine(kind: string, value: number): string {
    const key = `${kind} ${value}`;
    let name = this.owned.get(key);
    if (!name) this.owned.set(key, (name = `k${this.own.push(value) - 1}`));
    return name;
  }
}

/** The number of a rule's term; the same one wherever the rule applies. */
function termOf({ terms, termNumbers }: Sheet, rule: number, expression: Expression): number {
  const term = print(expression);
  const key = `${rule} ${term}`;
  let known = termNumbers.get(key);
  if (known === undefined) termNumbers.set(key, (known = terms.push({ rule, term, expression }) - 1));
  return known;
}

/** A number of which high values are one is set to a value, whatever it was. */
const comesFrom = ({ source, added }: MergedSlot, value: number) => `v[${source}] = -1; v[${added}] = ${value};`;

const block = (lines: string) => `() => {\n${lines}\nreturn false;\n}`;

function progressOf(piece: Piece, level: Level): number {
  return piece.progress ?? level.progress ?? 0;
}
