/** Playing a route through `play`, to show where each step happens and what it brings. */
import type { FlowDocument, Id, Draw, Event, Step } from '../document/types.ts';
import { same } from '../document/same.ts';
import { eventsIn, means } from './events.ts';
import { prepare, type Flow } from './flow.ts';
import { begin, handle, type Ways } from './handle.ts';
import { active, bottom, type State } from './state.ts';
import type { Watcher } from './turn.ts';

/** One step of a route as it was played. */
export interface Played {
  step: Step;
  /** The active place and the bottom place before the step; undefined for the start. */
  from: Id | undefined;
  bottom: Id | undefined;
  /** The places entered by it, in order. */
  entered: Id[];
  /** The levels won by it. */
  won: Id[];
  /** The settled state after it; undefined when the event never settles. */
  state: State | undefined;
}

/**
 * Plays a route, the start first. Stops early where a step cannot happen, as when the document has changed since the
 * route was found; the list is then shorter than the route.
 */
export function replay(document: FlowDocument, route: Step[], flow: Flow = prepare(document)): Played[] {
  const played: Played[] = [];
  const first: Step = route[0] && 'start' in route[0] ? route[0] : { start: true };
  let state = take((watch, draws) => begin(flow, watch, draws), first, undefined, played);
  for (const step of route) {
    if ('start' in step) continue;
    if (!state) break;
    const from = state;
    const event = eventFor(flow, from, step);
    if (!event) break;
    state = take((watch, draws) => handle(flow, from, event, watch, draws), step, from, played);
  }
  return played;
}

/** Plays a route, of whose last event a watcher is told; undefined where it cannot be played to its end. */
export function watchLast<W extends Watcher>(flow: Flow, route: Step[], make: () => W): W | undefined {
  const last = route.at(-1) ?? { start: true };
  const watchers: W[] = [];
  const watch = () => watchers[watchers.push(make()) - 1]!;
  const isStart = 'start' in last;
  const before = isStart ? undefined : replay(flow.document, route.slice(0, -1), flow).at(-1)?.state;
  const event = before && eventFor(flow, before, last);
  const draws = last.draws ?? [];
  const outcome = isStart ? begin(flow, watch, draws) : event && handle(flow, before!, event, watch, draws);
  return watchers[outcome?.results.findIndex((result) => same(result.draws, draws)) ?? -1];
}

const eventFor = (flow: Flow, state: State, step: Step): Event | undefined =>
  eventsIn(flow, state).find((event) => means(step, event));

function take(
  run: (watch: () => Watcher, draws: Draw[]) => Ways | undefined,
  step: Step,
  before: State | undefined,
  played: Played[]
): State | undefined {
  const notes: Pick<Played, 'entered' | 'won'>[] = [];
  const draws: Draw[] = step.draws ?? [];
  const outcome = run(() => {
    const note: Pick<Played, 'entered' | 'won'> = { entered: [], won: [] };
    notes.push(note);
    return {
      entered: (place) => void note.entered.push(place),
      moving: ({ rule }, _to, _afresh, turn) => void (rule.result === 'won' && note.won.push(bottom(turn.state).place))
    };
  }, draws);
  const way = outcome?.results.findIndex((result) => same(result.draws, draws)) ?? -1;
  if (way < 0) return undefined;
  const { state } = outcome!.results[way]!;
  played.push({ step, from: before && active(before).place, bottom: before && bottom(before).place, ...notes[way]!, state });
  return state;
}
