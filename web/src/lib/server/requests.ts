/** What goes in and out over HTTP: validated once here, refused as problem details (RFC 9457). */
import { error } from '@sveltejs/kit';
import Joi from 'joi';
import type { Operation, Patch } from '@crow-lane/core/document/patch';

/** A refusal in the form of RFC 9457. */
export function problem(status: number, title: string, rest: Record<string, unknown> = {}): Response {
  return new Response(JSON.stringify({ type: 'about:blank', title, status, ...rest }), {
    status,
    headers: { 'content-type': 'application/problem+json' }
  });
}

/** Reads a body of at most `most` bytes, or refuses it. */
export async function bodyText(request: Request, most: number): Promise<string> {
  const declared = Number(request.headers.get('content-length') ?? 0);
  if (declared > most) error(413, `The body is longer than ${Math.round(most / 1e6)} MB.`);
  const bytes = await request.arrayBuffer();
  if (bytes.byteLength > most) error(413, `The body is longer than ${Math.round(most / 1e6)} MB.`);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    error(400, 'The body is not UTF-8.');
  }
}

/** Parses JSON and validates it; throws a 400 with what is wrong. */
export async function body<T>(request: Request, schema: Joi.Schema<T>, most = 1_000_000): Promise<T> {
  const text = await bodyText(request, most);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    error(400, 'The body is not JSON.');
  }
  return valid(value, schema);
}

export function valid<T>(value: unknown, schema: Joi.Schema<T>): T {
  const result = schema.validate(value, { convert: false });
  if (result.error) error(400, result.error.message);
  return result.value as T;
}

const pointer = Joi.string()
  .max(2000)
  .pattern(/^(\/([^~/]|~[01])*)*$/);
const operation = Joi.object<Operation>({
  op: Joi.valid('add', 'remove', 'replace', 'move', 'test').required(),
  path: pointer.required(),
  from: Joi.when('op', { is: 'move', then: pointer.valid(Joi.ref('path')).required(), otherwise: Joi.forbidden() }),
  value: Joi.when('op', { is: Joi.valid('add', 'replace', 'test'), then: Joi.any().required(), otherwise: Joi.forbidden() })
});
export const patchSchema = Joi.array<Patch>().items(operation).min(1).max(20_000).required();

export const idSchema = Joi.string().pattern(/^[A-Za-z0-9-]{1,36}$/);

/** The headers that say what an edit is. Texts come percent-encoded, as headers hold no other letters. */
export const editHeaders = Joi.object<{ editId: string; kind: 'edit' | 'undo' | 'redo'; label: string; author: string }>({
  editId: idSchema.required(),
  kind: Joi.valid('edit', 'undo', 'redo').required(),
  label: Joi.string().min(1).max(300).required(),
  author: Joi.string().min(1).max(80).required()
});

export const summarySchema = Joi.object({
  revision: Joi.number().integer().min(1).required(),
  summary: Joi.object({
    complete: Joi.boolean().required(),
    levels: Joi.number().integer().min(0).required(),
    completable: Joi.number().integer().min(0).required(),
    places: Joi.number().integer().min(0).required(),
    reached: Joi.number().integer().min(0).required(),
    failing: Joi.number().integer().min(0).required(),
    open: Joi.number().integer().min(0).required()
  }).required()
});

/** The revision that an If-Match header names ("12"); undefined when there is none or it is not ours. */
export function ifMatch(request: Request): number | undefined {
  const found = /^"(\d{1,9})"$/.exec(request.headers.get('if-match')?.trim() ?? '');
  return found ? Number(found[1]) : undefined;
}

export const etag = (revision: number) => `"${revision}"`;

/** A header's text, percent-decoded; what cannot be decoded is as good as missing. */
export function headerText(request: Request, name: string): string | undefined {
  try {
    return decodeURIComponent(request.headers.get(name) ?? '') || undefined;
  } catch {
    return undefined;
  }
}
