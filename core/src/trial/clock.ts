/** What time brings next where the player is: a tick of a clock, or a deadline, in their true order. */
import { secondsOf, timesIn } from '../document/numbers.ts';
import type { Event } from '../document/types.ts';
import { active, bottom, type State } from '../play/state.ts';
import type { Trial } from './trial.ts';

export interface Moment {
  event: Event;
  /** In seconds since the place was entered: when it is due, and what has been reached already. */
  at: number;
  reached: number;
}

/** The next moment of the active place; undefined where no time runs. */
export function nextMoment(trial: Trial, state: State = trial.state): Moment | undefined {
  const { place, phase } = active(state);
  const { clocks, deadlines } = trial.flow.applying(place, bottom(state).place);
  const ticked = clocks.map(({ seconds }) => ({ seconds, n: ticksSince(trial, place, seconds) }));
  const reached = Math.max(0, deadlines[phase - 1] ?? 0, ...ticked.map(({ seconds, n }) => n * seconds));
  const deadline = deadlines[phase];
  let next: Moment | undefined = deadline === undefined ? undefined : { event: { time: true }, at: deadline, reached };
  clocks.forEach(({ written, seconds }, index) => {
    const n = ticked[index]!.n + 1;
    // at one moment the tick comes first
    const before = deadline === undefined || timesIn(deadline, seconds) >= n;
    const at = Number((n * seconds).toPrecision(12));
    if (before && (!next || 'time' in next.event || at < next.at)) next = { event: { every: written }, at, reached };
  });
  return next;
}

/** How often a clock has ticked since the place was entered. */
function ticksSince({ flow, lines }: Trial, place: string, seconds: number): number {
  const since = lines.findLastIndex(({ entered }) => entered.includes(place));
  const ticks = lines.slice(since + 1).filter((line) => line.place === place && 'every' in line.step);
  return ticks.filter(({ step }) => 'every' in step && secondsOf(flow.document, step.every) === seconds).length;
}
