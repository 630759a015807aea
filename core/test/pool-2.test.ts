import { pool } from './support/pool.ts';

pool(2, { compared: 685, replayed: 1077 });
