import { pool } from './support/pool.ts';

pool(1, { compared: 766, replayed: 1045 });
