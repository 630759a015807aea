// A stand-in for where people sign in elsewhere: an OpenID Connect provider on loopback, where every name is let in.
import { createServer } from 'node:http';
import Provider from 'oidc-provider';

/** Starts it for one client, whose address of return is told later. Gives its issuer and a function that ends it. */
export async function startStandIn(port, client) {
  const issuer = `http://127.0.0.1:${port}`;
  const provider = new Provider(issuer, {
    clients: [{ client_id: client.id, client_secret: client.secret, redirect_uris: [client.back] }],
    claims: { openid: ['sub'], profile: ['name'] },
    findAccount: (_, sub) => ({ accountId: sub, claims: () => ({ sub, name: sub }) }),
    // the name comes with the sign-in itself
    conformIdTokenClaims: false,
    cookies: { keys: ['stand-in'] },
    features: { devInteractions: { enabled: true } }
  });
  const server = createServer(provider.callback());
  await new Promise((done) => server.listen(port, '127.0.0.1', done));
  return { issuer, stop: () => new Promise((done) => (server.closeAllConnections(), server.close(done))) };
}
