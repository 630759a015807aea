import { pool } from './support/pool.ts';

pool(1, { compared: 770, replayed: 1026 });
