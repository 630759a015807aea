/**
 * The code of places, and of their events, as it was written for earlier checks: after an edit most of it is the same, and
 * to see so takes less time than to write it. It is the same where all is that it was written from: how a state is laid
 * out and what stands in the document beside rules, the rules that stand in it, and the pieces of the places that do.
 */
import type { Id, Level } from '../../document/types.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Self } from './own.ts';
import type { Sheet } from './sheet.ts';

/** Text made of rules; of `stood`, other places, too: of what is read when they are entered, and of their pieces. */
interface Written {
  stood: number[];
}

/** What a text was written from beside that: whose it is, the place at the bottom, and the rules that stand in it. */
export interface From {
  self: Self;
  bottom: number;
  rules: FittingRule[];
  /** What else of them counts. */
  how?: string;
}

/** By what it is of: what was written, and all that it was written from, as text. */
type Known = Map<string, { written: Written; from: string }>;

const most = 4;

/** What is remembered from check to check. */
export class Codes {
  /** Of the flows that were checked last, by what is the same for all their places; the last one last. */
  private readonly flows = new Map<string, Known>();

  of(sheet: Sheet): KnownCodes {
    const { flows } = this;
    const layout = layoutText(sheet);
    const known: Known = flows.get(layout) ?? new Map();
    flows.delete(layout);
    flows.set(layout, known);
    if (flows.size > most) flows.delete([...flows.keys()][0]!);
    return new KnownCodes(sheet, known);
  }
}

export class KnownCodes {
  /** By rule: all that counts of it. By place: all that counts where it is entered on the way. */
  private readonly texts = new Map<Id, string>();
  private readonly entered = new Map<number, string>();

  constructor(
    private readonly sheet: Sheet,
    private readonly known: Known
  ) {}

  /** What was written before under a key, if it would be the same now. */
  find<T extends Written>(key: string, from: From): T | undefined {
    const known = this.known.get(key);
    return known?.from === this.textOf(from, known?.written.stood ?? []) ? (known?.written as T) : undefined;
  }

  keep(key: string, written: Written, from: From): void {
    this.known.set(key, { written, from: this.textOf(from, written.stood) });
  }

  private textOf({ self, bottom, rules, how = '' }: From, stood: number[]): string {
    const own = rules.map((rule) => `${self.rules.indexOf(rule)} ${this.textOfRule(rule)}`);
    return [how, ...own, this.textOfPieces(bottom), ...stood.map((place) => this.textOfEntered(place))].join('\n');
  }

  /** Of a place that is entered on the way only what is read then, and its pieces. */
  private textOfEntered(place: number): string {
    let text = this.entered.get(place);
    if (text === undefined) {
      const { at, flow } = this.sheet;
      const { arrive, holds } = flow.applying(at.placeIds[place]!, at.placeIds[place]!).by;
      text = [...arrive, ...holds].map((rule) => this.textOfRule(rule)).join('\n') + this.textOfPieces(place);
      this.entered.set(place, text);
    }
    return text;
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
