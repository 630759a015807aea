/**
 * The code of places, and of their events, as it was written for earlier checks: after an edit most of it is the same, and
 * to see so takes less time than to write it. It is the same where all is that it was written from: how a state is laid
 * out and what stands in the document beside rules, the rules that stand in it, and the pieces of the places that do.
 */
import type { Id, Level } from '../../document/types.ts';
import type { FittingRule } from '../../play/fit.ts';
import type { Self } from './own.ts';
import type { PlaceCode, EventCode } from './code.ts';
import type { Sheet } from './sheet.ts';

/** What code was written from beside other places that stand in it: whose it is, the place at the bottom, and its rules. */
export interface From {
  self: Self;
  bottom: number;
  rules: FittingRule[];
  /** What else of them counts. */
  how?: string;
}

/** Code, and all that it was written from, as text. */
interface Written<Made> {
  made: Made;
  from: string;
}

/** A place over a bottom place, with its events. */
interface KnownPlace extends Written<PlaceCode> {
  events: Map<string, Written<EventCode>>;
}

type KnownPlaces = Map<string, KnownPlace>;

const most = 4;

/** What is remembered from check to check. */
export class Codes {
  /** Of the flows that were checked last, by what is the same for all their places; the last one last. */
  private readonly flows = new Map<string, KnownPlaces>();

  of(sheet: Sheet): KnownCodes {
    const { flows } = this;
    const layout = layoutText(sheet);
    const places: KnownPlaces = flows.get(layout) ?? new Map();
    flows.delete(layout);
    flows.set(layout, places);
    if (flows.size > most) flows.delete([...flows.keys()][0]!);
    return new KnownCodes(sheet, places);
  }
}

export class KnownCodes {
  /** By rule: all that counts of it. By place: all that counts where it is entered on the way. */
  private readonly texts = new Map<Id, string>();
  private readonly entered = new Map<number, string>();
  /** The events of the place that is being written: of those before only what is still there is kept. */
  private events: KnownPlace['events'] = new Map();

  constructor(
    private readonly sheet: Sheet,
    private readonly places: KnownPlaces
  ) {}

  /** The code of a place that was written before, if it would be the same now. */
  find(from: From): PlaceCode | undefined {
    return this.same(this.places.get(keyOf(from)), from);
  }

  /** The place has been written, and before it its events, or those of a place that it is built like. */
  keep(code: PlaceCode, from: From): void {
    this.places.set(keyOf(from), { made: code, from: this.textOf(from, code.stood), events: this.events });
    this.events = new Map();
  }

  /** The same of an event of the place that is being written: what was written before, or is now. */
  event(name: string, from: From, write: () => EventCode): EventCode {
    const made = this.same(this.places.get(keyOf(from))?.events.get(name), from) ?? write();
    this.events.set(name, { made, from: this.textOf(from, made.stood) });
    return made;
  }

  private same<Made extends { stood: number[] }>(known: Written<Made> | undefined, from: From): Made | undefined {
    return known && known.from === this.textOf(from, known.made.stood) ? known.made : undefined;
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
    const {
      pieces = {},
      objectives = {},
      progress,
      spots = {},
      passages = {}
    } = flow.document.places[at.placeIds[level]!] as Partial<Level>;
    const slots = at.levels[level];
    // ids, words of the format and numbers: nothing in them is a separator
    const each = Object.keys(pieces).map((id) => {
      const { kind, count, renew, progress: own } = pieces[id]!;
      return [
        id,
        kind,
        count,
        renew,
        own,
        ...(slots?.pieces.get(id)?.heaps ?? []).map(({ slot, key }) => `${key}:${slot}`)
      ].join();
    });
    const here = slots?.here.map(({ slot, count }) => `${slot}:${count}`);
    const saved = slots?.attemptPieces.map(({ slot, saved: copy }) => `${slot}:${copy}`);
    const asked = Object.values(objectives).map(({ met }) => met);
    const ground = Object.keys(spots).length > 0 ? [JSON.stringify([pieces, passages])] : [];
    return [progress, each.join(' '), here?.join(' '), saved?.join(' '), ...asked, ...ground].join('|');
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

const keyOf = ({ self, bottom }: From) => `${self.place} ${bottom}`;

/** All that any code of a flow depends on beside what `KnownCodes` compares for each place. */
function layoutText({ at, flow, goesLate, heard, removable, leavesBehind, meetable }: Sheet): string {
  const { orders, variables, numbers, groups, places } = flow.document;
  const { levels: _levels, placeIndex: _index, packing, ...layout } = at;
  const { fields, words, renewed } = packing;
  return JSON.stringify(
    [
      goesLate,
      leavesBehind,
      meetable,
      removable,
      orders,
      variables,
      numbers,
      heard,
      Object.keys(groups),
      Object.entries(places).map(([id, place]) => {
        const { goal, group, entries } = place as Partial<Level>;
        return [id, place.kind, goal, group, Object.entries(entries ?? {}).map(([entry, { spot }]) => [entry, spot])];
      }),
      layout,
      Array.from(at.initial, (_, slot) => Number(at.keptSlot(slot)) + 2 * Number(packing.says(slot))).join(''),
      fields,
      words,
      renewed
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
