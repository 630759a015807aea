/**
 * The code of what happens in a place over a bottom place, of numbers alone; here what all of it is written with.
 *
 * What it is given: `slots`; the words of the state `base` that events are run from and of the `next` one; the `watcher`, who
 * is told of the ends of events, and the `witness`, who is of what is seen first; the `machine`; moves along `orders`; the
 * `queue` of signals; by choice variable the numbers of its `choices`, and their `indexes`. By rule it notes that its trigger `happened`, that it `wasTrue`, `wasFalse`, is known
 * to have `fired`; by place, that it is known to be `completed`, `entered` and `passed`; by assignment, that it is known to be
 * `clamped`; and the last value of each of the `terms` of conditions. What is this place's own (which rules, which place) are
 * its `own` numbers, so that levels built alike share their code.
 */
import type { Expression } from '../../language/ast.ts';
import type { Asking } from '../../play/fit.ts';
import type { Applying } from '../../play/flow.ts';
import { codeOf, type Names } from './expressions.ts';
import { set, slot as slotOf, type Code } from './instructions.ts';
import type { Layout } from './layout.ts';
import { placeNumber, ruleNumber, type Own, type Self } from './own.ts';
import type { Sheet } from './sheet.ts';

export abstract class PlaceCode {
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

  /** The code of the slot of this place's frame. */
  abstract frameSlot(slots: number[]): Code;
  /** The progress that a save takes, and the spot at which its entry arrives, where that is not the usual one. */
  protected abstract progress(): Code;
  protected abstract checkpointSpot(usual: Code): Code;
  /** A slot is written in the text that is being made. */
  protected abstract writes(slot: number): void;
  /** Sets a slot that is a place's own. */
  protected abstract setOwn(kind: string, place: number, of: (at: Layout, place: number) => number, to: number): Code;

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
  protected ofRule(kind: string, rule: Asking, of: (sheet: Sheet, rule: Asking) => number): Code {
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
}
