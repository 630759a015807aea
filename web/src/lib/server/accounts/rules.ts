/**
 * What each route asks of whoever asks it. A route or a method that stands here not at all is refused, so that a new one
 * without a rule is noticed at once; a test holds the table against the routes.
 */
import type { RequestEvent } from '@sveltejs/kit';
import type { Right } from '../../rights.ts';
import { findJob } from '../jobs.ts';
import { flowOfShow } from '../shows.ts';
import type { What } from './may.ts';

/** What has to be allowed; of what is done with a flow, with which. */
export interface Need {
  what: What;
  flow?: string | undefined;
}
type Rule = What | ((event: RequestEvent) => Need[] | Promise<Need[]>);
type Method = 'GET' | 'PUT' | 'POST' | 'PATCH' | 'DELETE';

/** What is done with a check, or seen of it, is done with its flow. */
const ofJob =
  (what: Right) =>
  async ({ params }: RequestEvent): Promise<Need[]> => [{ what, flow: (await findJob(params.job!))?.flow }];
/** One's own copy is a new flow. */
const copies = ({ params }: RequestEvent): Need[] => [{ what: 'make' }, { what: 'read', flow: params.id }];
/** The page to play is all that who may only play gets. */
const file = ({ params, url }: RequestEvent): Need[] => [
  { what: url.searchParams.get('as') === 'html' ? 'play' : 'read', flow: params.id }
];

export const rules: Record<string, Partial<Record<Method, Rule>>> = {
  '/': { GET: 'shelf' },
  '/account': { GET: 'account' },
  '/flows/[id]/[[view=view]]': { GET: 'read' },
  '/help/[[page]]': { GET: 'open' },
  '/open': { GET: 'open' },
  '/people': { GET: 'people' },
  '/play/[id]': { GET: 'play' },
  '/shared': { GET: 'browse' },
  '/shared/[show]': { GET: 'browse' },
  '/shared/[show]/play': { GET: 'browse' },
  '/sign-in': { GET: 'open' },
  '/sign-in/elsewhere': { GET: 'open' },
  '/sign-in/elsewhere/back': { GET: 'open' },
  '/api/account': { GET: 'open' },
  '/api/account/password': { PUT: 'account' },
  '/api/account/sign-ins': { GET: 'account', DELETE: 'account' },
  '/api/alive': { GET: 'open' },
  '/api/audit': { GET: 'people' },
  '/api/checks/[job]': { GET: ofJob('read'), DELETE: ofJob('edit') },
  '/api/checks/[job]/events': { GET: ofJob('read') },
  '/api/flows': { GET: 'shelf', POST: 'make' },
  '/api/flows/[id]': { GET: 'read', PATCH: 'edit', DELETE: 'own' },
  '/api/flows/[id]/changes': { GET: 'read' },
  '/api/flows/[id]/checks': { GET: 'read', POST: 'read' },
  '/api/flows/[id]/copy': { POST: copies },
  '/api/flows/[id]/events': { GET: 'read' },
  '/api/flows/[id]/file': { GET: file },
  '/api/flows/[id]/links': { GET: 'own', POST: 'own' },
  '/api/flows/[id]/links/[link]': { DELETE: 'own' },
  '/api/flows/[id]/presence': { PUT: 'read', DELETE: 'read' },
  '/api/flows/[id]/report': { GET: 'read' },
  '/api/flows/[id]/restore': { POST: 'own' },
  '/api/flows/[id]/revisions': { GET: 'read' },
  '/api/flows/[id]/revisions/[number]': { GET: 'read' },
  '/api/flows/[id]/rights': { GET: 'own', PUT: 'own' },
  '/api/flows/[id]/shows': { GET: 'own', POST: 'own' },
  '/api/flows/[id]/verdict': { PUT: 'edit' },
  '/api/health': { GET: 'open' },
  '/api/invitations': { GET: 'people', POST: 'people' },
  '/api/invitations/[link]': { DELETE: 'people' },
  '/api/links': { POST: 'open' },
  '/api/links/use': { POST: 'open' },
  // it hears of those of the flows that may be read: one that is closed to somebody silences no other
  '/api/live': { GET: 'open' },
  '/api/openapi.json': { GET: 'open' },
  '/api/people': { GET: 'people' },
  '/api/people/[person]': { PATCH: 'people' },
  '/api/people/[person]/reset': { POST: 'people' },
  '/api/shows': { GET: 'browse' },
  '/api/shows/[show]': {
    GET: 'browse',
    // its owner's, and where the flow is gone the admins'
    DELETE: async ({ params }) => {
      const flow = await flowOfShow(params.show!);
      return flow?.there ? [{ what: 'own', flow: flow.id }] : [{ what: 'people' }];
    }
  },
  '/api/shows/[show]/changes': { GET: 'browse' },
  '/api/shows/[show]/file': { GET: 'browse' },
  '/api/shows/[show]/picture': { GET: 'browse' },
  '/api/shows/[show]/take': { POST: 'make' },
  '/api/sign-ins': { POST: 'open', DELETE: 'open' },
  '/api/tokens': { GET: 'account', POST: 'account' },
  '/api/tokens/[token]': { DELETE: 'account' }
};

/** What a request needs; undefined where no rule allows it to anybody. */
export async function needsOf(event: RequestEvent): Promise<Need[] | undefined> {
  const method = event.request.method === 'HEAD' ? 'GET' : event.request.method;
  const rule = rules[event.route.id ?? '']?.[method as Method];
  if (rule === undefined) return undefined;
  return typeof rule === 'function' ? await rule(event) : [{ what: rule, flow: event.params.id }];
}
