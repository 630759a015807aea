import { listFlows } from '$lib/server/flows.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ flows: await listFlows() });
