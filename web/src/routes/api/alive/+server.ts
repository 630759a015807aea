import { json } from '@sveltejs/kit';

/** Whether the process answers, whatever it needs to be of use. */
export const GET = () => json({ alive: true });
