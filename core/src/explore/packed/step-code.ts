/**
 * The code of an event as a step from the words of a state to those of the next: what it reads and writes are local
 * variables, the places it goes to are written out, and only what is written is packed anew. Where a move's target is
 * known only when it is made, it goes on with the step that enters it, which begins from the words written so far; where
 * there is none, or a place opens over this one, the slots are brought up to date and the machine goes on.
 */
import type { Effect, Target } from '../../document/types.ts';
import type { Expression } from '../../language/ast.ts';
import { targetMisfit, type FittingRule } from '../../play/fit.ts';
import { mostFirings } from '../../play/handle.ts';
import { can } from '../facts.ts';
import { changesState, type Checkpoint, type Happening } from './happenings.ts';
import { outcomes } from './names.ts';
import { js, joined, lines, set, slot as slotOf, slotsIn, type Code } from './instructions.ts';
import { Own, wonSlot, type Self } from './own.ts';
import type { Layout } from './layout.ts';
import { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';
import { others, packing } from './slots.ts';
import { namedIn, type StepText } from './step-text.ts';

interface Written {
  step: StepText;
  code: StepCode;
}

/** An event cannot be written as a step. */
class NoStep extends Error {}

/** So many places one after another are written out. */
const mostEntered = 3;

export class StepCode extends RuleCode {
  /** The slots written so far on this way through the event, and on any. */
  private written = new Set<number>();
  private declared = new Set<number>();
  /** Those written on this way since the pass began that is being written. */
  private lately = new Set<number>();
  /** How many rules may fire. */
  firings = 0;
  /** How many places have been entered so far on this way, and what can happen on it (bits of `can`). */
  private entered = 0;
  private bits = 0;
  /** Some variable may be stale on this way. */
  private mayBeStale = false;
  private touched: Checkpoint | undefined;
  /** That the level is won stands as its own, so that levels built alike have the same text. */
  private readonly winsAsOwn: boolean;
  private wins = false;
  private isEntrance = false;
  private readonly home: number;

  private constructor(sheet: Sheet, self: Self, winsAsOwn: boolean) {
    super(sheet, new Own(), self, self.place);
    this.home = self.place;
    this.winsAsOwn = winsAsOwn;
  }

  /** An event as a step of the place alone on the stack; undefined where it cannot be one. */
  static of(happening: Happening, sheet: Sheet, self: Self): Written | undefined {
    return StepCode.write(sheet, self, (code) => code.event(happening));
  }

  /**
   * How a level is entered by a move that learns only when it is made where it leads, as a step that goes on from the
   * words that the move has written; likewise.
   */
  static entrance(sheet: Sheet, self: Self): Written | undefined {
    return StepCode.write(sheet, self, (code) => code.entrance());
  }

  private static write(sheet: Sheet, self: Self, write: (code: StepCode) => StepText): Written | undefined {
    const written = (winsAsOwn: boolean) => {
      const code = new StepCode(sheet, self, winsAsOwn);
      return { code, step: write(code) };
    };
    try {
      const made = written(true);
      const readsWon = () => [...namedIn(made.step)].some((slot) => sheet.at.won.includes(slot));
      return made.code.wins && readsWon() ? written(false) : made;
    } catch (error) {
      if (error instanceof NoStep) return undefined;
      throw error;
    }
  }

  private event(happening: Happening): StepText {
    const { when, ticks, checkpoint, picks, rules, chosen } = happening;
    if (picks) throw new NoStep();
    this.mayBeStale = this.sheet.at.staleAt[this.home]!;
    this.touched = checkpoint;
    const statements: Code[] = [this.begins(happening)];
    if (ticks) {
      const slot = this.sheet.at.ticks[0]![ticks.clock]!;
      this.writes(slot);
      statements.push(js`if (${slotOf(this.sheet.at.phase[0]!)} < ${ticks.before}) ${slotOf(slot)}++;`);
    }
    for (const each of rules)
      statements.push(chosen === undefined ? this.readsWhere(each) : this.fire(each.matching[0]!, chosen));
    statements.push(this.settle(true));
    const stays = this.written.size === 0 ? 'watcher.same(event);' : js`${this.packed()} watcher.stays(event); ${this.renewed()}`;
    statements.push(js`${changesState(happening) ? '' : 'if (firings !== 0) '}{ ${stays} }`);
    if (this.firings >= mostFirings) throw new NoStep();
    return this.whole({
      head: '(event, from) =>',
      words: 'base',
      begins: ['firings = 0', 'spilt = false'],
      statements,
      when: when(this)
    });
  }

  private entrance(): StepText {
    this.isEntrance = true;
    this.entered = 1;
    this.bits = can.enter;
    const here = this.placed(this.home);
    const statements = [this.entering('order', 'position', 0, 0), js`if (entered[${here}] === 0) machine.entersFirst(${here});`];
    statements.push(this.read(this.applying.by.arrive), this.settle(false), this.arrives());
    if (this.firings >= mostFirings / 2) throw new NoStep();
    return this.whole({ head: '(event, order, position, firings, bits, home) =>', words: 'next', begins: [], statements });
  }

  private whole(step: Pick<StepText, 'head' | 'words' | 'begins' | 'statements' | 'when'>): StepText {
    const { packing: packed, initial } = this.sheet.at;
    const begins = [...step.begins, ...(this.wins && this.winsAsOwn ? ['won = 0'] : [])];
    return { ...step, begins, loads: !this.isEntrance, declared: this.declared, packing: packed, initial };
  }

  // ---- the ends of ways --------------------------------------------------------------------------------------------

  /** The pass over the `holds` rules. As none of them writes what one of them reads, a second pass would fire none. */
  private settle(beforeMove: boolean): Code {
    const { holds } = this.applying.by;
    if (holds.length === 0) return '';
    const conditions = holds.flatMap((rule) => [rule.holds, rule.condition].flatMap((text) => (text ? [this.code(text)] : [])));
    const reads = slotsIn(conditions);
    if (beforeMove && ![...this.written].some((slot) => reads.has(slot))) return '';
    this.lately = new Set();
    const text = this.passing(holds);
    if ([...this.lately].some((slot) => reads.has(slot))) throw new NoStep();
    return text;
  }

  /** The words of the state that has been reached. */
  private packed(): Code {
    const { words, fields } = this.sheet.at.packing;
    const next = Array.from({ length: words }, () => [] as Code[]);
    const rest = next.map(() => -1);
    for (const slot of [...this.written].sort((a, b) => a - b)) {
      const field = fields[slot];
      if (!field) continue;
      next[field.word]!.push(packing(slotOf(slot), field));
      rest[field.word]! &= others(field);
    }
    const won = fields[this.sheet.at.won[this.home]!];
    if (this.wins && this.winsAsOwn && won) next[won.word]!.push(js`won << ${this.ofPlace('shift', this.home, wonShift)}`);
    return next.map((changed, word) => {
      const kept = rest[word] === -1 ? `word${word}` : `word${word} & ${rest[word]!}`;
      return js`next[${word}] = ${joined([kept, ...changed], ' | ')}; `;
    });
  }

  /** Slots that are no part of a state are brought back to what they are at the beginning of each event. */
  private renewed(): Code {
    const { renewed } = this.sheet.at.packing;
    const changed = [...renewed].filter(([slot]) => this.isEntrance || this.written.has(slot));
    return changed.map(([slot, value]) => set(slot, value));
  }

  private isLocal(slot: number): boolean {
    return !this.sheet.at.packing.renewed.has(slot);
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  protected move(rule: FittingRule, target: Target, chosen: number): Code {
    const { flow, at } = this.sheet;
    const { document } = flow;
    if (targetMisfit(document, target, '')) return '';
    const index = this.index(rule);
    if ('place' in target) {
      const to = at.placeIndex.get(target.place)!;
      if (!target.over) return this.enters(rule, to, -1, target);
      return this.goesOn(rule, false, js`machine.goOver(event, ${this.placed(to)});`);
    }
    const goes = (to: Code, more: Code) =>
      this.goesOn(rule, true, js`machine.go(event, ${to}, ${more}, ${index}, ${this.entryOf(target)});`, to);
    const goesIn = (to: Code, order: Code, position: Code, more: Code) => {
      const entered = this.entersBySteps(rule, order, position);
      const bySteps = entered === undefined ? '' : js`const enter = machine.into(to);\nif (enter) { ${entered} return; }\n`;
      return js`{ const to = ${to};\n${bySteps}${goes('to', js`${order}, ${position}, ${more}`)} }`;
    };
    switch (target.move) {
      case 'back':
        // there is no other frame
        return '';
      case 'again':
        return js`if (${slotOf(at.latest)} !== 0) ${goesIn(js`${slotOf(at.latest)} - 1`, -1, -1, '0, true')}`;
      case 'resume':
      case 'load': {
        const saved = target.move === 'load' ? 2 : 1;
        const told = saved === 1 ? this.resumes(index) : '';
        return js`if (${slotOf(at.bookLevel)} !== 0) { ${told}${goes(js`${{ machineSlot: at.bookLevel }} - 1`, `-1, -1, ${saved}, true`)} }`;
      }
      case 'chosen':
        if (chosen < 0) return '';
        return this.enters(
          rule,
          chosen,
          Object.keys(document.orders).indexOf((rule.rule.when as { choose: string }).choose),
          target
        );
      case 'next':
      case 'previous':
      case 'first':
      case 'last': {
        const along = this.along(target);
        if (!along) return '';
        const { step, order } = along;
        const known = at.orders[order];
        if (known && !known.bag && known.row < 0) {
          const onward = goesIn('orders.to', order, 'orders.position', '0, false');
          return js`if (orders.step(${step}, ${order}, ${slotOf(known.position)})) ${onward}`;
        }
        return js`{ ${this.spills()} spilt = true; if (orders.along(${step}, ${order})) { ${this.goesAlong(rule, target)} return; } }`;
      }
    }
  }

  /** The move is made by the machine, and is the end of this way. */
  private goesOn(rule: FittingRule, afresh: boolean, go: Code, to: Code = '', then = ' return;'): Code {
    // what merged numbers came from is in no words
    if (this.isEntrance && this.sheet.at.merged.length > 0) throw new NoStep();
    const before = [new Set(this.written), new Set(this.lately)] as const;
    const statements = [this.outcome(rule), this.spills()];
    const { completes, leaves } = this.ending(rule, afresh, to);
    if (completes !== false) statements.push(js`if (${completes}) machine.completes(${this.placed(this.bottom)});`);
    if (leaves !== false) statements.push(js`if (${leaves}) machine.ends();`);
    const code = js`{ ${joined(statements, ' ')} ${go}${then} }`;
    [this.written, this.lately] = before;
    return code;
  }

  /** Goes where a move along an order leads that may draw: where steps do, each draw is made in turn. */
  private goesAlong(rule: FittingRule, target: Target): Code {
    const go = js`machine.go(event, to, orders.order, orders.position, 0, false, ${this.index(rule)}, ${this.entryOf(target)});`;
    const goes = this.goesOn(rule, true, go, 'to', '');
    const entered = this.sheet.at.merged.length > 0 ? undefined : this.entersBySteps(rule, 'order', 'orders.position');
    if (entered === undefined) return js`const to = orders.to; ${goes}`;
    // each of the draws follows on what has been undone before them
    const [keeps, again] = this.sheet.leavesBehind ? [', undone = machine.undone', 'machine.undone = undone;\n'] : ['', ''];
    return js`const order = orders.order, bag = orders.bag${keeps}; do {
${again}const to = orders.to, enter = machine.into(to);
if (enter) { ${entered} } else { spilt = false; ${goes} }
} while (machine.another(event, order, bag));`;
  }

  /** Whether a move completes the level at the bottom, and whether it is the end of the attempt, as code. */
  private ending({ rule }: FittingRule, afresh: boolean, to: Code): { completes: Code; leaves: Code } {
    const level = this.sheet.flow.document.places[this.sheet.at.placeIds[this.bottom]!]!;
    if (level.kind !== 'level') return { completes: false, leaves: false };
    const leaves = afresh ? js`${to} !== ${this.placed(this.bottom)}` : false;
    const completes = level.goal === 'leave' ? leaves : rule.result === 'won';
    return { completes, leaves: rule.result ? true : leaves };
  }

  /** Enters the level `to`, by a move along an order (-1: none) to a position in its row; nothing where it is not by steps. */
  private entersBySteps(rule: FittingRule, order: Code, position: Code): Code | undefined {
    const { at } = this.sheet;
    const isStale = this.mayBeStale && at.run.some((variable) => at.keptSlot(variable.stale));
    if (this.isEntrance || isStale || this.firings >= mostFirings / 2) return undefined;
    const before = [new Set(this.written), new Set(this.lately)] as const;
    const { completes, leaves } = this.ending(rule, true, 'to');
    const statements = [this.outcome(rule)];
    const here = this.placed(this.bottom);
    if (completes !== false) statements.push(js`if (${completes} && completed[${here}] === 0) witness.completes(${here});`);
    const possible: [Code, number][] = [
      [completes, can.complete],
      [leaves, can.leave]
    ];
    const dynamic = possible.flatMap(([code, bit]) => (code === false || this.entered > 0 ? [] : js` | (${code} ? ${bit} : 0)`));
    const given = ['event', order, position, 'firings', [this.bits, ...dynamic], this.placed(this.home)];
    if (this.entered > 0) statements.push(this.passes(rule, js`${this.placed(this.bottom)} !== to && `));
    statements.push(js`${this.packed()} enter(${joined(given, ', ')});`);
    [this.written, this.lately] = before;
    return joined(statements, ' ');
  }

  /** Brings the slots up to date for the machine to go on. */
  private spills(): Code {
    const won = this.wins && this.winsAsOwn ? js`if (won) slots[${this.ofPlace('won', this.home, wonSlot)}] = 1;` : '';
    const slots = [...this.written]
      .filter((slot) => this.isLocal(slot))
      .map((slot) => js`${{ machineSlot: slot }} = ${slotOf(slot)};`);
    const flags = js`${this.mayHappen()}, ${this.entered > 0}, ${this.mayBeStale}, ${this.isEntrance ? 'true' : 'spilt'}`;
    const { touched } = this;
    const progress =
      touched === undefined ? '' : ` machine.progress = ${touched.progress}; machine.checkpointSpot = ${touched.spot};`;
    return {
      spills: js`${this.isEntrance ? 'machine.readsOn(); ' : ''}machine.spills(firings, ${flags}); ${slots} ${won}${progress}`
    };
  }

  /** What a result does before the move. */
  private outcome(fitting: FittingRule): Code {
    const { rule } = fitting;
    const { at } = this.sheet;
    const outcome: Code[] = [this.judges(fitting)];
    const won = at.won[this.bottom]!;
    if (rule.result === 'won' && at.keptSlot(won)) {
      // only the level that the event happens in has a name of its own for it
      if (this.winsAsOwn && this.bottom === this.home) {
        this.wins = true;
        outcome.push('won = 1;');
      } else outcome.push(this.setOwn('won', this.bottom, wonSlot, 1));
    }
    if (rule.result) outcome.push(this.put(at.over, 1), this.put(at.last, outcomes.indexOf(rule.result)));
    return outcome;
  }

  /** Enters a place that is known, as far as it can be written out. */
  private enters(rule: FittingRule, to: number, order: number, by: Target): Code {
    const { at, flow } = this.sheet;
    const { written, lately, place, entered, bits, mayBeStale, touched, firings } = this;
    const level = flow.document.places[at.placeIds[this.bottom]!]!;
    const target = this.placed(to);
    // another place's rule names this one
    if (this.place !== this.home && to === this.home) this.own.alone = true;
    const stale = mayBeStale && at.levels[to] !== undefined && at.run.some((variable) => at.keptSlot(variable.stale));
    const machine = () =>
      this.goesOn(
        rule,
        true,
        js`machine.go(event, ${target}, ${order}, -1, 0, false, ${this.index(rule)}, ${this.entryOf(by)});`,
        target
      );
    if (stale || entered >= mostEntered) return machine();
    const restore = () => {
      Object.assign(this, { written, lately, entered, bits, mayBeStale, touched });
      this.stand(place, place);
    };
    this.written = new Set(written);
    this.lately = new Set(lately);
    const statements = [this.outcome(rule)];
    if (entered > 0 && to !== this.bottom) statements.push(this.passes(rule));
    if (level.kind === 'level') {
      const leaves = to !== this.bottom;
      if (level.goal === 'leave' ? leaves : rule.rule.result === 'won') {
        const here = this.placed(this.bottom);
        statements.push(js`if (completed[${here}] === 0) witness.completes(${here});`);
        if (entered === 0) this.bits |= can.complete;
      }
      if (entered === 0 && (rule.rule.result || leaves)) this.bits |= can.leave;
    }
    this.bits |= at.endings[to] ? can.enter | can.end : can.enter;
    this.entered++;
    this.mayBeStale ||= at.marksStale[to]!;
    this.touched = undefined;
    this.stand(to, to);
    try {
      const spot = at.arrivals[this.entryOf(by)]![to]!;
      const stood = at.firstSpot[to]! + spot;
      if (spot >= 0) statements.push(js`if (stood[${stood}] === 0) witness.stands(${stood});`);
      statements.push(this.entering(order, -1, 0, spot), js`if (entered[${target}] === 0) machine.entersFirst(${target});`);
      statements.push(this.read(this.applying.by.arrive), this.settle(false), this.arrives());
      restore();
      return js`{ ${lines(statements)} return; }`;
    } catch (error) {
      if (!(error instanceof NoStep)) throw error;
      this.firings = firings;
      restore();
      return machine();
    }
  }

  /** Where a rule moves on from a level that this event has entered: the level is passed. */
  private passes(rule: FittingRule, elsewhere: Code = ''): Code {
    if (this.sheet.at.levels[this.bottom] === undefined) return '';
    const here = this.placed(this.bottom);
    return js`if (${elsewhere}passed[${here}] === 0) witness.passes(${here}, ${this.index(rule)});`;
  }

  /** The end of a way that has entered places. */
  private arrives(): Code {
    const arrived = this.sheet.at.levels[this.place] !== undefined;
    let moved: Code = this.place !== this.home ? ` | ${can.moveOn}` : '';
    if (this.isEntrance) moved = js` | (home !== ${this.placed(this.place)} ? ${can.moveOn} : 0)`;
    return js`${this.packed()} watcher.moves(event, ${this.mayHappen()}${moved}, ${arrived}); ${this.renewed()}`;
  }

  /** The code of what can happen on this way. */
  private mayHappen(): Code {
    return this.isEntrance ? `bits | ${this.bits}` : String(this.bits);
  }

  // ---- what differs from the code on slots -------------------------------------------------------------------------

  protected override effect(rule: FittingRule, effect: Effect, expression: Expression | undefined): Code {
    const removes = 'remove' in effect && this.sheet.removable.includes(effect.remove);
    if ('raise' in effect || 'defeat' in effect || 'draw' in effect || 'slot' in effect || removes) throw new NoStep();
    return super.effect(rule, effect, expression);
  }

  protected notes(index: Code): Code {
    this.firings++;
    return { fires: index };
  }

  protected heard() {
    return { before: '', after: '' };
  }

  protected firesInPass(): string {
    return '';
  }

  frameSlot(slots: number[]): Code {
    return slotOf(slots[0]!);
  }

  protected progress(): Code {
    return this.touched?.progress ?? this.sheet.at.levels[this.bottom]!.progress;
  }

  protected touches(checkpoint: Checkpoint): string {
    this.touched = checkpoint;
    return '';
  }

  protected checkpointSpot(usual: Code): Code {
    return this.touched && this.touched.spot >= 0 ? this.touched.spot : usual;
  }

  protected setOwn(_: string, place: number, of: (at: Layout, place: number) => number, to: number): Code {
    // the number itself stands in the text
    if (place === this.home) this.own.alone = true;
    const slot = of(this.sheet.at, place);
    this.writes(slot);
    return set(slot, to);
  }

  protected writes(slot: number): void {
    this.written.add(slot);
    this.lately.add(slot);
    this.declared.add(slot);
  }
}

/** By how much the bit that says whether a level is won is shifted in its word. */
const wonShift = ({ packing: { fields }, won }: Layout, place: number) => fields[won[place]!]!.shift;
