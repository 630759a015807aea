/**
 * The shape of flow files as JSON Schema 2020-12, made from what the reader holds them against (document/schema.ts), so that
 * there is one description of it. What no schema can say is left to the reader: numbers held against one another, ids that stand
 * twice, what follows from a plan; and lengths of texts, which JSON Schema counts in code points and the reader in UTF-16 units.
 */
import type Joi from 'joi';
import { documentSchema } from '../document/schema.ts';

export type JsonSchema = boolean | { [key: string]: unknown };

/** What Joi tells of a schema. */
interface Described {
  type: string;
  flags?: { presence?: 'required' | 'forbidden' | 'optional'; only?: boolean; unknown?: boolean };
  allow?: unknown[];
  invalid?: unknown[];
  rules?: { name: string; args?: Record<string, unknown> }[];
  keys?: Record<string, Described>;
  patterns?: { schema?: Described; regex?: string; rule: Described }[];
  items?: Described[];
  ordered?: Described[];
  matches?: Match[];
  dependencies?: { rel: 'with' | 'or' | 'xor'; key?: string; peers: string[] }[];
  whens?: Match[];
  metas?: { def?: string; one?: string[]; ids?: true }[];
}
interface Match {
  schema?: Described;
  ref?: { path: string[] };
  is?: Described;
  not?: Described;
  then?: Described;
  otherwise?: Described;
  switch?: { is: Described; then: Described }[];
}

type Defs = Record<string, JsonSchema>;

/** The schema of a flow file. */
export function flowSchema(): JsonSchema {
  return schemaOf(documentSchema, 'A flow: levels, menus, interludes and endings, and the rules that lead from one to another');
}

function schemaOf(schema: Joi.Schema, title: string): JsonSchema {
  const defs: Defs = {};
  const whole = told(schema.describe() as Described, defs);
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title,
    ...(whole as object),
    $defs: Object.fromEntries(Object.entries(defs).sort(([a], [b]) => (a < b ? -1 : 1)))
  };
}

/** A part; one that has a name is said once. */
function told(part: Described, defs: Defs): JsonSchema {
  const name = part.metas?.find(({ def }) => def)?.def;
  if (name === undefined) return shaped(part, defs);
  if (!(name in defs)) {
    defs[name] = true;
    defs[name] = shaped(part, defs);
  }
  return { $ref: `#/$defs/${name}` };
}

function shaped(part: Described, defs: Defs): JsonSchema {
  if (part.flags?.only) return { enum: part.allow!.filter((each) => !isOverride(each)) };
  const make = makers[part.type];
  if (!make) throw new Error(`nothing is known of the type ${part.type}`);
  return make(part, defs);
}

const isOverride = (value: unknown) => typeof value === 'object' && value !== null && 'override' in value;

const makers: Record<string, (part: Described, defs: Defs) => JsonSchema> = {
  any: () => true,
  boolean: () => ({ type: 'boolean' }),
  string: stringOf,
  number: ({ rules = [] }) => ({
    type: rules.some(({ name }) => name === 'integer') ? 'integer' : 'number',
    ...limits(rules, { min: 'minimum', max: 'maximum', greater: 'exclusiveMinimum' })
  }),
  array: arrayOf,
  object: objectOf,
  alternatives: ({ matches = [] }, defs) => alternativesOf(matches, defs)
};

/** By the reader's word the one of JSON Schema, with the same limit. */
function limits(rules: NonNullable<Described['rules']>, words: Record<string, string>): Record<string, unknown> {
  return Object.fromEntries(rules.flatMap(({ name, args }) => (words[name] ? [[words[name], args!.limit]] : [])));
}

function stringOf({ rules = [], allow = [], invalid }: Described): JsonSchema {
  const hex = rules.some(({ name }) => name === 'hex');
  const pattern = rules.find(({ name }) => name === 'pattern')?.args?.regex as string | undefined;
  return {
    type: 'string',
    // an empty text is none, where nothing else is said
    ...(!allow.includes('') && pattern === undefined && { minLength: 1 }),
    ...limits(rules, { min: 'minLength', max: 'maxLength' }),
    ...(hex && { pattern: `^[0-9a-fA-F]{${String(rules.find(({ name }) => name === 'length')!.args!.limit)}}$` }),
    ...(pattern !== undefined && { pattern: sourceOf(pattern) }),
    ...(invalid && { not: { enum: invalid } })
  };
}

/** A regular expression without the flags that JSON Schema has no place for. */
function sourceOf(text: string): string {
  const [, source, flags] = /^\/(.*)\/(\w*)$/s.exec(text)!;
  return flags!.includes('s') ? source!.replaceAll(/(?<!\\)\./g, '[\\s\\S]') : source!;
}

function arrayOf({ rules = [], items, ordered }: Described, defs: Defs): JsonSchema {
  const unique = rules.some(({ name }) => name === 'unique') && { uniqueItems: true };
  const size = limits(rules, { min: 'minItems', max: 'maxItems' });
  if (ordered) {
    const needed = ordered.filter(({ flags }) => flags?.presence === 'required').length;
    return { type: 'array', prefixItems: ordered.map((each) => told(each, defs)), items: false, minItems: needed, ...size };
  }
  return { type: 'array', ...(items && { items: told(items[0]!, defs) }), ...size, ...unique };
}

function objectOf(part: Described, defs: Defs): JsonSchema {
  const { keys, patterns = [], rules = [], flags, metas = [] } = part;
  const all = Object.entries(keys ?? {});
  const required = all.filter(([, { flags: of }]) => of?.presence === 'required').map(([key]) => key);
  const further = [...dependent(part), ...conditional(part, defs)];
  const one = metas.flatMap((meta) => meta.one ?? []);
  const [pattern] = patterns;
  return {
    type: 'object',
    ...(all.length > 0 && { properties: Object.fromEntries(all.map(([key, of]) => [key, told(of, defs)])) }),
    ...(required.length > 0 && { required }),
    ...(pattern && { propertyNames: namesOf(pattern, metas, defs) }),
    additionalProperties: pattern ? told(pattern.rule, defs) : flags?.unknown || !keys ? true : false,
    ...limits(rules, { min: 'minProperties', max: 'maxProperties' }),
    ...exactly(rules),
    ...(one.length > 0 && { oneOf: one.map((key) => ({ required: [key] })) }),
    ...(further.length > 0 && { allOf: further })
  };
}

function namesOf(
  { schema, regex }: NonNullable<Described['patterns']>[number],
  metas: NonNullable<Described['metas']>,
  defs: Defs
): JsonSchema {
  if (metas.some(({ ids }) => ids)) return { $ref: '#/$defs/id' };
  return regex === undefined ? told(schema!, defs) : { pattern: sourceOf(regex) };
}

function exactly(rules: NonNullable<Described['rules']>): object {
  const limit = rules.find(({ name }) => name === 'length')?.args?.limit;
  return limit === undefined ? {} : { minProperties: limit, maxProperties: limit };
}

/** What has to stand beside what. */
function dependent({ dependencies = [] }: Described): JsonSchema[] {
  return dependencies.map(({ rel, key, peers }) => {
    if (rel === 'with') return { dependentRequired: { [key!]: peers } };
    return { [rel === 'or' ? 'anyOf' : 'oneOf']: peers.map((peer) => ({ required: [peer] })) };
  });
}

/** What is asked only where something else stands beside it. */
function conditional({ keys = {}, whens = [] }: Described, defs: Defs): JsonSchema[] {
  const whole = whens.map(({ is, then }): JsonSchema => ({ if: present(is!), then: present(then!) }));
  const parts = Object.entries(keys).flatMap(([key, { whens: asked = [] }]) =>
    asked.map(({ ref, is, then, otherwise }): JsonSchema => {
      const [beside] = ref!.path as [string];
      return {
        if: { required: [beside], properties: { [beside]: told(is!, defs) } },
        ...(then && { then: presence(key, then) }),
        ...(otherwise && { else: presence(key, otherwise) })
      };
    })
  );
  return [...whole, ...parts];
}

const presence = (key: string, { flags }: Described): JsonSchema =>
  flags?.presence === 'forbidden' ? { properties: { [key]: false } } : { required: [key] };

/** Which keys there have to be, of an object about which nothing else is asked. */
function present(part: Described): JsonSchema {
  const required = Object.keys(part.keys ?? {});
  const [further] = dependent(part);
  return { ...(required.length > 0 && { required }), ...(further as object | undefined) };
}

function alternativesOf(matches: Match[], defs: Defs): JsonSchema {
  const [first] = matches;
  if (first?.is && first.then && first.otherwise)
    // the kinds that the first part asks for are those of the second
    return first.then.matches ? told(first.then, defs) : { if: told(first.is, defs), then: told(first.then, defs) };
  if (first?.switch) {
    const [key] = first.ref!.path as [string];
    const kinds = first.switch.map(({ is }) => (shaped(is, defs) as { enum: string[] }).enum[0]!);
    return {
      type: 'object',
      required: [key],
      properties: { [key]: { enum: kinds } },
      allOf: first.switch.map(({ then }, n) => ({
        if: { properties: { [key]: { const: kinds[n] } } },
        then: told(then, defs)
      }))
    };
  }
  return { anyOf: matches.map(({ schema }) => told(schema!, defs)) };
}
