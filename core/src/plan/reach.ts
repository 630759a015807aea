/** Where the player gets from a cell of a plan, and what is missing for the rest. */
import type { Cell, Id } from '../document/types.ts';
import { outside, type Automaton } from './automaton.ts';
import type { Derived } from './derive.ts';
import type { Ground } from './ground.ts';

export interface Reach {
  /** Where the player can stand, without anything being asked of it. */
  stands: Cell[];
  /** The cells that it passes in the air. */
  air: Cell[];
  /** Whether it can fall out of the rows. */
  falls: boolean;
  /** For conditions on the way, all of which have to hold: how many cells more it could stand in. */
  behind: { asks: readonly string[]; more: number }[];
  /** How many cells are left in which the player could stand, and to which no way leads from here. */
  never: number;
}

/** More conditions than this are not told apart. */
const mostBehind = 12;

/** Where the player gets from a cell: standing in it, or falling through it. */
export function reachFrom(automaton: Automaton, [x, y]: Cell): Reach | undefined {
  const { ground } = automaton;
  const cell = ground.at(x, y);
  if (cell === undefined || ground.isSolid(x, y)) return undefined;
  const start = automaton.codeOf(ground.isFooting(x, y) ? { cell } : { cell, air: { rise: 0, across: 0, fallen: 0 } });
  const free = spread(automaton, start, 0);
  const stands = standing(automaton, free.codes);
  const { conditions } = automaton;
  const blocked = [...free.blocked].sort((a, b) => conditions.names(a).length - conditions.names(b).length);
  const behind: (Reach['behind'][number] & { list: number })[] = [];
  for (const list of blocked.slice(0, mostBehind)) {
    const more = standing(automaton, spread(automaton, start, list).codes).size - stands.size;
    // what asks for more and gives no more says nothing
    const isKnown = behind.some((each) => each.more >= more && conditions.isWithin(each.list, list));
    if (more > 0 && !isKnown) behind.push({ asks: conditions.names(list), more, list });
  }
  const air = new Set([...free.codes].filter((code) => !automaton.isStanding(code)).map((code) => automaton.cellOf(code)));
  const all = spread(automaton, start, undefined);
  return {
    stands: [...stands].map((each) => ground.cellOf(each)),
    air: [...air].filter((each) => !stands.has(each)).map((each) => ground.cellOf(each)),
    falls: free.falls,
    behind: behind.sort((a, b) => b.more - a.more).map(({ asks, more }) => ({ asks, more })),
    never: footings(ground) - standing(automaton, all.codes).size
  };
}

/** All places from one on, by moves that ask for nothing beyond a list of conditions; undefined: whatever they ask for. */
function spread(automaton: Automaton, start: number, having: number | undefined) {
  const codes = new Set([start]);
  const blocked = new Set<number>();
  let falls = false;
  for (const code of codes)
    automaton.eachMove(code, (to, asks) => {
      if (to === outside) falls = true;
      else if (having === undefined || automaton.conditions.isWithin(asks, having)) codes.add(to);
      else blocked.add(asks);
    });
  return { codes, blocked, falls };
}

function standing(automaton: Automaton, codes: Set<number>): Set<number> {
  const { ground } = automaton;
  const cells = [...codes].filter((code) => automaton.isStanding(code)).map((code) => automaton.cellOf(code));
  return new Set(cells.filter((cell) => ground.isFooting(...ground.cellOf(cell))));
}

function footings(ground: Ground): number {
  let found = 0;
  for (let cell = 0; cell < ground.width * ground.height; cell++) if (ground.isFooting(...ground.cellOf(cell))) found++;
  return found;
}

/** From which spots the player gets to which, whatever is asked on the way; a spot from which nothing leads is in none. */
export function leadingOn({ passages }: Pick<Derived, 'passages'>): Map<Id, Set<Id>> {
  const next = new Map<Id, Id[]>();
  for (const { from, to } of Object.values(passages)) next.set(from, [...(next.get(from) ?? []), to]);
  const known = new Map<Id, Set<Id>>();
  for (const spot of next.keys()) {
    const found = new Set([spot]);
    for (const each of found) for (const to of next.get(each) ?? []) found.add(to);
    known.set(spot, found);
  }
  return known;
}

/** By piece the cells of those that the player never gets to, from wherever it arrives and whatever is open. */
export function outOfReach(derived: Derived): Map<Id, Cell[]> {
  const { placed, patrols, entries, spots } = derived;
  const starts = Object.keys(entries).length > 0 ? Object.values(entries) : Object.keys(spots).slice(0, 1);
  const leads = leadingOn(derived);
  const come = new Set(starts.flatMap((spot) => [spot, ...(leads.get(spot) ?? [])]));
  const found = new Map<Id, Cell[]>();
  const begins = patrols.map(({ piece, cells, spots: from }) => ({ piece, cell: cells[0]!, spots: from }));
  for (const { piece, cell, spots: from } of [...placed, ...begins])
    if (!from.some((spot) => come.has(spot))) found.set(piece, [...(found.get(piece) ?? []), cell]);
  return found;
}

/** What can be seen of a plan as a whole: where the player never comes, and where it drops without a way back. */
export interface Survey {
  /** Cells in which it could stand, and to which it never comes. */
  never: Cell[];
  /** Edges off which it falls with no way back: the cell before the edge, and the side. */
  drops: { cell: Cell; dx: 1 | -1 }[];
}

/**
 * Surveys a plan. `comes` tells whether the player ever comes to a cell; `isBack` whether some way, whatever it asks for, leads
 * from one cell in which it stands to another.
 */
export function survey(
  automaton: Automaton,
  comes: (cell: number) => boolean,
  isBack: (from: number, to: number) => boolean
): Survey {
  const { ground } = automaton;
  const never: Cell[] = [];
  const drops: Survey['drops'] = [];
  const isSide = ground.drawn.plan.view === 'side';
  for (let cell = 0; cell < ground.width * ground.height; cell++) {
    const [x, y] = ground.cellOf(cell);
    if (!ground.isFooting(x, y)) continue;
    if (!comes(cell)) never.push([x, y]);
    else if (isSide)
      for (const dx of [1, -1] as const) {
        const landing = landingBeside(automaton, [x, y], dx);
        if (landing !== undefined && !isBack(landing, cell)) drops.push({ cell: [x, y], dx });
      }
  }
  return { never, drops };
}

/** Where the player lands that walks off an edge and falls straight down; undefined where there is no edge or no ground. */
function landingBeside({ ground }: Automaton, [x, y]: Cell, dx: number): number | undefined {
  if (!ground.isOpen(x + dx, y) || ground.stands(x + dx, y)) return undefined;
  for (let down = y + 1; ground.isOpen(x + dx, down); down++) if (ground.isFooting(x + dx, down)) return ground.at(x + dx, down);
  return undefined;
}
