import { svelte } from '@sveltejs/vite-plugin-svelte';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { onePage } from '../scripts/lib/one-page.mjs';

const file = (path: string) => fileURLToPath(new URL(path, import.meta.url));

// A page to play, without the game: one text, as a module, which command line and server put a flow into.
export default defineConfig({
  publicDir: false,
  plugins: [
    svelte(),
    onePage(file('src/player/index.html'), (page) => ['player.js', `export default ${JSON.stringify(page)};\n`])
  ],
  resolve: { alias: { $lib: file('src/lib') } },
  build: {
    outDir: 'dist',
    target: 'es2022',
    cssCodeSplit: false,
    modulePreload: false,
    rollupOptions: { input: file('src/player/main.ts'), output: { format: 'iife' } }
  }
});
