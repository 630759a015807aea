import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..', '..');
export const dataFolder = resolve(process.env.CROW_LANE_DATA ?? join(root, '.data'));
/** The built files of the server's threads. */
export const threadsFolder = join(root, 'web', 'build', 'threads');
export const webServer = join(root, 'web', 'build', 'index.js');
