/**
 * The code of rules on all slots, with the machine (what its names mean: rule-code.ts): how a place is entered, and the
 * events that cannot be written as steps.
 */
import type { Id, Target } from '../../document/types.ts';
import { targetMisfit, type FittingRule } from '../../play/fit.ts';
import { mostFirings } from '../../play/handle.ts';
import { mostFrames } from '../../play/move.ts';
import type { Happening } from './happenings.ts';
import { Own, wonSlot, type Self } from './own.ts';
import type { Layout } from './layout.ts';
import { RuleCode } from './rule-code.ts';
import type { Sheet } from './sheet.ts';

const no = '() => false';

export class SlotCode extends RuleCode {
  private readonly depth: string;
  /** Whether the frame of this place can be another than the lowest. */
  private readonly upper: boolean;
  private readonly signals: boolean;
  /** How the reading ends when a rule leaves. */
  private leave = 'return true;';

  constructor(sheet: Sheet, self: Self, bottom: number) {
    super(sheet, new Own(), self, bottom);
    this.depth = `v[${sheet.at.depth}]`;
    this.upper = sheet.at.openable.has(self.place);
    this.signals = Object.keys(sheet.flow.document.signals).length > 0;
  }

  /** How the place is entered, and what is read then and whenever something has happened. */
  entrance(): string {
    const { by } = this.applying;
    const pass = by.holds.length > 0 ? `() => {\nlet fired = false;\n${this.passing(by.holds)}\nreturn fired;\n}` : no;
    const arrive = by.arrive.length > 0 ? block(this.read(by.arrive)) : no;
    const hear = Object.keys(this.sheet.flow.document.signals).map((signal) => {
      const rules = by.hear.filter(({ rule }) => 'hear' in rule.when && rule.when.hear === signal);
      return rules.length > 0 ? block(this.read(rules)) : no;
    });
    const enter = this.place === this.bottom ? `${this.dropUpper()}\n${this.entering('o', 'p', 'saved')}` : '';
    return `{ pass: ${pass},
enter: (o, p, saved) => {\n${enter}\n},
arrive: ${arrive},
hear: [${hear.join(',\n')}] }`;
  }

  /** An event. One that changes nothing leads back to where it began. */
  event({ when, lowers, raises, progress, rules, chosen }: Happening): string {
    this.leave = 'break rules;';
    const first =
      lowers !== undefined
        ? `v[${lowers}]--;`
        : raises !== undefined
          ? `const passed = ${this.frameSlot(this.sheet.at.phase)}++;`
          : progress !== undefined
            ? `m.progress = ${progress};`
            : '';
    const changes = lowers !== undefined || raises !== undefined;
    const read = rules.map(({ matching, deadline }) => {
      if (chosen !== undefined) return this.fire(matching[0]!, chosen);
      return deadline === undefined ? this.read(matching) : `if (passed === ${deadline}) {\n${this.read(matching)}\n}`;
    });
    return `(i, o) => {
m.ready();
if (!(${when(this)})) return;
let whole = true; ${first}
try { rules: {\n${read.join('\n')}\n} } catch (error) { whole = m.caught(error); }
${changes || progress !== undefined ? '' : 'if (m.firings !== 0) '}m.ended(i, whole);
}`;
  }

  // ---- moving ------------------------------------------------------------------------------------------------------

  protected move(rule: FittingRule, target: Target, chosen: number): string {
    const { flow, at } = this.sheet;
    const { document } = flow;
    if (targetMisfit(document, target, '')) return '';
    const index = this.index(rule);
    const leave = (afresh: boolean, to: string, go: string) => `${this.leaving(rule, afresh, to)}${go} ${this.leave}`;
    const afresh = (to: string, order: number | string = -1, position = '-1', saved = 0, back = false) =>
      leave(true, to, `m.enter(${to}, ${order}, ${position}, ${saved}, ${back}, ${index});`);
    if ('place' in target) {
      const to = this.placed(at.placeIndex.get(target.place)!);
      if (!target.over) return `{ ${afresh(to)} }`;
      return `if (${this.depth} < ${mostFrames}) { ${leave(false, to, `m.open(${to});`)} }`;
    }
    switch (target.move) {
      case 'back':
        return `if (${this.depth} > 1) { ${leave(false, '', 'm.back();')} }`;
      case 'again':
        return `if (v[${at.latest}] !== 0) { ${afresh(`v[${at.latest}] - 1`, -1, '-1', 0, true)} }`;
      case 'resume':
      case 'load': {
        const saved = target.move === 'load' ? 2 : 1;
        return `if (v[${at.bookLevel}] !== 0) { ${afresh(`v[${at.bookLevel}] - 1`, -1, '-1', saved, true)} }`;
      }
      case 'chosen':
        if (chosen < 0) return '';
        return `{ ${afresh(this.placed(chosen), Object.keys(document.orders).indexOf((rule.rule.when as { choose: Id }).choose))} }`;
      case 'next':
      case 'previous':
      case 'first':
      case 'last': {
        const along = this.along(target);
        if (!along) return '';
        return `if (O.along(${along.step}, ${along.order})) { ${afresh('O.to', 'O.order', 'O.position')} }`;
      }
    }
  }

  /** What a move means for the attempt, before it is made. `to` is where a move that enters afresh goes. */
  private leaving({ rule }: FittingRule, afresh: boolean, to: string): string {
    const { flow, at } = this.sheet;
    const lines: string[] = [];
    if (this.signals) lines.push('if (waiting > 0) Q.splice(0, waiting);');
    const level = flow.document.places[at.placeIds[this.bottom]!]!;
    if (level.kind === 'level') {
      const here = this.placed(this.bottom);
      const leaves = afresh ? `${to} !== ${here}` : 'false';
      const completes = level.goal === 'leave' ? leaves : String(rule.result === 'won');
      const ends = rule.result ? 'true' : leaves;
      const told = `if (${completes}) m.completes(${here}); if (${ends}) m.ends();`;
      lines.push(this.upper || this.place !== this.bottom ? `if (${this.depth} === 1) { ${told} }` : told);
    }
    if (rule.result === 'won' && at.keptSlot(at.won[this.bottom]!)) {
      lines.push(`${this.ownSlot('won', this.bottom, wonSlot)} = 1;`);
    }
    if (rule.result) lines.push(this.put(at.over, 1));
    return lines.join(' ');
  }

  // ---- what differs from a step ------------------------------------------------------------------------------------

  protected notes(index: string): string {
    return `if (m.firings === ${mostFirings}) m.never(${index});\nm.series[m.firings++] = ${index};`;
  }

  protected heard() {
    const after = 'if (Q.length > 0 && m.hearAll()) return true;';
    return this.signals ? { before: 'const waiting = Q.length;', after } : { before: '', after: '' };
  }

  protected firesInPass(): string {
    return 'fired = true;';
  }

  frameSlot(slots: number[]): string {
    if (!this.upper) return `v[${slots[0]!}]`;
    return `v[[${slots.map((slot) => slot ?? 0).join()}][${this.depth} - 1]]`;
  }

  protected progress(): string {
    const { progress } = this.sheet.at.levels[this.bottom]!;
    return `(m.progress < 0 ? ${progress} : m.progress)`;
  }

  protected ownSlot(kind: string, place: number, of: (at: Layout, place: number) => number): string {
    return `v[${this.ofPlace(kind, place, of)}]`;
  }

  protected writes(): void {
    // all slots are packed
  }

  private dropUpper(): string {
    return this.sheet.at.keptSlot(this.sheet.at.depth) ? `if (${this.depth} > 1) m.dropUpper();` : '';
  }
}

const block = (lines: string) => `() => {\n${lines}\nreturn false;\n}`;
