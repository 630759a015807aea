/** Random walks: many games played at random, and what comes of them. */
import { mulberry } from '../document/edits/orders.ts';
import { own, type FlowDocument, type Id } from '../document/types.ts';
import { eventsIn } from '../play/events.ts';
import { prepare } from '../play/flow.ts';
import { beginOnce, handleOnce } from '../play/handle.ts';

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

/**
 * Plays games with what can be done equally likely each time, until an ending is entered or `most` events are done. The
 * same seed plays the same games. A generator: it gives the number of games so far, to be paused or stopped.
 */
export function* walk(document: FlowDocument, games: number, most: number, seed: number): Generator<number, Walks> {
  const flow = prepare(document);
  const random = mulberry(seed);
  const pick = (options: number) => Math.floor(random() * options);
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
      const events = eventsIn(flow, state);
      if (events.length === 0) break;
      ({ state } = handleOnce(flow, state, events[pick(events.length)]!, pick, () => {}, watcher));
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
