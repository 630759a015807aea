import { pool } from './support/pool.ts';

pool(1, { compared: 697, replayed: 1070 });
