/** What is loaded: by places, by groups and in the whole, each shared asset once in each. */
import { limitsOf, type LoadedPart } from '../document/edits/levels.ts';
import { own, type FlowDocument, type Id, type Load, type Place } from '../document/types.ts';

export interface LoadRow {
  of: LoadedPart;
  /** Of a place or a group. */
  id?: Id;
  name: string;
  /** The shared assets that are loaded with it, each counted once. */
  assets: Id[];
  sum: Required<Load>;
  /** The most there may be, where that is said. */
  most: Load;
  /** What is more than that. */
  over: (keyof Load)[];
}

/** The whole, the groups and the places. */
export function loadRows(document: FlowDocument): LoadRow[] {
  const { places, groups } = document;
  const limits = limitsOf(document);
  const all = Object.entries(places);
  const row = (of: LoadedPart, name: string, loaded: Place[], assets: Id[], id?: Id): LoadRow => {
    const used = [...new Set([...assets, ...loaded.flatMap(({ uses = [] }) => uses)])];
    const shared = used.map((asset) => own(document.assets, asset)?.megabytes ?? 0);
    const sum = {
      megabytes: total([...loaded.map(({ load }) => load?.megabytes ?? 0), ...shared]),
      seconds: total(loaded.map(({ load }) => load?.seconds ?? 0))
    };
    const most = limits[of];
    const over = measures.filter((what) => most[what] !== undefined && sum[what] > most[what]);
    return { of, ...(id !== undefined && { id }), name, assets: used, sum, most, over };
  };
  const ofGroups = Object.values(groups).flatMap(({ uses = [] }) => uses);
  return [
    row('whole', 'The whole', Object.values(places), ofGroups),
    ...Object.entries(groups).map(([id, { name, uses = [] }]) => {
      const members = all.flatMap(([, place]) => (place.kind === 'level' && place.group === id ? [place] : []));
      return row('group', name, members, uses, id);
    }),
    ...all.map(([id, place]) => row('place', place.name, [place], [], id))
  ];
}

export const measures = ['megabytes', 'seconds'] as const satisfies (keyof Load)[];
export const unitOf = { megabytes: 'MB', seconds: 's' } as const;

/** Sums of tenths are not to show what binary fractions make of them. */
const total = (numbers: number[]) => Number(numbers.reduce((sum, each) => sum + each, 0).toPrecision(12));
