import { pool } from './support/pool.ts';

pool(2, { compared: 718, replayed: 1224 });
