/** `time-enough`: whether a level with a plan can be won before the deadline at which it is lost. */
import type { Id, Level } from '../document/types.ts';
import type { Progress } from '../explore/facts.ts';
import type { Flow } from '../play/flow.ts';
import type { Reason, Report, Verdict } from '../report/report.ts';
import { isExact, timesOf, usualTime, type BestTime, type Times } from '../times/times.ts';
import { seconds, spare } from '../words/times.ts';
import { usedEntries } from './document-checks.ts';
import { plain, verdict } from './verdict.ts';

/** A route that takes more of the limit than this leaves nothing for a mistake. */
const mostOfLimit = 0.9;

/** The times of each level that has a plan and a win. */
export function* timesIn(flow: Flow): Generator<Progress, Map<Id, Times>> {
  const found = new Map<Id, Times>();
  for (const [id, { plan }] of flow.levels) {
    if (!plan) continue;
    const run = timesOf(flow, id);
    let next = run.next();
    for (; !next.done; next = run.next()) yield { states: 0, waiting: 0, complete: true };
    if (next.value) found.set(id, next.value);
  }
  return found;
}

/** The figures of a report: of each level what its best time is from where it is usually entered. */
export function figuresOf(flow: Flow, times: Map<Id, Times>): Report['times'] {
  const figures: NonNullable<Report['times']> = {};
  for (const [id, each] of times) {
    const level = flow.document.places[id] as Level;
    const time = usualTime(each, level);
    const limit = each.limit && { limit: each.limit.seconds };
    figures[id] = time ? { least: time.least, ...(time.most !== undefined && { most: time.most }), ...limit } : { ...limit };
  }
  return times.size > 0 ? figures : undefined;
}

/** The verdict on each level that has a deadline; of entries that something leads to the slowest counts. */
export function timeEnough(flow: Flow, all: Map<Id, Times>): Verdict[] {
  return [...all].flatMap(([id, times]) => {
    const slowest = slowestOf(flow, id, times);
    return slowest && times.limit ? [judged(flow, id, slowest, times.limit, times.splits)] : [];
  });
}

/** Of the entries that something leads to that from which winning takes longest: surely, then perhaps. */
export function slowestOf(flow: Flow, id: Id, { best }: Times): Timed | undefined {
  const isUsed = usedEntries(flow, id);
  const timed = best.flatMap(({ entry, time }) => (time && (entry === null || isUsed(entry)) ? [{ entry, time }] : []));
  return timed.sort(({ time: a }, { time: b }) => b.least - a.least || (b.most ?? Infinity) - (a.most ?? Infinity))[0];
}

interface Timed {
  entry: Id | null;
  time: BestTime;
}

function judged(
  flow: Flow,
  id: Id,
  { entry, time }: Timed,
  { seconds: limit, rule }: NonNullable<Times['limit']>,
  splits: boolean
): Verdict {
  const level = flow.document.places[id] as Level;
  const from = entry === null ? '' : ` from ${level.entries[entry]!.name}`;
  const pointer = `/places/${id}/plan`;
  const tour = isExact(time)
    ? `the shortest route${from} takes ${seconds(time.least)}`
    : `every route${from} takes at least ${seconds(time.least)}`;
  const why: Reason[] = [{ text: `Lost after ${seconds(limit)}; ${tour}.`, rule }];
  const open = (rest: string) =>
    verdict(
      'time-enough',
      id,
      'open',
      `Whether ${level.name} can be won in ${seconds(limit)} is not settled: ${tour}, ${rest}.`,
      {
        pointer
      }
    );
  if (time.least >= limit && splits) return open('but the player can save on the way and go on from there');
  if (time.least >= limit)
    return plain('time-enough', id, `${level.name} cannot be won in ${seconds(limit)}: ${tour}.`, '', { pointer, why });
  if (time.most === undefined || time.most >= limit) {
    const found = time.most === undefined ? 'none was found' : `the best that was found takes ${seconds(time.most)}`;
    return open(found);
  }
  const figures = isExact(time) ? `best ${seconds(time.least)}` : `best between ${seconds(time.least)} and ${seconds(time.most)}`;
  return plain(
    'time-enough',
    id,
    isTight(time, limit) ? `${level.name} leaves hardly any time: of ${seconds(limit)} ${tour}.` : undefined,
    `${level.name} can be won in time: ${seconds(limit)}, ${figures}, ${spare(time.most, limit)} to spare.`,
    { pointer, severity: 'warning', ...(isTight(time, limit) && { why }) }
  );
}

const isTight = ({ least }: BestTime, limit: number): boolean => least > limit * mostOfLimit;
