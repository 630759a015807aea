import { pool } from './support/pool.ts';

pool(2, { compared: 768, replayed: 1014 });
