/** Names that name nothing, and conditions that cannot be read. */
import { distance } from 'fastest-levenshtein';
import { change, together, type Change } from '../document/patch.ts';
import { placeholder, withPlaceholders } from '../document/messages.ts';
import { findRule, isLevel, levelsOf, levelsOfOwner, own, type FlowDocument, type Id, type Level } from '../document/types.ts';
import { addPlace, emptyPlace } from '../document/edits/places.ts';
import { addRule, removeRule, wireRule } from '../document/edits/rules.ts';
import { setExpects } from '../document/edits/lists.ts';
import { fit } from '../play/fit.ts';
import { prepare } from '../play/flow.ts';
import { effects } from '../vocabulary/effects.ts';
import type { Named as Names, Shape } from '../vocabulary/fields.ts';
import { triggers } from '../vocabulary/triggers.ts';
import { capital } from '../words/words.ts';
import { withoutObjective } from './goals.ts';
import { named, type Offers } from './offers.ts';

type Named = Record<Id, { name: string }>;

/** What could stand where a pointer points, by id with its name. */
function candidates(document: FlowDocument, pointer: string): Named {
  const at = pointer.split('/').slice(1);
  const key = /^\d+$/.test(at.at(-1)!) ? at.at(-2)! : at.at(-1)!;
  const rule = ruleAt(document, at);
  /** Of a rule what its levels have, of what stands in a level itself what that has. */
  const inLevels =
    <K extends 'pieces' | 'spots' | 'passages'>(map: K) =>
    (): Named => {
      const all = levelsOf(document).map(([id]) => id);
      const levels = rule ? (levelsOfOwner(document, rule.owner) ?? all) : all.filter((id) => id === at[1]);
      const found = levels.flatMap((id) => Object.entries((document.places[id] as Level)[map]));
      return Object.fromEntries(found.map(([id, { name = id }]) => [id, { name }]));
    };
  const pieces = inLevels('pieces');
  const entries = (): Named => {
    const target = rule?.rule.go;
    const place = target && 'place' in target ? own(document.places, target.place) : undefined;
    return place?.kind === 'level' ? place.entries : {};
  };
  const levels = () => Object.fromEntries(levelsOf(document));
  // besides what triggers and effects name: what targets name, and what stands elsewhere in a document
  const others: Record<string, () => Named> = {
    place: () => document.places,
    start: () => document.places,
    order: () => document.orders,
    entry: entries,
    levels,
    rows: levels,
    group: () => document.groups,
    uses: () => document.assets,
    shows: () => document.variables,
    from: inLevels('spots'),
    to: inLevels('spots'),
    spot: inLevels('spots'),
    spots: inLevels('spots'),
    through: pieces
  };
  const byKind: Record<Names, () => Named> = {
    variable: () => document.variables,
    number: () => document.numbers,
    signal: () => document.signals,
    order: () => document.orders,
    place: () => document.places,
    piece: pieces,
    spot: inLevels('spots'),
    passage: inLevels('passages'),
    entry: entries,
    rule: () => ({})
  };
  const named = namedUnder(key);
  const found = named ? byKind[named] : Object.hasOwn(others, key) ? others[key]! : undefined;
  return found ? found() : { ...document.variables, ...pieces() };
}

/** What the id under a key of a trigger or effect names; undefined for keys of another kind. */
function namedUnder(key: string): Names | undefined {
  const shape: Shape | undefined = own<Shape>(triggers, key) ?? own<Shape>(effects, key);
  if (shape?.value.is === 'seconds' || /^(wait|out|hold|in)$/.test(key)) return 'number';
  return shape?.value.is === 'id' ? shape.value.of : undefined;
}

function ruleAt(document: FlowDocument, at: string[]) {
  const rules = at.indexOf('rules');
  if (rules < 0) return undefined;
  let list: unknown = document;
  for (const key of at.slice(0, rules + 2)) list = (list as Record<string, unknown> | undefined)?.[key];
  const id = (list as { id?: Id } | undefined)?.id;
  return id === undefined ? undefined : findRule(document, id);
}

/** The most alike first, by id or by name; what is not alike at all is none. */
function alike(missing: string, among: Named, most = 2): Id[] {
  const far = (id: Id) =>
    Math.min(distance(missing, id), distance(missing, among[id]!.name.toLowerCase().replaceAll(/[^a-z0-9]+/g, '_')));
  return Object.keys(among)
    .map((id) => ({ id, far: far(id) }))
    .filter(({ id, far: steps }) => steps <= Math.max(2, Math.ceil(Math.max(missing.length, id.length) / 2)))
    .sort((a, b) => a.far - b.far)
    .slice(0, most)
    .map(({ id }) => id);
}

const misfits = (document: FlowDocument, check: string, subject: string) =>
  fit(document).misfits.filter((each) => each.check === check && each.subject === subject);

const nameOf = (among: Named, id: Id) => among[id]!.name;

/** Without the rule there is no misfit. */
function withoutRule(document: FlowDocument, subject: string): Change[] {
  const found = findRule(document, subject.replace(/^rule\//, ''));
  return found ? [named('Delete the rule', removeRule(document, found.rule.id))] : [];
}

const reference: Offers = (document, { subject }) => [
  ...misfits(document, 'reference', subject).flatMap(({ pointer, missing }) => {
    if (missing === undefined) return [];
    if (/^\/places\/[^/]+\/message/.test(pointer)) return placeholders(document, pointer, missing);
    const among = candidates(document, pointer);
    const found = alike(missing, among).map((id) => {
      const words = `Change it to ${nameOf(among, id)}`;
      return change(document, words, [{ op: 'replace', path: pointer, value: id }]);
    });
    return among === document.places && pointer.endsWith('/place') ? [...found, ...made(document, missing)] : found;
  }),
  ...(subject === 'flow'
    ? Object.keys(document.places)
        .filter((id) => !isLevel(document, id))
        .slice(0, 2)
        .map((id) => change(document, `Begin at ${document.places[id]!.name}`, [{ op: 'replace', path: '/start', value: id }]))
    : []),
  ...withoutRule(document, subject)
];

const condition: Offers = (document, { subject }) => [
  ...misfits(document, 'condition', subject).flatMap(({ pointer, column }) => {
    const text = textAt(document, pointer);
    const word = text === undefined || column === undefined ? undefined : /^[a-z][a-z0-9_]*/.exec(text.slice(column - 1))?.[0];
    if (text === undefined || word === undefined) return [];
    const among = candidates(document, pointer);
    return alike(word, among).map((id) => {
      const value = text.slice(0, column! - 1) + id + text.slice(column! - 1 + word.length);
      return change(document, `Change “${word}” to ${nameOf(among, id)}`, [{ op: 'replace', path: pointer, value }]);
    });
  }),
  ...withoutExpectation(document, subject),
  ...withoutObjective(document, subject),
  ...withoutRule(document, subject)
];

/** The screen that is missing, with a way back from it. */
function made(document: FlowDocument, missing: Id): Change[] {
  const words = capital(missing.replaceAll('_', ' '));
  const added = addPlace(document, emptyPlace('menu', words));
  if (added.id !== missing) return [];
  const home = prepare(document).home;
  const back = (now: FlowDocument) => addRule(now, { place: missing }, wireRule(now, missing, home!));
  return [together(document, `Add the menu ${words}`, () => added, ...(home === undefined ? [] : [back]))];
}

function textAt(document: FlowDocument, pointer: string): string | undefined {
  let at: unknown = document;
  for (const key of pointer.split('/').slice(1)) at = (at as Record<string, unknown> | undefined)?.[key];
  return typeof at === 'string' ? at : undefined;
}

/** Another name in the braces that name nothing, the rest of the text as it is. */
function placeholders(document: FlowDocument, pointer: string, missing: Id): Change[] {
  const text = textAt(document, pointer);
  if (text === undefined) return [];
  const [, place] = pointer.split('/').slice(1) as [string, Id];
  const { variables, orders, groups, places } = document;
  const among: Named = { ...orders, ...groups, ...variables, ...(places[place] as { pieces?: Named }).pieces };
  return alike(missing, among).map((id) => {
    const named = withPlaceholders(text, (content) =>
      placeholder(content)?.name === missing ? `{${content.replace(missing, id)}}` : undefined
    );
    return change(document, `Show ${nameOf(among, id)}`, [{ op: 'replace', path: pointer, value: named }]);
  });
}

/** For a subject `place/index`: expects it no more. */
export function withoutExpectation(document: FlowDocument, subject: string): Change[] {
  const [, place, index] = /^([a-z0-9_]+)\/(\d+)$/.exec(subject) ?? [];
  const expects = place === undefined ? undefined : own(document.places, place)?.expects;
  if (!expects?.[Number(index)]) return [];
  return [named('Remove this expectation', setExpects(document, place!, expects.toSpliced(Number(index), 1)))];
}

export const misfitRepairs = { reference, condition };
