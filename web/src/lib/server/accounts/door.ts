/** Who a request comes from, and whether it is let in. */
import { error, json, type RequestEvent } from '@sveltejs/kit';
import { includes, type Me, type Right } from '../../rights.ts';
import { problem } from '../answer.ts';
import { briefly } from '../brief.ts';
import { note, type Act, type Actor } from './audit.ts';
import { openedBy } from './links.ts';
import { may, rightsTo, rightTo, type What, type Who } from './may.ts';
import { addressOf, hasAccounts, isSecure } from './mode.ts';
import type { Leaving } from './oidc.ts';
import { needsOf, type Need } from './rules.ts';
import { lasts, personOf } from './sign-ins.ts';
import { holderOf } from './tokens.ts';

/** Cookies: who is signed in, and which links were opened. With TLS their names say that no other site set them. */
const cookies = () =>
  isSecure() ? { signIn: '__Host-crow', links: '__Host-crow-links' } : { signIn: 'crow', links: 'crow-links' };
const mostLinks = 8;
const looks = () => ({ path: '/', httpOnly: true, sameSite: 'lax' as const, secure: isSecure() });

/** Who asks; undefined where a token is shown that is none. */
export async function whoIs({ request, cookies: jar }: RequestEvent): Promise<Who | undefined> {
  if (!hasAccounts()) return { is: 'everybody' };
  const shown = bearerOf(request);
  if (shown !== undefined) {
    const holder = await briefly(`token ${shown}`, () => holderOf(shown));
    return holder && { is: 'token', ...holder.person, may: holder.may, ...(holder.flow ? { flow: holder.flow } : {}) };
  }
  const opened = openedLinks(jar);
  const links = opened.length === 0 ? [] : await briefly(`links ${opened.join()}`, () => openedBy(opened));
  const secret = jar.get(cookies().signIn);
  const person = secret ? await briefly(`sign-in ${secret}`, () => personOf(secret)) : undefined;
  return person ? { is: 'person', ...person, links } : { is: 'guest', links };
}

/** The token that a request shows. */
export const bearerOf = (request: Request): string | undefined =>
  /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];

const openedLinks = (jar: RequestEvent['cookies']) =>
  (jar.get(cookies().links) ?? '').split('.').filter(Boolean).slice(0, mostLinks);

export function keepSignIn({ cookies: jar }: RequestEvent, secret: string): void {
  jar.set(cookies().signIn, secret, { ...looks(), maxAge: lasts.whole / 1000 });
}
export function dropSignIn({ cookies: jar }: RequestEvent): void {
  jar.delete(cookies().signIn, looks());
}
/** Keeps the secret of a link to a flow for as long as the browser runs; the newest are known. */
export function keepLink({ cookies: jar }: RequestEvent, secret: string): void {
  const all = [secret, ...openedLinks(jar).filter((each) => each !== secret)].slice(0, mostLinks);
  jar.set(cookies().links, all.join('.'), looks());
}

/** For the list of what was done. */
export function actorOf(event: RequestEvent): Actor {
  const { who } = event.locals;
  const address = event.getClientAddress();
  if (who.is === 'person') return { id: who.id, name: who.name, address };
  if (who.is === 'token') return { id: who.id, name: `${who.name} (token)`, address };
  return { name: who.is, address };
}

/** Writes a line into the list of what was done. Without accounts there is nobody to write of. */
export async function noted(event: RequestEvent, act: Act, about: Parameters<typeof note>[2] = {}): Promise<void> {
  if (hasAccounts()) await note(actorOf(event), act, about);
}

/** Asks again, later, who is asking (sign-ins, tokens and links end) and whether they may still read some flows. */
export function stillMay(event: RequestEvent, ids: string[]): () => Promise<boolean> {
  return async () => {
    const who = await whoIs(event);
    if (!who) return false;
    if (who.is === 'everybody') return true;
    const rights = await rightsTo(who, ids);
    return ids.every((id) => includes(rights.get(id), 'read'));
  };
}

/** What refuses a request; undefined where it is let in. */
export async function refuse(event: RequestEvent): Promise<Response | undefined> {
  const { who } = event.locals;
  if (who.is === 'everybody' || event.route.id === null) return undefined;
  const needs = await needsOf(event);
  if (needs === undefined) return problem(403, 'This is not allowed.');
  for (const need of needs) if (!(await may(who, need.what, need.flow))) return await refusal(event, need);
  return undefined;
}

async function refusal(event: RequestEvent, { what, flow }: Need): Promise<Response> {
  const { who } = event.locals;
  const isPage = !event.url.pathname.startsWith('/api/');
  if (who.is === 'guest' && isPage) {
    const location = `/sign-in?to=${encodeURIComponent(event.url.pathname + event.url.search)}`;
    return event.isDataRequest
      ? json({ type: 'redirect', location })
      : new Response(null, { status: 302, headers: { location } });
  }
  if (who.is === 'guest') return problem(401, 'Sign in first.', {}, { 'www-authenticate': 'Bearer' });
  const right = flow === undefined ? undefined : await rightTo(who, flow);
  const [status, title] = wordsOf(what, flow, right);
  if (isPage) error(status, title);
  return problem(status, title);
}

/** What is not there and what may not be seen are told alike. */
function wordsOf(what: What, flow: string | undefined, right: Right | undefined): [number, string] {
  if (right) return [403, `You may ${right} this flow. For more, ask its owner.`];
  if (flow !== undefined) return [404, noFlow];
  return [403, what === 'people' ? 'Only an admin may do this.' : 'Your account does not allow this.'];
}
const noFlow = 'There is no such flow. It may have been deleted.';

/** Whose page it is, for the page. */
export function meOf(who: Who): Me {
  if (who.is !== 'person') return { accounts: who.is !== 'everybody' };
  const { id, name, role } = who;
  return { accounts: true, person: { id, name, role } };
}

/** The address to come back to from signing in elsewhere, as the browser sees it. */
export const wayBack = ({ url, request }: RequestEvent): string =>
  `${addressOf(url, request.headers.get('host'))}/sign-in/elsewhere/back`;

/** What has to be known again, for ten minutes, in a cookie of its own. */
const away = () => ({ ...looks(), path: '/sign-in', maxAge: 600 });
export function keepLeaving({ cookies: jar }: RequestEvent, leaving: Leaving): void {
  jar.set('crow-leaving', JSON.stringify(leaving), away());
}
export function takeLeaving({ cookies: jar }: RequestEvent): Leaving | undefined {
  const kept = jar.get('crow-leaving');
  jar.delete('crow-leaving', away());
  try {
    return kept ? (JSON.parse(kept) as Leaving) : undefined;
  } catch {
    return undefined;
  }
}
