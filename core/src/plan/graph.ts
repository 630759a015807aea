/** All places that the player can come to in a plan, taken together where nothing keeps them apart. */
import type { Id } from '../document/types.ts';
import { componentsAmong } from '../graph/components.ts';
import type { Automaton, Place } from './automaton.ts';
import { oneWay, type Ground } from './ground.ts';
import { Places } from './places.ts';

/**
 * The components of a plan: places between which the player comes and goes as it likes, within one area, no condition asked,
 * nothing touched but the one piece in whose cells all of it is. A component is called by the number of the first of its places.
 */
export class Graph {
  /** By number of a place its component; -1 where the player does not come. */
  readonly component: Int32Array;
  /** The same in the graph whose places have been taken over; undefined where none have. */
  readonly earlier: Int32Array | undefined;
  /** The components in which the player can stand, has or touches something, or falls out of the rows, by their codes. */
  readonly marked: number[];
  /** By component the least code of its places: the same however the graph came about. */
  readonly leastCode: Int32Array;
  private readonly places: Places;
  private readonly isCellReached: Uint8Array;
  /** By place the next one of its component, or -1. */
  private readonly nextMember: Int32Array;
  /** By component, and by cell, what is known of it. */
  private readonly marks: Uint8Array;
  private readonly cellMarks: Uint8Array;
  /** By component that its moves led to lately, when that was. */
  private readonly noted: Int32Array;
  private time = 0;
  private searched = 0;
  private backward: ReturnType<Graph['turned']> | undefined;

  /**
   * Explores a plan from the cells where the player arrives; what is still true of another one `before` is taken over. Throws
   * `TooMany` where the player can come to more than `most` places.
   */
  constructor(
    readonly ground: Ground,
    starts: number[],
    most: number,
    before?: Graph
  ) {
    this.places = new Places(ground, starts, most, before?.places);
    if (this.places.isNew) before = undefined;
    this.earlier = before?.component;
    this.component = this.componentsOf(before);
    const count = this.component.length;
    const cells = ground.width * ground.height;
    this.nextMember = new Int32Array(count).fill(-1);
    this.leastCode = new Int32Array(count).fill(-1);
    this.marks = new Uint8Array(count);
    this.cellMarks = new Uint8Array(cells).map((_, cell) => this.marksOf(cell));
    this.noted = new Int32Array(count);
    this.isCellReached = new Uint8Array(cells);
    this.marked = this.gather();
  }

  get automaton(): Automaton {
    return this.places.automaton;
  }

  /** Components whose moves are others than in the graph before. */
  get moved(): number[] {
    return this.places.moved.flatMap((at) => (this.component[at] === -1 ? [] : this.component[at]!));
  }

  private componentsOf(before: Graph | undefined): Int32Array {
    const { codes, reached, first, inner, targets } = this.places;
    const count = codes.length;
    const isReached = new Uint8Array(count);
    for (const at of reached) isReached[at] = 1;
    const starts = before ? this.unsettled(before, isReached) : reached;
    const { component } = componentsAmong(count, first.view(), inner.view(), targets.view(), starts);
    const names = new Int32Array(count).fill(-1);
    for (let at = 0; at < count; at++) {
      const found = component[at]!;
      if (isReached[at] === 0) component[at] = -1;
      else if (found === -1) component[at] = before!.component[at]!;
      else component[at] = names[found] === -1 ? (names[found] = at) : names[found]!;
    }
    return component;
  }

  /**
   * Places that lead to all whose component may be another than before. A component that is new has a move that is new, which
   * leads to all of it; one that is no more had a place whose moves are others, or that the player no longer comes to.
   */
  private unsettled(before: Graph, isReached: Uint8Array): number[] {
    const { component, nextMember } = before;
    const found: number[] = [];
    const broken = new Set<number>();
    const look = (at: number) => {
      if (isReached[at] === 1) found.push(at);
      const one = component[at] ?? -1;
      if (one !== -1) broken.add(one);
    };
    for (const at of this.places.moved) look(at);
    for (let at = 0; at < isReached.length; at++) if (isReached[at] !== Number((component[at] ?? -1) !== -1)) look(at);
    for (const one of broken) for (let at = one; at !== -1; at = nextMember[at]!) if (isReached[at] === 1) found.push(at);
    return found;
  }

  /** Finds what belongs to components, and what is to be known of them. Gives those of which there is something. */
  private gather(): number[] {
    const { component, nextMember, leastCode, marks, cellMarks, isCellReached, places } = this;
    const inTheAir = ~(mark.stands | mark.stays);
    const { perCell } = places.automaton;
    const [codes, cells, falling] = [places.codes.view(), places.cells.view(), places.falling.view()];
    for (let at = component.length - 1; at >= 0; at--) {
      const one = component[at]!;
      if (one === -1) continue;
      if (at !== one) {
        nextMember[at] = nextMember[one]!;
        nextMember[one] = at;
      }
      const cell = cells[at]!;
      const code = codes[at]!;
      isCellReached[cell] = 1;
      marks[one]! |= cellMarks[cell]! & (code === cell * perCell ? ~0 : inTheAir);
      if (falling[at] === 1) marks[one]! |= mark.falls;
      if (leastCode[one] === -1 || code < leastCode[one]!) leastCode[one] = code;
    }
    const found: number[] = [];
    for (let one = 0; one < marks.length; one++) if (marks[one] !== 0) found.push(one);
    return found.sort((a, b) => leastCode[a]! - leastCode[b]!);
  }

  private marksOf(cell: number): number {
    const { ground } = this;
    const things = !ground.pieces.has(cell) ? 0 : ground.acting.has(cell) ? mark.acts : mark.things;
    if (!this.automaton.isFooting(cell)) return things;
    const isOneWay = ground.drawn.plan.view === 'above' && oneWay[ground.char(...ground.cellOf(cell))] !== undefined;
    return things | mark.stands | (isOneWay ? 0 : mark.stays);
  }

  /** All components. */
  all(): number[] {
    const found: number[] = [];
    for (const at of this.places.reached) if (this.component[at] === at) found.push(at);
    return found;
  }

  /** The component of a place; undefined for what the player never comes to. */
  of(place: Place): number | undefined {
    const at = this.places.numberOf(place);
    return at === undefined || this.component[at] === -1 ? undefined : this.component[at];
  }

  /** Whether the player ever comes to a cell. */
  isReached(cell: number): boolean {
    return this.isCellReached[cell] === 1;
  }

  /** The piece that is touched by being in a component. */
  acts(one: number): Id | undefined {
    return this.ground.acting.get(this.places.cells.at(one));
  }

  area(one: number): number {
    return this.ground.areaOf[this.places.cells.at(one)]!;
  }

  /** Whether the player can stand still here. */
  stands(one: number): boolean {
    return (this.marks[one]! & mark.stands) !== 0;
  }

  /** Whether the player can stand here on ground that does not lead on by itself. */
  stays(one: number): boolean {
    return (this.marks[one]! & mark.stays) !== 0;
  }

  /** Whether the player can fall out of the rows from here. */
  falls(one: number): boolean {
    return (this.marks[one]! & mark.falls) !== 0;
  }

  /** Whether pieces that do not act by touch are had here. */
  hasThings(one: number): boolean {
    return (this.marks[one]! & mark.things) !== 0;
  }

  /** Its cells, as often as it has places in them; only those in which it stands, where that is asked. */
  cells(one: number, standing = false): number[] {
    const cells: number[] = [];
    for (let at = one; at !== -1; at = this.nextMember[at]!)
      if (!standing || this.automaton.isStanding(this.places.codes.at(at))) cells.push(this.places.cells.at(at));
    return cells;
  }

  /** The cells of the pieces that are had here, each once. */
  things(one: number): Set<number> {
    const found = new Set<number>();
    if (!this.hasThings(one)) return found;
    for (let at = one; at !== -1; at = this.nextMember[at]!)
      if ((this.cellMarks[this.places.cells.at(at)]! & mark.things) !== 0) found.add(this.places.cells.at(at));
    return found;
  }

  /** The components that have a place in a cell. */
  within(cell: number): Set<number> {
    const found = new Set<number>();
    this.places.eachOf(cell, (at) => this.component[at] !== -1 && found.add(this.component[at]!));
    return found;
  }

  /** Where the moves of a component lead, with the list of what has to hold; what asks for nothing once for each. */
  eachLead(one: number, visit: (to: number, asks: number) => void): void {
    const { component, nextMember, noted } = this;
    const { first, last, targets, asked } = this.places;
    const isSeveral = nextMember[one] !== -1;
    const time = ++this.time;
    for (let at = one; at !== -1; at = nextMember[at]!) {
      const end = last.at(at);
      for (let move = first.at(at); move < end; move++) {
        const to = component[targets.at(move)]!;
        if (to === one) continue;
        const asks = asked.at(move);
        if (isSeveral && asks === 0) {
          if (noted[to] === time) continue;
          noted[to] = time;
        }
        visit(to, asks);
      }
    }
  }

  /** The components from which moves lead to one, with the list of what has to hold; some of them several times. */
  eachBefore(one: number, visit: (from: number, asks: number) => void): void {
    if (this.isNear(one)) {
      for (let at = one; at !== -1; at = this.nextMember[at]!)
        this.eachBeforePlace(at, (from, asks) => from !== one && visit(from, asks));
      return;
    }
    const { start, from, asked } = (this.backward ??= this.turned());
    for (let move = start[one]!; move < start[one + 1]!; move++) visit(from[move]!, asked[move]!);
  }

  /** The components from which moves lead to some places, by their numbers; where these are many, to all of their components. */
  eachBeforeThese(places: readonly number[], visit: (from: number) => void): void {
    if (places.length < few) for (const at of places) this.eachBeforePlace(at, visit);
    else for (const one of new Set(places.map((at) => this.component[at]!))) this.eachBefore(one, visit);
  }

  /** Whether those that lead to a component are still found faster among what is near than by turning round all moves once. */
  private isNear(one: number): boolean {
    if (this.backward) return false;
    for (let at = one; at !== -1; at = this.nextMember[at]!) if (++this.searched > few) return false;
    return true;
  }

  private eachBeforePlace(place: number, visit: (from: number, asks: number) => void): void {
    const { component } = this;
    this.places.eachBefore(place, (at, asks) => component[at] !== -1 && visit(component[at]!, asks));
  }

  /** By component the moves that lead to it, as those from one number to the next. */
  private turned() {
    const { component, places } = this;
    const { reached } = places;
    const [first, last, targets, asks] = [places.first.view(), places.last.view(), places.targets.view(), places.asked.view()];
    const start = new Int32Array(component.length + 1);
    for (const at of reached)
      for (let move = first[at]!; move < last[at]!; move++) {
        const to = component[targets[move]!]!;
        if (to !== component[at]) start[to + 1]!++;
      }
    for (let one = 0; one < component.length; one++) start[one + 1]! += start[one]!;
    const next = start.slice();
    const from = new Int32Array(start.at(-1)!);
    const asked = new Int32Array(from.length);
    for (const at of reached)
      for (let move = first[at]!; move < last[at]!; move++) {
        const to = component[targets[move]!]!;
        if (to === component[at]) continue;
        const place = next[to]!++;
        from[place] = component[at]!;
        asked[place] = asks[move]!;
      }
    return { start, from, asked };
  }
}

/** Places to which what leads is sought near them; for more than these all moves are turned round. */
const few = 5000;

/** What can be known of a component. */
const mark = { stands: 1, stays: 2, falls: 4, things: 8, acts: 16 };
