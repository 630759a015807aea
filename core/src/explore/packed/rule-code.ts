/**
 * The code of rules read in a place over a bottom place, of numbers alone: conditions, effects, and what is noted of them.
 * What it is given: `slots`; the words of the state `base` that events are run from and of the `next` one; the `watcher`, who
 * is told of the ends of events, and the `witness`, who is of what is seen first; the `machine`; moves along `orders`; the `queue` of signals; by choice variable the numbers
 * of its `choices`, and their `indexes`. By rule it notes that its trigger `happened`, that it `wasTrue`, `wasFalse`, is known
 * to have `fired`; by place, that it is known to be `completed`, `entered` and `passed`; by assignment, that it is known to be
 * `clamped`; and the last value of each of the `terms` of conditions. What is this place's own (which rules, which place) are
 * its `own` numbers, so that levels built alike share their code.
 */
import type { Act, Effect, EffectKind, Id, MoveTarget, MoveWord, Target, Variable, With } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import type { Asking, FittingPassage, FittingRule } from '../../play/fit.ts';
import type { Applying } from '../../play/flow.ts';
import { by } from '../facts.ts';
import { effectKind } from '../../vocabulary/effects.ts';
import { codeOf, type Names } from './expressions.ts';
import { isHere } from './names.ts';
import { js, joined, lines, set, slot as slotOf, type Code } from './instructions.ts';
import { assignmentOf, type Assignment } from './merging.ts';
import {
  objectiveNumber,
  placeNumber,
  positionIn,
  ruleNumber,
  siteNumber,
  takenSlot,
  termNumber,
  termsOf,
  type Own,
  type Self
} from './own.ts';
import type { MergedSlot, Layout } from './layout.ts';
import type { Checkpoint, Happening } from './happenings.ts';
import type { PieceSlots } from './piece-slots.ts';
import type { Sheet } from './sheet.ts';

type NumberVariable = Extract<Variable, { type: 'number' }>;

/** The steps along an order by their numbers, as `Orders.along` takes them. */
const steps: MoveWord[] = ['next', 'previous', 'first', 'last'];

type EffectCode<E> = (effect: E, rule: FittingRule, expression: Expression | undefined) => Code;

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
  protected abstract move(rule: FittingRule, target: Target, chosen: number): Code;
  /** What is noted of a rule that fires. */
  protected abstract notes(index: Code): Code;
  /** What is done with signals, when a move may follow, and when a rule of a pass has fired. */
  protected abstract heard(): { before: Code; after: Code };
  /** What is noted in a pass when a rule fires. */
  protected abstract firesInPass(): Code;
  /** The code of the slot of this place's frame. */
  abstract frameSlot(slots: number[]): Code;
  /** The progress that a save takes, and the spot at which its entry arrives, where that is not the usual one. */
  protected abstract progress(): Code;
  protected abstract checkpointSpot(usual: Code): Code;
  /** A checkpoint is touched. */
  protected abstract touches(checkpoint: Checkpoint): Code;
  /** A slot is written in the text that is being made. */
  protected abstract writes(slot: number): void;

  // ---- reading -----------------------------------------------------------------------------------------------------

  /** The rules in order, until one leaves. */
  protected read(rules: FittingRule[]): Code {
    const happens = rules.map((rule) => js`happened[${this.index(rule)}] = 1; `);
    return lines([happens, ...rules.map((rule) => this.readOne(rule))]);
  }

  /** What an event changes before any rule is read. */
  protected begins({ lowers, raises, walks }: Happening): Code {
    if (lowers !== undefined) {
      this.writes(lowers);
      return js`${slotOf(lowers)}--;`;
    }
    if (raises !== undefined) {
      this.writes(raises);
      return js`const past = ${this.frameSlot(this.sheet.at.phase)}++;`;
    }
    if (!walks) return '';
    const { spot, firstSpot } = this.sheet.at;
    const { passage, from, to } = walks;
    this.writes(spot);
    const number = [...this.sheet.flow.passages.keys()].indexOf(passage.id);
    const stood = js`${firstSpot[this.place]!} + ${slotOf(spot)}`;
    return [
      passage.passage.both ? js`${slotOf(spot)} = ${slotOf(spot)} === ${from} ? ${to} : ${from};` : set(spot, to),
      js`if (walked[${number}] === 0) witness.walks(${number}); if (stood[${stood}] === 0) witness.stands(${stood});`
    ];
  }

  /** Rules that an event reads, where it does. */
  protected readsWhere({ matching, deadline, used, touches, reached }: Happening['rules'][number]): Code {
    if (touches) {
      const { number, left, checkpoint } = touches;
      const noted = js`if (touchedOnWay[${number}] === 0) witness.touchesOnWay(${number});`;
      return js`if (${left}) { ${noted} ${checkpoint ? this.touches(checkpoint) : ''}\n${this.read(matching)}\n}`;
    }
    const read = this.read(matching);
    if (deadline !== undefined) return js`if (past === ${deadline}) {\n${read}\n}`;
    if (used !== undefined) return js`if (used === ${used}) {\n${read}\n}`;
    return reached === undefined ? read : js`if (${slotOf(this.sheet.at.spot)} === ${reached}) {\n${read}\n}`;
  }

  private readOne(rule: FittingRule): Code {
    const fire = this.fire(rule);
    if (!rule.condition) return js`{ ${fire} }`;
    return js`if (${this.code(rule.condition)}) {\n${fire}\n} else { ${this.wasFalse(rule)} }`;
  }

  /** Whether a level is offered by a choice, which is noted. */
  offered(rule: FittingRule, candidate: Names['candidate']): Code {
    const index = this.index(rule);
    const condition = rule.condition ? codeOf(rule.condition, { ...this.names, candidate }).code : true;
    return js`(happened[${index}] = 1, ${condition} ? (wasTrue[${index}] = 1, true) : (wasFalse[${index}] = 1, false))`;
  }

  /** Whether a passage that begins here is open, which is noted. */
  passable(passage: FittingPassage): Code {
    const index = this.index(passage);
    const { condition } = passage;
    const isOpen = js`(happened[${index}] = 1, wasTrue[${index}] = 1, true)`;
    if (!condition) return isOpen;
    return js`(${this.code(condition)} ? ${isOpen} : (() => { happened[${index}] = 1; ${this.wasFalse(passage)} return false; })())`;
  }

  /** One pass over the `holds` rules. */
  protected passing(rules: FittingRule[]): Code {
    const { at } = this.sheet;
    const read = rules.map((rule, n) => {
      const slots = at.held.map((each) => each[Math.floor(n / 30)]!);
      this.writes(slots[0]!);
      const slot = this.frameSlot(slots);
      const bit = 1 << (n % 30);
      const conditions = [rule.holds!, rule.condition].filter((text): text is Expression => text !== undefined);
      const condition = joined(
        conditions.map((text) => this.code(text)),
        ' && '
      );
      return js`if (${condition}) {
if ((${slot} & ${bit}) === 0) {
${slot} |= ${bit}; ${this.firesInPass()}
${this.fire(rule)}
${this.heard().after}
}
} else { ${slot} &= ~${bit}; ${this.wasFalse(rule)} }`;
    });
    return lines(read);
  }

  /** Notes that a rule was false, and while it never was true the values its terms had. */
  private wasFalse(rule: Asking): Code {
    const index = this.index(rule);
    const looks = new Map<Code, Code>();
    termsOf(rule).forEach((expression, n) => {
      const term = this.ofRule('term', rule, termNumber(n));
      looks.set(term, js`x = ${this.code(expression)}; if (x !== terms[${term}]) witness.sees(${term}, terms[${term}] = x);`);
    });
    const notes = js`wasFalse[${index}] = 1;`;
    return looks.size === 0 ? notes : js`${notes} if (wasTrue[${index}] === 0) { let x; ${joined([...looks.values()], ' ')} }`;
  }

  /** A rule's effects and its move; `chosen` is the level that a choice names. */
  protected fire(rule: FittingRule, chosen = -1): Code {
    const index = this.index(rule);
    const { go } = rule.rule;
    const fired = [this.notes(index), js`if (fired[${index}] === 0) { wasTrue[${index}] = 1; witness.fires(${index}); }`];
    if (go) fired.push(this.heard().before);
    (rule.rule.do ?? []).forEach((effect, n) => fired.push(this.effect(rule, effect, rule.expressions[n])));
    if (go) {
      const targets = 'else' in go && go.else ? [go, go.else] : [go];
      for (const target of targets) fired.push(this.move(rule, target, chosen));
      fired.push(js`witness.stranded(${index});`);
    }
    return lines(fired);
  }

  // ---- effects -----------------------------------------------------------------------------------------------------

  protected effect(rule: FittingRule, effect: Effect, expression: Expression | undefined): Code {
    return (this.effects[effectKind(effect)] as EffectCode<Effect>)(effect, rule, expression);
  }

  private readonly effects: { [K in EffectKind]: EffectCode<With<Act, K>> } = {
    set: ({ set }, rule, expression) => this.assign(rule, set, expression!),
    reset: ({ reset }) => {
      const { slot, stale, initial, merged } = this.sheet.at.variables.get(reset)!;
      this.writesNumber(slot, stale, merged);
      return [this.put(slot, initial), this.put(stale, 0), merged ? comesFrom(merged, initial) : ''];
    },
    raise: ({ raise }) => js`queue.push(${this.sheet.heard.indexOf(`hear ${raise}`)});`,
    remove: ({ remove, by = 1 }) =>
      this.changeLeft(remove, (heaps) => [
        this.removes(remove, heaps),
        heaps.length === 1
          ? set(heaps[0]!.slot, js`${slotOf(heaps[0]!.slot)} > ${by} ? ${slotOf(heaps[0]!.slot)} - ${by} : 0`)
          : js`for (let n = 0; n < ${by}; n++) { ${this.takesOne(heaps)} }`
      ]),
    restore: ({ restore }) => this.changeLeft(restore, (heaps) => heaps.map(({ slot, count }) => set(slot, count))),
    defeat: ({ defeat }) => {
      const heard = js`queue.push(${this.sheet.heard.indexOf(`defeat ${defeat}`)});`;
      return this.changeLeft(defeat, (heaps) => js`if (${someLeft(heaps)}) { ${this.takesOne(heaps)} ${heard} }`);
    },
    draw: ({ draw }) => js`orders.draw(${Object.keys(this.sheet.flow.document.orders).indexOf(draw)});`,
    begin: () => [this.undoes(by.run), this.beginRun()],
    save: ({ save }) => this.save(save === 'forward'),
    slot: ({ slot }, rule) => [
      js`if (${slotOf(this.sheet.at.picked)} === 0) witness.unpicked(${this.index(rule)});\n`,
      this.onSlot[slot]()
    ],
    forget: () => this.forget(),
    erase: () => [this.undoes(by.run | by.all), this.erase()]
  };

  /** What is noted where a new run begins, or all is erased: nothing that was left behind is come back to by that. */
  private undoes(how: number): Code {
    return this.sheet.leavesBehind ? js`machine.undone |= ${how};` : '';
  }

  /** What is noted before a piece is removed of which a rule that wins asks how many there are. */
  private removes(piece: Id, heaps: PieceSlots['heaps']): Code {
    const { flow, at, removable } = this.sheet;
    const number = removable.indexOf(piece);
    const level = flow.document.places[at.placeIds[this.bottom]!]!;
    if (number < 0 || level.kind !== 'level' || level.pieces[piece]!.kind !== 'pickup') return '';
    return js`if (${someLeft(heaps)}) machine.removed.add(${number});`;
  }

  /** What is noted when a rule wins the level at the bottom, before the win counts: which of its objectives are met. */
  protected judges(rule: FittingRule): Code {
    if (rule.rule.result !== 'won') return '';
    const { flow, objectives } = this.sheet;
    return objectives[this.bottom]!.map((number, n) => {
      const own = objectiveNumber(this.bottom === this.self.place ? -1 : this.bottom, n);
      const [objective, met] = [this.own.number(`objective ${number}`, own), this.code(flow.objectives[number]!.condition)];
      return js`witness.judges(${objective}, ${this.index(rule)}, ${met}); `;
    });
  }

  /** Changes how many of a piece are left; nothing where the bottom level has none, or it is not kept. */
  private changeLeft(piece: Id, change: (heaps: PieceSlots['heaps']) => Code): Code {
    const { at } = this.sheet;
    const heaps = (at.levels[this.bottom]?.pieces.get(piece)?.heaps ?? []).filter(({ slot }) => at.keptSlot(slot));
    if (heaps.length === 0) return '';
    for (const { slot } of heaps) this.writes(slot);
    return change(heaps);
  }

  /** Takes one of the first heap that is where the player is and has some left, else of the first that has. */
  private takesOne(heaps: PieceSlots['heaps']): Code {
    const taken = ({ slot }: PieceSlots['heaps'][number], here: Code) =>
      js`if (${slotOf(slot)} > 0 && ${here}) ${slotOf(slot)}--;`;
    const near = heaps.length === 1 ? [] : heaps.map((heap) => taken(heap, isHere(this.sheet.at, this.bottom, heap.spots)));
    return joined([...near, ...heaps.map((heap) => taken(heap, true))], ' else ');
  }

  private assign(rule: FittingRule, id: Id, expression: Expression): Code {
    const { flow, at, naming } = this.sheet;
    const variable = flow.document.variables[id]!;
    const { slot, stale, merged } = at.variables.get(id)!;
    this.writesNumber(slot, stale, merged);
    const { code, min, max } = codeOf(expression, this.names);
    const fresh = this.put(stale, 0);
    if (!at.keptSlot(slot)) return fresh;
    if (variable.type === 'flag') return [set(slot, js`${code} ? 1 : 0`), fresh];
    if (variable.type === 'choice') return [set(slot, js`indexes[${naming.choiceVariable(id)}][${code}]`), fresh];
    if (merged) return [this.assignMerged(rule, variable, merged, assignmentOf(id, expression)!), fresh];
    if (min >= variable.min && max <= variable.max) return [set(slot, code), fresh];
    const site = this.site(rule, id);
    const note = js`if (!clamped[${site}]) witness.clamped(${site});`;
    const plain = Number.isFinite(min) && Number.isFinite(max) ? 'x' : 'Number(x)';
    return js`{ const x = ${code};
if (x < ${number(variable.min)}) { ${set(slot, variable.min)} ${note} }
else if (x > ${number(variable.max)}) { ${set(slot, variable.max)} ${note} }
else ${set(slot, plain)} ${fresh} }`;
  }

  private writesNumber(slot: number, stale: number, merged: MergedSlot | undefined): void {
    for (const each of merged ? [slot, stale, merged.source, merged.added] : [slot, stale]) this.writes(each);
  }

  /** A number of which high values are one: beside it is noted what it came from. */
  private assignMerged(rule: FittingRule, { min, max }: NumberVariable, merged: MergedSlot, assignment: Assignment): Code {
    const { at } = this.sheet;
    const { slot, top, added } = merged;
    const site = this.site(rule, merged.variable);
    if ('to' in assignment) {
      const value = Math.min(Math.max(assignment.to, min), max);
      const note = value === assignment.to ? '' : js`if (!clamped[${site}]) witness.clamped(${site});`;
      return [set(slot, Math.min(value, top)), comesFrom(merged, value), note];
    }
    const { add } = assignment;
    // whatever it is: it stays within its range
    if (add === 0) return '';
    const now = slotOf(slot);
    return js`${slotOf(added)} += ${add};
if (${now} === ${top}) { if (!clamped[${site}]) machine.grows(${site}, ${at.merged.indexOf(merged)}); }
else {
if (${now} + ${add} > ${max} && !clamped[${site}]) witness.clamped(${site});
${set(slot, js`${now} + ${add} < ${number(top)} ? ${now} + ${add} : ${top}`)}
}`;
  }

  private site(rule: FittingRule, variable: Id): Code {
    return this.ofRule('site', rule, siteNumber(variable));
  }

  private beginRun(): Code {
    const { at } = this.sheet;
    const begun = at.run.flatMap(({ slot, stale, initial }) => [this.put(slot, initial), this.put(stale, 0)]);
    begun.push(this.undoRun());
    const { bookLevel, bookThisRun } = at;
    if (at.keptSlot(bookThisRun)) begun.push(js`if (${slotOf(bookLevel)} !== 0) { ${this.put(bookThisRun, 0)} }`);
    return begun;
  }

  /** Of the run all but its values goes back. */
  private undoRun(): Code[] {
    const { at } = this.sheet;
    const undone = at.runPieces.map(({ slot, count }) => this.put(slot, count));
    for (const { row, position, bag } of at.orders) {
      if (row >= 0) undone.push(this.put(row, -1));
      undone.push(this.put(position, -1));
      for (const slot of bag?.slots ?? []) undone.push(this.put(slot, 0));
    }
    return [...undone, this.put(at.current, 0), this.put(at.last, 0)];
  }

  private forget(): Code {
    const { at } = this.sheet;
    return at.book.map((slot) => this.put(slot, at.initial[slot]!));
  }

  private erase(): Code {
    return [this.unused(), this.beginRun()];
  }

  /** The slot in hand holds nothing; a level that is being played stays the one played last. */
  private unused(): Code {
    const { at } = this.sheet;
    const first = [...at.won.map((slot) => this.put(slot, 0)), this.forget()];
    if (at.keptSlot(at.latest)) {
      const elsewhere = at.levels[this.bottom] ? js`${slotOf(at.latest)} !== ${this.placed(this.bottom)} + 1` : true;
      first.push(js`if (${elsewhere}) { ${this.put(at.latest, 0)} ${this.put(at.latestSpot, 0)} }`);
    }
    if (!at.levels[this.bottom]) first.push(this.put(at.played, 0));
    for (const { slot, initial } of at.kept) first.push(this.put(slot, initial));
    for (const { slot, count } of at.keptPieces) first.push(this.put(slot, count));
    return first;
  }

  /** What is done with the picked slot: another than that in hand was never used, and is so once at the most. */
  private readonly onSlot: Record<With<Act, 'slot'>['slot'], () => Code> = {
    take: () => {
      const { at } = this.sheet;
      if (!at.keptSlot(at.hand)) return '';
      const stale = at.run.flatMap(({ slot, stale: is, initial }) =>
        at.keptSlot(is) ? js`if (${slotOf(slot)} !== ${initial}) { ${set(is, 2)} }` : []
      );
      const taken = [
        this.undoes(by.run | by.all),
        this.unused(),
        this.undoRun(),
        stale,
        set(at.hand, js`${slotOf(at.picked)} - 1`)
      ];
      return js`if (${slotOf(at.picked)} !== 0 && ${slotOf(at.picked)} !== ${slotOf(at.hand)} + 1) { ${taken} }`;
    },
    put: () => {
      const { at } = this.sheet;
      return at.keptSlot(at.hand) ? js`if (${slotOf(at.picked)} !== 0) { ${set(at.hand, js`${slotOf(at.picked)} - 1`)} }` : '';
    },
    clear: () => {
      const { at } = this.sheet;
      return js`if (${slotOf(at.picked)} === ${slotOf(at.hand)} + 1) { ${this.undoes(by.run | by.all)} ${this.erase()} }`;
    }
  };

  /** What is told of a move back to what was saved. */
  protected resumes(index: Code): Code {
    return js`witness.resumes(${index}, ${slotOf(this.sheet.at.bookThisRun)} === 0); `;
  }

  private save(forward: boolean): Code {
    const { at } = this.sheet;
    const level = at.levels[this.bottom];
    if (!level || !at.keptSlot(at.bookLevel)) return '';
    const progress = at.keptSlot(at.bookProgress) ? this.progress() : 0;
    const copies = [
      ...at.attempt.map(({ slot, saved }) => [saved, slot]),
      ...level.attemptPieces.map(({ slot, saved }) => [saved, slot]),
      ...at.savedRun.map(([slot, saved]) => [saved, slot])
    ];
    this.writes(at.bookLevel);
    const saved = [this.forget(), set(at.bookLevel, js`${this.placed(this.bottom)} + 1`), this.put(at.bookThisRun, 1)];
    this.writes(at.bookProgress);
    if (at.keptSlot(at.bookProgress)) saved.push(set(at.bookProgress, progress));
    if (at.keepsSpots) saved.push(this.copy(at.bookSpot, at.spot), this.savesEntry());
    for (const [to, from] of copies) saved.push(this.copy(to!, from!));
    if (!forward) return saved;
    const [book, thisRun, reached] = [at.bookLevel, at.bookThisRun, at.bookProgress].map(slotOf);
    return js`if (!(${book!} !== 0 && ${thisRun!} === 1 && ${reached!} >= ${progress})) { ${saved} }`;
  }

  /** The number of the entry at which a target arrives: -1 for that by which the level was entered last. */
  protected entryOf(target: Target): number {
    if ('move' in target && target.move === 'again') return -1;
    return this.sheet.at.entries.indexOf(target.entry ?? '');
  }

  /** A save arrives at the entry that is called like the checkpoint that is touched, else as the level was entered. */
  private savesEntry(): Code {
    const { at } = this.sheet;
    this.writes(at.bookEntrySpot);
    if (!at.keptSlot(at.bookEntrySpot)) return '';
    return set(at.bookEntrySpot, this.checkpointSpot(slotOf(at.latestSpot)));
  }

  /** A move along an order as numbers: which step it is, and along which order (-1: the current one); none without orders. */
  protected along({ move, order }: MoveTarget): { step: number; order: number } | undefined {
    const orders = Object.keys(this.sheet.flow.document.orders);
    if (orders.length === 0) return undefined;
    const only = orders.length === 1 ? 0 : -1;
    return { step: steps.indexOf(move), order: order === undefined ? only : orders.indexOf(order) };
  }

  // ---- small things ------------------------------------------------------------------------------------------------

  protected copy(to: number, from: number): Code {
    this.writes(to);
    return this.sheet.at.keptSlot(to) ? set(to, slotOf(from)) : '';
  }

  /** Nothing reads what is not kept before it is set again: it need not be set. */
  protected put(slot: number, value: number): Code {
    this.writes(slot);
    return this.sheet.at.keptSlot(slot) ? set(slot, value) : '';
  }

  protected code(text: Expression): Code {
    return codeOf(text, this.names).code;
  }

  protected index(rule: Asking): Code {
    return this.ofRule('rule', rule, (sheet, { id }) => sheet.ruleIndex.get(id)!);
  }

  /** A number of a rule's. */
  private ofRule(kind: string, rule: Asking, of: (sheet: Sheet, rule: Asking) => number): Code {
    const own = this.self.rules.findIndex(({ id }) => id === rule.id);
    return this.own.number(`${kind} ${of(this.sheet, rule)}`, ruleNumber(rule.id, own, of));
  }

  /** A number of a place's. */
  protected ofPlace(kind: string, place: number, of: (at: Layout, place: number) => number): Code {
    return this.own.number(`${kind} ${of(this.sheet.at, place)}`, placeNumber(place === this.self.place ? -1 : place, of));
  }

  protected placed(place: number): Code {
    return this.ofPlace('place', place, (_, number) => number);
  }

  // ---- being entered -----------------------------------------------------------------------------------------------

  /** The place, as the only one on the stack. A move along an order (-1: none) gives a position in its row. */
  protected entering(order: Code, position: Code, saved: 0 | 1 | 'saved', spot: Code): Code {
    const { at } = this.sheet;
    const here = this.placed(this.place);
    this.writes(at.place[0]!);
    const entered = [set(at.place[0]!, here), this.put(at.phase[0]!, 0)];
    for (const slot of [...at.ticks[0]!, ...at.held[0]!]) entered.push(this.put(slot, 0));
    entered.push(this.put(at.over, 0));
    if (at.keptSlot(at.picked)) entered.push(this.put(at.picked, 0));
    const level = at.levels[this.place];
    const counts = new Map(level?.here.map(({ slot, count }) => [slot, count]));
    for (const slot of at.here) entered.push(this.put(slot, counts.get(slot) ?? 0));
    if (saved === 'saved' && at.keptSlot(at.bookLevel)) entered.push(js`if (saved === 2) { ${this.bringBack()} }`);
    if (!level) {
      if (at.keepsSpots) entered.push(this.put(at.spot, 0));
      if (at.marksStale[this.place]) {
        for (const { slot, stale, initial } of at.run) {
          if (!at.keptSlot(stale)) continue;
          // what is another saved game's stays that
          const fresh = at.keptSlot(at.hand) ? js` && ${slotOf(stale)} === 0` : '';
          entered.push(js`if (${slotOf(slot)} !== ${initial}${fresh}) { ${this.put(stale, 1)} }`);
        }
      }
      return lines(entered);
    }
    const initial = at.attempt.map(({ slot, initial: value }) => this.put(slot, value));
    if (saved === 0 || !at.keptSlot(at.bookLevel)) entered.push(initial);
    else {
      const copies = [...at.attempt, ...level.attemptPieces].map(({ slot, saved: copy }) => this.copy(slot, copy));
      entered.push(saved === 'saved' ? js`if (saved !== 0) { ${copies} } else { ${initial} }` : copies);
    }
    for (const slot of [at.latest, at.current]) this.writes(slot);
    if (at.keptSlot(at.played)) entered.push(this.put(at.played, 1));
    if (at.keptSlot(at.latest)) entered.push(set(at.latest, js`${here} + 1`));
    if (at.keepsSpots) entered.push(this.standing(saved, spot));
    if (at.keptSlot(at.current)) entered.push(js`if (${order} >= 0) ${set(at.current, js`${order} + 1`)}`);
    for (const each of at.walked) entered.push(this.standIn(each, order, position));
    return lines(entered);
  }

  /** Where the player stands after arriving in the place, a level, and where it would again. */
  private standing(saved: 0 | 1 | 'saved', spot: Code): Code {
    const { at } = this.sheet;
    if (!at.keptAt[this.place]) return [this.put(at.spot, 0), this.put(at.latestSpot, 0)];
    this.writes(at.spot);
    this.writes(at.latestSpot);
    const fresh = [set(at.spot, spot), at.keptSlot(at.latestSpot) ? set(at.latestSpot, spot) : ''];
    if (saved === 0 || !at.keptSlot(at.bookLevel)) return fresh;
    const back = [this.copy(at.spot, at.bookSpot), this.copy(at.latestSpot, at.bookEntrySpot)];
    return saved === 'saved' ? js`if (saved !== 0) { ${back} } else { ${fresh} }` : back;
  }

  /** What `load` brings back, besides the level. */
  private bringBack(): Code {
    const { at } = this.sheet;
    const back = at.savedRun.map(([slot, saved]) => this.copy(slot, saved));
    for (const { stale } of at.run) back.push(this.put(stale, 0));
    if (at.keptSlot(at.bookThisRun)) back.push(this.put(at.bookThisRun, 1));
    return back;
  }

  /** In every order whose row holds the level the position moves to it, and it is taken out of every bag. */
  private standIn(order: number, by: Code, to: Code): Code {
    const { at } = this.sheet;
    const { bag, row, first, position } = at.orders[order]!;
    if (bag) {
      const slot = bag.slots[bag.levels.indexOf(this.place)];
      if (slot === undefined || !at.keptSlot(slot)) return '';
      return this.setOwn('taken', this.place, takenSlot(order), 0);
    }
    if (!first.some((places) => places[this.place]! >= 0)) return '';
    this.writes(position);
    // a fixed order lists no level twice
    if (row >= 0) {
      const stands = joined([order, this.placed(this.place), by, to, slotOf(row), slotOf(position)], ',');
      return set(position, js`orders.standsAt(${stands})`);
    }
    if (!at.keptSlot(position)) return '';
    return set(position, this.ofPlace('position', this.place, positionIn(order)));
  }

  /** Sets a slot that is a place's own. */
  protected abstract setOwn(kind: string, place: number, of: (at: Layout, place: number) => number, to: number): Code;
}

/** A number of which high values are one is set to a value, whatever it was. */
const comesFrom = ({ source, added }: MergedSlot, value: number) => [set(source, -1), set(added, value)];

const someLeft = (heaps: PieceSlots['heaps']): Code =>
  joined(
    heaps.map(({ slot }) => js`${slotOf(slot)} > 0`),
    ' || '
  );
