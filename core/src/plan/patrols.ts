/** Where foes are that patrol, and when the player meets them (docs/flow-format.md, section 13). */
import { own, type Cell, type FlowDocument, type Id, type PlanPatrol, type Side } from '../document/types.ts';
import { isSame, lineCells } from './draw.ts';

/** The cells that a patrol goes through, one a step, until it begins again at its first point. */
export function runOf({ points, turn }: Pick<PlanPatrol, 'points' | 'turn'>): Cell[] {
  const [first, ...rest] = points;
  if (!first) return [];
  const cells: Cell[] = [first];
  for (const point of turn === 'round' ? [...rest, first] : rest) cells.push(...lineCells(cells.at(-1)!, point).slice(1));
  if (turn === 'back') return [...cells, ...cells.slice(1, -1).reverse()];
  // it is at its first point again, where it begins
  return cells.length > 1 && isSame(cells.at(-1)!, first) ? cells.slice(0, -1) : cells;
}

/** The points that make no difference, as they are where the one before them is. */
export const idlePoints = ({ points, turn }: Pick<PlanPatrol, 'points' | 'turn'>): number[] =>
  points.flatMap((point, index) => {
    const before = points[index - 1];
    const isLast = turn === 'round' && index > 0 && index === points.length - 1 && isSame(point, points[0]!);
    return (before && isSame(point, before)) || isLast ? [index] : [];
  });

/** In cells a second; undefined where the number that is named is gone. */
export const patrolSpeed = ({ numbers }: FlowDocument, { speed }: PlanPatrol): number | undefined =>
  typeof speed === 'number' ? speed : own(numbers, speed)?.value;

/** A patrol that is under way. */
export interface Patrol {
  id: Id;
  piece: Id;
  cells: Cell[];
  /** In cells a second. */
  speed: number;
}

/** Speeds are told apart up to so many parts of a cell. */
const finest = 10_000;

/**
 * Patrols in the time in which the player moves, counted in steps: a step is a tick of the player, or a part of one. A foe is in
 * one cell at each step, and goes on as soon as its speed allows; a quick one goes through several cells in a step.
 */
export class Beats {
  /** After so many steps all of them are where they were; not counted beyond `mostSteps`. */
  readonly period: number;
  private readonly beats: { cells: Cell[]; keys: number[]; num: number; den: number }[];
  private readonly touched = new Set<number>();

  /** `speed`: steps a second. */
  constructor(
    readonly patrols: readonly Patrol[],
    speed: number,
    readonly mostSteps = 1e9
  ) {
    this.beats = patrols.map(({ cells, speed: own }) => {
      const [a, b] = [Math.round(own * finest), Math.round(speed * finest)];
      const shared = divisor(a, b);
      return { cells, keys: cells.map(keyOf), num: a / shared, den: b / shared };
    });
    for (const { keys } of this.beats) for (const key of keys) this.touched.add(key);
    let period = 1;
    for (const { cells, num, den } of this.beats) {
      const own = (cells.length * den) / divisor(num, cells.length);
      period = Math.min(mostSteps + 1, (period * own) / divisor(period, own));
    }
    this.period = period;
  }

  get isCounted(): boolean {
    return this.period <= this.mostSteps;
  }

  /** Whether some run goes through a cell. */
  passes(cell: Cell): boolean {
    return this.touched.has(keyOf(cell));
  }

  /** Where a patrol is at a step. */
  cellAt(patrol: number, step: number): Cell {
    const { cells } = this.beats[patrol]!;
    return cells[this.index(patrol, step) % cells.length]!;
  }

  /** How many cells a patrol has gone by a step. */
  private index(patrol: number, step: number): number {
    const { num, den } = this.beats[patrol]!;
    return Math.floor((step * num) / den);
  }

  /** The patrol that is in a cell at a step. */
  in(cell: Cell, step: number): number | undefined {
    const key = keyOf(cell);
    const found = this.beats.findIndex(({ keys }, patrol) => keys[this.index(patrol, step) % keys.length] === key);
    return found < 0 ? undefined : found;
  }

  /**
   * The patrol that the player meets who leaves a cell at a step and is in another, or the same, so many steps later: it comes to
   * be in one cell with it, or both change places.
   */
  meets(from: Cell, to: Cell, step: number, lasts: number): number | undefined {
    const [here, there] = [keyOf(from), keyOf(to)];
    if (lasts === 0 || !this.touched.has(there)) return undefined;
    const found = this.beats.findIndex(({ keys }, patrol) => {
      const begin = this.index(patrol, step);
      const late = this.index(patrol, step + lasts - 1);
      const end = this.index(patrol, step + lasts);
      const has = (first: number, key: number) => {
        for (let at = first; at <= Math.min(end, first + keys.length - 1); at++) if (keys[at % keys.length] === key) return true;
        return false;
      };
      if (keys[end % keys.length] === there || has(late + 1, there)) return true;
      return here !== there && keys[begin % keys.length] === there && has(begin + 1, here);
    });
    return found < 0 ? undefined : found;
  }

  /** The way in which a patrol came to where it is after a step. */
  heading(patrol: number, step: number): Cell {
    const { cells } = this.beats[patrol]!;
    const at = this.index(patrol, step);
    const [x, y] = cells[at % cells.length]!;
    const [px, py] = at === 0 ? [x, y] : cells[(at - 1) % cells.length]!;
    return [x - px, y - py];
  }
}

/** No plan is as wide, nor begins so far to the left. */
const widest = 2 ** 15;
const keyOf = ([x, y]: Cell): number => (y + widest) * 2 * widest + x + widest;

const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));

/** From which side the player touches a foe it meets: by its own move up or down, else by that of the foe. */
export function sideOf(move: Cell, foe: Cell = [0, 0]): Side {
  const down = move[1] !== 0 ? move[1] : -foe[1];
  return down > 0 ? 'above' : down < 0 ? 'below' : 'beside';
}
