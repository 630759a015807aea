/** What goes in and out over HTTP: validated once here, refused as problem details (RFC 9457). */
import { error } from '@sveltejs/kit';
import type Joi from 'joi';

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
