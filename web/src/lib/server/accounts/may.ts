/** The only door to permissions: `may(who, what, flow)`. What is not allowed here is refused. */
import { inArray } from 'drizzle-orm';
import { includes, larger, type LinkRight, type Right, type Role, type TokenRight } from '../../rights.ts';
import { db } from '../database.ts';
import { flows } from '../schema.ts';
import { briefly } from './brief.ts';
import { grantedTo } from './grants.ts';

/** Who asks. */
export type Who =
  /** The house has no accounts: whoever reaches it may do everything. */
  | { is: 'everybody' }
  /** Nobody who has signed in; what they hold are links. */
  | { is: 'guest'; links: { flow: string; may: LinkRight }[] }
  | { is: 'person'; id: string; name: string; role: Role; signIn: string; links: { flow: string; may: LinkRight }[] }
  /** A program that acts for a person. */
  | { is: 'token'; id: string; name: string; role: Role; may: TokenRight; flow?: string };

/** What is done with the house, and with a flow. */
export const houseActs = {
  open: 'what anybody may ask, signed in or not',
  account: 'their own account',
  shelf: 'the list of their flows',
  make: 'a new flow',
  browse: 'the shared shelf',
  people: 'people, invitations and the audit list'
} as const;
export type HouseAct = keyof typeof houseActs;
export type What = HouseAct | Right;

/** Whether somebody may do something; of what is done with a flow, with which. Flows that are not there are nobody's. */
export async function may(who: Who, what: What, flow?: string): Promise<boolean> {
  if (who.is === 'everybody' || what === 'open') return true;
  if (what in houseActs) return mayInHouse(who, what as HouseAct);
  if (flow === undefined) return false;
  return includes(await rightTo(who, flow), what as Right);
}

function mayInHouse(who: Exclude<Who, { is: 'everybody' }>, what: HouseAct): boolean {
  if (who.is === 'guest') return false;
  const token = who.is === 'token';
  switch (what) {
    case 'account':
      return !token;
    case 'people':
      return !token && who.role === 'admin';
    case 'make':
      return who.role !== 'guest' && !(token && (who.may !== 'edit' || who.flow !== undefined));
    case 'shelf':
    case 'browse':
      return !(token && who.flow !== undefined);
    case 'open':
      return true;
  }
}

/** By flow the most that somebody may do with it; flows that they may do nothing with are left out. */
export async function rightsTo(who: Who, ids: string[]): Promise<Map<string, Right>> {
  if (ids.length === 0) return new Map();
  const rows = await db().select({ id: flows.id, owner: flows.owner }).from(flows).where(inArray(flows.id, ids));
  return await rightsOver(who, rows);
}

/** The same of flows whose owners are known. */
export async function rightsOver(who: Who, rows: { id: string; owner: string | null }[]): Promise<Map<string, Right>> {
  if (who.is === 'everybody') return new Map(rows.map(({ id }) => [id, 'own']));
  const found = new Map<string, Right>();
  const add = (flow: string, right: Right | undefined) => {
    const most = larger(found.get(flow), right);
    if (most) found.set(flow, most);
  };
  const there = new Set(rows.map(({ id }) => id));
  if (who.is !== 'guest') {
    for (const { id, owner } of rows) if (who.role === 'admin' || owner === who.id) add(id, bounded('own', who.role));
    const open = [...there].filter((id) => !found.has(id));
    for (const { flow, may } of await grantedTo(who.id, open)) add(flow, bounded(may, who.role));
  }
  // nobody owns by a token
  if (who.is === 'token')
    return new Map([...found].filter(([flow]) => opens(who, flow)).map(([flow, right]) => [flow, atMost(right, who.may)]));
  for (const { flow, may } of who.links) if (there.has(flow)) add(flow, may);
  return found;
}

const atMost = (right: Right, most: Right): Right => (includes(right, most) ? most : right);
/** Guests of the house look on, whatever they were given when they were more. */
const bounded = (right: Right, role: Role): Right => (role === 'guest' ? atMost(right, 'read') : right);
const opens = (who: { flow?: string }, flow: string) => who.flow === undefined || who.flow === flow;

/** What somebody may do with one flow. */
export async function rightTo(who: Who, flow: string): Promise<Right | undefined> {
  // what somebody is told by all that is known of them; of guests by their links, which are few
  return await briefly(`right ${flow} ${JSON.stringify(who)}`, async () => (await rightsTo(who, [flow])).get(flow));
}

/** Whose flow a new one becomes. */
export const ownerFor = (who: Who): string | null => (who.is === 'person' || who.is === 'token' ? who.id : null);
