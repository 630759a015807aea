/** How long recorded runs take to win levels with a plan: walked event by event, as quickly as what they do can be done. */
import { findRule, levelsOf, type Event, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { eventsIn, means, walkedTo } from '../play/events.ts';
import type { State } from '../play/state.ts';
import { speedIn } from '../times/times.ts';
import { Afoot, type Standing } from './afoot.ts';
import { nextMoment } from './clock.ts';
import { trialOf } from './runs.ts';
import type { Line, Trial } from './trial.ts';

/** By level the seconds of the quickest of the recorded runs that win it; levels that none wins are left out. */
export function runTimes(document: FlowDocument): Record<Id, number> {
  const best: Record<Id, number> = {};
  if (!levelsOf(document).some(([, { plan }]) => plan)) return best;
  const known = new Map<Id, Afoot>();
  for (const run of Object.values(document.runs)) {
    const trial = trialOf(document, run);
    if (!trial) continue;
    for (const { level, seconds } of winsIn(trial, known)) best[level] = Math.min(best[level] ?? Infinity, seconds);
  }
  return best;
}

/** An attempt in a level with a plan, as far as it has been walked. */
interface Attempt extends Standing {
  afoot: Afoot;
  taken: Set<number>;
  ticks: number;
  /** What was waited for: nothing that comes later happens before. */
  notBefore: number;
}

function winsIn(trial: Trial, known: Map<Id, Afoot>): { level: Id; seconds: number }[] {
  const { flow, lines } = trial;
  const wins: { level: Id; seconds: number }[] = [];
  let attempt: Attempt | undefined;
  for (const [index, line] of lines.entries()) {
    const before = lines[index - 1]?.state;
    if (attempt && before) {
      const level = flow.document.places[attempt.afoot.id] as Level;
      const speed = speedIn(flow.document, level);
      const isWalked = follow({ ...trial, lines: lines.slice(0, index), state: before }, attempt, line, speed);
      if (isWalked && isWon(trial, line, attempt.afoot.id))
        wins.push({ level: attempt.afoot.id, seconds: Math.max(attempt.ticks, attempt.notBefore) / speed });
      if (!isWalked) attempt = undefined;
    }
    const level = line.state?.stack[0]?.place;
    if (level === undefined || (attempt && attempt.afoot.id !== level)) attempt = undefined;
    if (level !== undefined && line.entered.includes(level) && line.state) attempt = arrivedIn(trial, line.state, level, known);
  }
  return wins;
}

const isWon = ({ flow }: Trial, { fired, place }: Line, level: Id): boolean =>
  place === level && fired.some((rule) => findRule(flow.document, rule)?.rule.result === 'won');

function arrivedIn({ flow }: Trial, state: State, id: Id, known: Map<Id, Afoot>): Attempt | undefined {
  const level = flow.document.places[id]!;
  if (level.kind !== 'level' || !level.plan) return undefined;
  const afoot = known.get(id) ?? new Afoot(flow, id);
  known.set(id, afoot);
  const cell = afoot.arrivalIn(state);
  return cell === undefined ? undefined : { afoot, place: { cell }, spot: state.spot, taken: new Set(), ticks: 0, notBefore: 0 };
}

/** Walks to where a line happens; false where that is not known. */
function follow(before: Trial, attempt: Attempt, line: Line, speed: number): boolean {
  const { flow, state } = before;
  // what is opened over the level takes none of its time
  if (state.stack.length > 1) return true;
  const event = eventsIn(flow, state).find((each) => means(line.step, each));
  if (!event) return false;
  if ('time' in event || 'every' in event) {
    attempt.notBefore = (nextMoment(before)?.at ?? 0) * speed;
    return true;
  }
  const { afoot } = attempt;
  const way = afoot.wayFor(flow, state, event, attempt);
  if (!way) return !isSomewhere(afoot, event);
  // the player is on its way while it waits
  attempt.ticks = Math.max(attempt.notBefore, attempt.ticks + way.ticks);
  attempt.place = way.places.at(-1) ?? attempt.place;
  if ('collect' in event) attempt.taken.add(attempt.place.cell);
  if ('walk' in event) attempt.spot = walkedTo(flow, state, event) ?? attempt.spot;
  return true;
}

/** Whether an event happens in some cell: buttons, and what patrols or is everywhere, need no way. */
function isSomewhere({ plotted }: Afoot, event: Event): boolean {
  const piece = 'collect' in event ? event.collect : 'touch' in event ? event.touch : undefined;
  return 'walk' in event || (piece !== undefined && [...plotted.ground.pieces.values()].includes(piece));
}
