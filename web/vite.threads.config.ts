import { defineConfig } from 'vite';

// What the server does in threads of their own: for each one file and what they share, for Node.
export default defineConfig({
  publicDir: false,
  build: {
    ssr: true,
    outDir: 'build/threads',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: {
      input: { check: 'src/threads/check.ts', work: 'src/threads/work.ts' },
      output: { entryFileNames: '[name].js' }
    }
  },
  ssr: { noExternal: true }
});
