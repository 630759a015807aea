/**
 * What does not fit in a document of right shape (docs/flow-format.md, section 1), and the parsed rules of what does.
 * A wrong target merely does not resolve; any other misfit sets its rule or expectation aside.
 */
import { parts, piecesIn, spotsIn, type Expression } from '../language/ast.ts';
import { assignable, isCondition } from '../language/type.ts';
import {
  levelsOf,
  own,
  ruleLists,
  type FlowDocument,
  type Id,
  type Owner,
  type Passage,
  type Rule,
  type Seconds,
  type Target
} from '../document/types.ts';
import { casesOf } from '../document/messages.ts';
import { timedParts } from '../document/numbers.ts';
import { effectFields } from '../vocabulary/effects.ts';
import type { Named } from '../vocabulary/fields.ts';
import { placeKinds } from '../vocabulary/places.ts';
import { usedUp } from '../vocabulary/pieces.ts';
import { canHappenTo, deeds, isDeed, triggerFields, triggerKind } from '../vocabulary/triggers.ts';
import { documentMisfits, passageMisfits, type Misfit } from './misfits.ts';
import { scopeOf, thingsByOwner, tryText, type Things } from './scope.ts';

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
