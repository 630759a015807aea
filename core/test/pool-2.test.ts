import { pool } from './support/pool.ts';

pool(2, { compared: 800, replayed: 1282 });
