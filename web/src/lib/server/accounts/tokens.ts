/** Tokens: keys for programs, which act for a person with no more than a part of what that person may do. */
import { and, desc, eq, gt, isNull } from 'drizzle-orm';
import type { TokenRight } from '../../rights.ts';
import { Refusal } from '../refusal.ts';
import { day, fromNow, now } from '../clock.ts';
import { db } from '../database.ts';
import { people, tokens } from '../schema.ts';
import type { Person } from './people.ts';
import { freshSecret, hashOf } from './secrets.ts';
import { noted } from './sign-ins.ts';

/** What a token begins with, so that one that was left in a file is known for what it is. */
export const tokenPrefix = 'crow_';
const most = 50;

export interface TokenOf {
  name: string;
  may: TokenRight;
  flow?: string;
  days: number;
}

export async function makeToken(person: string, { name, may, flow, days }: TokenOf): Promise<{ id: string; token: string }> {
  if ((await tokensOf(person)).length >= most)
    throw new Refusal(409, `More than ${most} tokens are not kept. Take some back first.`);
  const id = crypto.randomUUID();
  const token = tokenPrefix + freshSecret();
  await db()
    .insert(tokens)
    .values({
      ...{ id, hash: hashOf(token), person, name, may, flowId: flow ?? null },
      ...{ createdAt: now(), usedAt: null, endsAt: fromNow(days * day) }
    });
  return { id, token };
}

/** The tokens of a person, newest first. */
export function tokensOf(person: string) {
  const { id, name, may, flowId, createdAt, usedAt, endsAt } = tokens;
  return db()
    .select({ id, name, may, flow: flowId, createdAt, usedAt, endsAt })
    .from(tokens)
    .where(eq(tokens.person, person))
    .orderBy(desc(tokens.createdAt));
}

/** Takes a token back; tells what it was called. */
export async function takeBackToken(person: string, id: string): Promise<string> {
  const mine = and(eq(tokens.id, id), eq(tokens.person, person));
  const [row] = await db().select({ name: tokens.name }).from(tokens).where(mine);
  if (!row) throw new Refusal(404, 'There is no such token.');
  await db().delete(tokens).where(mine);
  return row.name;
}

/** Whom a token stands for, and what it opens; undefined where it has ended. */
export async function holderOf(token: string): Promise<{ person: Person; may: TokenRight; flow?: string } | undefined> {
  const hash = hashOf(token);
  const [row] = await db()
    .select({
      ...{ id: people.id, name: people.name, role: people.role },
      ...{ may: tokens.may, flow: tokens.flowId, usedAt: tokens.usedAt }
    })
    .from(tokens)
    .innerJoin(people, eq(people.id, tokens.person))
    .where(and(eq(tokens.hash, hash), gt(tokens.endsAt, now()), isNull(people.endedAt)));
  if (!row) return undefined;
  const { may, flow, usedAt, ...person } = row;
  if (usedAt === null || now().getTime() - usedAt.getTime() > noted)
    await db().update(tokens).set({ usedAt: now() }).where(eq(tokens.hash, hash));
  return { person, may, ...(flow === null ? {} : { flow }) };
}
