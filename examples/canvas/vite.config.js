import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { onePage } from '../../scripts/lib/one-page.mjs';

const file = (path) => fileURLToPath(new URL(path, import.meta.url));

// One page, so that it can be opened from disk.
export default defineConfig({
  plugins: [onePage(file('index.html'), (page) => ['index.html', page])],
  build: {
    // the game that was converted stands there too
    emptyOutDir: false,
    target: 'es2022',
    cssCodeSplit: false,
    modulePreload: false,
    rollupOptions: { input: file('game.js'), output: { format: 'iife' } }
  }
});
