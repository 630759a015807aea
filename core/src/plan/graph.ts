/** All places that the player can come to in a plan with everything open, taken together where nothing keeps them apart. */
import type { Id } from '../document/types.ts';
import { components } from '../graph/components.ts';
import { Numbers } from '../graph/numbers.ts';
import { Automaton, outside, type Place } from './automaton.ts';
import { oneWay, type Ground } from './ground.ts';

/**
 * Explores a plan from the cells where the player arrives. Its components are places between which the player comes and goes as
 * it likes, within one area: no condition asked, nothing touched but the one piece in whose cells all of it is.
 */
export class Graph {
  readonly automaton: Automaton;
  readonly count: number;
  /** The codes of all places, and by number the component that they belong to. */
  private readonly codes = new Numbers();
  private readonly component: Int32Array;
  /** By cell the numbers of its places, from 1; 0 where the player does not come. */
  private readonly numbers: (Int32Array | Map<number, number> | undefined)[] = [];
  /** By component its places, as those from one number to the next in a list. */
  private readonly members: Int32Array;
  private readonly firstMember: Int32Array;
  /** By component where its moves lead, likewise. */
  private readonly ends = new Numbers();
  private readonly asks = new Numbers();
  private readonly firstEnd: Int32Array;
  private readonly marks: Uint8Array;

  /** Throws `TooMany` where the player can come to more than `most` places. */
  constructor(
    readonly ground: Ground,
    starts: number[],
    most: number
  ) {
    this.automaton = new Automaton(ground);
    const { automaton, codes } = this;
    const targets = new Numbers();
    const asked = new Numbers();
    const firstMove = new Numbers();
    const falling = new Set<number>();
    for (const cell of starts) this.numbered(cell * automaton.perCell);
    for (let at = 0; at < codes.length; at++) {
      if (codes.length > most) throw new TooMany('places');
      firstMove.push(targets.length);
      automaton.eachMove(codes.at(at), (to, asks) => {
        if (to === outside) falling.add(at);
        else {
          targets.push(this.numbered(to));
          asked.push(asks);
        }
      });
    }
    firstMove.push(targets.length);
    const label = this.labels();
    const labelOf = (at: number) => label[automaton.cellOf(codes.at(at))]!;
    const { component, count } = components(codes.length, (at, visit) => {
      const own = labelOf(at);
      for (let move = firstMove.at(at); move < firstMove.at(at + 1); move++)
        if (asked.at(move) === 0 && labelOf(targets.at(move)) === own) visit(targets.at(move));
    });
    this.component = component;
    this.count = count;
    ({ members: this.members, first: this.firstMember } = grouped(component, count));
    this.marks = new Uint8Array(count);
    this.firstEnd = new Int32Array(count + 1);
    /** Which component a move was last noted for, by where it leads; with a condition also by that. */
    const noted = new Int32Array(count).fill(-1);
    const notedAsking = new Set<string>();
    for (let one = 0; one < count; one++) {
      this.firstEnd[one] = this.ends.length;
      notedAsking.clear();
      for (let member = this.firstMember[one]!; member < this.firstMember[one + 1]!; member++) {
        const at = this.members[member]!;
        this.marks[one]! |= this.markOf(codes.at(at)) | (falling.has(at) ? mark.falls : 0);
        for (let move = firstMove.at(at); move < firstMove.at(at + 1); move++) {
          const to = component[targets.at(move)]!;
          const asks = asked.at(move);
          if (to === one) continue;
          if (asks === 0) {
            if (noted[to] === one) continue;
            noted[to] = one;
          } else {
            const key = `${to} ${asks}`;
            if (notedAsking.has(key)) continue;
            notedAsking.add(key);
          }
          this.ends.push(to);
          this.asks.push(asks);
        }
      }
    }
    this.firstEnd[count] = this.ends.length;
  }

  private numbered(code: number): number {
    const { perCell } = this.automaton;
    const cell = this.automaton.cellOf(code);
    // of many places that a cell could have the player mostly comes to few
    const numbers = (this.numbers[cell] ??= perCell > mostNumbered ? new Map<number, number>() : new Int32Array(perCell));
    const within = code - cell * perCell;
    const known = numberIn(numbers, within);
    if (known > 0) return known - 1;
    this.codes.push(code);
    if (numbers instanceof Map) numbers.set(within, this.codes.length);
    else numbers[within] = this.codes.length;
    return this.codes.length - 1;
  }

  /** By cell a number for its area and the piece that acts in it. */
  private labels(): Int32Array {
    const { areaOf, acting } = this.ground;
    const known = new Map<string, number>();
    return areaOf.map((area, cell) => {
      const piece = acting.get(cell);
      if (piece === undefined) return area;
      const key = `${area} ${piece}`;
      if (!known.has(key)) known.set(key, -2 - known.size);
      return known.get(key)!;
    });
  }

  private markOf(code: number): number {
    const { ground, automaton } = this;
    const cell = automaton.cellOf(code);
    const things = ground.pieces.has(cell) && !ground.acting.has(cell) ? mark.things : 0;
    if (!automaton.isStanding(code)) return things;
    const [x, y] = ground.cellOf(cell);
    if (!ground.isFooting(x, y)) return things;
    const isOneWay = ground.drawn.plan.view === 'above' && oneWay[ground.char(x, y)] !== undefined;
    return things | mark.stands | (isOneWay ? 0 : mark.stays);
  }

  /** The component of a place; undefined for what the player never comes to. */
  of(place: Place): number | undefined {
    const within = this.automaton.codeOf(place) - place.cell * this.automaton.perCell;
    const numbers = this.numbers[place.cell];
    const number = numbers ? numberIn(numbers, within) : 0;
    return number === 0 ? undefined : this.component[number - 1]!;
  }

  /** Whether the player ever comes to a cell. */
  isReached(cell: number): boolean {
    return this.numbers[cell] !== undefined;
  }

  private firstCell(one: number): number {
    return this.automaton.cellOf(this.codes.at(this.members[this.firstMember[one]!]!));
  }

  /** The piece that is touched by being in a component. */
  acts(one: number): Id | undefined {
    return this.ground.acting.get(this.firstCell(one));
  }

  area(one: number): number {
    return this.ground.areaOf[this.firstCell(one)]!;
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
    for (let member = this.firstMember[one]!; member < this.firstMember[one + 1]!; member++) {
      const code = this.codes.at(this.members[member]!);
      if (!standing || this.automaton.isStanding(code)) cells.push(this.automaton.cellOf(code));
    }
    return cells;
  }

  /** The cells of the pieces that are had here, each once. */
  things(one: number): Set<number> {
    if (!this.hasThings(one)) return new Set();
    return new Set(this.cells(one).filter((cell) => this.ground.pieces.has(cell)));
  }

  /** Where the moves of a component lead, with the list of what has to hold. */
  eachLead(one: number, visit: (to: number, asks: number) => void): void {
    for (let at = this.firstEnd[one]!; at < this.firstEnd[one + 1]!; at++) visit(this.ends.at(at), this.asks.at(at));
  }
}

/** There is more than is looked at: places to which the player can come, or leads from one to another. */
export class TooMany extends Error {
  constructor(readonly what: 'places' | 'leads') {
    super(`There are too many ${what}.`);
  }
}

/** Cells that could have more places than this list those that there are. */
const mostNumbered = 1024;

const numberIn = (numbers: Int32Array | Map<number, number>, within: number): number =>
  numbers instanceof Map ? (numbers.get(within) ?? 0) : numbers[within]!;

/** What is known of a component. */
const mark = { stands: 1, stays: 2, falls: 4, things: 8 };

/** Numbers from 0 by the group that each belongs to: those of group g stand from `first[g]` on, up to `first[g + 1]`. */
function grouped(groupOf: Int32Array, count: number): { members: Int32Array; first: Int32Array } {
  const first = new Int32Array(count + 1);
  for (const group of groupOf) first[group + 1]!++;
  for (let group = 0; group < count; group++) first[group + 1]! += first[group]!;
  const next = first.slice();
  const members = new Int32Array(groupOf.length);
  groupOf.forEach((group, at) => (members[next[group]!++] = at));
  return { members, first };
}
