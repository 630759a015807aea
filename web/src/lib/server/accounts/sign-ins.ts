/** Signing in by name and password, and who a cookie stands for. */
import { and, desc, eq, gt, inArray, isNull, lt, ne, not, sql } from 'drizzle-orm';
import { cut } from '@crow-lane/core/document/cut';
import { Refusal } from '../refusal.ts';
import { day, fromNow, minute, now } from '../clock.ts';
import { db } from '../database.ts';
import { attempts, people, signIns } from '../schema.ts';
import { note } from './audit.ts';
import { nameKey, type Person } from './people.ts';
import { freshSecret, hashOf, isPassword } from './secrets.ts';

/** A sign-in ends after so long without use, and after so long in any case, in milliseconds. */
export const lasts = { idle: 7 * day, whole: 30 * day };
/** The use of a sign-in or a token is noted so often at most. */
export const noted = minute;
/** Failed attempts for one name and from one address within `span` milliseconds; what is more is refused untried. */
const most = { name: 10, address: 50, span: 15 * minute };

/** Begins a sign-in; gives the secret for the cookie. */
export async function beginSignIn(person: string, agent: string): Promise<string> {
  const secret = freshSecret();
  const at = now();
  await db()
    .insert(signIns)
    .values({ hash: hashOf(secret), person, agent: cut(agent, 200), createdAt: at, usedAt: at, endsAt: fromNow(lasts.whole) });
  await db().update(people).set({ seenAt: at }).where(eq(people.id, person));
  return secret;
}

/** Those that have not ended. */
const going = () => and(gt(signIns.endsAt, now()), gt(signIns.usedAt, fromNow(-lasts.idle)));

/** Whom a cookie's secret stands for; undefined where it has ended. */
export async function personOf(secret: string): Promise<(Person & { signIn: string }) | undefined> {
  const hash = hashOf(secret);
  const at = now();
  const [row] = await db()
    .select({ id: people.id, name: people.name, role: people.role, usedAt: signIns.usedAt })
    .from(signIns)
    .innerJoin(people, eq(people.id, signIns.person))
    .where(and(eq(signIns.hash, hash), going(), isNull(people.endedAt)));
  if (!row) return undefined;
  const { usedAt, ...person } = row;
  if (at.getTime() - usedAt.getTime() > noted) {
    await db().update(signIns).set({ usedAt: at }).where(eq(signIns.hash, hash));
    await db().update(people).set({ seenAt: at }).where(eq(people.id, person.id));
  }
  return { ...person, signIn: hash };
}

/** Ends a sign-in, or all others of its person. */
export async function endSignIn(hash: string): Promise<void> {
  await db().delete(signIns).where(eq(signIns.hash, hash));
}
export async function endOtherSignIns(person: string, hash: string): Promise<void> {
  await db()
    .delete(signIns)
    .where(and(eq(signIns.person, person), ne(signIns.hash, hash)));
}

/** Where a person is signed in, the last used first; `here` is the one that asks. */
export async function signInsOf(person: string, hash: string) {
  const rows = await db()
    .select()
    .from(signIns)
    .where(and(eq(signIns.person, person), going()))
    .orderBy(desc(signIns.usedAt));
  return rows.map(({ agent, createdAt, usedAt, hash: each }) => ({ agent, createdAt, usedAt, here: each === hash }));
}

const keysOf = (name: string, address: string) => ({
  name: hashOf(`name ${nameKey(name)}`),
  address: hashOf(`address ${address}`)
});

/** Notes an attempt before it is made, so that many at once count too. Refuses where there were too many. */
async function countAttempt(name: string, address: string): Promise<void> {
  const keys = keysOf(name, address);
  const since = fromNow(-most.span);
  for (const hash of Object.values(keys))
    await db()
      .insert(attempts)
      .values({ hash, failed: 1, since: now() })
      .onDuplicateKeyUpdate({
        set: {
          failed: sql`if(${attempts.since} < ${since}, 1, ${attempts.failed} + 1)`,
          since: sql`if(${attempts.since} < ${since}, ${now()}, ${attempts.since})`
        }
      });
  const rows = await db()
    .select()
    .from(attempts)
    .where(inArray(attempts.hash, Object.values(keys)));
  const over = (hash: string, bound: number) => rows.some((row) => row.hash === hash && row.failed > bound);
  if (over(keys.name, most.name) || over(keys.address, most.address))
    throw new Refusal(429, 'Too many attempts. Wait a quarter of an hour, or ask an admin for a link to a new password.');
}

/** An attempt that went well counts for nobody. */
async function forgetAttempt(name: string, address: string): Promise<void> {
  const keys = keysOf(name, address);
  await db().delete(attempts).where(eq(attempts.hash, keys.name));
  await db()
    .update(attempts)
    .set({ failed: sql`greatest(0, ${attempts.failed} - 1)` })
    .where(eq(attempts.hash, keys.address));
}

/** Signs in; gives the secret for the cookie. A wrong name and a wrong password are answered alike, after the same time. */
export async function signIn(given: { name: string; password: string; agent: string; address: string }): Promise<string> {
  const { name, password, agent, address } = given;
  await countAttempt(name, address);
  const [row] = await db()
    .select({ id: people.id, name: people.name, password: people.password })
    .from(people)
    .where(and(eq(people.nameKey, nameKey(name)), isNull(people.endedAt)));
  if (!(await isPassword(password, row?.password))) {
    await note({ id: row?.id, name, address }, 'sign-in failed');
    throw new Refusal(403, 'The name or the password is wrong.');
  }
  await forgetAttempt(name, address);
  await note({ id: row!.id, name: row!.name, address }, 'signed in');
  return await beginSignIn(row!.id, agent);
}

/** Whether a person's password is this one; attempts count like those to sign in. */
export async function hasPassword(person: Person, password: string, address: string): Promise<boolean> {
  await countAttempt(person.name, address);
  const [row] = await db().select({ password: people.password }).from(people).where(eq(people.id, person.id));
  const right = await isPassword(password, row?.password);
  if (right) await forgetAttempt(person.name, address);
  return right;
}

/** Takes out what has ended. */
export async function forgetEnded(): Promise<void> {
  await db().delete(signIns).where(not(going()!));
  await db()
    .delete(attempts)
    .where(lt(attempts.since, fromNow(-most.span)));
}
