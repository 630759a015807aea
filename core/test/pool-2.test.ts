import { pool } from './support/pool.ts';

pool(2, { compared: 717, replayed: 1224 });
