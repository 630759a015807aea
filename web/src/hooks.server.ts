import { isHttpError, type Handle, type HandleServerError, type RequestEvent, type ServerInit } from '@sveltejs/kit';
import { trouble } from '$lib/trouble.ts';
import { logFault, problem, refusalOf } from '$lib/server/answer.ts';
import { closeDatabase, openDatabase, Unfit } from '$lib/server/database.ts';
import { loadDemo } from '$lib/server/demo.ts';
import { forgetAnswers } from '$lib/server/brief.ts';
import { bearerOf, refuse, whoIs } from '$lib/server/accounts/door.ts';
import { firstLink } from '$lib/server/accounts/links.ts';
import { anybody } from '$lib/server/accounts/people.ts';
import { hasAccounts, isSecure, ownAddress } from '$lib/server/accounts/mode.ts';
import { isOurHost, isOurOrigin } from '$lib/server/guard.ts';
import { serveJobs, stopJobs } from '$lib/server/jobs.ts';
import { servePurging, stopPurging } from '$lib/server/purge.ts';
import { log } from '$lib/server/log.ts';
import { closeEventStreams } from '$lib/server/stream.ts';
import { stopWork } from '$lib/server/work.ts';

export const init: ServerInit = async () => {
  // no fault of one request may end the process for all others
  process.on('unhandledRejection', (error) => log.error({ err: error }, 'unhandled rejection'));
  process.on('uncaughtException', (error) => {
    if ((error as { code?: string }).code === 'EADDRINUSE')
      giveUp(`The address ${process.env.HOST}:${process.env.PORT} is taken by another program.`);
    log.fatal({ err: error }, 'uncaught exception');
    process.exit(1);
  });
  try {
    await openDatabase();
  } catch (error) {
    if (error instanceof Unfit) giveUp(error.message);
    throw error;
  }
  await loadDemo(process.env.CROW_LANE_DEMO);
  serveJobs();
  servePurging();
  if (hasAccounts()) await tellFirstLink();
  else if (await anybody()) process.stderr.write(withoutAccounts);
  let given: Promise<void> | undefined;
  // open streams would hold the server up until it is killed
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.once(signal, () => {
      closeEventStreams();
      stopWork();
      stopPurging();
      given = stopJobs();
    });
  process.once('sveltekit:shutdown', () => void Promise.resolve(given).then(closeDatabase));
};

const withoutAccounts =
  'Warning: there are accounts in this database, and this server is started without: whoever reaches it may do everything.\n';

/** Whoever starts the house is the one who can read what it prints: the link to the first account is told there alone. */
async function tellFirstLink(): Promise<void> {
  const secret = await firstLink();
  if (secret === undefined) return;
  const { HOST: host = '127.0.0.1', PORT: port = '4170' } = process.env;
  const own = ownAddress()?.origin ?? `http://${host.includes(':') ? `[${host}]` : host}:${port}`;
  process.stderr.write(`There is no account yet. Make the first one, within a day, at:\n${own}/open#${secret}\n`);
}

/** The server cannot run: said in one sentence, for the person at the terminal. */
function giveUp(sentence: string): never {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

export const handle: Handle = async ({ event, resolve }) => {
  const { request } = event;
  const path = event.url.pathname;
  const host = request.headers.get('host');
  if (!isOurHost(host))
    return problem(
      421,
      `The name "${host?.slice(0, 100) ?? ''}" is not served here. Name it in CROW_LANE_HOSTS to have it served.`
    );
  // a page of others has no token to show, and what shows one needs no page
  if (bearerOf(request) === undefined && !isOurOrigin(request)) return problem(403, 'Requests from other origins are refused.');
  const began = performance.now();
  const resolved = (await stopped(event)) ?? (await resolve(event));
  if (request.method !== 'GET' && !changesOnlyFlow(event)) forgetAnswers();
  // what the framework refuses by itself is told like all else
  const response =
    path.startsWith('/api/') && isForeign(resolved) ? problem(resolved.status, titleOf(resolved.status)) : resolved;
  if (response !== resolved && resolved.headers.has('allow')) response.headers.set('allow', resolved.headers.get('allow')!);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'no-referrer');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  response.headers.set('cross-origin-resource-policy', 'same-origin');
  if (hasAccounts()) {
    // what one person was shown is not for the next at the same browser
    if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'no-store');
    if (isSecure()) response.headers.set('strict-transport-security', 'max-age=31536000');
  }
  if (event.route.id?.startsWith('/api/flows')) {
    log.debug({ method: request.method, path, status: response.status, ms: Math.round(performance.now() - began) }, 'request');
  }
  return response;
};

/** What is asked often, and changes nothing of who may do what. */
const changesOnlyFlow = ({ route, request: { method } }: RequestEvent) =>
  method === 'PATCH' ? route.id === '/api/flows/[id]' : /\/(presence|verdict|checks)$/.test(route.id ?? '');

/** Finds out who asks, and gives the refusal where they may not. */
async function stopped(event: RequestEvent): Promise<Response | undefined> {
  try {
    const who = await whoIs(event);
    if (!who) return problem(401, 'This token is not valid. It may have been taken back, or have expired.');
    event.locals.who = who;
    return await refuse(event);
  } catch (error) {
    if (isHttpError(error)) throw error;
    return refusalOf(error, event.url.pathname);
  }
}

const isForeign = ({ status, headers }: Response) => status >= 400 && headers.get('content-type') !== 'application/problem+json';
function titleOf(status: number): string {
  if (status === 404) return 'There is nothing at this address.';
  if (status === 405) return 'This cannot be done at this address.';
  return status >= 500 ? trouble.fault : 'The request cannot be read.';
}

export const handleError: HandleServerError = ({ error, status, message, event }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  logFault(error, event.url.pathname);
  return { message: status === 500 ? trouble.fault : message };
};
