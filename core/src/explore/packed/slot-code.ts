/**
 * The code of rules on all slots, with the machine (what its names mean: place-code.ts): how a place is entered, and the
 * events that cannot be written as steps.
 */
import type { Id, Target } from '../../document/types.ts';
import { piecesCounted, targetMisfit, type FittingRule } from '../../play/fit.ts';
import { mostFirings } from '../../play/handle.ts';
import { mostFrames } from '../../play/move.ts';
import { changesState, ticksOf, type Checkpoint, type Happening } from './happenings.ts';
import { js, joined, lines, slot as slotOf, type Code } from './instructions.ts';
import { triggerKind } from '../../vocabulary/triggers.ts';
import { outcomes } from './names.ts';
import { Own, wonSlot, type Self } from './own.ts';
import type { Layout } from './layout.ts';
import { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';

const no = '() => false';

export class SlotCode extends RuleCode {
  private readonly depth: Code;
  /** Whether the frame of this place can be another than the lowest. */
  private readonly upper: boolean;
  private readonly signals: boolean;
  /** How the reading ends when a rule leaves. */
  private leave = 'return true;';

  constructor(sheet: Sheet, self: Self, bottom: number) {
    super(sheet, new Own(), self, bottom);
    this.depth = slotOf(sheet.at.depth);
    this.upper = sheet.at.openable.has(self.place);
    this.signals = sheet.heard.length > 0;
  }

  /** How the place is entered, and what is read then and whenever something has happened. */
  entrance(): Code {
    const { by } = this.applying;
    const pass = by.holds.length > 0 ? js`() => {\nlet any = false;\n${this.passing(by.holds)}\nreturn any;\n}` : no;
    const arrive = by.arrive.length > 0 ? block(this.read(by.arrive)) : no;
    const hear = this.sheet.heard.map((what) => {
      const rules = [...by.hear, ...by.defeat].filter(
        ({ rule: { when } }) => `${triggerKind(when)} ${Object.values(when)[0]}` === what
      );
      return rules.length > 0 ? block(this.read(rules)) : no;
    });
    const enter =
      this.place === this.bottom ? js`${this.dropUpper()}\n${this.entering('order', 'position', 'saved', 'spot')}` : '';
    return js`{ pass: ${pass},
enter: (order, position, saved, spot) => {\n${enter}\n},
arrive: ${arrive},
hear: [${joined(hear, ',\n')}] }`;
  }

  /** An event. One that changes nothing leads back to where it began. */
  event(happening: Happening): Code {
    this.leave = 'break rules;';
    const { when, ticks, checkpoint, picks, rules, chosen } = happening;
    const { at } = this.sheet;
    const first = [this.begins(happening)];
    if (ticks) first.push(js`if (${this.frameSlot(at.phase)} < ${ticks.before}) ${this.frameSlot(ticksOf(at, ticks.clock))}++;`);
    if (checkpoint) first.push(this.touches(checkpoint));
    if (picks) first.push(js`const used = ${picks.used}; ${slotOf(at.picked)} = ${picks.slot + 1};`);
    const read = rules.map((each) => {
      if (chosen !== undefined) return this.fire(each.matching[0]!, chosen);
      if (each.used !== undefined && each.matching.length === 0) return '';
      return this.readsWhere(each);
    });
    return js`(event, from) => {
machine.ready();
if (!(${when(this)})) return;
let whole = true; ${joined(first, ' ')}
try { rules: {\n${lines(read)}\n} } catch (error) { whole = machine.caught(error); }
${changesState(happening) || checkpoint ? '' : 'if (machine.firings !== 0) '}machine.ended(event, whole);
}`;
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  protected move(rule: FittingRule, target: Target, chosen: number): Code {
    const { flow, at } = this.sheet;
    const { document } = flow;
    if (targetMisfit(document, target, '')) return '';
    const index = this.index(rule);
    const leave = (afresh: boolean, to: Code, go: Code) => js`${this.leaving(rule, afresh, to)}${go} ${this.leave}`;
    const entry = this.entryOf(target);
    const afresh = (to: Code, order: Code = -1, position = '-1', saved = 0, back = false) =>
      leave(true, to, js`machine.enter(${to}, ${order}, ${position}, ${saved}, ${back}, ${index}, ${entry});`);
    if ('place' in target) {
      const to = this.placed(at.placeIndex.get(target.place)!);
      if (!target.over) return js`{ ${afresh(to)} }`;
      return js`if (${this.depth} < ${mostFrames}) { ${leave(false, to, js`machine.open(${to});`)} }`;
    }
    switch (target.move) {
      case 'back':
        return js`if (${this.depth} > 1) { ${leave(false, '', 'machine.back();')} }`;
      case 'again':
        return js`if (${slotOf(at.latest)} !== 0) { ${afresh(js`${slotOf(at.latest)} - 1`, -1, '-1', 0, true)} }`;
      case 'resume':
      case 'load': {
        const saved = target.move === 'load' ? 2 : 1;
        const told = saved === 1 ? this.resumes(index) : '';
        return js`if (${slotOf(at.bookLevel)} !== 0) { ${told}${afresh(js`${slotOf(at.bookLevel)} - 1`, -1, '-1', saved, true)} }`;
      }
      case 'chosen':
        if (chosen < 0) return '';
        return js`{ ${afresh(this.placed(chosen), Object.keys(document.orders).indexOf((rule.rule.when as { choose: Id }).choose))} }`;
      case 'next':
      case 'previous':
      case 'first':
      case 'last': {
        const along = this.along(target);
        if (!along) return '';
        return js`if (orders.along(${along.step}, ${along.order})) { ${afresh('orders.to', 'orders.order', 'orders.position')} }`;
      }
    }
  }

  /** What a move means for the attempt, before it is made. `to` is where a move that enters afresh goes. */
  private leaving(fitting: FittingRule, afresh: boolean, to: Code): Code {
    const { rule } = fitting;
    const { flow, at } = this.sheet;
    const left: Code[] = [];
    if (this.signals) left.push('if (waiting > 0) queue.splice(0, waiting);');
    const level = flow.document.places[at.placeIds[this.bottom]!]!;
    if (level.kind === 'level') {
      const here = this.placed(this.bottom);
      const leaves = afresh ? js`${to} !== ${here}` : false;
      const completes = level.goal === 'leave' ? leaves : rule.result === 'won';
      const ends = rule.result ? true : leaves;
      const told = js`if (${completes}) machine.completes(${here}); if (${ends}) machine.ends();`;
      left.push(this.upper || this.place !== this.bottom ? js`if (${this.depth} === 1) { ${told} }` : told);
    }
    left.push(this.judges(fitting));
    if (rule.result === 'won') {
      const counted = [...piecesCounted(fitting)].map((piece) => this.sheet.removable.indexOf(piece)).filter((n) => n >= 0);
      for (const piece of counted)
        left.push(js`if (machine.removed.has(${piece})) witness.winsByRemoval(${this.index(fitting)});`);
    }
    if (rule.result === 'won' && at.keptSlot(at.won[this.bottom]!)) {
      left.push(this.setOwn('won', this.bottom, wonSlot, 1));
    }
    if (rule.result) left.push(this.put(at.over, 1), this.put(at.last, outcomes.indexOf(rule.result)));
    return joined(left, ' ');
  }

  // ---- what differs from a step ------------------------------------------------------------------------------------

  protected notes(index: Code): Code {
    return js`if (machine.firings === ${mostFirings}) machine.never(${index});\nmachine.series[machine.firings++] = ${index};`;
  }

  protected heard() {
    const after = 'if (queue.length > 0 && machine.hearAll()) return true;';
    return this.signals ? { before: 'const waiting = queue.length;', after } : { before: '', after: '' };
  }

  protected firesInPass(): string {
    return 'any = true;';
  }

  frameSlot(slots: number[]): Code {
    if (!this.upper) return slotOf(slots[0]!);
    return js`slots[[${slots.map((slot) => slot ?? 0).join()}][${this.depth} - 1]]`;
  }

  protected progress(): Code {
    const { progress } = this.sheet.at.levels[this.bottom]!;
    return `(machine.progress < 0 ? ${progress} : machine.progress)`;
  }

  protected touches({ progress, spot }: Checkpoint): Code {
    return js`machine.progress = ${progress}; machine.checkpointSpot = ${spot};`;
  }

  protected checkpointSpot(usual: Code): Code {
    return js`(machine.checkpointSpot < 0 ? ${usual} : machine.checkpointSpot)`;
  }

  protected setOwn(kind: string, place: number, of: (at: Layout, place: number) => number, to: number): Code {
    return js`slots[${this.ofPlace(kind, place, of)}] = ${to};`;
  }

  protected writes(): void {
    // all slots are packed
  }

  private dropUpper(): Code {
    return this.sheet.at.keptSlot(this.sheet.at.depth) ? js`if (${this.depth} > 1) machine.frames.popUpper();` : '';
  }
}

const block = (read: Code) => js`() => {\n${read}\nreturn false;\n}`;
