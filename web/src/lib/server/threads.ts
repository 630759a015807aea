import { join } from 'node:path';

/** The built file of a thread: "npm start" says where they are. */
export const threadFile = (name: 'check' | 'work'): string =>
  join(process.env.CROW_LANE_THREADS ?? 'build/threads', `${name}.js`);
