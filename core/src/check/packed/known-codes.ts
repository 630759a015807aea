/**
 * The code of places as it was written for earlier checks: after an edit that is the same for most places, and writing
 * it anew takes longer than to see so. It is the same where all is that it was written from: how a state is laid out and
 * what stands in the document beside rules, and the rules and pieces of each place that was looked at for it.
 */
import type { Id, Level } from '../../document/types.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Code } from './pair-code.ts';
import type { Sheet } from './sheet.ts';

/** By place over bottom place: its code, and what it was written from. */
type Written = Map<string, { code: Code; from: string }>;

const most = 4;

/** What is remembered from check to check. */
export class Codes {
  /** Of the flows that were checked last, by what is the same for all their places; the last one last. */
  private readonly flows = new Map<string, Written>();

  of(sheet: Sheet): KnownCodes {
    const { flows } = this;
    const layout = layoutText(sheet);
    const written: Written = flows.get(layout) ?? new Map();
    flows.delete(layout);
    flows.set(layout, written);
    if (flows.size > most) flows.delete([...flows.keys()][0]!);
    return new KnownCodes(sheet, written);
  }
}

export class KnownCodes {
  /** By rule: all that counts of it. */
  private readonly texts = new Map<Id, string>();

  constructor(
    private readonly sheet: Sheet,
    private readonly written: Written
  ) {}

  find(place: number, bottom: number): Code | undefined {
    const known = this.written.get(`${place} ${bottom}`);
    return known && known.from === this.fromOf(place, bottom, known.code) ? known.code : undefined;
  }

  keep(place: number, bottom: number, code: Code): void {
    this.written.set(`${place} ${bottom}`, { code, from: this.fromOf(place, bottom, code) });
  }

  private fromOf(place: number, bottom: number, { stood }: Code): string {
    const own = this.textOf(place, bottom, () => true);
    // of places that are entered on the way only what is read then
    const entered = stood.map((other) => this.textOf(other, other, ({ rule: { when } }) => 'arrive' in when || 'holds' in when));
    return [own, ...entered].join('\n');
  }

  /** The rules of a place over a bottom place, those that count, and the pieces there. */
  private textOf(place: number, bottom: number, counts: (rule: FittingRule) => boolean): string {
    const { at, flow } = this.sheet;
    const { all } = flow.applying(at.placeIds[place]!, at.placeIds[bottom]!);
    const rules = all.filter(counts).map((rule) => this.textOfRule(rule));
    return [...rules, this.textOfPieces(bottom)].join('\n');
  }

  private textOfPieces(level: number): string {
    const { at, flow } = this.sheet;
    const { pieces = {}, progress } = flow.document.places[at.placeIds[level]!] as Partial<Level>;
    const slots = at.levels[level];
    // ids, words of the format and numbers: nothing in them is a separator
    const each = Object.keys(pieces).map((id) => {
      const { kind, count, renew, progress: own } = pieces[id]!;
      return [id, kind, count, renew, own, slots?.pieces.get(id)?.slot].join();
    });
    const here = slots?.here.map(({ slot, count }) => `${slot}:${count}`);
    const saved = slots?.attemptPieces.map(({ slot, saved: copy }) => `${slot}:${copy}`);
    return [progress, each.join(' '), here?.join(' '), saved?.join(' ')].join('|');
  }

  private textOfRule({ rule }: FittingRule): string {
    let text = this.texts.get(rule.id);
    if (text === undefined) {
      const { id, when, if: condition, do: effects, go, result } = rule;
      this.texts.set(id, (text = JSON.stringify([id, when, condition, effects, go, result])));
    }
    return text;
  }
}

/** All that any code of a flow depends on beside what `KnownCodes` compares for each place. */
function layoutText({ at, flow, goesLate }: Sheet): string {
  const { orders, variables, signals, groups, places } = flow.document;
  const { levels: _levels, placeIndex: _index, packing, ...layout } = at;
  const { fields, words, renews } = packing;
  return JSON.stringify(
    [
      goesLate,
      orders,
      variables,
      [signals, groups].map((map) => Object.keys(map)),
      Object.entries(places).map(([id, place]) => {
        const { goal, group, entries } = place as Partial<Level>;
        return [id, place.kind, goal, group, Object.keys(entries ?? {})];
      }),
      layout,
      Array.from(at.initial, (_, slot) => Number(at.keptSlot(slot)) + 2 * Number(packing.says(slot))).join(''),
      fields,
      words,
      renews
    ],
    plainly
  );
}

/** Maps and the like as lists, and no words. */
function plainly(key: string, value: unknown): unknown {
  if (key === 'name' || key === 'brief') return typeof value === 'string' ? undefined : value;
  if (value instanceof Map || value instanceof Set || value instanceof Int32Array) return [...(value as Iterable<unknown>)];
  return value;
}
