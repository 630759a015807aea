import { defineConfig } from 'vite';

// One file with everything in it, for Node.
export default defineConfig({
  build: {
    ssr: 'src/main.ts',
    outDir: 'dist',
    target: 'node20',
    minify: false,
    rollupOptions: { output: { entryFileNames: 'crow-lane.js' } }
  },
  ssr: { noExternal: true }
});
