/**
 * What does not fit in a document of right shape (docs/flow-format.md, section 1), and the parsed rules of what does.
 * A wrong target merely does not resolve; any other misfit sets its rule or expectation aside.
 */
import { distance } from 'fastest-levenshtein';
import { parts, piecesIn, spelledOut, spotsIn, LanguageError, type Counted, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { assignable, isCondition, type Surroundings } from '../language/type.ts';
import {
  isLevel,
  levelsCounted,
  levelsOf,
  own,
  ruleLists,
  type FlowDocument,
  type Id,
  type Level,
  type Owner,
  type Passage,
  type Piece,
  type Place,
  type Rule,
  type Seconds,
  type Spot,
  type Target
} from '../document/types.ts';
import { casesOf, contentsOf, placeholderMisfit } from '../document/messages.ts';
import { timedParts } from '../document/numbers.ts';
import { effectFields } from '../vocabulary/effects.ts';
import type { Named } from '../vocabulary/fields.ts';
import { placeKinds } from '../vocabulary/places.ts';
import { slotParts } from '../vocabulary/saves.ts';
import { standingsOf, usedUp } from '../vocabulary/pieces.ts';
import { canHappenTo, deeds, isDeed, triggerFields, triggerKind } from '../vocabulary/triggers.ts';

export interface Misfit {
  check: 'reference' | 'condition';
  /** `rule/id`, `order/id`, `place/id` or `flow` for reference; the rule or `place/index` for condition. */
  subject: string;
  message: string;
  /** JSON pointer to the text or id at fault. */
  pointer: string;
  /** For a condition: where in its text, counted from 1. */
  column?: number;
  /** The id that names nothing, where that is the matter. */
  missing?: string;
}

/** A rule that takes part in play, its texts parsed. */
export interface FittingRule {
  id: Id;
  rule: Rule;
  owner: Owner;
  condition?: Expression;
  holds?: Expression;
  /** By the index of the effect: what is set. */
  expressions: (Expression | undefined)[];
  /** What is named in trigger, conditions or expressions: all must be of the bottom level for the rule to apply. */
  pieces: Id[];
  spots: Id[];
  passages: Id[];
}

/** The pieces whose number a rule's conditions ask for. */
export function piecesCounted({ condition, holds }: FittingRule): Set<Id> {
  const all = [condition, holds].flatMap((text) => (text ? parts(text) : []));
  return new Set(all.flatMap((part) => (part.kind === 'left' || part.kind === 'taken' ? [part.piece] : [])));
}

export interface Expectation {
  place: Id;
  index: number;
  condition: Expression;
}

/** What asks conditions: a rule, or a passage. */
export type Asking = Pick<FittingRule, 'id' | 'condition' | 'holds'>;

/** A passage that can be taken, its condition parsed; what does not fit is never open. */
export interface FittingPassage {
  /** The subject of its verdicts: `level/passage`. */
  id: string;
  level: Id;
  name: Id;
  passage: Passage;
  condition?: Expression;
}

/** What a level asks of the player, and the subject of its verdicts: `level/objective`. */
export interface FittingObjective {
  key: string;
  place: Id;
  id: Id;
  condition: Expression;
}

export interface Fit {
  misfits: Misfit[];
  rules: Map<Id, FittingRule>;
  expectations: Expectation[];
  objectives: FittingObjective[];
  passages: Map<string, FittingPassage>;
}

/** Finds everything in a document that does not fit, and gives the parsed rest. */
export function fit(document: FlowDocument): Fit {
  const result: Fit = { misfits: [], rules: new Map(), expectations: [], objectives: [], passages: new Map() };
  const things = thingsByOwner(document);
  documentMisfits(document, result.misfits, things);
  for (const { owner, rules, pointer } of ruleLists(document)) {
    rules.forEach((rule, index) => fitRule(document, owner, rule, `${pointer}/${index}`, things(owner), result));
  }
  for (const [id, place] of Object.entries(document.places)) {
    const scope = scopeOf(document, things({ place: id }), false);
    /** A condition that stands at a place itself; undefined, and a misfit, where it does not fit. */
    const fitting = (part: string, text: string, at = part): Expression | undefined => {
      const { expression, error } = tryText(text, scope, (each) => isCondition(each, scope));
      if (error) result.misfits.push({ check: 'condition', subject: `${id}/${part}`, pointer: `/places/${id}/${at}`, ...error });
      return expression;
    };
    place.expects.forEach((text, index) => {
      const condition = fitting(String(index), text, `expects/${index}`);
      if (condition) result.expectations.push({ place: id, index, condition });
    });
    casesOf(place.message).forEach(({ if: text }, index) => {
      if (text !== undefined) fitting(`message/${index}`, text, `message/${index}/if`);
    });
    for (const [objective, { met }] of place.kind === 'level' ? Object.entries(place.objectives) : []) {
      const condition = fitting(objective, met, `objectives/${objective}/met`);
      if (condition) result.objectives.push({ key: `${id}/${objective}`, place: id, id: objective, condition });
    }
    if (place.kind !== 'level') continue;
    for (const [name, passage] of Object.entries(place.passages)) {
      const unknown = passageMisfits(place, name, passage);
      result.misfits.push(
        ...unknown.map((each) => ({ ...each, subject: `place/${id}`, pointer: `/places/${id}${each.pointer}` }))
      );
      const condition = passage.if === undefined ? undefined : fitting(name, passage.if, `passages/${name}/if`);
      if (unknown.length > 0 || (passage.if !== undefined && !condition)) continue;
      const key = `${id}/${name}`;
      result.passages.set(key, { id: key, level: id, name, passage, ...(condition && { condition }) });
    }
  }
  return result;
}

/** What of a passage names nothing, or nothing that can be touched. */
function passageMisfits(
  { name: level, spots, pieces }: Level,
  id: Id,
  { from, to, through = [] }: Passage
): Omit<Misfit, 'subject'>[] {
  const misfit = (at: string, message: string, missing: Id) => ({
    check: 'reference' as const,
    pointer: `/passages/${id}/${at}`,
    message,
    missing
  });
  const ends = [['from', from] as const, ['to', to] as const].flatMap(([at, spot]) =>
    own(spots, spot) ? [] : misfit(at, `A passage of ${level} names "${spot}", and there is no such spot.`, spot)
  );
  const met = through.flatMap((piece, index) => {
    const found = own(pieces, piece);
    if (!found)
      return misfit(`through/${index}`, `A passage of ${level} goes through "${piece}", and there is no such piece.`, piece);
    if (canHappenTo('touch', found.kind)) return [];
    return misfit(`through/${index}`, `A passage of ${level} goes through ${found.name}, which is a ${found.kind}.`, piece);
  });
  return [...ends, ...met];
}

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
interface Things {
  piece: Map<Id, Piece[]>;
  spot: Map<Id, Spot[]>;
  passage: Map<Id, Passage[]>;
}

/**
 * The things that can be at hand for the rules of an owner: of a level its own, of a group those of its levels, of the
 * flow any; of a menu or interlude any too, as it can be opened over any level; of an ending none.
 */
function thingsByOwner(document: FlowDocument): (owner: Owner) => Things {
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
    spot: gather(levels.map(({ spots }) => spots)),
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

interface Scope extends Surroundings {
  counted(id: Id): Counted;
  /** The value of a named number; a variable of the same id comes first. */
  numbered(id: Id): number | undefined;
}

function scopeOf(document: FlowDocument, things: Things, choosing: boolean): Scope {
  const { piece: pieces, spot: spots } = things;
  return {
    counted: (id) => {
      const levels = levelsCounted(document, id);
      return pieces.has(id) ? 'piece' : levels === undefined ? undefined : { levels };
    },
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

function tryText(
  text: string,
  { counted, numbered }: Scope,
  check: (expression: Expression) => void
): { expression: Expression; error?: undefined } | { expression?: undefined; error: { message: string; column: number } } {
  try {
    const expression = spelledOut(parse(text), counted, numbered);
    check(expression);
    return { expression };
  } catch (error) {
    if (!(error instanceof LanguageError)) throw error;
    return { error: { message: error.message, column: error.column } };
  }
}

function documentMisfits(document: FlowDocument, misfits: Misfit[], things: (owner: Owner) => Things): void {
  const add = (subject: string, pointer: string, message: string, missing?: string) =>
    misfits.push({ check: 'reference', subject, pointer, message, missing });
  if (!own(document.places, document.start))
    add('flow', '/start', `Play begins at "${document.start}", and there is no such place.`, document.start);
  document.saves?.shows?.forEach((what, index) => {
    if (!own(document.variables, what) && !own(slotParts, what))
      add('flow', `/saves/shows/${index}`, `Saved games show "${what}", and there is no such value.`, what);
  });
  for (const [id, order] of Object.entries(document.orders)) {
    order.levels.forEach((level, index) => {
      const pointer = `/orders/${id}/levels/${index}`;
      if (!own(document.places, level))
        add(`order/${id}`, pointer, `${order.name} lists "${level}", and there is no such place.`, level);
      else if (!isLevel(document, level))
        add(`order/${id}`, pointer, `${order.name} lists ${document.places[level]!.name}, which is no level.`);
    });
    if (order.draw !== 'table') continue;
    order.rows.forEach((row, r) =>
      row.forEach((level, index) => {
        if (isLevel(document, level)) return;
        const name = own(document.places, level)?.name ?? `"${level}"`;
        add(
          `order/${id}`,
          `/orders/${id}/rows/${r}/${index}`,
          `${order.name}, row ${r + 1} has ${name}, which is no level.`,
          level
        );
      })
    );
  }
  const missingAssets = (subject: string, pointer: string, { name, uses = [] }: { name: string; uses?: Id[] }) =>
    uses.forEach((asset, index) => {
      if (!own(document.assets, asset))
        add(subject, `${pointer}/uses/${index}`, `${name} uses "${asset}", and there is no such shared asset.`, asset);
    });
  for (const [id, group] of Object.entries(document.groups)) missingAssets(`group/${id}`, `/groups/${id}`, group);
  for (const [id, place] of Object.entries(document.places)) {
    if (place.kind === 'level' && place.group !== undefined && !own(document.groups, place.group)) {
      add(
        `place/${id}`,
        `/places/${id}/group`,
        `${place.name} is in the group "${place.group}", and there is no such group.`,
        place.group
      );
    }
    missingAssets(`place/${id}`, `/places/${id}`, place);
    if (place.kind === 'level')
      missingSpots(place, (at, message, missing) => add(`place/${id}`, `/places/${id}${at}`, message, missing));
    for (const { at, text } of textsShown(id, place))
      for (const content of contentsOf(text)) {
        const found = placeholderMisfit(document, content, (piece) => things({ place: id }).piece.has(piece));
        if (found) add(`place/${id}`, at, `The text of ${place.name} shows "{${content}}", ${found.words}.`, found.missing);
      }
  }
}

/** What stands at no spot of its level, and entries that lead to none. */
function missingSpots({ spots, entries, pieces }: Level, add: (at: string, message: string, missing: Id) => void): void {
  for (const [id, { name, spot }] of Object.entries(entries))
    if (spot !== undefined && !own(spots, spot))
      add(`/entries/${id}/spot`, `${name} arrives at "${spot}", and there is no such spot.`, spot);
  for (const [id, piece] of Object.entries(pieces)) {
    const short = !Array.isArray(piece.at);
    standingsOf(piece)?.forEach((standing, n) =>
      standing.spots.forEach((spot, index) => {
        if (!own(spots, spot))
          add(
            `/pieces/${id}/at/${short ? spot : `${n}/spots/${index}`}`,
            `${piece.name} stands at "${spot}", and there is no such spot.`,
            spot
          );
      })
    );
  }
}

/** The texts of a place with where each stands. */
const textsShown = (id: Id, { message }: Place) =>
  casesOf(message).map(({ text }, index) => ({
    at: typeof message === 'string' ? `/places/${id}/message` : `/places/${id}/message/${index}/text`,
    text
  }));

function fitRule(document: FlowDocument, owner: Owner, rule: Rule, pointer: string, things: Things, result: Fit): void {
  const pieces = things.piece;
  let aside = false;
  const reference = (at: string, message: string, missing?: string) => {
    result.misfits.push({ check: 'reference', subject: `rule/${rule.id}`, pointer: pointer + at, message, missing });
  };
  const misfit = (at: string, message: string, missing?: string) => {
    aside = true;
    reference(at, message, missing);
  };
  const text = (at: string, value: string, check: (expression: Expression) => void): Expression | undefined => {
    const found = tryText(value, scope, check);
    if (found.expression) return found.expression;
    aside = true;
    result.misfits.push({ check: 'condition', subject: rule.id, pointer: pointer + at, ...found.error });
    return undefined;
  };

  const { when } = rule;
  const named: Id[] = [];
  const scope = scopeOf(document, things, false);
  const ownerLevel = !('place' in owner) || document.places[owner.place]!.kind === 'level';
  /** What an id has to name. */
  const names = (at: string, of: Named, id: Id) => {
    const inLevels = of === 'piece' || of === 'spot' || of === 'passage';
    if (inLevels ? things[of].has(id) : own<unknown>(namedIn(document, of), id)) return true;
    misfit(at, `There is no ${namedWords[of]} "${id}"${inLevels ? ' here' : ''}.`, id);
    return false;
  };
  const seconds = (at: string, said: Seconds, zero: boolean) => {
    if (typeof said === 'number') return;
    const found = own(document.numbers, said);
    if (!found) misfit(at, `There is no number "${said}".`, said);
    else if (found.value < 0 || (found.value === 0 && !zero))
      misfit(at, `${found.name} is ${found.value}, and seconds are ${zero ? 'never negative' : 'above 0'}.`);
  };
  for (const part of timedParts) seconds(`/by/${part}`, rule.by?.[part] ?? 0, true);
  for (const [key, field, said] of triggerFields(when)) {
    if (field.is === 'seconds') seconds(`/when/${key}`, said as Seconds, false);
    if (field.is !== 'id') continue;
    const [at, id] = [`/when/${key}`, said as Id];
    if (!isDeed(key)) {
      names(at, field.of, id);
      continue;
    }
    named.push(id);
    if (!ownerLevel) misfit(at, `Only in a level can something be ${deeds[key].done}.`);
    else if (names(at, field.of, id) && !pieces.get(id)!.some((each) => canHappenTo(key, each.kind))) {
      const { name, kind } = pieces.get(id)![0]!;
      misfit(at, `${name} cannot be ${deeds[key].done}: it is a ${kind}.`);
    }
  }
  if (('walk' in when || 'reach' in when) && !ownerLevel)
    misfit(`/when/${triggerKind(when)}`, 'Only in a level can the player walk.');
  if ('slot' in when && !('place' in owner && document.places[owner.place]!.kind === 'menu'))
    misfit('/when/slot', 'Saved games are picked in a menu alone.');
  const holds = 'holds' in when ? text('/when/holds', when.holds, (expression) => isCondition(expression, scope)) : undefined;
  const choosing = scopeOf(document, things, 'choose' in when);
  const condition = rule.if === undefined ? undefined : text('/if', rule.if, (expression) => isCondition(expression, choosing));

  const expressions = (rule.do ?? []).map((effect, index) => {
    const at = `/do/${index}`;
    for (const [key, field, said] of effectFields(effect)) {
      if (field.is !== 'id' || !names(`${at}/${key}`, field.of, said as Id)) continue;
      if (field.of === 'piece' && !pieces.get(said as Id)!.some(usedUp))
        misfit(`${at}/${key}`, `${pieces.get(said as Id)![0]!.name} is never used up, so there is none to ${key}.`);
    }
    if ('set' in effect) {
      const variable = own(document.variables, effect.set);
      return text(`${at}/to`, effect.to, (expression) => (variable ? assignable(expression, variable, scope) : undefined));
    }
    if ('defeat' in effect && pieces.get(effect.defeat)?.every(({ kind }) => kind !== 'foe')) {
      const { name, kind } = pieces.get(effect.defeat)![0]!;
      misfit(`${at}/defeat`, `${name} cannot be defeated by a rule: it is a ${kind}.`);
    }
    if ('draw' in effect) {
      const order = own(document.orders, effect.draw);
      if (order?.draw === 'fixed') misfit(`${at}/draw`, `${order.name} is played as listed, so there is nothing to draw.`);
    }
    return undefined;
  });

  if (rule.go) {
    targetMisfit(document, rule.go, '/go', reference);
    if ('else' in rule.go && rule.go.else) targetMisfit(document, rule.go.else, '/go/else', reference);
  }
  if (aside) return;
  const spots: Id[] = 'reach' in when ? [when.reach] : [];
  for (const expression of [condition, holds, ...expressions])
    if (expression) {
      named.push(...piecesIn(expression));
      spots.push(...spotsIn(expression));
    }
  const unique = { pieces: [...new Set(named)], spots: [...new Set(spots)], passages: 'walk' in when ? [when.walk] : [] };
  result.rules.set(rule.id, { id: rule.id, rule, owner, condition, holds, expressions, ...unique });
}

const namedWords: Record<Named, string> = {
  variable: 'value',
  number: 'number',
  signal: 'signal',
  order: 'order',
  piece: 'piece',
  spot: 'spot',
  passage: 'passage',
  place: 'place',
  entry: 'entry',
  rule: 'rule'
};

/** The map of a document that holds what an id of a kind names. */
function namedIn(document: FlowDocument, of: Named): Record<Id, unknown> {
  const maps: Partial<Record<Named, Record<Id, unknown>>> = {
    variable: document.variables,
    number: document.numbers,
    signal: document.signals,
    order: document.orders,
    place: document.places
  };
  return maps[of] ?? {};
}

/** Whether a target can never resolve because of what it names. */
export function targetMisfit(
  document: FlowDocument,
  target: Target,
  at: string,
  report: (at: string, message: string, missing?: string) => void = () => {}
): boolean {
  const fail = (part: string, message: string, missing?: string) => {
    report(at + part, message, missing);
    return true;
  };
  if ('place' in target) {
    const place = own(document.places, target.place);
    if (!place) return fail('/place', `This goes to "${target.place}", and there is no such place.`, target.place);
    const { over, one } = placeKinds[place.kind];
    if (target.over && !over) return fail('/over', `${place.name} is ${one} and cannot be opened over another place.`);
    if (target.entry !== undefined && !(place.kind === 'level' && own(place.entries, target.entry))) {
      return fail('/entry', `${place.name} has no entry "${target.entry}".`, target.entry);
    }
    return false;
  }
  if (target.order !== undefined && !own(document.orders, target.order))
    return fail('/order', `There is no order "${target.order}".`, target.order);
  if (target.entry !== undefined && !levelsOf(document).some(([, level]) => own(level.entries, target.entry!))) {
    return fail('/entry', `No level has an entry "${target.entry}".`, target.entry);
  }
  return false;
}
