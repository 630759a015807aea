/** Secrets that are given out, and passwords. Of both only what cannot be turned back is kept. */
import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import pLimit from 'p-limit';
import { Refusal } from '../refusal.ts';

/** 256 random bits, for a link, a cookie or a token. */
export const freshSecret = (): string => randomBytes(32).toString('base64url');

/** A secret has so many bits that a plain hash of it cannot be searched. */
export const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** OWASP's recommendation for argon2id, which is what `hash` does: 19 MiB, two rounds, one lane. */
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** So many are worked on at one time, and so many may wait: each takes 19 MiB and some 30 ms. */
const most = { working: 2, waiting: 50 };
const limit = pLimit(most.working);

function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (limit.pendingCount >= most.waiting) throw new Refusal(503, 'Too many people are signing in. Try again in a moment.');
  return limit(work);
}

export const hashPassword = (password: string): Promise<string> => inTurn(() => hash(password, cost));

/** Of no password: checked where there is no account, so that an answer takes as long as with one. */
let placeholder: Promise<string> | undefined;

/** Whether a password is the one that was hashed. Without a hash it is not, after the same time. */
export async function isPassword(password: string, hashed: string | null | undefined): Promise<boolean> {
  const same = await inTurn(async () => verify(hashed ?? (await (placeholder ??= hash(freshSecret(), cost))), password));
  return same && hashed !== null && hashed !== undefined;
}

const passwordLengths = { least: 12, most: 200 };
const common = ['passwordpassword', 'password1234', '123456789012', 'qwertyuiopas', 'qwerty123456', 'letmeinletmein'];

/** Why a password is too easy to guess; undefined where it is not. */
export function tooEasy(password: string, name: string): string | undefined {
  const { least, most } = passwordLengths;
  if ([...password].length < least) return `The password needs at least ${least} characters.`;
  if (password.length > most) return `The password has more than ${most} characters.`;
  const plain = password.toLowerCase();
  if (new Set(plain).size < 4 || common.includes(plain))
    return 'This password is one of the first that are tried. Choose another.';
  if (name.length > 3 && plain.replaceAll(name.toLowerCase(), '').length < 6) return 'The password is hardly more than the name.';
  return undefined;
}
