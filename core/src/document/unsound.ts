/** What no part of a document may hold, whatever stands there: a value is looked at before anything else is done with it. */
import { pointerTo } from './pointer.ts';

/** Depth of nesting beyond which a value is refused; the format itself needs 8. */
export const deepest = 60;

export interface Unsound {
  /** JSON Pointer (RFC 6901), from the value that was looked at. */
  pointer: string;
  message: string;
}

/** Half of a surrogate pair: no character, and no database keeps it. */
const half = /\p{Surrogate}/u;

/**
 * The first thing in a parsed JSON value that cannot be kept: a key "__proto__" (which copying would lose), half a
 * character, or nesting that is too deep. Undefined when there is none.
 */
export function unsound(value: unknown): Unsound | undefined {
  return look(value, []);
}

/** The same for a key, or a part of a pointer. */
export function unsoundKey(key: string): string | undefined {
  if (key === '__proto__') return 'the key "__proto__" is not known here';
  return half.test(key) ? 'a key holds half a character (a lone surrogate)' : undefined;
}

function look(value: unknown, path: (string | number)[]): Unsound | undefined {
  if (typeof value === 'string')
    return half.test(value) ? { pointer: pointerTo(path), message: 'holds half a character (a lone surrogate)' } : undefined;
  if (typeof value !== 'object' || value === null) return undefined;
  if (path.length >= deepest) return { pointer: pointerTo(path), message: `is nested more than ${deepest} deep` };
  for (const key of Object.keys(value)) {
    path.push(key);
    const wrong = Array.isArray(value) ? undefined : unsoundKey(key);
    const found =
      wrong === undefined ? look((value as Record<string, unknown>)[key], path) : { pointer: pointerTo(path), message: wrong };
    if (found) return found;
    path.pop();
  }
  return undefined;
}
