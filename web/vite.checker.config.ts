import { defineConfig } from 'vite';

// The checks of the server, in a thread of their own: one file with everything in it, for Node.
export default defineConfig({
  publicDir: false,
  build: {
    ssr: 'src/checker/checker.ts',
    outDir: 'build',
    emptyOutDir: false,
    target: 'node20',
    minify: false,
    rollupOptions: { output: { entryFileNames: 'checker.js' } }
  },
  ssr: { noExternal: true }
});
