/** Which slot holds what: the state of section 3, laid out for one flow. */
import { isLevel, type Id } from '../../document/types.ts';
import type { Flow } from '../../play/flow.ts';
import { mostFrames } from '../../play/move.ts';
import { frameSizes } from './frame-sizes.ts';
import { js } from './instructions.ts';
import { Laying } from './laying.ts';
import { needsOf, type Needs } from './needs.ts';
import { layPieces, laySpots, type LevelSlots, type PieceSlot, type SpotSlots } from './piece-slots.ts';
import type { Follows, Packing } from './slots.ts';

/**
 * A number of which high values are one. Where it came from in the event being run stands in two more slots: the number
 * (counted over all) that it was before, or -1 for none, and what has been added to that.
 */
export interface MergedSlot {
  variable: Id;
  slot: number;
  top: number;
  max: number;
  source: number;
  added: number;
}

export interface VariableSlot {
  slot: number;
  initial: number;
  merged?: MergedSlot;
  /** Whether its value stems from an earlier run (1), or from that of another saved game (2); only of run variables. */
  stale: number;
  /** Its copy in the bookmark; not of kept variables. */
  saved: number;
}

/** What goes back to its initial value: slot, its copy in the bookmark, and whether it is stale. */
type Assigned = Pick<VariableSlot, 'slot' | 'initial' | 'stale' | 'saved'>;

export interface OrderSlots {
  /** The rows as place numbers, -1 for what is no level; of a fixed order one. */
  rows: number[][];
  /** By row and place: where the row has the level first; -1 where it has not. */
  first: Int32Array[];
  /** The slot of the drawn row; -1 for a fixed order and a bag. */
  row: number;
  position: number;
  /** Of a bag its levels in order, and the slots that say which are in it. */
  bag?: { levels: number[]; slots: number[] };
}

/** Which slot holds what; lists of slots have only those that are kept. */
export interface Layout extends SpotSlots {
  packing: Packing;
  initial: Int32Array;
  placeIds: Id[];
  placeIndex: Map<Id, number>;
  /** Layout that can be opened over others. */
  openable: Set<number>;
  /** By place; undefined for what is no level. */
  levels: (LevelSlots | undefined)[];
  endings: boolean[];
  /** By place: a run variable can be stale while play waits there. */
  staleAt: boolean[];
  /** By place: an ending or home, where run values become stale. */
  marksStale: boolean[];
  depth: number;
  /** By frame. */
  place: number[];
  phase: number[];
  /** By frame: by clock of its place, in their order, how many ticks there have been before the last deadline. */
  ticks: number[][];
  held: number[][];
  over: number;
  variables: Map<Id, VariableSlot>;
  /** By scope, those that are kept, and what they came from. */
  attempt: Assigned[];
  run: Assigned[];
  kept: Assigned[];
  merged: MergedSlot[];
  here: number[];
  runPieces: PieceSlot[];
  keptPieces: PieceSlot[];
  /** By place: whether it has been won. */
  won: number[];
  /** How the last attempt ended: its number among `outcomes`. */
  last: number;
  latest: number;
  current: number;
  orders: OrderSlots[];
  /** The orders in which it matters where play stands. */
  walked: number[];
  /** By place: the first order that lists it, else the first. */
  listing: number[];
  /** Of the saved games, which is in hand, which is picked (from 1; 0: none), and whether a level has been played in the one in hand. */
  hand: number;
  picked: number;
  played: number;
  bookLevel: number;
  bookProgress: number;
  bookThisRun: number;
  /** All slots of the bookmark. */
  book: number[];
  /** What `load` brings back: slot and copy. */
  savedRun: [number, number][];
  /** Whether a slot is kept between events. */
  keptSlot(slot: number): boolean;
}

/** Lays a flow's state out; what is not needed has its slot, which stays as it is at first and is in none of the lists. */
export function layoutOf(flow: Flow, needs: Needs = needsOf(flow)): Layout {
  const { document } = flow;
  const placeIds = numbered(flow, needs);
  const placeIndex = new Map(placeIds.map((id, index) => [id, index]));
  const laying = new Laying(flow, needs, placeIds);
  const { kept, book, slots } = laying;
  const { slots: saves } = needs;
  // what another saved game leaves can be stale wherever play can be before a level is entered again
  const staleAt = placeIds.map((id) => needs.staleness.places.has(id) || (saves.taken && (saves.over || !isLevel(document, id))));

  const stack = layStack(laying);
  const { variables, byScope, merged } = layVariables(laying, staleAt, stack.place[0]!);
  const { here, levels, runPieces, keptPieces, savedPieces } = layPieces(laying, stack.place[0]!);
  const ground = laySpots(laying);
  const won = placeIds.map((id) => laying.add(0, 1, 0, needs.won.has(id)));
  for (const slot of won) slots.fills(slot);
  const last = laying.add(0, 2, 0, needs.last);
  const current = laying.add(0, Object.keys(document.orders).length, 0, needs.current);
  const { orders, savedOrders } = layOrders(laying, placeIndex, stack.latest);
  const savedRun = [
    ...savedPieces,
    ...savedOrders,
    [current, laying.saved(0, orders.length, 0, needs.current && needs.load)] as [number, number],
    ...byScope.run.map(({ slot, saved }): [number, number] => [slot, saved])
  ];
  const bookLevel = laying.saved(0, placeIds.length, 0, true);
  const bookProgress = laying.saved(0, 100, 0, needs.progress);
  const bookThisRun = laying.saved(0, 1, 0, needs.thisRun);
  const hand = laying.add(0, 1, 0, saves.other);
  const picked = laying.add(0, 2, 0, saves.picked);
  const played = laying.add(0, 1, 0, saves.used);
  const isKept = ({ slot }: { slot: number }) => kept.has(slot);
  const listed = Object.values(document.orders);
  return {
    packing: slots.packing(),
    initial: slots.initials(),
    placeIds,
    placeIndex,
    openable: new Set(needs.openable.map((id) => placeIndex.get(id)!)),
    levels,
    endings: placeIds.map((id) => document.places[id]!.kind === 'ending'),
    staleAt,
    marksStale: placeIds.map((id) => document.places[id]!.kind === 'ending' || id === flow.home),
    ...stack,
    ...ground,
    variables,
    merged,
    attempt: byScope.attempt.filter(isKept),
    run: byScope.run.filter(isKept),
    kept: byScope.kept.filter(isKept),
    here,
    runPieces: runPieces.filter(isKept),
    keptPieces: keptPieces.filter(isKept),
    won,
    last,
    current,
    orders,
    walked: Object.entries(document.orders).flatMap(([id, { draw }], index) =>
      (draw === 'bag' ? needs.drawn : needs.positions).has(id) ? [index] : []
    ),
    listing: placeIds.map((id) =>
      Math.max(
        0,
        listed.findIndex(({ levels: each }) => each.includes(id))
      )
    ),
    hand,
    picked,
    played,
    bookLevel,
    bookProgress,
    bookThisRun,
    book: book.filter((slot) => kept.has(slot)),
    savedRun: savedRun.filter(([, copy]) => kept.has(copy)),
    keptSlot: (slot) => kept.has(slot)
  };
}

/** The frames of the stack, the level played last, and whether the attempt is over. */
function layStack(laying: Laying): Pick<Layout, 'depth' | 'latest' | 'place' | 'phase' | 'ticks' | 'held' | 'over'> {
  const { flow, needs, placeIds, screens } = laying;
  const depth = laying.add(1, needs.depth, 1, needs.depth > 1);
  const frames = frameSizes(flow, needs.openable);
  const place: number[] = [];
  const phase: number[] = [];
  const ticks: number[][] = [];
  const held: number[][] = [];
  const latest = laying.add(0, placeIds.length, 0, needs.latest);
  for (let frame = 0; frame < mostFrames; frame++) {
    const keep = frame < needs.depth;
    const size = frame === 0 ? frames.bottom : frames.upper;
    place.push(
      frame === 0 && needs.latest
        ? laying.follow(levelPlayed(screens, latest), 0)
        : laying.add(0, Math.max(0, placeIds.length - 1), 0, keep)
    );
    phase.push(laying.add(0, size.deadlines, 0, keep));
    ticks.push(size.ticks.map((most) => laying.add(0, most, 0, keep)));
    const bits: number[] = [];
    for (let left = size.holds; left > 0; left -= 30) bits.push(laying.add(0, 2 ** Math.min(30, left) - 1, 0, keep));
    held.push(bits);
  }
  return { depth, latest, place, phase, ticks, held, over: laying.add(0, 1, 0, needs.over) };
}

/** The variables with their copies in the bookmark, what is stale of them, and those of which high values are one. */
function layVariables(laying: Laying, staleAt: boolean[], bottom: number) {
  const { flow, needs, slots } = laying;
  const variables = new Map<Id, VariableSlot>();
  const byScope = { attempt: [] as Assigned[], run: [] as Assigned[], kept: [] as Assigned[] };
  const merged: MergedSlot[] = [];
  const nowhere = slots.add(0, 0, 0, false);
  /** The two slots more of a number of which high values are one. */
  const merge = (id: Id, slot: number, top: number, max: number, initial: number): MergedSlot => {
    const source = laying.renewed(-1, merged.length);
    const added = laying.renewed(initial, 0);
    const found = { variable: id, slot, top, max, source, added };
    merged.push(found);
    return found;
  };
  for (const [id, variable] of Object.entries(flow.document.variables)) {
    const top = needs.merged.get(id);
    const [min, max, initial] =
      variable.type === 'number'
        ? [variable.min, top ?? variable.max, variable.initial]
        : variable.type === 'flag'
          ? [0, 1, Number(variable.initial)]
          : [0, variable.choices.length - 1, variable.choices.indexOf(variable.initial)];
    const assigned = needs.assigned.has(id);
    const copied = assigned && (variable.scope === 'attempt' || (variable.scope === 'run' && needs.load));
    const found: VariableSlot = {
      slot: laying.add(min, max, initial, assigned),
      initial,
      stale: -1,
      saved: laying.saved(min, max, initial, copied)
    };
    const stale = assigned && variable.scope === 'run';
    found.stale =
      stale && needs.staleness.follow.has(id) && !needs.slots.taken
        ? laying.follow(staleWhile(found.slot, initial, staleAt, bottom), 0)
        : laying.add(0, needs.slots.taken ? 2 : 1, 0, stale);
    slots.fills(found.slot);
    variables.set(id, found);
    byScope[variable.scope].push(found);
    if (top === undefined || variable.type !== 'number' || !assigned) continue;
    found.merged = merge(id, found.slot, top, variable.max, initial);
    const copy = copied && needs.bookmark ? merge(id, found.saved, top, variable.max, initial) : undefined;
    if (copy) laying.book.push(copy.source, copy.added);
    const { source, added } = found.merged;
    byScope[variable.scope].push(
      { slot: source, initial: -1, stale: nowhere, saved: copy?.source ?? nowhere },
      { slot: added, initial, stale: nowhere, saved: copy?.added ?? nowhere }
    );
  }
  return { variables, byScope, merged };
}

/** Where play stands in each order, and what was drawn. */
function layOrders(laying: Laying, placeIndex: Map<Id, number>, latest: number) {
  const { flow, needs, slots, placeIds, screens } = laying;
  const { document } = flow;
  const savedOrders: [number, number][] = [];
  const number = (id: Id) => (isLevel(document, id) ? placeIndex.get(id)! : -1);
  const orders = Object.entries(document.orders).map(([id, order]): OrderSlots => {
    const rows = (order.draw === 'table' ? order.rows : [order.levels]).map((row) => row.map(number));
    const longest = Math.max(...rows.map((row) => row.length));
    const drawn = needs.drawn.has(id);
    const row = order.draw === 'table' ? laying.add(-1, rows.length - 1, -1, drawn) : -1;
    const walked = needs.positions.has(id) && order.draw !== 'bag';
    const position =
      walked && needs.latest && id === needs.line
        ? laying.follow(whereLatestIs(screens, latest), -1)
        : laying.add(-1, longest - 1, -1, walked);
    const inside = [...new Set(order.levels.filter((level) => isLevel(document, level)).map((level) => placeIndex.get(level)!))];
    const bag = order.draw === 'bag' ? { levels: inside, slots: inside.map(() => laying.add(0, 1, 0, drawn)) } : undefined;
    for (const slot of bag?.slots ?? []) slots.fills(slot);
    if (row >= 0) savedOrders.push([row, laying.saved(-1, rows.length - 1, -1, drawn && needs.load)]);
    savedOrders.push([position, laying.saved(-1, longest - 1, -1, walked && needs.load)]);
    for (const slot of bag?.slots ?? []) savedOrders.push([slot, laying.saved(0, 1, 0, drawn && needs.load)]);
    const first = rows.map((each) => Int32Array.from(placeIds, (_, place) => each.indexOf(place)));
    return { rows, first, row, position, bag };
  });
  return { orders, savedOrders };
}

/** The places in the order of their numbers: levels last, and these as they stand in the order of all of them. */
function numbered({ document, levels }: Flow, { line }: Needs): Id[] {
  const screens = Object.keys(document.places).filter((id) => !isLevel(document, id));
  const inLine = line === undefined ? [] : document.orders[line]!.levels;
  return [...new Set([...screens, ...inLine, ...levels.map(([id]) => id)])];
}

/** The bottom place is a screen, or else the level played last. */
function levelPlayed(screens: number, latest: number): Follows {
  return {
    bits: 32 - Math.clz32(screens),
    pack: (place) => js`(${place} < ${screens} ? ${place} : ${screens})`,
    read: (packed, other) => `((${packed}) < ${screens} ? ${packed} : ${other(latest)} - 1)`
  };
}

/** Where play stands in an order of all levels: before the first, or at the level played last. */
function whereLatestIs(screens: number, latest: number): Follows {
  return {
    bits: 1,
    pack: (position) => js`(${position} < 0 ? 0 : 1)`,
    read: (packed, other) => `((${packed}) === 0 ? -1 : ${other(latest)} - ${screens + 1})`
  };
}

/** A variable is stale exactly where it can be and while it has not its initial value. */
function staleWhile(variable: number, initial: number, places: boolean[], bottom: number): Follows {
  const there = places.flatMap((can, place) => (can ? [place] : []));
  return {
    bits: 0,
    pack: () => 0,
    read: (_, other) =>
      `((${there.map((place) => `${other(bottom)} === ${place}`).join(' || ') || 'false'}) && ${other(variable)} !== ${initial} ? 1 : 0)`
  };
}
