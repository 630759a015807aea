import { pool } from './support/pool.ts';

pool(2, { compared: 771, replayed: 1066 });
