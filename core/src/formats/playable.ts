/** What of a flow its players need: all that play reads, and nothing that a designer notes. */
import type { FlowDocument, Id, Level, Place, Rule } from '../document/types.ts';

type Noted = 'brief' | 'note' | 'expects' | 'estimate' | 'load' | 'uses' | 'tags' | 'look';

/** The document without its briefs, notes, runs, and whatever else means nothing for play. */
export function playable(document: FlowDocument): FlowDocument {
  const { brief: _brief, limit: _limit, ...rest } = document;
  return {
    ...rest,
    variables: each(document.variables, plain),
    numbers: each(document.numbers, plain),
    signals: each(document.signals, plain),
    orders: each(document.orders, plain),
    groups: each(document.groups, (group) => ({ ...plain(group), rules: rulesOf(group.rules) })),
    places: each(document.places, placeOf),
    rules: rulesOf(document.rules),
    assets: {},
    accepted: [],
    runs: {}
  };
}

const noted: ReadonlySet<string> = new Set<Noted>(['brief', 'note', 'expects', 'estimate', 'load', 'uses', 'tags', 'look']);

/** A thing without what is noted of it; what it holds by id is left as it is. */
const plain = <T extends object>(thing: T): T =>
  Object.fromEntries(Object.entries(thing).filter(([key]) => !noted.has(key))) as T;

const each = <T>(map: Record<Id, T>, of: (value: T) => T): Record<Id, T> =>
  Object.fromEntries(Object.entries(map).map(([id, value]) => [id, of(value)]));

const rulesOf = (rules: Rule[]): Rule[] => rules.map(plain);

function placeOf(place: Place): Place {
  const base = { ...plain(place), rules: rulesOf(place.rules), expects: [] };
  return base.kind === 'level' ? levelOf(base) : base;
}

const levelOf = (level: Level): Level => ({
  ...level,
  entries: each(level.entries, plain),
  pieces: each(level.pieces, plain),
  spots: each(level.spots, plain),
  passages: each(level.passages, plain)
});
