import { pool } from './support/pool.ts';

pool(1, { compared: 693, replayed: 959 });
