/** Random walks: many games played at random, and what comes of them. */
import { levelsOf, own, ruleLists, type FlowDocument, type Id, type Event } from '../document/types.ts';
import { eventsIn } from '../play/events.ts';
import { prepare } from '../play/flow.ts';
import { beginOnce, handleOnce } from '../play/handle.ts';
import { canHappenTo, deedKinds, eventKind } from '../vocabulary/triggers.ts';
import { randomFrom } from '../document/random.ts';

export interface Walks {
  /** Games played, and of these those that were given up after `most` events. */
  games: number;
  unended: number;
  /** By ending: in how many games it was reached. */
  endings: Record<Id, number>;
  /** By place: in how many games it was entered at least once. */
  places: Record<Id, number>;
  /** The number of events of each game, in the order played. */
  lengths: number[];
}

/** How likely each kind of event is beside the others, by `kindOf`; 1 where nothing is said, 0 for never. */
export type Weights = Record<string, number>;

/** What an event is weighed as: "press Begin", "touch water", "time". */
export function kindOf(event: Event): string {
  const kind = eventKind(event);
  return kind === 'time' ? kind : `${kind} ${(event as Record<string, unknown>)[kind] as string}`;
}

/** All kinds of event that a document's places can have. */
export function kindsIn(document: FlowDocument): string[] {
  const kinds = new Set<string>();
  for (const { rules } of ruleLists(document))
    for (const { when } of rules) {
      if ('press' in when) kinds.add(kindOf(when));
      if ('after' in when) kinds.add('time');
      if ('every' in when) kinds.add(kindOf(when));
      if ('choose' in when) for (const level of own(document.orders, when.choose)?.levels ?? []) kinds.add(`choose ${level}`);
    }
  for (const [, { pieces, passages }] of levelsOf(document)) {
    for (const walk of Object.keys(passages)) kinds.add(kindOf({ walk }));
    for (const [id, piece] of Object.entries(pieces))
      for (const deed of deedKinds) if (canHappenTo(deed, piece.kind)) kinds.add(`${deed} ${id}`);
  }
  return [...kinds];
}

/**
 * Plays games with what can be done equally likely each time, or as likely as it weighs, until an ending is entered,
 * nothing is left that may be done, or `most` events are done. The same seed plays the same games. A generator: it gives
 * the number of games so far, to be paused or stopped.
 */
export function* walk(
  document: FlowDocument,
  games: number,
  most: number,
  seed: number,
  weights: Weights = {}
): Generator<number, Walks> {
  const flow = prepare(document);
  const random = randomFrom(seed);
  const pick = (options: number) => Math.floor(random() * options);
  const choose = (events: Event[]): Event | undefined => {
    const weighed = events.map((event) => weights[kindOf(event)] ?? 1);
    let left = random() * weighed.reduce((sum, weight) => sum + weight, 0);
    return events.find((_, index) => weighed[index]! > 0 && (left -= weighed[index]!) < 0);
  };
  const walks: Walks = { games: 0, unended: 0, endings: {}, places: {}, lengths: [] };
  if (!own(document.places, document.start)) return walks;
  for (let game = 0; game < games; game++) {
    const entered = new Set<Id>();
    const watcher = { entered: (place: Id) => void entered.add(place) };
    let { state } = beginOnce(flow, pick, () => {}, watcher);
    let length = 0;
    let ending: Id | undefined;
    while (state && length < most) {
      ending = [...entered].find((id) => document.places[id]!.kind === 'ending');
      if (ending !== undefined) break;
      const event = choose(eventsIn(flow, state));
      if (!event) break;
      ({ state } = handleOnce(flow, state, event, pick, () => {}, watcher));
      length++;
    }
    ending ??= [...entered].find((id) => document.places[id]!.kind === 'ending');
    if (ending === undefined) walks.unended++;
    else walks.endings[ending] = (walks.endings[ending] ?? 0) + 1;
    for (const place of entered) walks.places[place] = (walks.places[place] ?? 0) + 1;
    walks.lengths.push(length);
    walks.games++;
    yield walks.games;
  }
  return walks;
}
