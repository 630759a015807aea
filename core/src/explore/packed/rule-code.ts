/** The code of rules that are read: conditions, effects, and what is noted of them (what its names mean: place-code.ts). */
import type { Act, Effect, EffectKind, Id, Target, Variable, With } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import type { Asking, FittingPassage, FittingRule } from '../../play/fit.ts';
import { by } from '../facts.ts';
import { effectKind } from '../../vocabulary/effects.ts';
import { EnteringCode } from './entering-code.ts';
import { codeOf, type Names } from './expressions.ts';
import { isHere } from './names.ts';
import { js, joined, lines, set, slot as slotOf, type Code } from './instructions.ts';
import { assignmentOf, type Assignment } from './merging.ts';
import { objectiveNumber, siteNumber, termNumber, termsOf } from './own.ts';
import type { MergedSlot } from './layout.ts';
import type { Checkpoint, Happening } from './happenings.ts';
import type { PieceSlots } from './piece-slots.ts';

type NumberVariable = Extract<Variable, { type: 'number' }>;

type EffectCode<E> = (effect: E, rule: FittingRule, expression: Expression | undefined) => Code;

const number = (value: number) => (value < 0 ? `(${value})` : String(value));

export abstract class RuleCode extends EnteringCode {
  /** Goes to a target and ends the reading, where it resolves. */
  protected abstract move(rule: FittingRule, target: Target, chosen: number): Code;
  /** What is noted of a rule that fires. */
  protected abstract notes(index: Code): Code;
  /** What is done with signals, when a move may follow, and when a rule of a pass has fired. */
  protected abstract heard(): { before: Code; after: Code };
  /** What is noted in a pass when a rule fires. */
  protected abstract firesInPass(): Code;
  /** A checkpoint is touched. */
  protected abstract touches(checkpoint: Checkpoint): Code;

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
}

/** A number of which high values are one is set to a value, whatever it was. */
const comesFrom = ({ source, added }: MergedSlot, value: number) => [set(source, -1), set(added, value)];

const someLeft = (heaps: PieceSlots['heaps']): Code =>
  joined(
    heaps.map(({ slot }) => js`${slotOf(slot)} > 0`),
    ' || '
  );
