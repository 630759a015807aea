#!/usr/bin/env node
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const built = new URL('../dist/crow-lane.js', import.meta.url);
if (!existsSync(fileURLToPath(built))) {
  console.error('The command line is not built yet: run "npm run build -w cli" first ("npm start" does it too).');
  process.exit(2);
}
await import(built.href);
