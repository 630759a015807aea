/** The places of a plan that the player can come to with everything open, and their moves. */
import { Numbers } from '../graph/numbers.ts';
import { Automaton, outside, type Place } from './automaton.ts';
import type { Ground } from './ground.ts';

/**
 * Numbers the places as the player comes to them. Made from those of a plan that was before, it has the same numbers for the same
 * places, and only looks again at moves near cells that differ. What is taken over is copied, or only ever added to: the places
 * before stay what they were.
 */
export class Places {
  readonly automaton: Automaton;
  /** Whether nothing has been taken over. */
  readonly isNew: boolean;
  /** Places whose moves are others than before, or that were not known. */
  readonly moved: number[] = [];
  /** All that the player comes to, by number, in that order. */
  readonly reached: Int32Array;
  /** By number the code of a place and its cell. */
  readonly codes: Numbers;
  readonly cells: Numbers;
  /**
   * By place its moves, as those from one number to the next: up to `inner` those within its area and what acts there that ask
   * for nothing. All three are -1 where they have not been looked at.
   */
  readonly first: Numbers;
  readonly inner: Numbers;
  readonly last: Numbers;
  /** By place 1 where a move leads out of the rows. */
  readonly falling: Numbers;
  /** Where moves lead, and the list of what has to hold. */
  readonly targets: Numbers;
  readonly asked: Numbers;
  /** By cell the numbers of its places, from 1. Lists that belong to the places before are copied when something is added. */
  private readonly numbers: (Numbered | undefined)[];
  private readonly isOwn: Uint8Array;
  /** By cell a number for its area and the piece that acts in it, and what these numbers are given for. */
  private readonly labels: Int32Array;
  private readonly labelled: Map<string, number>;

  /** Throws `TooMany` where the player can come to more than `most` places. */
  constructor(
    readonly ground: Ground,
    starts: number[],
    most: number,
    before?: Places
  ) {
    this.automaton = new Automaton(ground, before?.automaton);
    this.labelled = before?.labelled ?? new Map<string, number>();
    this.labels = this.labelsOf();
    const near = before && this.nearOthers(before);
    if (!near) before = undefined;
    this.isNew = !before;
    this.codes = new Numbers(before?.codes);
    this.cells = new Numbers(before?.cells);
    this.first = new Numbers(before?.first);
    this.inner = new Numbers(before?.inner);
    this.last = new Numbers(before?.last);
    this.falling = new Numbers(before?.falling);
    this.targets = new Numbers(before?.targets);
    this.asked = new Numbers(before?.asked);
    this.numbers = before?.numbers.slice() ?? [];
    this.isOwn = new Uint8Array(ground.width * ground.height);
    const again: number[] = [];
    for (const cell of near ?? []) this.eachOf(cell, (at) => again.push(at));
    for (const at of again) for (const moves of [this.first, this.inner, this.last]) moves.set(at, -1);
    this.reached = this.explore(starts, most);
    for (const at of again) if (this.isMoved(at, before!)) this.moved.push(at);
    for (let at = before?.codes.length ?? 0; at < this.codes.length; at++) this.moved.push(at);
  }

  /**
   * The cells from which moves may be others than before. Undefined where it is better to begin from nothing: another player, or
   * too much that differs, or too much that has been taken over from plan to plan and is no longer come to.
   */
  private nearOthers(before: Places): Set<number> | undefined {
    if (!this.automaton.isLike(before.automaton) || before.isWorn()) return undefined;
    const near = new Set<number>();
    let others = 0;
    for (let cell = 0; cell < this.labels.length; cell++) {
      if (this.labels[cell] === before.labels[cell] && !this.automaton.differsAt(cell, before.automaton)) continue;
      if (++others > this.labels.length / 8) return undefined;
      this.automaton.eachAround(cell, (each) => near.add(each));
    }
    return near;
  }

  private isWorn(): boolean {
    const [first, last] = [this.first.view(), this.last.view()];
    let moves = 0;
    for (const at of this.reached) moves += last[at]! - first[at]!;
    return this.codes.length > 2 * this.reached.length || this.targets.length > 2 * moves;
  }

  /** Whether the moves of a place are others than before, if it is come to. */
  private isMoved(at: number, before: Places): boolean {
    if (this.first.at(at) === -1) return false;
    const first = before.first.at(at);
    const count = this.last.at(at) - this.first.at(at);
    if (first === -1 || before.last.at(at) - first !== count || before.falling.at(at) !== this.falling.at(at)) return true;
    if (before.inner.at(at) - first !== this.inner.at(at) - this.first.at(at)) return true;
    for (let move = 0; move < count; move++) {
      const [here, there] = [this.first.at(at) + move, first + move];
      if (this.targets.at(here) !== this.targets.at(there) || this.asked.at(here) !== this.asked.at(there)) return true;
    }
    return false;
  }

  /** Looks at all moves, from the cells where the player arrives on. Gives the places in the order in which they are come to. */
  private explore(starts: number[], most: number): Int32Array {
    const { codes, first, last, targets } = this;
    const reached = new Numbers();
    for (const cell of starts) reached.push(this.numbered(cell * this.automaton.perCell));
    let isReached = new Uint8Array(2 * codes.length);
    for (const at of reached.view()) isReached[at] = 1;
    for (let next = 0; next < reached.length; next++) {
      if (reached.length > most) throw new TooMany('places');
      const at = reached.at(next);
      if (first.at(at) === -1) {
        this.look(at);
        if (codes.length > isReached.length) {
          const larger = new Uint8Array(2 * codes.length);
          larger.set(isReached);
          isReached = larger;
        }
      }
      const end = last.at(at);
      for (let move = first.at(at); move < end; move++) {
        const to = targets.at(move);
        if (isReached[to] === 1) continue;
        isReached[to] = 1;
        reached.push(to);
      }
    }
    return reached.view();
  }

  /** Looks at the moves of a place. */
  private look(at: number): void {
    const { automaton, targets, asked, labels } = this;
    const label = labels[this.cells.at(at)];
    const others: number[] = [];
    this.first.set(at, targets.length);
    this.falling.set(at, 0);
    automaton.eachMove(this.codes.at(at), (code, asks) => {
      if (code === outside) {
        this.falling.set(at, 1);
        return;
      }
      const to = this.numbered(code);
      if (asks === 0 && labels[this.cells.at(to)] === label) {
        targets.push(to);
        asked.push(0);
      } else others.push(to, asks);
    });
    this.inner.set(at, targets.length);
    for (let other = 0; other < others.length; other += 2) {
      targets.push(others[other]!);
      asked.push(others[other + 1]!);
    }
    this.last.set(at, targets.length);
  }

  private numbered(code: number): number {
    const { perCell } = this.automaton;
    const cell = this.automaton.cellOf(code);
    const within = code - cell * perCell;
    let numbers = this.numbers[cell];
    const known = numbers ? numberIn(numbers, within) : 0;
    if (known > 0) return known - 1;
    if (!numbers || this.isOwn[cell] === 0) {
      // of many places that a cell could have the player mostly comes to few
      if (numbers) numbers = numbers instanceof Map ? new Map(numbers) : numbers.slice();
      else numbers = perCell > mostNumbered ? new Map<number, number>() : new Int32Array(perCell);
      this.numbers[cell] = numbers;
      this.isOwn[cell] = 1;
    }
    const at = this.codes.length;
    this.codes.push(code);
    this.cells.push(cell);
    this.first.push(-1);
    this.inner.push(-1);
    this.last.push(-1);
    this.falling.push(0);
    if (numbers instanceof Map) numbers.set(within, at + 1);
    else numbers[within] = at + 1;
    return at;
  }

  private labelsOf(): Int32Array {
    const { areaOf, acting, areas } = this.ground;
    const known = this.labelled;
    return areaOf.map((area, cell) => {
      const piece = acting.get(cell);
      if (piece === undefined && area === -1) return 0;
      const key = JSON.stringify([areas[area], piece]);
      if (!known.has(key)) known.set(key, known.size + 1);
      return known.get(key)!;
    });
  }

  /** The number of a place; undefined where it is not known. */
  numberOf(place: Place): number | undefined {
    const numbers = this.numbers[place.cell];
    const number = numbers ? numberIn(numbers, this.automaton.codeOf(place) - place.cell * this.automaton.perCell) : 0;
    return number === 0 ? undefined : number - 1;
  }

  /** The places that are known in a cell. */
  eachOf(cell: number, visit: (at: number) => void): void {
    const numbers = this.numbers[cell];
    if (numbers instanceof Map) for (const number of numbers.values()) visit(number - 1);
    else if (numbers)
      for (let within = 0; within < numbers.length; within++) if (numbers[within]! > 0) visit(numbers[within]! - 1);
  }

  /** The places from which moves lead to one, with the list of what has to hold; also such as the player no longer comes to. */
  eachBefore(place: number, visit: (from: number, asks: number) => void): void {
    const { first, last, targets, asked } = this;
    const look = (at: number) => {
      const end = last.at(at);
      for (let move = first.at(at); move < end; move++) if (targets.at(move) === place) visit(at, asked.at(move));
    };
    this.automaton.eachAround(this.cells.at(place), (cell) => this.eachOf(cell, look));
  }
}

/** There is more than is looked at: places to which the player can come, or leads from one to another. */
export class TooMany extends Error {
  constructor(readonly what: 'places' | 'leads') {
    super(`There are too many ${what}.`);
  }
}

/** By place within a cell its number from 1, or 0: in a list, or where there could be very many as a map. */
type Numbered = Int32Array | Map<number, number>;
/** Cells that could have more places than this list those that there are. */
const mostNumbered = 1024;

const numberIn = (numbers: Numbered, within: number): number =>
  numbers instanceof Map ? (numbers.get(within) ?? 0) : numbers[within]!;
