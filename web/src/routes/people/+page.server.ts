import { meOf } from '$lib/server/accounts/door.ts';
import { auditBefore } from '$lib/server/accounts/audit.ts';
import { invitations } from '$lib/server/accounts/links.ts';
import { listPeople } from '$lib/server/accounts/people.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  const [people, invited, lines] = await Promise.all([listPeople(), invitations(), auditBefore(undefined, 100)]);
  // as they would come by the API: times are texts
  const told = { people, invited, lines: lines.map(({ flowId, ...line }) => ({ ...line, flow: flowId })) };
  return { me: meOf(locals.who), ...(JSON.parse(JSON.stringify(told)) as Told) };
};

type Told = {
  people: import('$lib/house-api.ts').Person[];
  invited: import('$lib/house-api.ts').Link[];
  lines: import('$lib/house-api.ts').AuditLine[];
};
