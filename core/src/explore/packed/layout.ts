/** Which slot holds what: the state of section 3, laid out for one flow. */
import { secondsOf } from '../../document/numbers.ts';
import { isLevel, type Id } from '../../document/types.ts';
import { renewalOf, type Flow } from '../../play/flow.ts';
import { mostFrames } from '../../play/move.ts';
import { js } from './instructions.ts';
import { needsOf, type Needs } from './needs.ts';
import { Slots, type Follows, type Packing } from './slots.ts';
import { usedUp, countOf } from '../../vocabulary/pieces.ts';

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

interface PieceSlot {
  slot: number;
  count: number;
}

interface LevelSlots {
  progress: number;
  /** All used-up pieces. */
  pieces: Map<Id, PieceSlot>;
  /** Those that are full after every fresh arrival, and of these those that a save remembers. */
  here: PieceSlot[];
  attemptPieces: { slot: number; saved: number }[];
}

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
export interface Layout {
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

/** The slots of a layout as they are given out; what is not kept stays as it is at first. */
class Laying {
  readonly slots = new Slots();
  readonly kept = new Set<number>();
  /** All slots of the bookmark. */
  readonly book: number[] = [];

  constructor(
    readonly flow: Flow,
    readonly needs: Needs,
    readonly placeIds: Id[]
  ) {}

  add(min: number, max: number, initial: number, keep: boolean): number {
    const slot = this.slots.add(min, max, initial, keep);
    if (keep) this.kept.add(slot);
    return slot;
  }

  /** A slot whose value follows from others. */
  follow(follows: Follows, initial: number): number {
    const slot = this.slots.addFollowing(follows, initial);
    this.kept.add(slot);
    return slot;
  }

  /** A slot that has one value before the start, the other whenever a state is read. */
  renewed(initial: number, renewed: number): number {
    const slot = this.slots.addRenewed(initial, renewed);
    this.kept.add(slot);
    return slot;
  }

  /** A slot of the bookmark. */
  saved(min: number, max: number, initial: number, keep: boolean): number {
    const slot = this.add(min, max, initial, keep && this.needs.bookmark);
    this.book.push(slot);
    return slot;
  }

  /** How many places are no levels; these have the lowest numbers. */
  get screens(): number {
    return this.placeIds.length - this.flow.levels.length;
  }
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

/** The pieces. Those that are renewed on arrival share slots: only those of the level at the bottom count. */
function layPieces(laying: Laying, bottom: number) {
  const { flow, needs, slots, placeIds } = laying;
  const { document } = flow;
  const most = (level: (typeof flow.levels)[number]) =>
    sharing(level[1].pieces).map(([id, piece]) => ({ count: countOf(piece), asked: needs.pieces(level[0]).has(id) }));
  const shared: { max: number; keep: boolean }[] = [];
  for (const level of flow.levels) {
    most(level).forEach(({ count, asked }, index) => {
      const known = (shared[index] ??= { max: 0, keep: false });
      if (asked) known.max = Math.max(known.max, count);
      known.keep ||= asked;
    });
  }
  const here = shared.map(({ max, keep }) => laying.add(0, Math.max(1, max), 0, keep));
  for (const slot of here) slots.varies(slot);
  // without them it is the place that changes most
  if (!shared.some(({ keep }) => keep)) slots.varies(bottom);
  const hereSaved = shared.map(({ max, keep }) => laying.saved(0, Math.max(1, max), 0, keep));
  const runPieces: PieceSlot[] = [];
  const keptPieces: PieceSlot[] = [];
  const savedPieces: [number, number][] = [];
  const levels = placeIds.map((id): LevelSlots | undefined => {
    const level = document.places[id]!;
    if (level.kind !== 'level') return undefined;
    const asked = needs.pieces(id);
    const found: LevelSlots = { progress: level.progress ?? 0, pieces: new Map(), here: [], attemptPieces: [] };
    sharing(level.pieces).forEach(([piece, value], index) => {
      const at = { slot: here[index]!, count: countOf(value) };
      found.pieces.set(piece, at);
      // an unasked piece in a shared slot would split states for nothing: it stays at none
      const counted = asked.has(piece);
      if (!counted) {
        const own = { slot: laying.add(0, countOf(value), countOf(value), false), count: countOf(value) };
        found.pieces.set(piece, own);
        found.here.push(own);
        return;
      }
      found.here.push(at);
      if (renewalOf(value) === 'attempt') found.attemptPieces.push({ slot: at.slot, saved: hereSaved[index]! });
    });
    for (const [piece, value] of Object.entries(level.pieces)) {
      if (!usedUp(value) || found.pieces.has(piece)) continue;
      const count = countOf(value);
      const keep = asked.has(piece);
      const at = { slot: laying.add(0, count, count, keep), count };
      slots.fills(at.slot);
      found.pieces.set(piece, at);
      (renewalOf(value) === 'run' ? runPieces : keptPieces).push(at);
      if (renewalOf(value) === 'run') savedPieces.push([at.slot, laying.saved(0, count, 0, keep && needs.load)]);
    }
    return found;
  });
  return { here, levels, runPieces, keptPieces, savedPieces };
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

/** The used-up pieces of a level that are renewed on arrival, in order. */
function sharing(pieces: Parameters<typeof Object.entries<import('../../document/types.ts').Piece>>[0]) {
  return Object.entries(pieces).filter(
    ([, piece]) => usedUp(piece) && (renewalOf(piece) === 'attempt' || renewalOf(piece) === 'arrival')
  );
}

/** How many deadlines, ticks of each clock and `holds` rules a bottom frame, or one above it, can have at the most. */
function frameSizes(flow: Flow, openable: Id[]) {
  const { document, rules } = flow;
  const all = Object.keys(document.places);
  const repeats = [...rules.values()].some(({ rule }) => 'every' in rule.when);
  const ticks = (pairs: [place: Id, bottom: Id][]) => {
    const most: number[] = [];
    for (const [place, bottom] of repeats ? pairs : [])
      flow.applying(place, bottom).clocks.forEach(({ due }, n) => (most[n] = Math.max(most[n] ?? 0, due.at(-1) ?? 0)));
    return most;
  };
  const count = (ids: Id[]) => {
    let deadlines = 0;
    let holds = 0;
    for (const id of ids) {
      const place = document.places[id]!;
      const group = place.kind === 'level' && place.group !== undefined ? (document.groups[place.group]?.rules ?? []) : [];
      const read = [...place.rules, ...group, ...(place.kind === 'level' ? document.rules : [])].filter((rule) =>
        rules.has(rule.id)
      );
      deadlines = Math.max(
        deadlines,
        new Set(read.flatMap(({ when }) => ('after' in when ? [secondsOf(document, when.after)] : []))).size
      );
      holds = Math.max(holds, read.filter(({ when }) => 'holds' in when).length);
    }
    return { deadlines, holds };
  };
  const upper = openable.flatMap((place) => all.map((bottom): [Id, Id] => [place, bottom]));
  return {
    bottom: { ...count(all), ticks: ticks(all.map((id) => [id, id])) },
    upper: { ...count(openable), ticks: ticks(upper) }
  };
}
