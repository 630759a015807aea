/** All places that the player can come to in a plan with everything open, taken together where nothing keeps them apart. */
import type { Id } from '../document/types.ts';
import { components } from '../graph/components.ts';
import { Automaton, out, type Place } from './automaton.ts';
import { oneWay, type Ground } from './ground.ts';

/** Where the moves of one component lead: to another, with what has to hold. */
export interface Leading {
  to: number;
  asks: readonly string[];
}

/**
 * Places between which the player comes and goes as it likes, within one area: no condition asked, nothing touched but the
 * one piece in whose cells all of it is.
 */
export interface Component {
  places: Place[];
  /** The piece that is touched by being here. */
  acts: Id | undefined;
  area: number;
  /** Whether the player can stand still here, and whether only on one-way ground. */
  stands: boolean;
  oneWay: boolean;
  /** Whether the player can fall out of the rows from here. */
  falls: boolean;
  /** The cells of pieces that do not act by touch. */
  pickups: Set<number>;
  leads: Leading[];
}

export interface Graph {
  components: Component[];
  /** By code of a place; undefined for what the player never comes to. */
  of(place: Place): number | undefined;
}

/** Explores a plan from the cells where the player arrives. */
export function graphOf(ground: Ground, starts: number[]): Graph {
  const automaton = new Automaton(ground);
  const { places, edges, falls, indexOf } = explored(automaton, starts);
  const label = ({ cell }: Place) => `${ground.areaOf[cell]} ${ground.acting.get(cell) ?? ''}`;
  const { component, count } = components(places.length, (at, visit) => {
    for (const { to, asks } of edges[at]!) if (asks.length === 0 && label(places[to]!) === label(places[at]!)) visit(to);
  });
  const found: Component[] = Array.from({ length: count }, () => ({
    places: [],
    acts: undefined,
    area: -1,
    stands: false,
    oneWay: true,
    falls: false,
    pickups: new Set(),
    leads: []
  }));
  const known = Array.from({ length: count }, () => new Set<string | number>());
  places.forEach((place, at) => {
    const one = found[component[at]!]!;
    const [x, y] = ground.cellOf(place.cell);
    one.places.push(place);
    one.acts = ground.acting.get(place.cell);
    one.area = ground.areaOf[place.cell]!;
    one.falls ||= falls[at]!;
    if (one.acts === undefined && ground.pieces.has(place.cell)) one.pickups.add(place.cell);
    if (!place.air && ground.isFooting(x, y)) {
      one.stands = true;
      if (!(ground.drawn.plan.view === 'above' && oneWay[ground.char(x, y)])) one.oneWay = false;
    }
    for (const { to, asks } of edges[at]!) {
      const next = component[to]!;
      const key = asks.length === 0 ? next : [next, ...asks].join('\n');
      if (next === component[at] || known[component[at]!]!.has(key)) continue;
      known[component[at]!]!.add(key);
      one.leads.push({ to: next, asks });
    }
  });
  return {
    components: found,
    of: (place) => {
      const at = indexOf.get(automaton.codeOf(place));
      return at === undefined ? undefined : component[at]!;
    }
  };
}

function explored(automaton: Automaton, starts: number[]) {
  const places: Place[] = [];
  const edges: Leading[][] = [];
  const falls: boolean[] = [];
  const indexOf = new Map<number, number>();
  const indexed = (place: Place): number => {
    const code = automaton.codeOf(place);
    let index = indexOf.get(code);
    if (index === undefined) {
      index = places.push(place) - 1;
      indexOf.set(code, index);
    }
    return index;
  };
  for (const cell of starts) indexed({ cell });
  for (let at = 0; at < places.length; at++) {
    const list: Leading[] = [];
    falls.push(false);
    for (const move of automaton.movesFrom(places[at]!)) {
      if (move === out) falls[at] = true;
      else list.push({ to: indexed(move.to), asks: move.asks.length < 2 ? move.asks : [...new Set(move.asks)].sort() });
    }
    edges.push(list);
  }
  return { places, edges, falls, indexOf };
}
