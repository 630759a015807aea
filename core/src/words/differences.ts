/** What is different between two documents of one flow, in the designer's words. */
import { type FlowDocument, type Id, type Owner, type Place, type Rule } from '../document/types.ts';
import { same } from '../document/patch.ts';
import { placeName, ruleWords } from './words.ts';
import { countOf } from '../vocabulary/pieces.ts';

export interface Difference {
  is: 'added' | 'removed' | 'changed';
  text: string;
  /** The place it is about. */
  place?: Id;
}

const lists = { variables: 'value', signals: 'signal', orders: 'order', groups: 'group' } as const;

export function differences(before: FlowDocument, after: FlowDocument): Difference[] {
  const found: Difference[] = [];
  if (before.name !== after.name) found.push({ is: 'changed', text: `The flow is called ${after.name}, not ${before.name}.` });
  if (before.start !== after.start)
    found.push({
      is: 'changed',
      text: `Play begins at ${placeName(after, after.start)}, not at ${placeName(before, before.start)}.`,
      place: after.start
    });
  found.push(
    ...changed(
      'The flow',
      { note: before.brief, limit: before.limit },
      { note: after.brief, limit: after.limit },
      naming(before, after)
    )
  );
  for (const id of ids(before.places, after.places)) found.push(...ofPlace(before, after, id));
  for (const [list, one] of Object.entries(lists) as [keyof typeof lists, string][]) {
    for (const id of ids(before[list], after[list])) {
      const [old, now] = [before[list][id], after[list][id]];
      if (!old) found.push({ is: 'added', text: `The ${one} ${now!.name}.` });
      else if (!now) found.push({ is: 'removed', text: `The ${one} ${old.name}.` });
      else found.push(...changed(`The ${one} ${now.name}`, withoutRules(old), withoutRules(now), naming(before, after)));
    }
  }
  for (const id of ids(before.groups, after.groups)) {
    const name = (after.groups[id] ?? before.groups[id])!.name;
    found.push(
      ...ofRules(before, after, { group: id }, `All levels of ${name}`, before.groups[id]?.rules, after.groups[id]?.rules)
    );
  }
  found.push(...ofRules(before, after, { flow: true }, 'All levels', before.rules, after.rules));
  for (const id of ids(before.runs, after.runs)) {
    const [old, now] = [before.runs[id], after.runs[id]];
    if (!old) found.push({ is: 'added', text: `The run ${now!.name}.` });
    else if (!now) found.push({ is: 'removed', text: `The run ${old.name}.` });
    else if (!same(old, now)) found.push({ is: 'changed', text: `The run ${now.name} was recorded again.` });
  }
  if (!same(before.accepted, after.accepted))
    found.push({ is: 'changed', text: `Accepted findings: ${before.accepted.length} → ${after.accepted.length}.` });
  return found;
}

function ofPlace(before: FlowDocument, after: FlowDocument, id: Id): Difference[] {
  const [old, now] = [before.places[id], after.places[id]];
  if (!old) return [{ is: 'added', text: `${now!.name}.`, place: id }];
  if (!now) return [{ is: 'removed', text: `${old.name}.`, place: id }];
  const { name } = now;
  const found: Difference[] = [];
  const plain = ({ rules: _rules, ...rest }: Place) => {
    const { pieces: _pieces, entries: _entries, ...fields } = rest as unknown as Record<string, unknown>;
    return fields;
  };
  found.push(...changed(name, plain(old), plain(now), naming(before, after)));
  for (const part of ['pieces', 'entries'] as const) {
    const [theirs, ours] = [old, now].map((place) => (place.kind === 'level' ? place[part] : {})) as [Named, Named];
    for (const each of ids(theirs, ours)) {
      const [was, is] = [theirs[each], ours[each]];
      const what = part === 'pieces' ? 'piece' : 'entry';
      if (!was) found.push({ is: 'added', text: `${name}: the ${what} ${is!.name}${amount(is!)}.` });
      else if (!is) found.push({ is: 'removed', text: `${name}: the ${what} ${was.name}.` });
      else found.push(...changed(`${name}, ${is.name}`, was, is, naming(before, after)));
    }
  }
  found.push(...ofRules(before, after, { place: id }, name, old.rules, now.rules));
  return found.map((each) => ({ ...each, place: id }));
}

type Named = Record<Id, { name: string; count?: number }>;
const amount = (piece: { count?: number }) => (piece.count === undefined ? '' : ` (${countOf(piece as never)})`);
const withoutRules = (value: object) => {
  const { rules: _rules, ...rest } = value as Record<string, unknown>;
  return rest;
};

/** One line for each field that differs. */
function changed(what: string, before: object, after: object, words: (value: unknown) => string): Difference[] {
  const [old, now] = [before, after] as [Record<string, unknown>, Record<string, unknown>];
  return ids(old, now)
    .filter((field) => !same(old[field], now[field]))
    .map((field) => ({ is: 'changed', text: `${what}: ${field} ${words(old[field])} → ${words(now[field])}.` }));
}

/** A value in words; ids of places become names. */
function naming(before: FlowDocument, after: FlowDocument): (value: unknown) => string {
  const word = (value: unknown): string => {
    if (value === undefined) return 'none';
    if (Array.isArray(value)) return value.length === 0 ? 'none' : value.map(word).join(', ');
    if (typeof value === 'object') return JSON.stringify(value);
    if (typeof value !== 'string') return String(value);
    return (after.places[value] ?? before.places[value])?.name ?? value;
  };
  return word;
}

function ofRules(
  before: FlowDocument,
  after: FlowDocument,
  owner: Owner,
  name: string,
  old: Rule[] = [],
  now: Rule[] = []
): Difference[] {
  const found: Difference[] = [];
  const byId = (rules: Rule[]) => new Map(rules.map((rule) => [rule.id, rule]));
  const [theirs, ours] = [byId(old), byId(now)];
  for (const rule of old)
    if (!ours.has(rule.id)) found.push({ is: 'removed', text: `The rule ${ruleWords(before, owner, rule)}.` });
  for (const rule of now) {
    const was = theirs.get(rule.id);
    if (!was) found.push({ is: 'added', text: `The rule ${ruleWords(after, owner, rule)}.` });
    else if (!same(was, rule)) {
      const parts = ids(was, rule).filter((part) => !same((was as never)[part], (rule as never)[part]));
      found.push({
        is: 'changed',
        text: `The rule ${ruleWords(after, owner, rule)} (${parts.map((part) => parted[part] ?? part).join(', ')}).`
      });
    }
  }
  const order = (rules: Rule[], other: Map<Id, Rule>) => rules.filter(({ id }) => other.has(id)).map(({ id }) => id);
  if (!same(order(old, ours), order(now, theirs)))
    found.push({ is: 'changed', text: `${name}: its rules are read in another order.` });
  return found;
}

const parted: Record<string, string> = {
  when: 'when it happens',
  if: 'its condition',
  do: 'what it does',
  go: 'where it leads',
  result: 'whether it wins or loses',
  by: 'how it looks',
  note: 'its note'
};

const ids = (a: object, b: object) => [...new Set([...Object.keys(a), ...Object.keys(b)])];
