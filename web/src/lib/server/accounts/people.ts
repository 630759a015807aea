/** People: those who have an account. */
import { and, asc, eq, isNull, ne, sql } from 'drizzle-orm';
import type { Role } from '../../rights.ts';
import { Refusal } from '../refusal.ts';
import { now } from '../clock.ts';
import { db, transaction, type Executor } from '../database.ts';
import { flows, links, people, signIns, tokens } from '../schema.ts';
import { hashPassword, tooEasy } from './secrets.ts';

export interface Person {
  id: string;
  name: string;
  role: Role;
}
/** What is told of a person to those who manage people. */
export type PersonRow = Person & Record<'createdAt' | 'seenAt' | 'endedAt', Date | null> & { elsewhere: boolean };

/** A name as it is compared: what looks alike is one, so that nobody takes another's name. */
export const nameKey = (name: string): string => name.normalize('NFKC').toLowerCase().replaceAll(/\s+/g, ' ').trim();

const shown = { id: people.id, name: people.name, role: people.role };

/** A person with access. */
export async function findPerson(id: string): Promise<Person | undefined> {
  const [row] = await db()
    .select(shown)
    .from(people)
    .where(and(eq(people.id, id), isNull(people.endedAt)));
  return row;
}

/** All people, those with access first. */
export async function listPeople(): Promise<PersonRow[]> {
  const rows = await db()
    .select({
      ...shown,
      ...{ createdAt: people.createdAt, seenAt: people.seenAt, endedAt: people.endedAt, subject: people.subject }
    })
    .from(people)
    .orderBy(sql`${people.endedAt} is not null`, asc(people.nameKey));
  return rows.map(({ subject, ...row }) => ({ ...row, elsewhere: subject !== null }));
}

/** Names of those who have access, for sharing. */
export function namesOfPeople(): Promise<{ id: string; name: string }[]> {
  return db()
    .select({ id: people.id, name: people.name })
    .from(people)
    .where(isNull(people.endedAt))
    .orderBy(asc(people.nameKey));
}

export async function anybody(tx: Executor = db()): Promise<boolean> {
  return (await tx.select({ id: people.id }).from(people).limit(1)).length > 0;
}

/** A name as it is kept, or a refusal. */
function goodName(name: string): string {
  const good = name.replaceAll(/\s+/g, ' ').trim();
  if (good.length === 0) throw new Refusal(422, 'A name is needed.');
  // letters that stand for many could make it longer than what is kept of it
  if (nameKey(good).length > 160) throw new Refusal(422, 'The name is too long.');
  if (/[\p{Cc}\p{Cf}\p{Co}\p{Zl}\p{Zp}]/u.test(good)) throw new Refusal(422, 'The name holds characters that cannot be seen.');
  return good;
}

const isDouble = (error: unknown) => (error as { cause?: { code?: string } }).cause?.code === 'ER_DUP_ENTRY';

/** Makes an account, in a transaction that does the rest. Refuses a name that another has or had. */
export async function makePerson(
  tx: Executor,
  given: { name: string; role: Role; password: string | null; subject?: string }
): Promise<Person> {
  const name = goodName(given.name);
  const person: Person = { id: crypto.randomUUID(), name, role: given.role };
  try {
    await tx.insert(people).values({
      ...person,
      ...{ nameKey: nameKey(name), password: given.password, subject: given.subject ?? null },
      ...{ createdAt: now(), seenAt: null, endedAt: null }
    });
  } catch (error) {
    if (!isDouble(error)) throw error;
    throw new Refusal(409, `The name “${name}” is taken. Choose another.`);
  }
  return person;
}

/** A password as it is kept, or a refusal. */
export async function goodPassword(password: string, name: string): Promise<string> {
  const easy = tooEasy(password, name);
  if (easy) throw new Refusal(422, easy);
  return await hashPassword(password);
}

/** Sets a new password, and ends what was signed in with the old one but for one sign-in, named by its hash. */
export async function setPassword(person: string, hashed: string, except?: string, tx: Executor = db()): Promise<void> {
  await tx.update(people).set({ password: hashed }).where(eq(people.id, person));
  await tx
    .delete(signIns)
    .where(except === undefined ? eq(signIns.person, person) : and(eq(signIns.person, person), ne(signIns.hash, except)));
}

/** Changes a role, ends the access with all that goes with it, or gives it back. The last admin stays one. */
export async function changePerson(id: string, to: { role?: Role; ended?: boolean }): Promise<Person> {
  return await transaction(async (tx) => {
    // admins are locked together: two that end each other would leave none
    const admins = await tx
      .select({ id: people.id })
      .from(people)
      .where(and(eq(people.role, 'admin'), isNull(people.endedAt)))
      .for('update');
    const [row] = await tx.select().from(people).where(eq(people.id, id)).for('update');
    if (!row) throw new Refusal(404, 'There is no such person.');
    const stays = (to.role ?? row.role) === 'admin' && !(to.ended ?? row.endedAt !== null);
    if (!stays && admins.length === 1 && admins[0]!.id === id)
      throw new Refusal(409, `${row.name} is the last admin. Make another person admin first.`);
    await tx
      .update(people)
      .set({
        ...(to.role === undefined ? {} : { role: to.role }),
        ...(to.ended === undefined ? {} : { endedAt: to.ended ? now() : null })
      })
      .where(eq(people.id, id));
    if (to.ended) {
      await tx.delete(signIns).where(eq(signIns.person, id));
      await tx.delete(tokens).where(eq(tokens.person, id));
      await tx
        .update(links)
        .set({ endedAt: now() })
        .where(and(eq(links.madeBy, id), isNull(links.endedAt)));
    }
    return { id, name: row.name, role: to.role ?? row.role };
  });
}

/** What was made before there were accounts becomes the first person's. */
export async function adoptFlows(tx: Executor, person: string): Promise<void> {
  await tx.update(flows).set({ owner: person }).where(isNull(flows.owner));
}
