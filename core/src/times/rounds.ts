/** Patrols between the spots of a level that has no plan: so many seconds at each (docs/flow-format.md, section 12). */
import { heapsOf, spotOf } from '../document/ground.ts';
import { own, type Id, type Level } from '../document/types.ts';
import { standingsOf } from '../vocabulary/pieces.ts';
import type { Crossing, Pass } from './crossing.ts';

/** A foe that goes from spot to spot. */
export interface Round {
  /** The piece's id, or that with the number of its entry in `at` where there is more than one. */
  id: string;
  piece: Id;
  stops: { spot: Id; seconds: number }[];
}

/** The patrols of a level between its spots, with all stops until they begin again. */
export function roundsOf({ pieces, plan }: Level): Round[] {
  if (plan) return [];
  return Object.entries(pieces).flatMap(([piece, value]) =>
    (standingsOf(value) ?? []).flatMap(({ spots, patrol }, index): Round[] => {
      if (!patrol) return [];
      const stops = spots.map((spot, at) => ({ spot, seconds: patrol.seconds[at]! }));
      const back = patrol.turn === 'back' ? stops.slice(1, -1).reverse() : [];
      return [{ id: heapsOf(piece, value)[index]!.key, piece, stops: [...stops, ...back] }];
    })
  );
}

/** More times than this at which some foe goes on, until all are where they began, are not looked at. */
const mostMoments = 10_000;

/** From one moment at which a foe goes on to the next: how long that is, and the spots in which foes are. */
interface Moment {
  begins: number;
  taken: ReadonlySet<Id>;
}

/** Where foes are between the moments at which one of them goes on, in thousandths of a second. */
export class Timetable {
  readonly moments: Moment[] = [];
  readonly period: number;
  readonly isCounted: boolean;
  /** All spots that some foe comes to. */
  readonly stops: ReadonlySet<Id>;

  constructor(rounds: Round[]) {
    this.stops = new Set(rounds.flatMap(({ stops }) => stops.map(({ spot }) => spot)));
    const plans = rounds.map(({ stops }) => {
      const spans = stops.map(({ seconds }) => Math.max(1, Math.round(seconds * 1000)));
      return { stops, spans, whole: spans.reduce((sum, span) => sum + span, 0) };
    });
    this.period = plans.reduce((all, { whole }) => (all / divisor(all, whole)) * whole, 1);
    const count = plans.reduce((sum, { spans, whole }) => sum + (this.period / whole) * spans.length, 0);
    this.isCounted = count <= mostMoments;
    if (!this.isCounted) return;
    const begins = new Set<number>();
    for (const { spans, whole } of plans)
      for (let again = 0; again < this.period; again += whole)
        spans.reduce((at, span) => {
          begins.add(at);
          return at + span;
        }, again);
    const where = ({ stops, spans, whole }: (typeof plans)[number], moment: number): Id => {
      let left = moment % whole;
      const index = spans.findIndex((span) => (left -= span) < 0);
      return stops[index]!.spot;
    };
    for (const moment of [...begins].sort((a, b) => a - b))
      this.moments.push({ begins: moment, taken: new Set(plans.map((plan) => where(plan, moment))) });
  }
}

const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));

/** The player in a spot from a moment on, and where it was before. */
interface Here {
  spot: Id;
  at: number;
  before?: Here;
}

/**
 * How the player comes past foes that go from spot to spot: walking takes no time, everything is open, and it waits where no foe
 * is. What ends the attempt is not passed.
 */
export function crossRounds(
  level: Level,
  entry: Id | null,
  { moments, period, stops, isCounted }: Timetable,
  ending: ReadonlySet<Id>
): Omit<Crossing, 'entry'> {
  const start = spotOf(level, entry);
  if (start === null) return { outcome: 'around' };
  if (!isCounted) return { outcome: 'open', open: 'period' };
  const next = movesIn(level, ending);
  const all = spread([start], next, () => true);
  const around = stops.has(start) ? new Set<Id>() : spread([start], next, (spot) => !stops.has(spot));
  const come = new Map<Id, Here>();
  const seen = new Set<string>();
  let here: Here[] = moments[0]!.taken.has(start) ? [] : [{ spot: start, at: 0 }];
  for (let round = 0; here.length > 0; round++) {
    const { begins, taken } = moments[round % moments.length]!;
    const at = Math.floor(round / moments.length) * period + begins;
    const now: Here[] = [];
    const add = (spot: Id, before: Here | undefined) => {
      const key = `${round % moments.length} ${spot}`;
      if (taken.has(spot) || seen.has(key)) return;
      seen.add(key);
      const state: Here = { spot, at, ...(before && { before }) };
      if (!come.has(spot)) come.set(spot, state);
      now.push(state);
    };
    for (const before of here) add(before.spot, round === 0 ? undefined : before);
    for (const state of now) for (const spot of next.get(state.spot) ?? []) add(spot, state);
    here = now;
  }
  const lost = lostIn(level, all, come);
  if (come.size === 0) return { outcome: 'met', ...(lost && { lost }) };
  if (lost) return { outcome: 'blocked', lost };
  const behind = [...come.values()].filter(({ spot }) => !around.has(spot));
  const holds = new Set(
    Object.values(level.pieces).flatMap((piece) =>
      piece.kind === 'hazard' ? [] : (standingsOf(piece) ?? []).flatMap(({ spots, patrol }) => (patrol ? [] : spots))
    )
  );
  // what there is to be had behind them, rather than ground alone
  const rank = ({ spot }: Here) => (holds.has(spot) ? 0 : 2) + Number(stops.has(spot));
  const [nearest] = behind.sort((a, b) => rank(a) - rank(b) || a.at - b.at);
  return nearest ? { outcome: 'passed', pass: passTo(level, nearest) } : { outcome: 'around' };
}

/** By spot where passages lead that can be taken at some time. */
function movesIn({ spots, passages }: Level, ending: ReadonlySet<Id>): Map<Id, Id[]> {
  const next = new Map<Id, Id[]>(Object.keys(spots).map((spot) => [spot, []]));
  for (const { from, to, both, through = [] } of Object.values(passages)) {
    if (through.some((piece) => ending.has(piece))) continue;
    if (own(spots, to)) next.get(from)?.push(to);
    if (both && own(spots, from)) next.get(to)?.push(from);
  }
  return next;
}

function spread(starts: Id[], next: Map<Id, Id[]>, isOpen: (spot: Id) => boolean): Set<Id> {
  const found = new Set(starts);
  for (const spot of found) for (const to of next.get(spot) ?? []) if (isOpen(to)) found.add(to);
  return found;
}

function lostIn({ spots, pieces }: Level, all: Set<Id>, come: Map<Id, Here>): Crossing['lost'] {
  const isLost = (from: Id[]) => from.some((spot) => all.has(spot)) && !from.some((spot) => come.has(spot));
  const names = [...all].filter((spot) => !come.has(spot)).map((spot) => spots[spot]!.name);
  if (names.length === 0) return undefined;
  const lost: NonNullable<Crossing['lost']> = { pieces: new Map(), spots: names };
  for (const [id, piece] of Object.entries(pieces)) {
    if (piece.kind === 'hazard') continue;
    const n = (standingsOf(piece) ?? []).reduce((sum, standing) => sum + (isLost(standing.spots) ? standing.n : 0), 0);
    if (n > 0) lost.pieces.set(id, { n, cells: [] });
  }
  return lost;
}

function passTo({ spots }: Level, end: Here): Pass {
  const waits: Pass['waits'] = [];
  for (let here = end; here.before; here = here.before) {
    const seconds = (here.at - here.before.at) / 1000;
    if (seconds === 0) continue;
    const at = spots[here.spot]!.name;
    if (waits[0]?.at === at) waits[0].seconds += seconds;
    else waits.unshift({ at, seconds });
  }
  return { seconds: end.at / 1000, waits };
}
