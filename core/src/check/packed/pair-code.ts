/**
 * The code of a place over a bottom place: its events, the rules it reads, and how it is entered (what its names mean:
 * rule-code.ts). An event that can be written as a step from words to words is (step-code.ts); the others work on all
 * slots, with the machine.
 */
import { canHappenTo, isLevel, usedUp, type Id, type Level, type Target } from '../../document/types.ts';
import { targetMisfit, type FittingRule } from '../../play/fit.ts';
import { mostFirings } from '../../play/handle.ts';
import { mostFrames } from '../../play/move.ts';
import type { Event } from '../../play/turn.ts';
import { codeOf } from './expressions.ts';
import type { Sheet } from './pair.ts';
import { Own, RuleCode, type Self } from './rule-code.ts';
import { StepCode } from './step-code.ts';

/** An event that can happen: when, what happens before rules are read, and which rules these are. */
export interface Happening {
  event: Event;
  when: string;
  /** The used-up piece that is one fewer, or the deadline that passes: its slot. */
  lowers?: number;
  raises?: number;
  /** The progress of the checkpoint that is touched. */
  progress?: number;
  rules: { matching: FittingRule[]; deadline?: number }[];
  /** The level that the only rule goes to when it says `chosen`. */
  chosen?: number;
}

const no = '() => false';

/** As long as a function may be to be made fast; the events of a place are as many functions as that takes. */
const longest = 12_000;

export class PairCode extends RuleCode {
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

  text(): { events: Event[]; body: string; own: Own } {
    const { by } = this.applying;
    const happenings = this.happenings();
    const steps = new StepCode(this.sheet, this.own, this.self, this.bottom);
    const parts: { texts: string[]; length: number }[] = [];
    happenings.forEach((happening, index) => {
      const text = (this.upper ? undefined : steps.event(happening, index)) ?? this.event(happening, index);
      let part = parts.at(-1);
      if (!part || part.length > longest) parts.push((part = { texts: [], length: 0 }));
      part.texts.push(text);
      part.length += text.length;
    });
    this.leave = 'return true;';
    const pass = by.holds.length > 0 ? `() => {\nlet fired = false;\n${this.passing(by.holds)}\nreturn fired;\n}` : no;
    const arrive = by.arrive.length > 0 ? block(this.read(by.arrive)) : no;
    const hear = Object.keys(this.sheet.flow.document.signals).map((signal) => {
      const rules = by.hear.filter(({ rule }) => 'hear' in rule.when && rule.when.hear === signal);
      return rules.length > 0 ? block(this.read(rules)) : no;
    });
    const functions = parts.map(({ texts }, n) => `const run${n} = (only) => {\n${this.reading(steps, texts.join('\n'))}\n};\n`);
    const run = parts.length === 1 ? 'run0' : `(only) => { ${parts.map((_, n) => `run${n}(only);`).join(' ')} }`;
    const enter = this.place === this.bottom ? `${this.dropUpper()}\n${this.entering('o', 'p', 'saved')}` : '';
    const body = `const pass = ${pass};
${functions.join('')}return {
pass,
can: [${happenings.map(({ when }) => `() => ${when}`).join(',\n')}],
run: ${run},
enter: (o, p, saved) => {\n${enter}\n},
arrive: ${arrive},
hear: [${hear.join(',\n')}]
};`;
    const names = this.own.numbers.map((_, n) => `k${n} = k[${n}]`);
    return {
      events: happenings.map(({ event }) => event),
      body: names.length > 0 ? `const ${names.join(', ')};\n${body}` : body,
      own: this.own
    };
  }

  /** Events with what they need at first: of steps the words, of the others all slots. */
  private reading(steps: StepCode, text: string): string {
    const words = Array.from({ length: this.sheet.at.packing.words }, (_, word) => `w${word} = B[${word}]`).join(', ');
    const begun = this.upper ? `m.load();\n${text}` : `const ${words};\n${steps.reading(text)}`;
    return begun.replaceAll('V[', 'v[');
  }

  // ---- events ------------------------------------------------------------------------------------------------------

  private happenings(): Happening[] {
    const { at, flow } = this.sheet;
    const { by, deadlines, labels } = this.applying;
    const level = flow.document.places[at.placeIds[this.place]!]!;
    const pressed = labels.map((press): Happening => {
      const matching = by.press.filter(({ rule }) => 'press' in rule.when && rule.when.press === press);
      return { event: { press }, when: 'true', rules: [{ matching }] };
    });
    const phase = this.frameSlot(at.phase);
    const passes: Happening = {
      event: { time: true },
      when: `${phase} < ${deadlines.length}`,
      raises: at.phase[0]!,
      rules: deadlines.map((seconds, deadline) => ({
        deadline,
        matching: by.after.filter(({ rule }) => 'after' in rule.when && rule.when.after === seconds)
      }))
    };
    return [
      ...pressed,
      ...(level.kind === 'level' ? this.pieceEvents(level) : []),
      ...by.choose.flatMap((rule) => this.choices(rule)),
      ...(deadlines.length > 0 ? [passes] : [])
    ];
  }

  private pieceEvents(level: Level): Happening[] {
    const { at } = this.sheet;
    const { by } = this.applying;
    const { pieces } = at.levels[this.place]!;
    const players = Object.keys(level.pieces)
      .filter((id) => level.pieces[id]!.kind === 'player')
      .map((id) => `v[${pieces.get(id)!.slot}] > 0`);
    const someoneUp = players.length === 0 ? 'true' : `(${players.join(' || ')})`;
    return Object.entries(level.pieces).flatMap(([id, piece]) => {
      const slot = usedUp(piece) ? pieces.get(id)!.slot : undefined;
      const there = slot === undefined ? 'true' : `v[${slot}] > 0`;
      return (['touch', 'collect', 'defeat'] as const).flatMap((trigger): Happening[] => {
        if (!canHappenTo(trigger, piece.kind)) return [];
        const matching = by[trigger].filter(({ rule }) => (rule.when as Record<string, unknown>)[trigger] === id);
        // what is not kept makes no difference: taking it unheard leads back to the same state
        const lowers = slot !== undefined && trigger !== 'touch' && at.keptSlot(slot);
        if (matching.length === 0 && !lowers) return [];
        const needsPlayer = trigger !== 'defeat' || piece.kind !== 'player';
        return [
          {
            event: { [trigger]: id } as unknown as Event,
            when: needsPlayer ? `${there} && ${someoneUp}` : there,
            ...(lowers
              ? { lowers: slot }
              : piece.kind === 'checkpoint'
                ? { progress: piece.progress ?? level.progress ?? 0 }
                : {}),
            rules: [{ matching }]
          }
        ];
      });
    });
  }

  private choices(rule: FittingRule): Happening[] {
    const { at, flow, naming } = this.sheet;
    const { document } = flow;
    const { levels } = document.orders[(rule.rule.when as { choose: Id }).choose]!;
    const index = this.index(rule);
    return levels.flatMap((id, n) => {
      if (!isLevel(document, id)) return [];
      const previous = n === 0 ? 'true' : naming.won(levels[n - 1]!);
      const candidate = { it: naming.won(id), previous, position: n + 1 };
      const condition = rule.condition ? codeOf(rule.condition, { ...this.names, candidate }).code : 'true';
      const when = `(H[${index}] = 1, ${condition} ? (T[${index}] = 1, true) : (N[${index}] = 1, false))`;
      return [{ event: { choose: id, rule: rule.id }, when, rules: [{ matching: [rule] }], chosen: at.placeIndex.get(id)! }];
    });
  }

  /** An event on all slots. One that changes nothing leads back to where it began. */
  private event(happening: Happening, index: number): string {
    const { when, lowers, raises, progress, rules, chosen } = happening;
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
    const text = `m.ready(); let whole = true; ${first}
try { rules: {\n${read.join('\n')}\n} } catch (error) { whole = m.caught(error); }
${changes || progress !== undefined ? '' : 'if (m.firings !== 0) '}m.ended(${index}, whole);`;
    return `if ((only < 0 || only === ${index}) && ${when}) {\n${text.replaceAll('v[', 'V[')}\n}`;
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
      default: {
        const orders = Object.keys(document.orders);
        if (orders.length === 0) return '';
        const order = target.order === undefined ? -1 : orders.indexOf(target.order);
        const step = ['next', 'previous', 'first', 'last'].indexOf(target.move);
        return `if (m.along(${step}, ${order})) { ${afresh('m.to', 'm.order', 'm.position')} }`;
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
      lines.push(`${this.ownSlot('won', this.bottom, (place) => at.won[place]!)} = 1;`);
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

  protected frameSlot(slots: number[]): string {
    if (!this.upper) return `v[${slots[0]!}]`;
    return `v[[${slots.map((slot) => slot ?? 0).join()}][${this.depth} - 1]]`;
  }

  protected progress(): string {
    const { progress } = this.sheet.at.levels[this.bottom]!;
    return `(m.progress < 0 ? ${progress} : m.progress)`;
  }

  protected ownSlot(kind: string, place: number, of: (place: number) => number): string {
    return `v[${this.ofPlace(kind, place, of)}]`;
  }

  protected standInRow(order: number, by: string, to: string): string {
    return `m.standIn(${order}, ${this.placed(this.place)}, ${by}, ${to});`;
  }

  protected writes(): void {
    // all slots are packed
  }

  private dropUpper(): string {
    return this.sheet.at.keptSlot(this.sheet.at.depth) ? `if (${this.depth} > 1) m.dropUpper();` : '';
  }
}

const block = (lines: string) => `() => {\n${lines}\nreturn false;\n}`;
