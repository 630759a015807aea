/** `patrol-passable`: whether the player gets past the patrols of a level without meeting a foe. */
import { own, type Id, type Level } from '../document/types.ts';
import type { Progress } from '../explore/facts.ts';
import { atCells, patrolName } from '../plan/fits.ts';
import type { Flow } from '../play/flow.ts';
import type { Reason, Verdict } from '../report/report.ts';
import type { Crossing, Passes } from '../times/crossing.ts';
import { passesOf } from '../times/passes.ts';
import { passWords } from '../words/times.ts';
import { capital, counted } from '../words/words.ts';
import { usedEntries } from './document-checks.ts';
import { verdict } from './verdict.ts';

/** What can be said of the patrols of each level that has some. */
export function* passesIn(flow: Flow): Generator<Progress, Map<Id, Passes>> {
  const found = new Map<Id, Passes>();
  for (const [id] of flow.levels) {
    const run = passesOf(flow, id);
    let next = run.next();
    for (; !next.done; next = run.next()) yield { states: 0, waiting: 0, complete: true };
    if (next.value) found.set(id, next.value);
  }
  return found;
}

/** The verdict on each patrol, and on all patrols of a level together where each alone can be passed. */
export function patrolPassable(flow: Flow, all: Map<Id, Passes>): Verdict[] {
  return [...all].flatMap(([id, { alone, together }]) => [
    ...Object.entries(alone).map(([patrol, crossings]) => judged(flow, id, patrol, crossings)),
    ...(together ? [judged(flow, id, undefined, together)] : [])
  ]);
}

const worst: Crossing['outcome'][] = ['met', 'blocked', 'open', 'passed', 'defeated', 'around'];

/** Of the entries that something leads to that from which a patrol is hardest to pass, the longest way first. */
export function hardestOf(flow: Flow, id: Id, crossings: Crossing[]): Crossing | undefined {
  const isUsed = usedEntries(flow, id);
  return crossings
    .filter(({ entry }) => entry === null || isUsed(entry))
    .sort((a, b) => worst.indexOf(a.outcome) - worst.indexOf(b.outcome) || (b.pass?.seconds ?? 0) - (a.pass?.seconds ?? 0))[0];
}

function judged(flow: Flow, id: Id, patrol: Id | undefined, crossings: Crossing[]): Verdict {
  const level = flow.document.places[id] as Level;
  const isOne = patrol !== undefined;
  const who = isOne ? nameIn(level, patrol) : 'the patrols together';
  const subject = isOne ? `${id}/${patrol}` : id;
  const pointer = `/places/${id}/${level.plan ? 'plan/patrols' : 'pieces'}${isOne ? `/${patrol.split('#')[0]!}` : ''}`;
  const told = (outcome: Verdict['outcome'], message: string, why?: Reason[]) =>
    verdict('patrol-passable', subject, outcome, capital(message), { pointer, ...(why && { why }) });
  const found = hardestOf(flow, id, crossings);
  // an entry that nothing leads to is told as such
  if (!found) return told('unreached', `Nothing leads to where ${who} would be passed in ${level.name}.`);
  const entry = found.entry === null || crossings.length === 1 ? undefined : level.entries[found.entry]?.name;
  const from = entry === undefined ? '' : ` from ${entry}`;
  switch (found.outcome) {
    case 'around':
      return told('holds', `Nothing in ${level.name} lies behind ${isOne ? who : 'the patrols'}${from}.`);
    case 'passed':
      return told('holds', `${who} can be passed in ${level.name}${from}: ${passWords(found.pass!)}.`);
    case 'defeated':
      return told('holds', `${who} can be passed in ${level.name}${from} once it is defeated.`);
    case 'open':
      return told('open', `Whether ${who} can be passed in ${level.name}${from} is not settled: ${openWords[found.open!]}.`);
    case 'met':
      return told(
        'fails',
        `${who} ${isOne ? 'is' : 'are'} where the player arrives in ${level.name}${from}.`,
        lostIn(level, found)
      );
    case 'blocked':
      return told(
        'fails',
        `${who} cannot be passed in ${level.name}${from} without meeting ${isOne ? 'it' : 'one'}: ${lostWords(level, found)} out of reach.`,
        lostIn(level, found)
      );
  }
}

const openWords: Record<NonNullable<Crossing['open']>, string> = {
  size: 'there are too many cells and moments to look at',
  period: 'it takes too long until all foes are where they began',
  defeat: 'one of them can be defeated first'
};

const list = new Intl.ListFormat('en-GB');

/** What a patrol over a plan, or between spots, is called. */
const nameIn = (level: Level, patrol: Id): string =>
  level.plan ? patrolName(level, patrol) : (own(level.pieces, patrol.split('#')[0]!)?.name ?? patrol);

/** "Lamp × 2 and 1 Exit are", "Far ground is". */
function lostWords(level: Level, { lost }: Crossing): string {
  const pieces = [...lost!.pieces].map(([piece, { n }]) => counted(level.pieces[piece]!.name, n));
  const told = pieces.length > 0 ? pieces : lost!.spots;
  const n = pieces.length > 0 ? [...lost!.pieces.values()].reduce((sum, each) => sum + each.n, 0) : told.length;
  return `${list.format(told)} ${n === 1 ? 'is' : 'are'}`;
}

function lostIn(level: Level, { lost }: Crossing): Reason[] {
  if (!lost) return [];
  return [
    ...[...lost.pieces].map(([piece, { n, cells }]): Reason => {
      const what = counted(own(level.pieces, piece)?.name ?? piece, n);
      return cells.length > 0 ? { text: `Behind it: ${what} ${atCells(cells)}.`, cells } : { text: `Behind it: ${what}.` };
    }),
    ...(lost.pieces.size === 0 ? lost.spots.map((name): Reason => ({ text: `Behind it: ${name}.` })) : [])
  ];
}
