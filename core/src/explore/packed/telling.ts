/** What the packed exploration has found, told as facts. */
import type { Id, Level, Step } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import type { Arrow, Facts } from '../facts.ts';
import type { Edges } from './edges.ts';
import type { Evidence } from './evidence.ts';
import type { Growth } from './growth.ts';
import { heapsIn, isUpIn } from './heaps.ts';
import { largeness } from './largeness.ts';
import type { Machine } from './machine.ts';
import type { Routes } from './routes.ts';
import type { StateTable } from './table.ts';
import { Walked } from './walked.ts';

/** An exploration that has come to its end. */
export interface Told {
  readonly flow: Flow;
  readonly machine: Machine;
  readonly table: StateTable;
  readonly edges: Edges;
  readonly routes: Routes;
  readonly evidence: Evidence;
  /** Where numbers are merged. */
  readonly growth: Growth | undefined;
  readonly complete: boolean;
  /** By state bits of `can`. */
  readonly can: Uint8Array;
  /** By state: bits of `mark`, and the frames of which it has been noted that they were made on the way to it. */
  readonly noted: Uint8Array;
  /** How many events have been run. */
  readonly ran: number;
  readonly bytes: number;
  /** Brings the machine's slots to a state. */
  load(state: number): void;
}

/** By slot how it is read from the words of a state. */
type Reads = (slot: number) => (state: number) => number;

/** In what is noted of a state, the frames that were made on the way to it. */
const anyFrame = 15;

/** What is asked of each state is read from its words when it is asked. */
export function factsOf(told: Told): Facts {
  const { flow, table, machine, edges, routes, evidence, growth, complete } = told;
  const { at, v } = machine;
  const count = table.count;
  const reads: Reads = (slot) => reader(told, slot);
  const slotsOf = (state: number): Int32Array => {
    told.load(state);
    return v;
  };
  const [depth, bottom, over] = [reads(at.depth), reads(at.place[0]!), reads(at.over)];
  const frames = at.place.map(reads);
  const spot = reads(at.spot);
  const active = at.keptSlot(at.depth) ? (state: number) => frames[depth(state) - 1]!(state) : bottom;
  const levelAt = (id: Id) => flow.document.places[id] as Level;
  let lengths: Int32Array | undefined;
  const found = evidence.facts();
  const foundLength = (at: Arrow | number): number => {
    if (typeof at !== 'number') return at.from < 0 ? 0 : foundLength(at.from) + 1;
    return (lengths ??= edges.lengths(count))[at]!;
  };
  const foundRoute = (at: Arrow | number): Step[] => {
    if (typeof at === 'number') return routes.to(at);
    if (at.from < 0) return at.step.draws ? [at.step] : [];
    return [...routes.to(at.from), at.step];
  };
  const walked = roams(told, reads, found) ? new Walked(flow, (state) => routes.found(state)) : undefined;
  let arrivals: Facts['arrivals'] | undefined;
  const noteArrivals = () => {
    const { words, width } = table;
    const looks = (state: number, made: number) => {
      for (let frame = 0; frame < frames.length; frame++)
        if (made & (1 << frame)) evidence.notes(frames[frame]!(state), words, state * width);
    };
    for (let state = 0; state < count; state++) if ((told.noted[state]! & anyFrame) !== 0) looks(state, told.noted[state]!);
    evidence.noted();
  };
  if (growth) {
    noteArrivals();
    const merged = at.merged.map(({ slot }) => reads(slot));
    const placesOf = (state: number, newFrames: number) =>
      frames.slice(0, depth(state)).flatMap((place, frame) => (newFrames & (1 << frame) ? [place(state)] : []));
    evidence.unmerge(growth, count, (state, index) => merged[index]!(state), placesOf);
  }
  return {
    flow,
    complete,
    large: complete ? [] : largeness(flow, at, count, slotsOf),
    count,
    moves: told.ran,
    firings: Math.max(machine.mostFired, machine.pairs.mostInSteps + machine.pairs.mostInEntrances),
    bytes: told.bytes,
    places: at.placeIds,
    active,
    bottom,
    over: (state) => over(state) === 1,
    stack: (state) => {
      slotsOf(state);
      return at.place.slice(0, v[at.depth]).map((slot) => at.placeIds[v[slot]!]!);
    },
    can: told.can,
    marks: told.noted,
    ...edges.facts(count),
    ...found,
    get arrivals() {
      if (!arrivals) {
        if (!growth) noteArrivals();
        arrivals = evidence.valuesAtArrival();
      }
      return arrivals;
    },
    lengthOf: walked ? (to) => walked.to(to).length : foundLength,
    isShortest: walked ? (to) => walked.to(to).length === foundLength(to) : () => true,
    arrivalAt: (wanted) => routes.firstArrival(wanted, edges.facts(count), told.noted),
    routeToState: walked ? (state) => walked.to(state).steps : foundRoute,
    routeTo: walked ? (arrow) => walked.to(arrow).steps : foundRoute,
    heaps: (level, piece) => heapsIn(at, levelAt(level), at.placeIndex.get(level)!, piece, reads),
    isUp: (level) => isUpIn(at, levelAt(level), at.placeIndex.get(level)!, reads),
    spotIn: (state) => (at.keptAt[bottom(state)] ? at.spots[bottom(state)]![spot(state)] : undefined)
  };
}

/**
 * Whether there is a level in which it is not kept where the player is. Of what hangs together there all is come to, and every
 * passage taken, as soon as the player can walk in it at all.
 */
function roams(told: Told, reads: Reads, { stood, walked }: Pick<Facts, 'stood' | 'walked'>): boolean {
  const { flow, machine } = told;
  const { at } = machine;
  let any = false;
  at.open.forEach((open, place) => {
    if (open.size < 2 || at.keptAt[place]) return;
    any = true;
    const level = at.placeIds[place]!;
    const from = firstWalk(told, place, reads);
    if (from === undefined) return;
    for (const { id, name, passage } of flow.passagesIn(level)) {
      if (!open.has(passage.from)) continue;
      walked.set(id, { from, step: { walk: name } });
      for (const spot of [passage.from, passage.to]) {
        const key = `${level}/${spot}`;
        if (!stood.has(key)) stood.set(key, { from, step: { walk: name }, to: spot });
      }
    }
  });
  return any;
}

/** The first state in which the player can walk in a level; undefined where there is none. */
function firstWalk({ flow, machine, table }: Told, place: number, reads: Reads): number | undefined {
  const { at } = machine;
  const isUp = isUpIn(at, flow.document.places[at.placeIds[place]!] as Level, place, reads);
  const [bottom, depth] = [reads(at.place[0]!), reads(at.depth)];
  for (let state = 0; state < table.count; state++)
    if (bottom(state) === place && depth(state) === 1 && (!isUp || isUp(state))) return state;
  return undefined;
}

/** Reads a slot from the words of states; of one that is not kept there is only its initial value. */
function reader({ machine, table }: Told, slot: number): ReturnType<Reads> {
  const { packing, initial } = machine.at;
  const { words, width } = table;
  const read = packing.reader(slot);
  return (state) => read(words, state * width, initial);
}
