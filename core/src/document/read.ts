/** Reading a flow document from text: all errors at once, each with the place it is at. */
import type Joi from 'joi';
import { parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser';
import { filled } from './fill.ts';
import type { Patch } from './patch.ts';
import { documentSchema, mostPlaces } from './schema.ts';
import { ruleLists, type FlowDocument } from './types.ts';

export interface ReadError {
  /** JSON Pointer (RFC 6901) to what is wrong; empty for the whole file. */
  pointer: string;
  message: string;
  /** Counted from 1. Missing when what was read was no text. */
  line?: number;
  column?: number;
}

export type ReadResult = { document: FlowDocument; errors?: undefined } | { document?: undefined; errors: ReadError[] };

/** More errors than this are counted but not listed: nobody reads on, and a hostile file could have millions. */
const mostErrors = 200;
/** Depth of nesting beyond which a file is refused; the format itself needs 8. */
const deepest = 60;

/** Reads a `.crow.json` text. Never throws: whatever is wrong is in `errors`. */
export function read(text: string): ReadResult {
  const place = locator(text);
  const parsed = parse(text);
  if ('errors' in parsed)
    return { errors: parsed.errors.map((error) => ({ pointer: '', message: error.message, ...place(error.offset) })) };
  const root = parsed.root;
  if (root.doubled.length > 0) {
    return {
      errors: root.doubled.map(({ pointer, offset }) => ({ pointer, message: 'this key stands here twice', ...place(offset) }))
    };
  }
  const result = validate(root.value);
  if (result.document) return result;
  const offsets = offsetsOf(root.tree);
  return {
    errors: result.errors.map((error) => ({
      ...error,
      ...place(offsets.get(error.pointer) ?? nearest(offsets, error.pointer))
    }))
  };
}

/** Checks the shape of a parsed JSON value and fills in the empty maps and lists. Never throws. */
export function validate(value: unknown): ReadResult {
  const shaped = shape(value);
  if (shaped.errors) return shaped;
  const document = filled(shaped.document);
  const doubled = doubledRules(document);
  return doubled.length > 0 ? { errors: doubled } : { document };
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
      if (all || typeof value !== 'object' || value === null || plainParts.has(key)) return [[key, value]];
      if (Array.isArray(value)) return within(`/${key}`) ? [[key, value]] : [];
      return [[key, Object.fromEntries(Object.entries(value).filter(([id]) => within(pointerTo([key, id]))))]];
    })
  );
  return shape(part).errors ?? doubledRules(filled(document));
}

/** Parts of a document that are objects, but no maps by id. */
const plainParts = new Set(['limit']);

function shape(value: unknown): ReadResult {
  const foreign = notOurs(value) ?? inheritance(value, []);
  if (foreign) return { errors: [foreign] };
  const { error, value: valid } = documentSchema.validate(value) as Joi.ValidationResult<FlowDocument>;
  if (!error) return { document: valid! };
  const errors = error.details.map((detail) => ({ pointer: pointerTo(detail.path), message: wording(detail) }));
  const listed = errors.slice(0, mostErrors);
  if (errors.length > mostErrors) listed.push({ pointer: '', message: `and ${errors.length - mostErrors} more errors` });
  return { errors: listed };
}

/** A file of another kind or of a newer version would only drown its reader in errors about its keys. */
function notOurs(value: unknown): ReadError | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    return { pointer: '', message: 'a flow document is a JSON object' };
  }
  const { format, version } = value as { format?: unknown; version?: unknown };
  if (format !== 'crow-lane') return { pointer: '/format', message: 'must be "crow-lane": this is no flow document' };
  if (typeof version === 'number' && version > 1) {
    return {
      pointer: '/version',
      message: `version ${version} is newer than this program understands (1): update the program to read it`
    };
  }
  return undefined;
}

/** A key "__proto__" would be lost in copying, not refused, so it is looked for first. */
function inheritance(value: unknown, path: (string | number)[]): ReadError | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  for (const [key, part] of Object.entries(value)) {
    const at = [...path, key];
    const found =
      key === '__proto__' ? { pointer: pointerTo(at), message: 'the key "__proto__" is not known here' } : inheritance(part, at);
    if (found) return found;
  }
  return undefined;
}

function doubledRules(document: FlowDocument): ReadError[] {
  const seen = new Set<string>();
  const errors: ReadError[] = [];
  for (const { rules, pointer } of ruleLists(document)) {
    rules.forEach((rule, index) => {
      if (seen.has(rule.id))
        errors.push({ pointer: `${pointer}/${index}/id`, message: `the rule id "${rule.id}" stands elsewhere too` });
      seen.add(rule.id);
    });
  }
  return errors;
}

function wording(detail: Joi.ValidationErrorItem): string {
  const context = detail.context ?? {};
  switch (detail.type) {
    case 'object.unknown':
      return `the key "${context.key}" is not known here`;
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

export function pointerTo(path: readonly (string | number)[]): string {
  return path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
}

/** What a key stands for that is not in the file: the object around it. */
function nearest(offsets: Map<string, number>, pointer: string): number {
  for (let at = pointer; at; at = at.slice(0, at.lastIndexOf('/'))) {
    const offset = offsets.get(at);
    if (offset !== undefined) return offset;
  }
  return 0;
}

interface Parsed {
  value: unknown;
  doubled: { pointer: string; offset: number }[];
  /** The text as a tree, to say where in it something stands. */
  tree: Node;
}

/** Where the value of each JSON pointer of a text begins, line and column counted from 1. Empty when it is not JSON. */
export function positions(text: string): (pointer: string) => { line: number; column: number } | undefined {
  const parsed = parse(text);
  if ('errors' in parsed) return () => undefined;
  const place = locator(text);
  const offsets = offsetsOf(parsed.root.tree);
  return (pointer) => place(offsets.get(pointer) ?? nearest(offsets, pointer));
}

function parse(text: string): { root: Parsed } | { errors: { message: string; offset: number }[] } {
  if (tooDeep(text)) return { errors: [{ message: `nested more than ${deepest} deep`, offset: 0 }] };
  const problems: ParseError[] = [];
  const body = text.startsWith('\uFEFF') ? ` ${text.slice(1)}` : text;
  const tree = parseTree(body, problems, { disallowComments: true, allowTrailingComma: false });
  if (problems.length > 0 || !tree) {
    // what follows a first slip in JSON is mostly its echo
    const first = problems[0];
    const words = first
      ? printParseErrorCode(first.error)
          .replaceAll(/([a-z])([A-Z])/g, '$1 $2')
          .toLowerCase()
      : 'it is empty';
    return { errors: [{ message: `this is not JSON: ${words}`, offset: first?.offset ?? 0 }] };
  }
  const root: Parsed = { value: undefined, doubled: [], tree };
  root.value = valueOf(tree, [], root);
  return { root };
}

function valueOf(node: Node, path: string[], into: Parsed): unknown {
  if (node.type === 'array') {
    return (node.children ?? []).map((child, index) => within(path, String(index), () => valueOf(child, path, into)));
  }
  if (node.type !== 'object') return node.value as unknown;
  const object: Record<string, unknown> = {};
  for (const property of node.children ?? []) {
    const [{ value: name, offset }, child] = property.children as [Node, Node];
    const key = name as string;
    if (Object.hasOwn(object, key)) into.doubled.push({ pointer: pointerTo([...path, key]), offset });
    const value = within(path, key, () => valueOf(child, path, into));
    // it must become a key like any other, to be refused as one
    if (key === '__proto__') Object.defineProperty(object, key, { value, enumerable: true, writable: true, configurable: true });
    else object[key] = value;
  }
  return object;
}

function within<T>(path: string[], key: string, run: () => T): T {
  path.push(key);
  const result = run();
  path.pop();
  return result;
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
