import { pool } from './support/pool.ts';

pool(1, { compared: 782, replayed: 1091 });
