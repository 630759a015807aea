import { pool } from './support/pool.ts';

pool(2, { compared: 709, replayed: 1061 });
