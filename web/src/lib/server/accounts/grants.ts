/** What the owner of a flow lets others do with it. */
import { and, asc, eq, inArray } from 'drizzle-orm';
import { house, type SharedRight } from '../../rights.ts';
import { Refusal } from '../refusal.ts';
import { db } from '../database.ts';
import { flows, grants, people } from '../schema.ts';
import { findPerson } from './people.ts';

/** Who may do what with a flow: its owner, everybody in the house, and single people. */
export async function rightsOf(flow: string) {
  const [row] = await db()
    .select({ owner: flows.owner, name: people.name })
    .from(flows)
    .leftJoin(people, eq(people.id, flows.owner))
    .where(eq(flows.id, flow));
  const rows = await db()
    .select({ id: grants.person, name: people.name, may: grants.may })
    .from(grants)
    .leftJoin(people, eq(people.id, grants.person))
    .where(eq(grants.flowId, flow))
    .orderBy(asc(people.nameKey));
  return {
    owner: row?.owner ? { id: row.owner, name: row.name ?? '' } : null,
    house: rows.find(({ id }) => id === house)?.may ?? null,
    people: rows.filter(({ id }) => id !== house)
  };
}

/** Lets a person, or the house, do something with a flow, or nothing (null). */
export async function grant(flow: string, person: string, may: SharedRight | null): Promise<void> {
  const theirs = and(eq(grants.flowId, flow), eq(grants.person, person));
  if (may === null) return void (await db().delete(grants).where(theirs));
  if (person !== house && !(await findPerson(person))) throw new Refusal(422, 'There is no such person.');
  await db().insert(grants).values({ flowId: flow, person, may }).onDuplicateKeyUpdate({ set: { may } });
}

/** Makes another person the owner. */
export async function giveAway(flow: string, person: string): Promise<string> {
  const found = await findPerson(person);
  if (!found || found.role === 'guest') throw new Refusal(422, 'Only an admin or a designer can own a flow.');
  await db().update(flows).set({ owner: person }).where(eq(flows.id, flow));
  await db()
    .delete(grants)
    .where(and(eq(grants.flowId, flow), eq(grants.person, person)));
  return found.name;
}

/** By flow what is granted to a person or to the house. */
export async function grantedTo(person: string, ids: string[]): Promise<{ flow: string; may: SharedRight }[]> {
  if (ids.length === 0) return [];
  return await db()
    .select({ flow: grants.flowId, may: grants.may })
    .from(grants)
    .where(and(inArray(grants.flowId, ids), inArray(grants.person, [person, house])));
}
