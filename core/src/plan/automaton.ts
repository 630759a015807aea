/** How the player moves from cell to cell: the states of a plan, and the moves among them (docs/flow-format.md, section 13). */
import { oneWay, type Ground } from './ground.ts';
import type { Cell, PlanLink } from '../document/types.ts';
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
}

/** How high and how far a jump goes, with what has to hold; or whether the player goes diagonally. */
interface Skill {
  up: number;
  across: number;
  diagonal: boolean;
  asks: string[];
}

/** A fall out of the rows leads nowhere. */
export const out = 'out';
type Moves = (Move | typeof out)[];

export class Automaton {
  private readonly skills: Skill[];
  private readonly most: { up: number; across: number };
  private readonly links = new Map<number, PlanLink[]>();
  /** Falls are counted as far as it matters: up to the drop that is still a move, else whether there was one. */
  private readonly mostFallen: number;

  constructor(readonly ground: Ground) {
    const { movement, plan } = ground.drawn;
    this.skills = skillsOf(movement);
    this.mostFallen = movement.side.drop ?? 1;
    this.most = {
      up: Math.max(...this.skills.map(({ up }) => up)),
      across: Math.max(...this.skills.map(({ across }) => across))
    };
    for (const link of Object.values(plan.links ?? {})) {
      this.begins(link, link.from);
      if (link.both) this.begins({ ...link, from: link.to, to: link.from }, link.to);
    }
  }

  private begins(link: PlanLink, [x, y]: Cell): void {
    const cell = this.ground.at(x, y);
    if (cell !== undefined) this.links.set(cell, [...(this.links.get(cell) ?? []), link]);
  }

  /** A number that two places share exactly when they are the same. */
  codeOf({ cell, air }: Place): number {
    const { most, mostFallen } = this;
    const within = air ? 1 + (air.rise * (most.across + 1) + air.across) * (mostFallen + 1) + air.fallen : 0;
    return cell * (1 + (most.up + 1) * (most.across + 1) * (mostFallen + 1)) + within;
  }

  /** Every move from a place; `out` where the player can also fall out of the rows. */
  movesFrom(place: Place): Moves {
    const [x, y] = this.ground.cellOf(place.cell);
    const moves: Moves = [];
    if (this.ground.drawn.plan.view === 'above') this.over(x, y, moves);
    else if (place.air) this.through(x, y, place.air, moves);
    else this.along(x, y, moves);
    if (!place.air && this.ground.gatesAt(x, y).length === 0) this.byLinks(place.cell, moves);
    return moves;
  }

  /** Seen from above: to the neighbours. */
  private over(x: number, y: number, moves: Moves): void {
    const { ground } = this;
    const way = oneWay[ground.char(x, y)];
    for (const [dx, dy] of neighbours) {
      if (way && (way[0] !== dx || way[1] !== dy)) continue;
      this.step(x + dx, y + dy, [], moves);
    }
    if (way) return;
    for (const { asks } of this.skills.filter(({ diagonal }) => diagonal))
      for (const [dx, dy] of corners) {
        // never past a corner that is not open
        if (ground.isSolid(x + dx, y) || ground.isSolid(x, y + dy)) continue;
        this.step(x + dx, y + dy, [...asks, ...ground.gatesAt(x + dx, y), ...ground.gatesAt(x, y + dy)], moves);
      }
  }

  private step(x: number, y: number, asks: readonly string[], moves: Moves): void {
    const cell = this.ground.at(x, y);
    if (cell === undefined || this.ground.isSolid(x, y)) return;
    moves.push({ to: { cell }, asks: [...asks, ...this.ground.gatesAt(x, y)] });
  }

  /** Seen from the side, standing: along the ground, off its edge, up and down a climb, and into a jump. */
  private along(x: number, y: number, moves: Moves): void {
    const { ground } = this;
    for (const dx of [-1, 1]) {
      if (!ground.isOpen(x + dx, y)) continue;
      if (ground.stands(x + dx, y)) this.stand(x + dx, y, moves);
      else
        for (const { across, asks } of this.skills)
          this.fly(x + dx, y, { rise: 0, across: Math.floor(across / 2), fallen: 0 }, moves, asks);
    }
    if (ground.char(x, y) === '|') {
      if (ground.char(x, y - 1) === '|') this.stand(x, y - 1, moves);
      if (ground.char(x, y - 1) === '-') this.stand(x, y - 2, moves);
      this.stand(x, y + 1, moves);
    }
    if (ground.char(x, y + 1) === '-' && ground.char(x, y + 2) === '|') this.stand(x, y + 2, moves);
    // nobody stands still in a gate, to jump off
    if (ground.gatesAt(x, y).length > 0) return;
    for (const { up, across, asks } of this.skills) this.fly(x, y, { rise: up, across, fallen: 0 }, moves, asks);
  }

  /** In the air: a tick up, across or down, or to where the player can stand. */
  private through(x: number, y: number, air: NonNullable<Place['air']>, moves: Moves): void {
    const { ground } = this;
    const { rise, across, fallen } = air;
    this.stand(x, y, moves);
    if (rise > 0) this.fly(x, y - 1, { rise: rise - 1, across, fallen }, moves);
    const falls = this.ground.drawn.movement.side.drop === undefined || fallen < this.mostFallen;
    const lower = { rise: 0, across, fallen: Math.min(this.mostFallen, fallen + 1) };
    if (falls) this.fall(x, y + 1, lower, moves, []);
    if (across === 0) return;
    for (const dx of [-1, 1]) {
      if (!ground.isOpen(x + dx, y)) continue;
      const beside = ground.gatesAt(x + dx, y);
      if (rise > 0 && ground.isOpen(x + dx, y - 1))
        this.fly(x + dx, y - 1, { rise: rise - 1, across: across - 1, fallen }, moves, beside);
      if (fallen === 0) this.fly(x + dx, y, { rise: 0, across: across - 1, fallen }, moves);
      if (falls) this.fall(x + dx, y + 1, { ...lower, across: across - 1 }, moves, beside);
    }
  }

  private stand(x: number, y: number, moves: Moves): void {
    if (!this.ground.stands(x, y)) return;
    moves.push({ to: { cell: this.ground.at(x, y)! }, asks: this.ground.gatesAt(x, y) });
  }

  private fall(x: number, y: number, air: NonNullable<Place['air']>, moves: Moves, asks: readonly string[]): void {
    if (y >= this.ground.height) {
      if (asks.length === 0) moves.push(out);
    } else if (this.ground.isOpen(x, y)) this.fly(x, y, air, moves, asks);
  }

  private fly(x: number, y: number, air: NonNullable<Place['air']>, moves: Moves, asks: readonly string[] = []): void {
    if (!this.ground.isClear(x, y)) return;
    const cell = this.ground.at(x, y);
    if (cell !== undefined) moves.push({ to: { cell, air }, asks: both(asks, this.ground.gatesAt(x, y)) });
  }

  private byLinks(cell: number, moves: Moves): void {
    const { ground } = this;
    for (const { to, if: condition } of this.links.get(cell) ?? []) {
      const [x, y] = to;
      const asks = condition === undefined ? [] : [condition];
      if (ground.drawn.plan.view === 'above') this.step(x, y, asks, moves);
      else if (ground.stands(x, y)) moves.push({ to: { cell: ground.at(x, y)! }, asks: [...asks, ...ground.gatesAt(x, y)] });
      else this.fly(x, y, { rise: 0, across: 0, fallen: 0 }, moves, asks);
    }
  }
}

/** What two ask for; neither is copied where the other asks for nothing. */
const both = (one: readonly string[], other: readonly string[]): readonly string[] =>
  one.length === 0 ? other : other.length === 0 ? one : [...one, ...other];

const neighbours: Cell[] = [
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
function skillsOf({ above, side, abilities }: Moving): Skill[] {
  let skills: Skill[] = [{ up: side.up, across: side.across, diagonal: above.diagonal, asks: [] }];
  for (const { if: condition, up = 0, across = 0, diagonal = false } of Object.values(abilities)) {
    const more = skills.map((skill) => ({
      up: Math.max(skill.up, up),
      across: Math.max(skill.across, across),
      diagonal: skill.diagonal || diagonal,
      asks: [...skill.asks, condition]
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
            other.asks.every((each) => one.asks.includes(each))
        )
    );
  }
  return skills;
}
