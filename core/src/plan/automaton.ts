/** How the player moves from cell to cell: the states of a plan, and the moves among them (docs/flow-format.md, section 13). */
import { is, oneWay, type Ground } from './ground.ts';
import { Lists } from './lists.ts';
import type { Cell } from '../document/types.ts';
import type { Moving } from './types.ts';

/** Standing in a cell, or in the air of one: how much the player still rises and goes across, and how far it has fallen. */
export interface Place {
  cell: number;
  air?: { rise: number; across: number; fallen: number };
}

export interface Move {
  to: Place;
  /** What has to hold for it. */
  asks: readonly string[];
  ticks: number;
}

/** How high and how far a jump goes, with what has to hold; or whether the player goes diagonally. */
interface Skill {
  up: number;
  across: number;
  diagonal: boolean;
  /** As a list of conditions. */
  asks: number;
}

interface Link {
  to: Cell;
  asks: number;
  ticks: number;
}

/** A fall out of the rows leads nowhere. */
export const out = 'out';
/** The code of that end. */
export const outside = -1;
/** Takes a move: the code of where it leads, the list of what has to hold, and how many ticks it takes. */
type Take = (to: number, asks: number, ticks: number) => void;

/**
 * Places are told apart by their codes: of each cell first standing in it, then its air states. What has to hold for moves are
 * numbers of `conditions`.
 */
export class Automaton {
  readonly conditions: Lists;
  /** So many codes has a cell. */
  readonly perCell: number;
  private readonly skills: Skill[];
  private readonly links = new Map<number, Link[]>();
  /** By cell where links end there the cells in which they begin. */
  private readonly linkedFrom = new Map<number, number[]>();
  private readonly flags: Uint8Array;
  private readonly gates: Int32Array;
  /** Falls are counted as far as it matters: up to the drop that is still a move, else whether there was one. */
  private readonly mostFallen: number;
  private readonly mostAcross: number;
  private readonly hasDrop: boolean;
  private readonly isAbove: boolean;

  /** `before`: another one, whose numbers of conditions are gone on with. */
  constructor(
    readonly ground: Ground,
    before?: Automaton
  ) {
    this.conditions = before?.conditions ?? new Lists(false);
    const { movement, plan } = ground.drawn;
    this.isAbove = plan.view === 'above';
    this.skills = skillsOf(movement, this.conditions);
    this.hasDrop = movement.side.drop !== undefined;
    this.mostFallen = movement.side.drop ?? 1;
    this.mostAcross = Math.max(...this.skills.map(({ across }) => across));
    const mostUp = Math.max(...this.skills.map(({ up }) => up));
    this.perCell = this.isAbove ? 1 : 1 + (mostUp + 1) * (this.mostAcross + 1) * (this.mostFallen + 1);
    this.flags = ground.flags();
    this.gates = new Int32Array(this.flags.length);
    for (const cell of ground.gates.keys())
      for (const gated of ground.isTall ? [cell, cell + ground.width] : [cell])
        if (gated < this.gates.length) this.gates[gated] = this.conditions.of(ground.gatesAt(...ground.cellOf(gated)));
    const { speed } = this.isAbove ? movement.above : movement.side;
    for (const { from, to, both, if: condition, seconds } of Object.values(plan.links ?? {})) {
      const asks = this.conditions.of(condition === undefined ? [] : [condition]);
      const ticks = seconds === undefined ? 1 : seconds * speed;
      this.begins(from, { to, asks, ticks });
      if (both) this.begins(to, { to: from, asks, ticks });
    }
  }

  /** Whether the same player moves over as many cells, so that moves only differ near cells that do. */
  isLike(other: Automaton): boolean {
    const { ground, isAbove, perCell, skills, hasDrop, mostFallen } = this;
    const isSame = isAbove === other.isAbove && perCell === other.perCell && hasDrop === other.hasDrop;
    const isAsLarge = ground.width === other.ground.width && ground.height === other.ground.height;
    return isSame && isAsLarge && mostFallen === other.mostFallen && isSameData(skills, other.skills);
  }

  /** Whether a cell is not what it is in another one that is like this one. */
  differsAt(cell: number, other: Automaton): boolean {
    if (this.flags[cell] !== other.flags[cell] || this.gates[cell] !== other.gates[cell]) return true;
    if (this.isAbove && wayAt(this.ground, cell) !== wayAt(other.ground, cell)) return true;
    return this.links.size + other.links.size > 0 && !isSameData(this.links.get(cell), other.links.get(cell));
  }

  /** The cells from which moves lead into a cell, or past it; some of them twice. */
  eachAround(cell: number, visit: (near: number) => void): void {
    const { width, height } = this.ground;
    const [x, y] = this.ground.cellOf(cell);
    // a move goes no further than one column and, through a ledge, two rows
    for (let row = Math.max(0, y - 2); row <= Math.min(height - 1, y + 2); row++)
      for (let column = Math.max(0, x - 1); column <= Math.min(width - 1, x + 1); column++) visit(row * width + column);
    for (const from of this.linkedFrom.get(cell) ?? []) visit(from);
  }

  private begins([x, y]: Cell, link: Link): void {
    const cell = this.ground.at(x, y);
    const end = this.ground.at(...link.to);
    if (cell === undefined) return;
    this.links.set(cell, [...(this.links.get(cell) ?? []), link]);
    if (end !== undefined) this.linkedFrom.set(end, [...(this.linkedFrom.get(end) ?? []), cell]);
  }

  /** A number that two places share exactly when they are the same. */
  codeOf({ cell, air }: Place): number {
    return air ? this.airCode(cell, air.rise, air.across, air.fallen) : cell * this.perCell;
  }

  private airCode(cell: number, rise: number, across: number, fallen: number): number {
    return cell * this.perCell + 1 + (rise * (this.mostAcross + 1) + across) * (this.mostFallen + 1) + fallen;
  }

  placeOf(code: number): Place {
    const cell = this.cellOf(code);
    const within = code - cell * this.perCell - 1;
    if (within < 0) return { cell };
    const fallen = within % (this.mostFallen + 1);
    const rest = (within - fallen) / (this.mostFallen + 1);
    const across = rest % (this.mostAcross + 1);
    return { cell, air: { rise: (rest - across) / (this.mostAcross + 1), across, fallen } };
  }

  cellOf(code: number): number {
    return Math.floor(code / this.perCell);
  }

  /** Whether a code is that of standing in its cell. */
  isStanding(code: number): boolean {
    return code % this.perCell === 0;
  }

  /** Every move from a place; `out` where the player can also fall out of the rows. */
  movesFrom(place: Place): (Move | typeof out)[] {
    const moves: (Move | typeof out)[] = [];
    this.eachMove(this.codeOf(place), (to, asks, ticks) =>
      moves.push(to === outside ? out : { to: this.placeOf(to), asks: this.conditions.names(asks), ticks })
    );
    return moves;
  }

  /** Every move from a place by its code, to another or `outside`. */
  eachMove(code: number, take: Take): void {
    const cell = this.cellOf(code);
    const { width } = this.ground;
    const x = cell % width;
    const y = (cell - x) / width;
    const within = code - cell * this.perCell - 1;
    if (this.isAbove) this.over(x, y, take);
    else if (within >= 0) {
      const fallen = within % (this.mostFallen + 1);
      const rest = (within - fallen) / (this.mostFallen + 1);
      const across = rest % (this.mostAcross + 1);
      this.through(x, y, (rest - across) / (this.mostAcross + 1), across, fallen, take);
    } else this.along(x, y, take);
    if (within < 0 && this.links.size > 0 && this.gates[cell] === 0) this.byLinks(cell, take);
  }

  /** Whether the player can stand in a cell and stay. */
  isFooting(cell: number): boolean {
    return (
      this.gates[cell] === 0 && (this.isAbove ? (this.flags[cell]! & is.solid) === 0 : (this.flags[cell]! & is.standing) !== 0)
    );
  }

  private flag(x: number, y: number, wanted: number): boolean {
    const { width, height } = this.ground;
    return x >= 0 && y >= 0 && x < width && y < height && (this.flags[y * width + x]! & wanted) !== 0;
  }

  private gate(x: number, y: number): number {
    return this.gates[y * this.ground.width + x]!;
  }

  /** Seen from above: to the neighbours. */
  private over(x: number, y: number, take: Take): void {
    const way = oneWay[this.ground.char(x, y)];
    for (const [dx, dy] of neighbours) {
      if (way && (way[0] !== dx || way[1] !== dy)) continue;
      this.step(x + dx, y + dy, 0, 1, take);
    }
    if (way) return;
    for (const { asks, diagonal } of this.skills) {
      if (!diagonal) continue;
      for (const [dx, dy] of corners) {
        // never past a corner that is not open
        if (this.ground.at(x + dx, y + dy) === undefined) continue;
        if (this.ground.isSolid(x + dx, y) || this.ground.isSolid(x, y + dy)) continue;
        const past = this.conditions.both(this.gate(x + dx, y), this.gate(x, y + dy));
        this.step(x + dx, y + dy, this.conditions.both(asks, past), 1.5, take);
      }
    }
  }

  private step(x: number, y: number, asks: number, ticks: number, take: Take): void {
    const cell = this.ground.at(x, y);
    if (cell === undefined || this.flag(x, y, is.solid)) return;
    take(cell, this.conditions.both(asks, this.gates[cell]!), ticks);
  }

  /** Seen from the side, standing: along the ground, off its edge, up and down a climb, and into a jump. */
  private along(x: number, y: number, take: Take): void {
    for (const dx of [-1, 1]) {
      if (!this.flag(x + dx, y, is.open)) continue;
      if (this.flag(x + dx, y, is.standing)) this.stand(x + dx, y, 0, 1, take);
      else for (const { across, asks } of this.skills) this.fly(x + dx, y, 0, Math.floor(across / 2), 0, asks, 1, take);
    }
    if (this.flag(x, y, is.climb)) {
      if (this.flag(x, y - 1, is.climb)) this.stand(x, y - 1, 0, 1, take);
      if (this.flag(x, y - 1, is.ledge)) this.stand(x, y - 2, 0, 2, take);
      this.stand(x, y + 1, 0, 1, take);
    }
    if (this.flag(x, y + 1, is.ledge) && this.flag(x, y + 2, is.climb)) this.stand(x, y + 2, 0, 2, take);
    // the player does not stand still in a gate, to jump off
    if (this.gate(x, y) !== 0) return;
    for (const { up, across, asks } of this.skills) this.fly(x, y, up, across, 0, asks, 0, take);
  }

  /** In the air: a tick up, across or down, or to where the player can stand. */
  private through(x: number, y: number, rise: number, across: number, fallen: number, take: Take): void {
    this.stand(x, y, 0, 0, take);
    if (rise > 0) this.fly(x, y - 1, rise - 1, across, fallen, 0, 1, take);
    const falls = !this.hasDrop || fallen < this.mostFallen;
    const lower = Math.min(this.mostFallen, fallen + 1);
    if (falls) this.fall(x, y + 1, across, lower, 0, take);
    if (across === 0) return;
    for (let dx = -1; dx <= 1; dx += 2) {
      if (!this.flag(x + dx, y, is.open)) continue;
      const beside = this.gate(x + dx, y);
      if (rise > 0 && this.flag(x + dx, y - 1, is.open)) this.fly(x + dx, y - 1, rise - 1, across - 1, fallen, beside, 1, take);
      if (fallen === 0) this.fly(x + dx, y, 0, across - 1, fallen, 0, 1, take);
      if (falls) this.fall(x + dx, y + 1, across - 1, lower, beside, take);
    }
  }

  private stand(x: number, y: number, asks: number, ticks: number, take: Take): void {
    if (!this.flag(x, y, is.standing)) return;
    take((y * this.ground.width + x) * this.perCell, this.conditions.both(asks, this.gate(x, y)), ticks);
  }

  private fall(x: number, y: number, across: number, fallen: number, asks: number, take: Take): void {
    if (y >= this.ground.height) {
      if (asks === 0) take(outside, 0, 1);
    } else if (this.flag(x, y, is.open)) this.fly(x, y, 0, across, fallen, asks, 1, take);
  }

  private fly(x: number, y: number, rise: number, across: number, fallen: number, asks: number, ticks: number, take: Take): void {
    if (!this.flag(x, y, is.clear)) return;
    const cell = y * this.ground.width + x;
    take(this.airCode(cell, rise, across, fallen), this.conditions.both(asks, this.gates[cell]!), ticks);
  }

  private byLinks(cell: number, take: Take): void {
    for (const { to, asks, ticks } of this.links.get(cell) ?? []) {
      const [x, y] = to;
      if (this.isAbove) this.step(x, y, asks, ticks, take);
      else if (this.flag(x, y, is.standing)) this.stand(x, y, asks, ticks, take);
      else this.fly(x, y, 0, 0, 0, asks, ticks, take);
    }
  }
}

const isSameData = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

/** The only way off a cell, seen from above. */
const wayAt = (ground: Ground, cell: number): Cell | undefined => oneWay[ground.char(...ground.cellOf(cell))];

/** The way to each of the four cells beside one. */
export const neighbours: readonly Cell[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1]
];
const corners: Cell[] = [
  [1, 1],
  [-1, 1],
  [-1, -1],
  [1, -1]
];

/** What the player can do by itself, and with each set of abilities that adds to it: the highest numbers, all their conditions. */
function skillsOf({ above, side, abilities }: Moving, conditions: Lists): Skill[] {
  let skills: Skill[] = [{ up: side.up, across: side.across, diagonal: above.diagonal, asks: 0 }];
  for (const { if: condition, up = 0, across = 0, diagonal = false } of Object.values(abilities)) {
    const asks = conditions.of([condition]);
    const more = skills.map((skill) => ({
      up: Math.max(skill.up, up),
      across: Math.max(skill.across, across),
      diagonal: skill.diagonal || diagonal,
      asks: conditions.both(skill.asks, asks)
    }));
    // what asks for more and gives no more is left out
    skills = [...skills, ...more].filter(
      (one, at, all) =>
        !all.some(
          (other, index) =>
            index < at &&
            other.up >= one.up &&
            other.across >= one.across &&
            other.diagonal >= one.diagonal &&
            conditions.isWithin(other.asks, one.asks)
        )
    );
  }
  return skills;
}
