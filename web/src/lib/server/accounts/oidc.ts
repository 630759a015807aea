/** Signing in elsewhere, by OpenID Connect: the authorization code flow with PKCE, state and nonce. */
import { cut } from '@crow-lane/core/document/cut';
import * as client from 'openid-client';
import { and, eq, isNull } from 'drizzle-orm';
import type { Role } from '../../rights.ts';
import { Refusal } from '../refusal.ts';
import { db, transaction } from '../database.ts';
import { people } from '../schema.ts';
import { note } from './audit.ts';
import type { Elsewhere } from './mode.ts';
import { makePerson, type Person } from './people.ts';

let found: Promise<client.Configuration> | undefined;

/** What the provider tells of itself, asked once it is first needed, and again when that failed. */
function configuration({ issuer, id, secret }: Elsewhere): Promise<client.Configuration> {
  const local = ['127.0.0.1', 'localhost', '[::1]'].includes(issuer.hostname);
  found ??= client
    .discovery(issuer, id, secret, undefined, {
      timeout: 10,
      // in the open only where nothing leaves the machine
      ...(local && issuer.protocol === 'http:' ? { execute: [client.allowInsecureRequests] } : {})
    })
    .catch((error: unknown) => {
      found = undefined;
      throw error;
    });
  return found;
}

/** What has to be known again when the person comes back. */
export interface Leaving {
  state: string;
  nonce: string;
  verifier: string;
  to: string;
}

/** Where to send a person to sign in, and what to remember until they are back at `back`. */
export async function leaveFor(place: Elsewhere, back: string, to: string): Promise<{ url: URL; leaving: Leaving }> {
  const leaving = { state: client.randomState(), nonce: client.randomNonce(), verifier: client.randomPKCECodeVerifier(), to };
  const url = client.buildAuthorizationUrl(await configuration(place), {
    ...{ redirect_uri: back, scope: 'openid profile', state: leaving.state, nonce: leaving.nonce },
    ...{ code_challenge: await client.calculatePKCECodeChallenge(leaving.verifier), code_challenge_method: 'S256' }
  });
  return { url, leaving };
}

/** The person who came back. Whoever comes for the first time gets an account, where that is allowed. */
export async function comeBack(place: Elsewhere, at: URL, leaving: Leaving, address: string): Promise<Person> {
  const settings = await configuration(place);
  const given = await client.authorizationCodeGrant(settings, at, {
    ...{ pkceCodeVerifier: leaving.verifier, expectedState: leaving.state, expectedNonce: leaving.nonce, idTokenExpected: true }
  });
  const claims = given.claims()!;
  const subject = `${claims.iss} ${claims.sub}`;
  const shown = { id: people.id, name: people.name, role: people.role, endedAt: people.endedAt };
  const [known] = await db().select(shown).from(people).where(eq(people.subject, subject));
  if (known?.endedAt) throw new Refusal(403, 'Your access has ended.');
  if (known) {
    await note({ id: known.id, name: known.name, address }, 'signed in', { detail: place.name });
    return known;
  }
  if (!place.role) throw new Refusal(403, 'You have no account here.');
  const asked = [claims.name, claims.preferred_username].find(
    (name): name is string => typeof name === 'string' && name.trim() !== ''
  );
  const name = cut(asked ?? `Designer ${claims.sub}`, 70);
  const person = await transaction((tx) => makeFree(tx, name, place.role!, subject));
  await note({ id: person.id, name: person.name, address }, 'account made', { detail: `${person.role}, from ${place.name}` });
  return person;
}

/** Makes an account under a name, or under the next that is free: two people may be called the same elsewhere. */
async function makeFree(tx: Parameters<typeof makePerson>[0], name: string, role: Role, subject: string): Promise<Person> {
  for (let n = 1; ; n++) {
    try {
      return await makePerson(tx, { name: n === 1 ? name : `${name} ${n}`, role, password: null, subject });
    } catch (error) {
      if (!(error instanceof Refusal) || error.status !== 409 || n > 50) throw error;
      // the same person, come twice at once
      const [same] = await tx
        .select({ id: people.id, name: people.name, role: people.role })
        .from(people)
        .where(and(eq(people.subject, subject), isNull(people.endedAt)));
      if (same) return same;
    }
  }
}
