/** The list of what was done that others may have to know of later. */
import { desc, lt } from 'drizzle-orm';
import { v7 } from 'uuid';
import { cut } from '@crow-lane/core/document/cut';
import { now } from '../clock.ts';
import { db, type Executor } from '../database.ts';
import { audit } from '../schema.ts';

export type Act =
  | 'signed in'
  | 'sign-in failed'
  | 'signed out'
  | 'account made'
  | 'password changed'
  | 'password reset'
  | 'role changed'
  | 'access ended'
  | 'access given back'
  | 'invited'
  | 'link made'
  | 'link taken back'
  | 'token made'
  | 'token taken back'
  | 'rights changed'
  | 'owner changed'
  | 'flow deleted'
  | 'flow brought back'
  | 'flow deleted for good'
  | 'verdict put'
  | 'put on show'
  | 'withdrawn';

/** Who did it, as far as it is known, and from where. */
export interface Actor {
  id?: string | undefined;
  name: string;
  address: string;
}

/** Writes a line. Never more than names: no text of a flow, no secret. */
export async function note(
  { id, name, address }: Actor,
  act: Act,
  about: { flow?: string | undefined; detail?: string } = {},
  tx: Executor = db()
): Promise<void> {
  const at = now();
  // begins with the time, so that lines stand in order
  await tx.insert(audit).values({
    ...{ id: v7({ msecs: at.getTime() }), at, act, address: address.slice(0, 64) },
    ...{ person: id ?? null, name: cut(name, 80), flowId: about.flow ?? null, detail: cut(about.detail ?? '', 300) }
  });
}

export type AuditLine = typeof audit.$inferSelect;

/** Lines before one (from the newest where none is named), newest first. */
export function auditBefore(before: string | undefined, limit: number): Promise<AuditLine[]> {
  return db()
    .select()
    .from(audit)
    .where(before === undefined ? undefined : lt(audit.id, before))
    .orderBy(desc(audit.id))
    .limit(limit);
}
