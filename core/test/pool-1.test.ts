import { pool } from './support/pool.ts';

pool(1, { compared: 806, replayed: 1172 });
