import { pool } from './support/pool.ts';

pool(1, { compared: 694, replayed: 960 });
