import { defineConfig } from 'vite';

// One file with everything in it, for Node; a script, as what V8 makes of a module cannot be kept (cli/bin).
export default defineConfig({
  build: {
    ssr: 'src/main.ts',
    outDir: 'dist',
    target: 'node20',
    // half the text is half the time to read it at every start
    minify: true,
    rollupOptions: { output: { format: 'cjs', entryFileNames: 'crow-lane.cjs', codeSplitting: false } }
  },
  ssr: { noExternal: true }
});
