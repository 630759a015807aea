/** What goes in and out over HTTP: validated once here; whatever is refused or fails is told as problem details (RFC 9457). */
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import { isHttpError, isRedirect, type RequestEvent } from '@sveltejs/kit';
import { unsound } from '@crow-lane/core/document/unsound';
import type Joi from 'joi';
import { trouble } from '../trouble.ts';
import { isDown } from './nodes.ts';
import { log } from './log.ts';
import { Refusal } from './refusal.ts';

/** So many bytes a body may have. */
export const mostBytes = 8_000_000;

/** A refusal in the form of RFC 9457. */
export function problem(status: number, title: string, rest: Record<string, unknown> = {}, headers: Record<string, string> = {}) {
  return new Response(JSON.stringify({ type: 'about:blank', title, status, ...rest }), {
    status,
    headers: { 'content-type': 'application/problem+json', ...headers }
  });
}

/** A handler whose refusals and faults are answered as problem details. Every route of the API is made with it. */
export function answering<Event extends RequestEvent>(
  handle: (event: Event) => Response | Promise<Response>
): (event: Event) => Promise<Response> {
  return async (event) => {
    try {
      return await handle(event);
    } catch (error) {
      if (isHttpError(error) || isRedirect(error)) throw error;
      return refusalOf(error, event.url.pathname);
    }
  };
}

/** What is answered when something was thrown. */
export function refusalOf(error: unknown, path: string): Response {
  if (error instanceof Refusal) return problem(error.status, error.title, error.rest);
  if (isDown(error)) {
    log.warn({ path, err: error }, 'the database does not answer');
    return problem(503, trouble.database, {}, { 'retry-after': '2' });
  }
  logFault(error, path);
  return problem(500, trouble.fault);
}

export const logFault = (error: unknown, path: string): void => log.error({ path, err: error }, 'request failed');

const tooLong = (most: number) =>
  new Refusal(413, `The body is longer than ${most >= 1e6 ? `${Math.round(most / 1e6)} MB` : `${most} bytes`}.`);

/** What is too long is still taken in, up to so many bytes, and let go of: who only sends would never read the refusal. */
const mostDrained = 64_000_000;

/** Reads a body of at most `most` bytes, or refuses it without keeping more. */
export async function bodyText(request: Request, most: number): Promise<string> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let text = '';
  let length = 0;
  const reader = request.body?.getReader();
  try {
    for (;;) {
      const { done, value } = (await reader?.read()) ?? { done: true, value: undefined };
      if (done && length > most) throw tooLong(most);
      if (done) return text + decoder.decode();
      length += value!.byteLength;
      if (length > mostDrained) throw tooLong(most);
      if (length <= most) text += decoder.decode(value, { stream: true });
      else text = '';
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    if (error instanceof TypeError) throw new Refusal(400, 'The body is not UTF-8.');
    throw new Refusal(400, 'The body did not arrive whole.');
  }
}

/** Parses a short JSON body and validates it. */
export async function body<T>(request: Request, schema: Joi.Schema<T>, most: number): Promise<T> {
  return valid(parsed(await bodyText(request, most)), schema);
}

/** A JSON text as a value that holds nothing which cannot be kept. */
export function parsed(text: string): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Refusal(400, 'The body is not JSON.');
  }
  const wrong = unsound(value);
  if (wrong) throw new Refusal(422, `The body cannot be kept: ${wrong.message}.`, { errors: [wrong] });
  return value;
}

export function valid<T>(value: unknown, schema: Joi.Schema<T>): T {
  const result = schema.validate(value, { convert: false });
  if (result.error) throw new Refusal(400, result.error.message);
  return result.value as T;
}

/** A whole number of the address, undefined where it is not given. */
export function numberIn(url: URL, name: string): number | undefined {
  const text = url.searchParams.get(name);
  if (text === null) return undefined;
  if (!/^\d{1,9}$/.test(text)) throw new Refusal(400, `"${name}" is a whole number.`);
  return Number(text);
}

const unzip = promisify(gunzip);

/** A JSON answer of gzipped text, for a reader that takes it so and for one that does not. */
export async function jsonZipped(request: Request, zipped: Buffer, headers: Record<string, string> = {}): Promise<Response> {
  const takes = /\bgzip\b/.test(request.headers.get('accept-encoding') ?? '');
  const told = { 'content-type': 'application/json', vary: 'accept-encoding', ...headers };
  return takes
    ? new Response(new Uint8Array(zipped), { headers: { ...told, 'content-encoding': 'gzip' } })
    : new Response(await unzip(zipped), { headers: told });
}

/** A JSON answer of texts that are JSON already: what is kept as text is not parsed to be written again. */
export function jsonText(text: string, headers: Record<string, string> = {}): Response {
  return new Response(text, { headers: { 'content-type': 'application/json', ...headers } });
}
