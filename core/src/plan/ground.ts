/** The cells of a plan: what ground they are, and what stands on them. */
import type { Cell, Id } from '../document/types.ts';
import type { Drawn } from './types.ts';

/** Solid, open, ledge and climb; from above ledges are solid and climbs are open. */
const grounds = new Set('#.-|');
/** One-way ground, seen from above only, with its direction. */
export const oneWay: Record<string, Cell> = { '<': [-1, 0], '>': [1, 0], '^': [0, -1], v: [0, 1] };

/** What a cell is; several at once. */
export const is = { solid: 1, open: 2, clear: 4, standing: 8, climb: 16, ledge: 32 };

/** Reads a plan cell by cell. Cells are numbered row by row; `at` is undefined outside of the rows. */
export class Ground {
  readonly width: number;
  readonly height: number;
  /** By cell: the condition of its gate, the piece on it, that piece where it acts by touch, and the area it belongs to. */
  readonly gates = new Map<number, string>();
  readonly pieces = new Map<number, Id>();
  readonly acting = new Map<number, Id>();
  readonly areaOf: Int32Array;
  readonly areas: Id[];
  readonly isTall: boolean;
  private readonly chars: string[];

  constructor(readonly drawn: Drawn) {
    const { rows, things = {}, areas = {} } = drawn.plan;
    this.width = Math.max(0, ...rows.map(({ length }) => length));
    this.height = rows.length;
    this.isTall = drawn.plan.view === 'side' && drawn.movement.side.tall > 1;
    const isAbove = drawn.plan.view === 'above';
    this.chars = Array.from({ length: this.width * this.height }, (_, cell) => {
      const [x, y] = this.cellOf(cell);
      const char = rows[y]![x] ?? '#';
      return grounds.has(char) || (isAbove && oneWay[char] !== undefined) ? char : '#';
    });
    for (const thing of Object.values(things)) {
      if ('gate' in thing) for (const cell of this.numbered(thing.cells)) this.gates.set(cell, thing.gate);
      if ('piece' in thing)
        for (const cell of this.numbered(thing.cells)) {
          this.pieces.set(cell, thing.piece);
          if (drawn.acts.has(thing.piece)) this.acting.set(cell, thing.piece);
        }
    }
    this.areas = Object.keys(areas);
    this.areaOf = new Int32Array(this.width * this.height).fill(-1);
    // a cell belongs to the first area that contains it
    for (let index = this.areas.length - 1; index >= 0; index--) {
      const { from, to } = areas[this.areas[index]!]!;
      for (let y = Math.max(0, Math.min(from[1], to[1])); y <= Math.min(this.height - 1, Math.max(from[1], to[1])); y++)
        for (let x = Math.max(0, Math.min(from[0], to[0])); x <= Math.min(this.width - 1, Math.max(from[0], to[0])); x++)
          this.areaOf[y * this.width + x] = index;
    }
  }

  private numbered(cells: Cell[]): number[] {
    return cells.flatMap(([x, y]) => this.at(x, y) ?? []);
  }

  at(x: number, y: number): number | undefined {
    return x < 0 || y < 0 || x >= this.width || y >= this.height ? undefined : y * this.width + x;
  }

  cellOf(cell: number): Cell {
    return [cell % this.width, Math.floor(cell / this.width)];
  }

  /**
   * The character at a cell. Left, right and above the rows all is solid, as is what is no ground; below them there is
   * nothing.
   */
  char(x: number, y: number): string {
    if (x < 0 || x >= this.width || y < 0) return '#';
    return y < this.height ? this.chars[y * this.width + x]! : ' ';
  }

  isSolid(x: number, y: number): boolean {
    const char = this.char(x, y);
    return char === '#' || (char === '-' && this.drawn.plan.view === 'above');
  }

  /** Whether the player can be in a cell for more than the moment of passing through: no solid, no ledge, not below the rows. */
  isOpen(x: number, y: number): boolean {
    return y < this.height && !this.isSolid(x, y) && this.char(x, y) !== '-';
  }

  /** Seen from the side: whether the player can stand in a cell, on solid ground or a ledge, or hold on to a climb. */
  stands(x: number, y: number): boolean {
    if (!this.isOpen(x, y) || !this.isClear(x, y)) return false;
    return this.char(x, y) === '|' || this.char(x, y + 1) === '#' || this.char(x, y + 1) === '-';
  }

  /** Whether the player's body has room: its cell is not solid, nor the one above for a player who is two cells tall. */
  isClear(x: number, y: number): boolean {
    return y < this.height && !this.isSolid(x, y) && !(this.isTall && this.isSolid(x, y - 1));
  }

  /** The gates that have to be open for the player to be in a cell. */
  gatesAt(x: number, y: number): readonly string[] {
    if (this.gates.size === 0) return none;
    const cells = this.isTall ? [this.at(x, y), this.at(x, y - 1)] : [this.at(x, y)];
    const found = cells.flatMap((cell) => (cell === undefined ? [] : (this.gates.get(cell) ?? [])));
    return found.length > 0 ? found : none;
  }

  /** All of this by cell, as `is` has it, for who asks often. */
  flags(): Uint8Array {
    const flags = new Uint8Array(this.width * this.height);
    for (let cell = 0; cell < flags.length; cell++) {
      const [x, y] = this.cellOf(cell);
      const char = this.char(x, y);
      flags[cell] =
        (this.isSolid(x, y) ? is.solid : 0) |
        (this.isOpen(x, y) ? is.open : 0) |
        (this.isClear(x, y) ? is.clear : 0) |
        (this.stands(x, y) ? is.standing : 0) |
        (char === '|' ? is.climb : 0) |
        (char === '-' ? is.ledge : 0);
    }
    return flags;
  }

  /** Where the player can stand and stay: from above every cell that is not solid; never in a gate. */
  isFooting(x: number, y: number): boolean {
    if (this.gatesAt(x, y).length > 0) return false;
    return this.drawn.plan.view === 'above' ? this.at(x, y) !== undefined && !this.isSolid(x, y) : this.stands(x, y);
  }
}

const none: readonly string[] = [];
