/** What is asked of the server about people, sharing and the shared shelf: one function a request. */
import { ask } from './flow/api.ts';
import type { LinkKind, LinkRight, Role, SharedRight, TokenRight } from './rights.ts';
import type { Show, ShowQuery } from './show.ts';

async function read<T>(path: string): Promise<T> {
  return (await (await ask(path)).json()) as T;
}
async function send<T>(method: 'POST' | 'PUT' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<T> {
  const response = await ask(path, {
    method,
    ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {})
  });
  return (response.status === 204 ? undefined : await response.json()) as T;
}

export const signIn = (name: string, password: string) => send<void>('POST', '/api/sign-ins', { name, password });
export const signOut = () => send<void>('DELETE', '/api/sign-ins');
export const changePassword = (old: string, password: string) => send<void>('PUT', '/api/account/password', { old, password });

export interface SignIn {
  agent: string;
  createdAt: string;
  usedAt: string;
  here: boolean;
}
export const endOtherSignIns = () => send<void>('DELETE', '/api/account/sign-ins');

export interface Token {
  id: string;
  name: string;
  may: TokenRight;
  flow: string | null;
  createdAt: string;
  usedAt: string | null;
  endsAt: string;
}
export const makeToken = (asked: { name: string; may: TokenRight; days: number; flow?: string }) =>
  send<{ id: string; token: string }>('POST', '/api/tokens', asked);
export const takeBackToken = (id: string) => send<void>('DELETE', `/api/tokens/${id}`);

/** What a link leads to. */
export type Opened = { endsAt: string } & (
  { kind: 'first' | 'invitation'; role: Role } | { kind: 'reset'; name: string } | { kind: LinkRight; flow: string; name: string }
);
export const lookAtLink = (secret: string) => send<Opened>('POST', '/api/links', { secret });
export const useLink = (secret: string, name: string, password: string) =>
  send<{ name: string }>('POST', '/api/links/use', { secret, name, password });

export interface Person {
  id: string;
  name: string;
  role: Role;
  createdAt: string;
  seenAt: string | null;
  endedAt: string | null;
  elsewhere: boolean;
}
export interface Link {
  id: string;
  kind: LinkKind;
  role: Role | null;
  note: string;
  createdAt: string;
  endsAt: string;
}
export const changePerson = (id: string, to: { role?: Role; ended?: boolean }) => send<object>('PATCH', `/api/people/${id}`, to);
export const resetLink = (id: string) => send<{ path: string }>('POST', `/api/people/${id}/reset`);
export const invite = (role: Role, note: string, days: number) =>
  send<{ path: string }>('POST', '/api/invitations', { role, note, days });
export const takeBackInvitation = (id: string) => send<void>('DELETE', `/api/invitations/${id}`);

export interface AuditLine {
  id: string;
  at: string;
  name: string;
  act: string;
  flow: string | null;
  detail: string;
  address: string;
}
export const fetchAudit = async (before?: string) =>
  (await read<{ lines: AuditLine[] }>(`/api/audit?limit=100${before ? `&before=${before}` : ''}`)).lines;

export interface Rights {
  owner: { id: string; name: string } | null;
  house: SharedRight | null;
  people: { id: string; name: string | null; may: SharedRight }[];
}
export const fetchRights = (flow: string) =>
  read<Rights & { everybody: { id: string; name: string }[] }>(`/api/flows/${flow}/rights`);
export const setRight = (flow: string, person: string, may: SharedRight | 'own' | null) =>
  send<Rights>('PUT', `/api/flows/${flow}/rights`, { person, may });
export const fetchLinks = async (flow: string) => (await read<{ links: Link[] }>(`/api/flows/${flow}/links`)).links;
export const makeFlowLink = (flow: string, may: LinkRight, note: string, days: number) =>
  send<{ path: string }>('POST', `/api/flows/${flow}/links`, { may, note, days });
export const takeBackFlowLink = (flow: string, id: string) => send<void>('DELETE', `/api/flows/${flow}/links/${id}`);

export const fetchShowsOf = (flow: string) =>
  read<{ shows: Show[]; plans: { id: string; name: string }[] }>(`/api/flows/${flow}/shows`);
/** Its picture is the lane, or the plan of the level `picture`. */
export const putOnShow = (flow: string, summary: string, tags: string[], picture?: string) =>
  send<{ id: string }>('POST', `/api/flows/${flow}/shows`, { summary, tags, ...(picture ? { picture } : {}) });
export const withdraw = (show: string) => send<void>('DELETE', `/api/shows/${show}`);
export const takeShow = (show: string) => send<{ id: string }>('POST', `/api/shows/${show}/take`);

export interface Change {
  is: 'added' | 'removed' | 'changed';
  text: string;
}
export const fetchChangesOf = async (show: string, since: string) =>
  (await read<{ differences: Change[] }>(`/api/shows/${show}/changes?since=${since}`)).differences;

/** A query of the shared shelf as it stands in addresses. */
export const queryText = (query: ShowQuery): string =>
  new URLSearchParams(
    Object.entries(query).flatMap(([key, value]) =>
      value === undefined || value === '' || value === 0 ? [] : [[key, String(value)]]
    )
  ).toString();
