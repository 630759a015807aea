import { pool } from './support/pool.ts';

pool(2, { compared: 762, replayed: 1062 });
