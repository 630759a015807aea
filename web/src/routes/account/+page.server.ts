import { meOf } from '$lib/server/accounts/door.ts';
import { signInsOf } from '$lib/server/accounts/sign-ins.ts';
import { tokensOf } from '$lib/server/accounts/tokens.ts';
import type { SignIn, Token } from '$lib/house-api.ts';
import { redirect } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { who } }) => {
  if (who.is !== 'person') redirect(303, '/');
  const [signIns, tokens] = await Promise.all([signInsOf(who.id, who.signIn), tokensOf(who.id)]);
  // as they would come by the API: times are texts
  return { me: meOf(who), ...(JSON.parse(JSON.stringify({ signIns, tokens })) as { signIns: SignIn[]; tokens: Token[] }) };
};
