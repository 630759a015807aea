/**
 * The code of rules read in a place over a bottom place, as text that holds numbers alone: conditions, effects, and what
 * is noted of them. The text names: `v` the slots, `X` who is told of the ends of events, `m` the machine, `O` moves along
 * orders, `Q` the signals waiting; by rule `H` its trigger happened, `T` it was true, `N` it was false, `F` it is known to
 * have fired; by place `D` it is known to be completed, `E` to be entered; `C` by assignment it is known to be clamped; `S`
 * the last value of each term of a condition. What is this place's own (which rules, which place) stands as `k0`, `k1` and so on, so that
 * levels built alike share their code.
 */
import type { Act, Effect, EffectKind, Id, MoveTarget, MoveWord, Target, Variable, With } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Applying } from '../../play/flow.ts';
import { effectKind } from '../../vocabulary/effects.ts';
import { codeOf, type Names } from './expressions.ts';
import { assignmentOf, type Assignment } from './merging.ts';
import { placeNumber, positionIn, ruleNumber, siteNumber, takenSlot, termNumber, termsOf, type Own, type Self } from './own.ts';
import type { MergedSlot, Layout } from './layout.ts';
import type { Sheet } from './sheet.ts';

type NumberVariable = Extract<Variable, { type: 'number' }>;

/** The steps along an order by their numbers, as `Orders.along` takes them. */
const steps: MoveWord[] = ['next', 'previous', 'first', 'last'];

type EffectCode<E> = (effect: E, rule: FittingRule, expression: Expression | undefined) => string;

const number = (value: number) => (value < 0 ? `(${value})` : String(value));

export abstract class RuleCode {
  /** The other places of which the text holds something. */
  readonly stood = new Set<number>();
  protected names!: Names;
  protected place!: number;
  protected bottom!: number;

  constructor(
    protected readonly sheet: Sheet,
    readonly own: Own,
    protected readonly self: Self,
    bottom: number
  ) {
    this.stand(self.place, bottom);
  }

  /** Which rules are written from now on: those of a place over a bottom place. */
  protected stand(place: number, bottom: number): void {
    this.place = place;
    this.bottom = bottom;
    if (place !== this.self.place) this.stood.add(place);
    this.names = this.sheet.naming.over(bottom);
  }

  protected get applying(): Applying {
    const { at, flow } = this.sheet;
    return flow.applying(at.placeIds[this.place]!, at.placeIds[this.bottom]!);
  }

  /** Goes to a target and ends the reading, where it resolves. */
  protected abstract move(rule: FittingRule, target: Target, chosen: number): string;
  /** What is noted of a rule that fires. */
  protected abstract notes(index: string): string;
  /** What is done with signals, when a move may follow, and when a rule of a pass has fired. */
  protected abstract heard(): { before: string; after: string };
  /** What is noted in a pass when a rule fires. */
  protected abstract firesInPass(): string;
  /** The code of the slot of this place's frame. */
  abstract frameSlot(slots: number[]): string;
  /** The progress that a save takes. */
  protected abstract progress(): string;
  /** A slot is written in the text that is being made. */
  protected abstract writes(slot: number): void;

  // ---- reading -----------------------------------------------------------------------------------------------------

  /** The rules in order, until one leaves. */
  protected read(rules: FittingRule[]): string {
    const happens = rules.map((rule) => `H[${this.index(rule)}] = 1;`).join(' ');
    return [happens, ...rules.map((rule) => this.readOne(rule))].join('\n');
  }

  private readOne(rule: FittingRule): string {
    const fire = this.fire(rule);
    if (!rule.condition) return `{ ${fire} }`;
    return `if (${this.code(rule.condition)}) {\n${fire}\n} else { ${this.wasFalse(rule)} }`;
  }

  /** Whether a level is offered by a choice, which is noted. */
  offered(rule: FittingRule, candidate: Names['candidate']): string {
    const index = this.index(rule);
    const condition = rule.condition ? codeOf(rule.condition, { ...this.names, candidate }).code : 'true';
    return `(H[${index}] = 1, ${condition} ? (T[${index}] = 1, true) : (N[${index}] = 1, false))`;
  }

  /** One pass over the `holds` rules. */
  protected passing(rules: FittingRule[]): string {
    const { at } = this.sheet;
    const lines = rules.map((rule, n) => {
      const slots = at.held.map((each) => each[Math.floor(n / 30)]!);
      this.writes(slots[0]!);
      const slot = this.frameSlot(slots);
      const bit = 1 << (n % 30);
      const condition = [rule.holds!, rule.condition]
        .filter((text): text is Expression => text !== undefined)
        .map((text) => this.code(text))
        .join(' && ');
      return `if (${condition}) {
if ((${slot} & ${bit}) === 0) {
${slot} |= ${bit}; ${this.firesInPass()}
${this.fire(rule)}
${this.heard().after}
}
} else { ${slot} &= ~${bit}; ${this.wasFalse(rule)} }`;
    });
    return lines.join('\n');
  }

  /** Notes that a rule was false, and while it never was true the values its terms had. */
  private wasFalse(rule: FittingRule): string {
    const index = this.index(rule);
    const looks = new Set(
      termsOf(rule).map((expression, n) => {
        const term = this.ofRule('term', rule, termNumber(n));
        return `x = ${this.code(expression)}; if (x !== S[${term}]) m.see(${term}, S[${term}] = x);`;
      })
    );
    return `N[${index}] = 1;${looks.size > 0 ? ` if (T[${index}] === 0) { let x; ${[...looks].join(' ')} }` : ''}`;
  }

  /** A rule's effects and its move; `chosen` is the level that a choice names. */
  protected fire(rule: FittingRule, chosen = -1): string {
    const index = this.index(rule);
    const { go } = rule.rule;
    const lines = [this.notes(index), `if (F[${index}] === 0) { T[${index}] = 1; m.firesFirst(${index}); }`];
    if (go) lines.push(this.heard().before);
    (rule.rule.do ?? []).forEach((effect, n) => lines.push(this.effect(rule, effect, rule.expressions[n])));
    if (go) {
      const targets = 'else' in go && go.else ? [go, go.else] : [go];
      for (const target of targets) lines.push(this.move(rule, target, chosen));
      lines.push(`m.strands(${index});`);
    }
    return lines.filter((line) => line !== '').join('\n');
  }

  // ---- effects -----------------------------------------------------------------------------------------------------

  protected effect(rule: FittingRule, effect: Effect, expression: Expression | undefined): string {
    return (this.effects[effectKind(effect)] as EffectCode<Effect>)(effect, rule, expression);
  }

  private readonly effects: { [K in EffectKind]: EffectCode<With<Act, K>> } = {
    set: ({ set }, rule, expression) => this.assign(rule, set, expression!),
    reset: ({ reset }) => {
      const { slot, stale, initial, merged } = this.sheet.at.variables.get(reset)!;
      this.writesNumber(slot, stale, merged);
      return this.put(slot, initial) + this.put(stale, 0) + (merged ? comesFrom(merged, initial) : '');
    },
    raise: ({ raise }) => `Q.push(${Object.keys(this.sheet.flow.document.signals).indexOf(raise)});`,
    remove: ({ remove, by = 1 }) => this.changeLeft(remove, (slot) => `${slot} = ${slot} > ${by} ? ${slot} - ${by} : 0;`),
    restore: ({ restore }) => this.changeLeft(restore, (slot, count) => `${slot} = ${count};`),
    draw: ({ draw }) => `O.draw(${Object.keys(this.sheet.flow.document.orders).indexOf(draw)});`,
    begin: () => this.beginRun(),
    save: ({ save }) => this.save(save === 'forward'),
    forget: () => this.forget(),
    erase: () => this.erase()
  };

  /** Changes how many of a piece are left; nothing where the bottom level has none, or it is not kept. */
  private changeLeft(piece: Id, change: (slot: string, count: number) => string): string {
    const { at } = this.sheet;
    const found = at.levels[this.bottom]?.pieces.get(piece);
    if (!found || !at.keptSlot(found.slot)) return '';
    this.writes(found.slot);
    return change(`v[${found.slot}]`, found.count);
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
    // whatever it is: it stays within its range
    if (add === 0) return '';
    return `v[${added}] += ${add};
if (v[${slot}] === ${top}) { if (!C[${site}]) m.grows(${site}, ${at.merged.indexOf(merged)}); }
else {
if (v[${slot}] + ${add} > ${max} && !C[${site}]) m.clamps(${site});
v[${slot}] = v[${slot}] + ${add} < ${number(top)} ? v[${slot}] + ${add} : ${top};
} `;
  }

  private site(rule: FittingRule, variable: Id): string {
    return this.ofRule('site', rule, siteNumber(variable));
  }

  private beginRun(): string {
    const { at } = this.sheet;
    const lines = at.run.flatMap(({ slot, stale, initial }) => [this.put(slot, initial), this.put(stale, 0)]);
    for (const { slot, count } of at.runPieces) lines.push(this.put(slot, count));
    for (const { row, position, bag } of at.orders) {
      if (row >= 0) lines.push(this.put(row, -1));
      lines.push(this.put(position, -1));
      for (const slot of bag?.slots ?? []) lines.push(this.put(slot, 0));
    }
    lines.push(this.put(at.current, 0));
    if (at.keptSlot(at.bookThisRun)) lines.push(`if (v[${at.bookLevel}] !== 0) { ${this.put(at.bookThisRun, 0)} }`);
    return lines.join('');
  }

  private forget(): string {
    const { at } = this.sheet;
    return at.book.map((slot) => this.put(slot, at.initial[slot]!)).join('');
  }

  private erase(): string {
    const { at } = this.sheet;
    const lines = [...at.won.map((slot) => this.put(slot, 0)), this.forget()];
    if (at.keptSlot(at.latest)) {
      const here = at.levels[this.bottom] ? `v[${at.latest}] !== ${this.placed(this.bottom)} + 1` : 'true';
      lines.push(`if (${here}) { ${this.put(at.latest, 0)} }`);
    }
    for (const { slot, initial } of at.kept) lines.push(this.put(slot, initial));
    for (const { slot, count } of at.keptPieces) lines.push(this.put(slot, count));
    return lines.join('') + this.beginRun();
  }

  private save(forward: boolean): string {
    const { at } = this.sheet;
    const level = at.levels[this.bottom];
    if (!level || !at.keptSlot(at.bookLevel)) return '';
    const kept = at.keptSlot(at.bookProgress);
    const progress = kept ? this.progress() : '0';
    this.writes(at.bookLevel);
    const copies = [
      ...at.attempt.map(({ slot, saved }) => [saved, slot]),
      ...level.attemptPieces.map(({ slot, saved }) => [saved, slot]),
      ...at.savedRun.map(([slot, saved]) => [saved, slot])
    ];
    const lines = [this.forget(), `v[${at.bookLevel}] = ${this.placed(this.bottom)} + 1;`];
    if (kept) {
      this.writes(at.bookProgress);
      lines.push(`v[${at.bookProgress}] = ${progress};`, this.put(at.bookThisRun, 1));
    }
    for (const [to, from] of copies) lines.push(this.copy(to!, from!));
    const already = `v[${at.bookLevel}] !== 0 && v[${at.bookThisRun}] === 1 && v[${at.bookProgress}] >= ${progress}`;
    return forward ? `if (!(${already})) { ${lines.join('')} }` : lines.join('');
  }

  /** A move along an order as numbers: which step it is, and along which order (-1: the current one); none without orders. */
  protected along({ move, order }: MoveTarget): { step: number; order: number } | undefined {
    const orders = Object.keys(this.sheet.flow.document.orders);
    if (orders.length === 0) return undefined;
    const only = orders.length === 1 ? 0 : -1;
    return { step: steps.indexOf(move), order: order === undefined ? only : orders.indexOf(order) };
  }

  // ---- small things ------------------------------------------------------------------------------------------------

  protected copy(to: number, from: number): string {
    this.writes(to);
    return this.sheet.at.keptSlot(to) ? `v[${to}] = v[${from}];` : '';
  }

  /** Nothing reads what is not kept before it is set again: it need not be set. */
  protected put(slot: number, value: number): string {
    this.writes(slot);
    return this.sheet.at.keptSlot(slot) ? `v[${slot}] = ${value};` : '';
  }

  protected code(text: Expression): string {
    return codeOf(text, this.names).code;
  }

  protected index(rule: FittingRule): string {
    return this.ofRule('rule', rule, (sheet, { id }) => sheet.ruleIndex.get(id)!);
  }

  /** The name of a number of a rule's. */
  private ofRule(kind: string, rule: FittingRule, of: (sheet: Sheet, rule: FittingRule) => number): string {
    return this.own.named(`${kind} ${of(this.sheet, rule)}`, ruleNumber(rule.id, this.self.rules.indexOf(rule), of));
  }

  /** The name of a number of a place's. */
  protected ofPlace(kind: string, place: number, of: (at: Layout, place: number) => number): string {
    return this.own.named(`${kind} ${of(this.sheet.at, place)}`, placeNumber(place === this.self.place ? -1 : place, of));
  }

  protected placed(place: number): string {
    return this.ofPlace('place', place, (_, number) => number);
  }

  // ---- being entered -----------------------------------------------------------------------------------------------

  /** The place, as the only one on the stack. A move along an order (-1: none) gives a position in its row. */
  protected entering(order: string, position: string, saved: 0 | 1 | 'saved'): string {
    const { at } = this.sheet;
    const here = this.placed(this.place);
    this.writes(at.place[0]!);
    const lines = [`v[${at.place[0]!}] = ${here};`, this.put(at.phase[0]!, 0)];
    for (const slot of at.held[0]!) lines.push(this.put(slot, 0));
    lines.push(this.put(at.over, 0));
    const level = at.levels[this.place];
    const counts = new Map(level?.here.map(({ slot, count }) => [slot, count]));
    for (const slot of at.here) lines.push(this.put(slot, counts.get(slot) ?? 0));
    if (saved === 'saved' && at.keptSlot(at.bookLevel)) lines.push(`if (saved === 2) { ${this.bringBack()} }`);
    if (!level) {
      if (at.marksStale[this.place]) {
        for (const { slot, stale, initial } of at.run) {
          if (at.keptSlot(stale)) lines.push(`if (v[${slot}] !== ${initial}) { ${this.put(stale, 1)} }`);
        }
      }
      return lines.join('\n');
    }
    const initial = at.attempt.map(({ slot, initial: value }) => this.put(slot, value)).join(' ');
    if (saved === 0 || !at.keptSlot(at.bookLevel)) lines.push(initial);
    else {
      const copies = [...at.attempt, ...level.attemptPieces].map(({ slot, saved: copy }) => this.copy(slot, copy)).join(' ');
      lines.push(saved === 'saved' ? `if (saved !== 0) { ${copies} } else { ${initial} }` : copies);
    }
    for (const slot of [at.latest, at.current]) this.writes(slot);
    if (at.keptSlot(at.latest)) lines.push(`v[${at.latest}] = ${here} + 1;`);
    if (at.keptSlot(at.current)) lines.push(`if (${order} >= 0) v[${at.current}] = ${order} + 1;`);
    for (const each of at.walked) lines.push(this.standIn(each, order, position));
    return lines.join('\n');
  }

  /** What `load` brings back, besides the level. */
  private bringBack(): string {
    const { at } = this.sheet;
    const lines = at.savedRun.map(([slot, saved]) => this.copy(slot, saved));
    for (const { stale } of at.run) lines.push(this.put(stale, 0));
    if (at.keptSlot(at.bookThisRun)) lines.push(this.put(at.bookThisRun, 1));
    return lines.join('');
  }

  /** In every order whose row holds the level the position moves to it, and it is taken out of every bag. */
  private standIn(order: number, by: string, to: string): string {
    const { at } = this.sheet;
    const { bag, row, first, position } = at.orders[order]!;
    if (bag) {
      const slot = bag.slots[bag.levels.indexOf(this.place)];
      if (slot === undefined || !at.keptSlot(slot)) return '';
      return `${this.ownSlot('taken', this.place, takenSlot(order))} = 0;`;
    }
    if (!first.some((places) => places[this.place]! >= 0)) return '';
    this.writes(position);
    // a fixed order lists no level twice
    if (row >= 0) {
      const stands = [order, this.placed(this.place), by, to, `v[${row}]`, `v[${position}]`].join();
      return `v[${position}] = O.standsAt(${stands});`;
    }
    if (!at.keptSlot(position)) return '';
    return `v[${position}] = ${this.ofPlace('position', this.place, positionIn(order))};`;
  }

  /** A slot that is this place's own. */
  protected abstract ownSlot(kind: string, place: number, of: (at: Layout, place: number) => number): string;
}

/** A number of which high values are one is set to a value, whatever it was. */
const comesFrom = ({ source, added }: MergedSlot, value: number) => `v[${source}] = -1; v[${added}] = ${value};`;
