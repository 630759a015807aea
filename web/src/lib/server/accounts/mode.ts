/** What the environment says of accounts: whether there are some, at which address people reach us, where else they sign in. */
import { roles, type Role } from '../../rights.ts';

/** With accounts everybody signs in; without, whoever reaches the server may do everything. */
export const hasAccounts = (): boolean => process.env.CROW_LANE_ACCOUNTS === '1';

/** The address that people use, where it is told: behind a proxy the server does not know it. */
export function ownAddress(): URL | undefined {
  const told = process.env.CROW_LANE_ADDRESS;
  return told ? new URL(told) : undefined;
}

/** Whether people reach the server by TLS. */
export const isSecure = (): boolean => ownAddress()?.protocol === 'https:';

/** The address of a request as its sender sees it. */
export const addressOf = (url: URL, host: string | null): string => ownAddress()?.origin ?? `http://${host ?? url.host}`;

/** Another place to sign in, by OpenID Connect. */
export interface Elsewhere {
  /** What the button calls it. */
  name: string;
  issuer: URL;
  id: string;
  secret: string;
  /** What whoever comes from there for the first time becomes; nobody new is let in where it is not set. */
  role: Role | undefined;
}

/** Where people can sign in elsewhere, as the environment says; undefined where it does not. */
export function elsewhere(environment: NodeJS.ProcessEnv = process.env): Elsewhere | undefined {
  const { CROW_LANE_OIDC_ISSUER: issuer, CROW_LANE_OIDC_ID: id, CROW_LANE_OIDC_SECRET: secret } = environment;
  if (!hasAccounts() || !issuer || !id || !secret) return undefined;
  const role = environment.CROW_LANE_OIDC_ROLE as Role;
  return {
    ...{ name: environment.CROW_LANE_OIDC_NAME ?? new URL(issuer).hostname, issuer: new URL(issuer), id, secret },
    role: roles.includes(role) && role !== 'admin' ? role : undefined
  };
}
