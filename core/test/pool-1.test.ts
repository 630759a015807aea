import { pool } from './support/pool.ts';

pool(1, { compared: 684, replayed: 1059 });
