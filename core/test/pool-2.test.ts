import { pool } from './support/pool.ts';

pool(2, { compared: 673, replayed: 1038 });
