/** Reading a flow document from text: all errors at once, each with the place it is at. */
import type Joi from 'joi';
import { parseTree, printParseErrorCode, visit, type Node } from 'jsonc-parser';
import { cut } from './cut.ts';
import { filled } from './fill.ts';
import type { Patch } from './patch.ts';
import { partsOfPointer, pointerTo } from './pointer.ts';
import { documentParts } from '../vocabulary/document.ts';
import { same } from './same.ts';
import { isRunFile, type RunFile } from './run-file.ts';
import { documentSchema, mostPlaces, runFileSchema } from './schema.ts';
import { levelsOf, ruleLists, type FlowDocument, type Level } from './types.ts';
import { deepest, unsound } from './unsound.ts';

export interface ReadError {
  /** JSON Pointer (RFC 6901) to what is wrong; empty for the whole file. */
  pointer: string;
  message: string;
  /** Counted from 1. Missing when what was read was no text. */
  line?: number;
  column?: number;
}

export type ReadResult = { document: FlowDocument; errors?: undefined } | { document?: undefined; errors: ReadError[] };

/** After so many errors nothing more is looked at: nobody reads on, and a hostile file could have millions. */
const mostErrors = 200;
/** Of a part of a document with more values than this, only the first error is told. */
const largePart = 5000;
/** Longest pointer and message that are told, in UTF-16 units. */
const longest = 400;

/** Reads a `.crow.json` text. Never throws: whatever is wrong is in `errors`. */
export const read = (text: string): ReadResult => readBy(text, validate);

export type ReadRun = { file: RunFile; errors?: undefined } | { file?: undefined; errors: ReadError[] };

/** Reads the text of what a player did. Never throws. */
export const readRun = (text: string): ReadRun => readBy(text, validateRun);

function validateRun(value: unknown): ReadRun {
  if (!isRunFile(value))
    return { errors: [{ pointer: '/format', message: 'must be "crow-lane-run": this is not what a page to play has saved' }] };
  const foreign = unsound(value);
  if (foreign) return { errors: [foreign] };
  const { error, value: file } = runFileSchema.validate(value, { abortEarly: !isSmall(value) }) as Joi.ValidationResult<RunFile>;
  return error ? { errors: error.details.map(toldOf) } : { file: file! };
}

/** Holds the value of a JSON text against what it should be; of each error it says where in the text it is. */
function readBy<R extends { errors?: ReadError[] | undefined }>(
  text: string,
  validated: (value: unknown) => R
): R | { errors: ReadError[] } {
  const place = locator(text);
  const parsed = parse(text);
  if ('errors' in parsed)
    return { errors: parsed.errors.map(({ pointer, message, offset }) => ({ pointer, message, ...place(offset) })) };
  const result = validated(parsed.value);
  if (!result.errors) return result;
  const offsets = find(
    text,
    result.errors.map(({ pointer }) => pointer)
  );
  return { errors: result.errors.map((error, index) => ({ ...error, ...place(offsets[index]!) })) };
}

interface Sought {
  offset?: number;
  inside: Map<string, Sought>;
}

/** Where the values begin that pointers name, or what they would stand in: without a tree of all there is in a long text. */
function find(text: string, pointers: string[]): number[] {
  const whole: Sought = { inside: new Map() };
  const ways = pointers.map((pointer) =>
    partsOfPointer(pointer).reduce<Sought[]>(
      (way, part) => {
        const { inside } = way.at(-1)!;
        if (!inside.has(part)) inside.set(part, { inside: new Map() });
        return [...way, inside.get(part)!];
      },
      [whole]
    )
  );
  // of all that is open here whether it leads to something sought, and where in it the next value stands
  const open: { sought: Sought | undefined; key: string; index: number }[] = [];
  const value = (offset: number): Sought | undefined => {
    const around = open.at(-1);
    const sought = around ? around.sought?.inside.get(around.index < 0 ? around.key : String(around.index)) : whole;
    if (sought) sought.offset ??= offset;
    return sought;
  };
  const begin = (index: number) => (offset: number) => void open.push({ sought: value(offset), key: '', index });
  const close = () => void open.pop();
  visit(withoutMark(text), {
    onObjectBegin: begin(-1),
    onObjectEnd: close,
    onArrayBegin: begin(0),
    onArrayEnd: close,
    onObjectProperty: (key) => void (open.at(-1)!.key = key),
    onLiteralValue: (_value, offset) => void value(offset),
    onSeparator(character) {
      const around = open.at(-1)!;
      if (character === ',' && around.index >= 0) around.index++;
    }
  });
  return ways.map((way) => way.findLast(({ offset }) => offset !== undefined)?.offset ?? 0);
}

/** Checks the shape of a parsed JSON value and fills in the empty maps and lists. Never throws. */
export function validate(value: unknown): ReadResult {
  const shaped = shape(value);
  if (shaped.errors) return shaped;
  const document = filled(shaped.document);
  const wrong = [...doubledRules(document), ...besidePlans(shaped.document, document)];
  return wrong.length > 0 ? { errors: wrong } : { document };
}

/** What a level with a plan says of its inside that does not follow from the plan: it would be lost. */
function besidePlans(said: FlowDocument, document: FlowDocument): ReadError[] {
  return levelsOf(document)
    .filter(([, { plan }]) => plan)
    .flatMap(([id, level]) => {
      const own = said.places[id] as Partial<Level>;
      const parts: [pointer: string, said: unknown, follows: unknown][] = [
        ['spots', own.spots, level.spots],
        ['passages', own.passages, level.passages],
        ...Object.keys(level.pieces).map((piece): [string, unknown, unknown] => {
          return [`pieces/${piece}/at`, own.pieces?.[piece]?.at, level.pieces[piece]!.at];
        }),
        ...Object.keys(level.entries).map((entry): [string, unknown, unknown] => {
          return [`entries/${entry}/spot`, own.entries?.[entry]?.spot, level.entries[entry]!.spot];
        })
      ];
      return parts
        .filter(([, one, other]) => one !== undefined && !same(one, other))
        .map(([pointer]) => ({
          pointer: `/places/${id}/${pointer}`,
          message: 'cannot be said beside a plan, from which it follows'
        }));
    });
}

/**
 * The errors that a patch has brought into a document that was of right shape before: only what it touches can be wrong,
 * and a large flow is not read anew for each edit.
 */
export function validateChange(document: FlowDocument, patch: Patch): ReadError[] {
  const touched = patch.flatMap((operation) => [operation.path, ...('from' in operation ? [operation.from] : [])]);
  const within = (pointer: string) => touched.some((path) => path === pointer || path.startsWith(`${pointer}/`));
  const crowded = Object.keys(document.places).length > mostPlaces;
  const part = Object.fromEntries(
    Object.entries(document).flatMap(([key, value]): [string, unknown][] => {
      const all = touched.includes('') || touched.includes(`/${key}`) || (key === 'places' && crowded);
      if (all || typeof value !== 'object' || value === null || holds(key) === 'one') return [[key, value]];
      if (Array.isArray(value)) return within(`/${key}`) ? [[key, value]] : [];
      return [[key, Object.fromEntries(Object.entries(value).filter(([id]) => within(pointerTo([key, id]))))]];
    })
  );
  const mayDouble = patch.some(
    (operation) => operation.path.endsWith('/id') || ('value' in operation && JSON.stringify(operation.value).includes('"id"'))
  );
  return shape(part).errors ?? (mayDouble ? doubledRules(filled(document)) : []);
}

/** Whether a part of a document is one thing, a map by id or a list; of what is no part of it nothing is known. */
const holds = (key: string) => (Object.hasOwn(documentParts, key) ? documentParts[key as keyof FlowDocument] : undefined);

function shape(value: unknown): ReadResult {
  const foreign = notOurs(value) ?? unsound(value);
  if (foreign) return { errors: [foreign] };
  const strange = Object.keys(value as object).filter((key) => !Object.hasOwn(documentParts, key));
  if (strange.length > mostErrors) {
    const listed = strange.slice(0, mostErrors).map((key) => ({ pointer: pointerTo([key]), message: unknownKey(key) }));
    return { errors: [...listed, only('the rest of the document was')] };
  }
  const { error, value: valid } = documentSchema.validate(value) as Joi.ValidationResult<FlowDocument>;
  if (!error) return { document: valid! };
  const parts = partsOf(value as Record<string, unknown>);
  const errors: ReadError[] = [];
  let looked = 0;
  for (const { document, shift } of parts) {
    looked++;
    // every error takes time and room to be told: of a large part only the first is
    const abortEarly = !isSmall(document);
    for (const detail of documentSchema.validate(document, { abortEarly }).error?.details ?? []) {
      const path = shift === 0 ? detail.path : detail.path.map((key, depth) => (depth === 1 ? Number(key) + shift : key));
      errors.push(toldOf({ ...detail, path }));
    }
    if (errors.length >= mostErrors) break;
  }
  const left = parts.length - looked;
  if (errors.length > mostErrors || left > 0)
    return {
      errors: [
        ...errors.slice(0, mostErrors),
        only(`${left} more ${left === 1 ? 'part of the document was' : 'parts of the document were'}`)
      ]
    };
  return { errors };
}

const toldOf = (detail: Joi.ValidationErrorItem): ReadError => ({
  pointer: pointerTo(detail.path),
  message: cut(wording(detail), longest)
});

const only = (rest: string): ReadError => ({
  pointer: '',
  message: `only the first ${mostErrors} errors are listed; ${rest} not looked at`
});

/**
 * A document in parts that can each be held against the schema: what is not in a map or a list, then each thing in one.
 * `shift` is what the part's place in its list differs from its place in the document.
 */
function partsOf(value: Record<string, unknown>): { document: Record<string, unknown>; shift: number }[] {
  const frame: Record<string, unknown> = {};
  const parts: { document: Record<string, unknown>; shift: number }[] = [];
  const base = { format: 'crow-lane', version: 1, name: 'x', start: 'x', places: {} };
  for (const [key, part] of Object.entries(value)) {
    // what is a list where a map belongs, or the other way round, is wrong as a whole
    const splits =
      typeof part === 'object' &&
      part !== null &&
      holds(key) === (Array.isArray(part) ? 'list' : 'map') &&
      Object.keys(part).length <= mostPlaces;
    if (!splits) {
      frame[key] = part;
      continue;
    }
    if (Array.isArray(part)) part.forEach((each, shift) => parts.push({ document: { ...base, [key]: [each] }, shift }));
    else {
      frame[key] = {};
      for (const [id, each] of Object.entries(part)) parts.push({ document: { ...base, [key]: { [id]: each } }, shift: 0 });
    }
  }
  return [{ document: frame, shift: 0 }, ...parts];
}

/** Whether a value holds no more than `largePart` values. */
function isSmall(value: unknown): boolean {
  let room = largePart;
  const count = (part: unknown): boolean => {
    if (--room < 0) return false;
    if (typeof part !== 'object' || part === null) return true;
    for (const key in part) if (!count((part as Record<string, unknown>)[key])) return false;
    return true;
  };
  return count(value);
}

/** A file of another kind or of a newer version would only drown its reader in errors about its keys. */
function notOurs(value: unknown): ReadError | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    return { pointer: '', message: 'a flow document is a JSON object' };
  }
  const { format, version } = value as { format?: unknown; version?: unknown };
  if (format !== 'crow-lane') return { pointer: '/format', message: 'must be "crow-lane": this is not a flow document' };
  if (typeof version === 'number' && version > 2) {
    return {
      pointer: '/version',
      message: `version ${version} is newer than this program understands (2): update the program to read it`
    };
  }
  return undefined;
}

function doubledRules(document: FlowDocument): ReadError[] {
  const seen = new Set<string>();
  const errors: ReadError[] = [];
  for (const { rules, pointer } of ruleLists(document)) {
    rules.forEach((rule, index) => {
      if (seen.has(rule.id) && errors.length < mostErrors)
        errors.push({ pointer: `${pointer}/${index}/id`, message: `the rule id "${rule.id}" stands elsewhere too` });
      seen.add(rule.id);
    });
  }
  return errors;
}

const unknownKey = (key: string) => `the key "${cut(key, 80)}" is not known here`;

function wording(detail: Joi.ValidationErrorItem): string {
  const context = detail.context ?? {};
  switch (detail.type) {
    case 'object.unknown':
      return unknownKey(String(context.key));
    case 'any.required':
      return 'is missing';
    case 'any.only':
      return `must be ${(context.valids as unknown[]).map((valid) => JSON.stringify(valid)).join(' or ')}`;
    case 'array.unique':
      return 'stands in this list twice';
    case 'object.with':
      return `"${context.main}" needs "${context.peer}" beside it`;
    default: {
      // Joi begins with the label, which the pointer says already
      const label = String(context.label ?? '');
      return detail.message.startsWith(`${label} `) ? detail.message.slice(label.length + 1) : detail.message;
    }
  }
}

/** What a key stands for that is not in the file: the object around it. */
function nearest(offsets: Map<string, number>, pointer: string): number {
  for (let at = pointer; at; at = at.slice(0, at.lastIndexOf('/'))) {
    const offset = offsets.get(at);
    if (offset !== undefined) return offset;
  }
  return 0;
}

/** Where the value of each JSON pointer of a text begins, line and column counted from 1. Empty when it is not JSON. */
export function positions(text: string): (pointer: string) => { line: number; column: number } | undefined {
  const tree = tooDeep(text) ? undefined : parseTree(withoutMark(text), undefined, strict);
  if (!tree) return () => undefined;
  const place = locator(text);
  const offsets = offsetsOf(tree);
  return (pointer) => place(offsets.get(pointer) ?? nearest(offsets, pointer));
}

const strict = { disallowComments: true, allowTrailingComma: false };
/** A byte order mark at the beginning is passed over, and offsets stay as they are. */
const withoutMark = (text: string) => (text.startsWith('\uFEFF') ? ` ${text.slice(1)}` : text);

function parse(text: string): { value: unknown } | { errors: { pointer: string; message: string; offset: number }[] } {
  const whole = (message: string, offset: number) => ({ errors: [{ pointer: '', message, offset }] });
  if (tooDeep(text)) return whole(`nested more than ${deepest} deep`, 0);
  const body = withoutMark(text);
  const doubled: { pointer: string; message: string; offset: number }[] = [];
  // what follows a first slip in JSON is mostly its echo
  let slip: { message: string; offset: number } | undefined;
  const keys: Set<string>[] = [];
  visit(
    body,
    {
      onError(error, offset) {
        const words = printParseErrorCode(error)
          .replaceAll(/([a-z])([A-Z])/g, '$1 $2')
          .toLowerCase();
        slip ??= { message: `this is not JSON: ${words}`, offset };
      },
      onObjectBegin: () => void keys.push(new Set()),
      onObjectEnd: () => void keys.pop(),
      onObjectProperty(key, offset, _length, _line, _column, path) {
        const known = keys.at(-1)!;
        if (known.has(key) && doubled.length < mostErrors)
          doubled.push({ pointer: cut(pointerTo([...path(), key]), longest), message: 'this key stands here twice', offset });
        known.add(key);
      }
    },
    strict
  );
  if (slip) return whole(slip.message, slip.offset);
  if (doubled.length > 0) return { errors: doubled };
  try {
    // makes "__proto__" a key like any other, so that it is refused as one
    return { value: JSON.parse(body) };
  } catch (error) {
    return whole(body.trim() === '' ? 'this is not JSON: it is empty' : `this is not JSON: ${(error as Error).message}`, 0);
  }
}

/** Where each value begins, by its pointer. */
function offsetsOf(node: Node, pointer = '', offsets = new Map<string, number>()): Map<string, number> {
  offsets.set(pointer, node.offset);
  node.children?.forEach((child, index) => {
    const [name, value] = node.type === 'object' ? (child.children as [Node, Node]) : [undefined, child];
    offsetsOf(value, pointer + pointerTo([name ? (name.value as string) : index]), offsets);
  });
  return offsets;
}

/** Counts brackets outside of strings, so that the recursive parser never meets a tower of them. */
function tooDeep(text: string): boolean {
  let depth = 0;
  let inString = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inString) {
      if (c === 92) i++;
      else if (c === 34) inString = false;
    } else if (c === 34) inString = true;
    else if (c === 123 || c === 91) {
      if (++depth > deepest) return true;
    } else if (c === 125 || c === 93) depth--;
  }
  return false;
}

function locator(text: string): (offset: number) => { line: number; column: number } {
  const starts = [0];
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) starts.push(i + 1);
  return (offset) => {
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - starts[low]! + 1 };
  };
}
