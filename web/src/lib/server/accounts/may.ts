/** The only door to permissions: `may(who, what, flow)`. What is not allowed here is refused. */
import { inArray } from 'drizzle-orm';
import { includes, larger, type LinkRight, type Right, type Role, type TokenRight } from '../../rights.ts';
import { db } from '../database.ts';
import { flows } from '../schema.ts';
import { briefly } from '../brief.ts';
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

/** What is done with the house; the rest is done with a flow. */
type HouseAct = 'open' | 'account' | 'shelf' | 'make' | 'browse' | 'people';
export type What = HouseAct | Right;
type Known = Exclude<Who, { is: 'everybody' }>;

/** A token for one flow opens nothing of the house. */
const isInside = (who: Known): who is Exclude<Known, { is: 'guest' }> =>
  who.is === 'person' || (who.is === 'token' && who.flow === undefined);

const inHouse: Record<HouseAct, (who: Known) => boolean> = {
  /** What anybody may ask, signed in or not. */
  open: () => true,
  /** Their own account. */
  account: (who) => who.is === 'person',
  /** The list of their flows. */
  shelf: isInside,
  /** A new flow. */
  make: (who) => isInside(who) && who.role !== 'guest' && !(who.is === 'token' && who.may !== 'edit'),
  /** The shared shelf. */
  browse: isInside,
  /** People, invitations and the audit list. */
  people: (who) => who.is === 'person' && who.role === 'admin'
};
const isOfHouse = (what: What): what is HouseAct => Object.hasOwn(inHouse, what);

/** Whether somebody may do something; of what is done with a flow, with which. Flows that are not there are nobody's. */
export async function may(who: Who, what: What, flow?: string): Promise<boolean> {
  if (who.is === 'everybody') return true;
  if (isOfHouse(what)) return inHouse[what](who);
  return flow !== undefined && includes(await rightTo(who, flow), what);
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
  return await briefly(`right ${flow} ${JSON.stringify(who)}`, async () => (await rightsTo(who, [flow])).get(flow));
}

/** Whose flow a new one becomes. */
export const ownerFor = (who: Who): string | null => (who.is === 'person' || who.is === 'token' ? who.id : null);
