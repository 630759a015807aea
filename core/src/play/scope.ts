/** What can be named where something stands, and the texts of conditions read there. */
import { distance } from 'fastest-levenshtein';
import {
  levelsCounted,
  isLevel,
  levelsOf,
  own,
  type FlowDocument,
  type Id,
  type Level,
  type Owner,
  type Passage,
  type Piece,
  type Spot
} from '../document/types.ts';
import { spelledOut, LanguageError, type Expression, type Names } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { assignable, isCondition, type Surroundings } from '../language/type.ts';

/**
 * What is wrong with a condition, or with an expression to be assigned, where it would stand; undefined when nothing
 * is. `use` is "if" for a rule's own condition, "holds" for a trigger or an expectation, or the variable to assign to.
 */
export function textError(
  document: FlowDocument,
  owner: Owner,
  text: string,
  use: 'holds' | 'if' | { assign: Id },
  choosing = false
): { message: string; column: number } | undefined {
  const scope = scopeOf(document, thingsByOwner(document)(owner), use === 'if' && choosing);
  return tryText(text, scope, (expression) => {
    if (typeof use === 'string') isCondition(expression, scope);
    else if (own(document.variables, use.assign)) assignable(expression, document.variables[use.assign]!, scope);
  }).error;
}

/** A condition as it would be read where an owner's rules stand; undefined where something is wrong with it. */
export function conditionAt(document: FlowDocument, owner: Owner, text: string): Expression | undefined {
  const scope = scopeOf(document, thingsByOwner(document)(owner), false);
  return tryText(text, scope, (expression) => isCondition(expression, scope)).expression;
}

/** The ids and names of the pieces that an owner's rules can name. */
export function piecesAtHand(document: FlowDocument, owner: Owner): [Id, Piece][] {
  return [...thingsByOwner(document)(owner).piece].map(([id, pieces]) => [id, pieces[0]!]);
}

/** The ids of the spots and passages that an owner's rules can name, each with the first level's that has it. */
export function groundAtHand(document: FlowDocument, owner: Owner): { spots: [Id, Spot][]; passages: [Id, Passage][] } {
  const { spot, passage } = thingsByOwner(document)(owner);
  const first = <T>(map: Map<Id, T[]>) => [...map].map(([id, [found]]): [Id, T] => [id, found!]);
  return { spots: first(spot), passages: first(passage) };
}

/** What stands in levels, by id: several levels can have a thing of the same id. */
export interface Things {
  piece: Map<Id, Piece[]>;
  /** Spots, and areas of plans, each of which is some of them. */
  spot: Map<Id, Spot[]>;
  /** By area of a plan the spots in it. */
  area: Map<Id, Id[]>;
  passage: Map<Id, Passage[]>;
}

/**
 * The things that can be at hand for the rules of an owner: of a level its own, of a group those of its levels, of the
 * flow any; of a menu or interlude any too, as it can be opened over any level; of an ending none.
 */
export function thingsByOwner(document: FlowDocument): (owner: Owner) => Things {
  const gather = <T>(maps: Record<Id, T>[]) => {
    const found = new Map<Id, T[]>();
    for (const map of maps) {
      for (const [id, thing] of Object.entries(map)) {
        const same = found.get(id);
        if (same) same.push(thing);
        else found.set(id, [thing]);
      }
    }
    return found;
  };
  const collect = (levels: Level[]): Things => ({
    piece: gather(levels.map(({ pieces }) => pieces)),
    spot: gather(levels.map(({ spots, plan }) => ({ ...spots, ...plan?.areas }))),
    area: areasIn(levels),
    passage: gather(levels.map(({ passages }) => passages))
  });
  const levels = levelsOf(document).map(([, level]) => level);
  const all = collect(levels);
  const byGroup = new Map<Id, Things>();
  return (owner) => {
    if ('place' in owner) {
      const place = document.places[owner.place]!;
      return place.kind === 'level' ? collect([place]) : place.kind === 'ending' ? collect([]) : all;
    }
    if ('flow' in owner) return all;
    let found = byGroup.get(owner.group);
    if (!found) byGroup.set(owner.group, (found = collect(levels.filter((level) => level.group === owner.group))));
    return found;
  };
}

/** In it a variable comes before a named number of the same id. */
export interface Scope extends Surroundings, Names {}

/** By area the spots in it, of whichever level. */
function areasIn(levels: Level[]): Map<Id, Id[]> {
  const found = new Map<Id, Id[]>();
  for (const { spots, plan } of levels)
    for (const area of Object.keys(plan?.areas ?? {})) {
      const here = Object.keys(spots).filter((spot) => spots[spot]!.area === area);
      found.set(area, [...new Set([...(found.get(area) ?? []), ...here])]);
    }
  return found;
}

export function scopeOf(document: FlowDocument, things: Things, choosing: boolean): Scope {
  const { piece: pieces, spot: spots, area: areas } = things;
  return {
    counted: (id) => {
      const levels = levelsCounted(document, id);
      return pieces.has(id) ? 'piece' : levels === undefined ? undefined : { levels };
    },
    within: (id) => areas.get(id),
    numbered: (id) => (own(document.variables, id) ? undefined : own(document.numbers, id)?.value),
    variable: (id) => own(document.variables, id),
    piece: (id) => pieces.has(id),
    spot: (id) => spots.has(id),
    level: (id) => isLevel(document, id),
    order: (id) => Object.hasOwn(document.orders, id),
    groupOrOrder: (id) => Object.hasOwn(document.groups, id) || Object.hasOwn(document.orders, id),
    choosing,
    likely: (word) => {
      const far = ([id, { name }]: [Id, { name: string }]) =>
        Math.min(distance(word.toLowerCase(), id), distance(word.toLowerCase(), name.toLowerCase()));
      const [nearest] = Object.entries(document.variables)
        .map((entry) => ({ name: entry[1].name, far: far(entry) }))
        .sort((a, b) => a.far - b.far);
      return nearest && nearest.far <= Math.max(1, Math.floor(word.length / 3)) ? nearest.name : undefined;
    }
  };
}

export function tryText(
  text: string,
  scope: Scope,
  check: (expression: Expression) => void
): { expression: Expression; error?: undefined } | { expression?: undefined; error: { message: string; column: number } } {
  try {
    const expression = spelledOut(parse(text), scope);
    check(expression);
    return { expression };
  } catch (error) {
    if (!(error instanceof LanguageError)) throw error;
    return { error: { message: error.message, column: error.column } };
  }
}
