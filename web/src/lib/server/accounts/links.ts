/** Links that are given out. Each holds a secret, which is shown once and kept only as its hash. */
import { and, desc, eq, gt, inArray, isNull } from 'drizzle-orm';
import type { LinkKind, LinkRight, Role } from '../../rights.ts';
import { Refusal } from '../refusal.ts';
import { day, fromNow, now } from '../clock.ts';
import { db, transaction, type Executor } from '../database.ts';
import { flows, links, people } from '../schema.ts';
import { note, type Actor } from './audit.ts';
import { adoptFlows, anybody, goodPassword, makePerson, setPassword, type Person } from './people.ts';
import { freshSecret, hashOf } from './secrets.ts';

/** What a link needs beside its kind. */
export interface LinkOf {
  kind: LinkKind;
  role?: Role;
  person?: string;
  flow?: string;
  note?: string;
  days: number;
}

/** Makes a link; gives its id and its secret. */
export async function makeLink(
  { kind, role, person, flow, note: words = '', days }: LinkOf,
  madeBy: string | null,
  tx: Executor = db()
): Promise<{ id: string; secret: string }> {
  const id = crypto.randomUUID();
  const secret = freshSecret();
  await tx.insert(links).values({
    ...{ id, hash: hashOf(secret), kind, role: role ?? null, person: person ?? null, flowId: flow ?? null, note: words },
    ...{ madeBy, createdAt: now(), endsAt: fromNow(days * day), endedAt: null }
  });
  return { id, secret };
}

const valid = () => and(isNull(links.endedAt), gt(links.endsAt, now()));
const gone = () => new Refusal(404, 'This link is not valid. It may have been used, taken back, or have expired.');

async function find(secret: string): Promise<Row> {
  const [row] = await db()
    .select()
    .from(links)
    .where(and(eq(links.hash, hashOf(secret)), valid()));
  if (!row) throw gone();
  return row;
}

type Row = typeof links.$inferSelect;

/** Whose password a link sets. */
async function personOf(link: Row, tx: Executor = db()): Promise<Person> {
  const [person] = await tx
    .select({ id: people.id, name: people.name, role: people.role })
    .from(people)
    .where(and(eq(people.id, link.person!), isNull(people.endedAt)));
  if (!person) throw gone();
  return person;
}

/** What a link leads to, as told to whoever holds it. Guessed, used and expired ones are answered alike. */
export async function lookAtLink(secret: string) {
  const link = await find(secret);
  const { kind, role, flowId, endsAt } = link;
  if (kind === 'reset') return { kind, name: (await personOf(link)).name, endsAt };
  if (kind !== 'read' && kind !== 'play') return { kind, role: role!, endsAt };
  const [flow] = await db()
    .select({ name: flows.name })
    .from(flows)
    .where(and(eq(flows.id, flowId!), isNull(flows.deletedAt)));
  if (!flow) throw gone();
  return { kind, flow: flowId!, name: flow.name, endsAt };
}

/** Uses up a link for an account or a password; gives the person who is signed in by it. */
export async function useLink(secret: string, given: { name: string; password: string }, address: string): Promise<Person> {
  const link = await find(secret);
  if (link.kind === 'read' || link.kind === 'play') throw gone();
  const named = link.kind === 'reset' ? (await personOf(link)).name : given.name;
  const password = await goodPassword(given.password, named);
  return await transaction(async (tx) => {
    // of two that use it at once one comes second
    const [row] = await tx
      .select()
      .from(links)
      .where(and(eq(links.id, link.id), valid()))
      .for('update');
    if (!row) throw gone();
    await tx.update(links).set({ endedAt: now() }).where(eq(links.id, link.id));
    if (row.kind === 'reset') {
      const person = await personOf(row, tx);
      await setPassword(person.id, password, undefined, tx);
      await note({ ...person, address }, 'password reset', {}, tx);
      return person;
    }
    const first = row.kind === 'first';
    if (first && (await anybody(tx))) throw gone();
    const person = await makePerson(tx, { name: named, role: row.role!, password });
    if (first) await adoptFlows(tx, person.id);
    await note({ ...person, address }, 'account made', { detail: person.role }, tx);
    return person;
  });
}

/** The flows that the links with these secrets open. */
export async function openedBy(secrets: string[]): Promise<{ flow: string; may: LinkRight }[]> {
  if (secrets.length === 0) return [];
  const rows = await db()
    .select({ flow: links.flowId, kind: links.kind })
    .from(links)
    .where(and(inArray(links.hash, secrets.map(hashOf)), inArray(links.kind, ['read', 'play']), valid()));
  return rows.map(({ flow, kind }) => ({ flow: flow!, may: kind as LinkRight }));
}

const listed = {
  ...{ id: links.id, kind: links.kind, role: links.role, note: links.note },
  ...{ createdAt: links.createdAt, endsAt: links.endsAt }
};

export const invitations = () =>
  db()
    .select(listed)
    .from(links)
    .where(and(eq(links.kind, 'invitation'), valid()))
    .orderBy(desc(links.createdAt));

export const linksOf = (flow: string) =>
  db()
    .select(listed)
    .from(links)
    .where(and(eq(links.flowId, flow), valid()))
    .orderBy(desc(links.createdAt));

/** Takes a link back: an invitation, or one to a flow. */
export async function takeBackLink(id: string, of: { flow?: string }, actor: Actor): Promise<void> {
  const mine = of.flow === undefined ? eq(links.kind, 'invitation') : eq(links.flowId, of.flow);
  const [{ affectedRows }] = await db()
    .update(links)
    .set({ endedAt: now() })
    .where(and(eq(links.id, id), mine, isNull(links.endedAt)));
  if (affectedRows === 0) throw new Refusal(404, 'There is no such link; it may have been used or taken back.');
  await note(actor, 'link taken back', { flow: of.flow });
}

/** The link for the first account, where there is nobody yet; earlier ones are no longer valid. */
export async function firstLink(): Promise<string | undefined> {
  if (await anybody()) return undefined;
  await db()
    .update(links)
    .set({ endedAt: now() })
    .where(and(eq(links.kind, 'first'), isNull(links.endedAt)));
  return (await makeLink({ kind: 'first', role: 'admin', days: 1 }, null)).secret;
}
