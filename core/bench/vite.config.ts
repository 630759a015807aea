import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

// As the product is built: what is measured is what its users run.
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
export default defineConfig({
  root: here('.'),
  build: {
    ssr: true,
    outDir: here('dist'),
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rollupOptions: { input: { run: here('run.ts'), measure: here('measure.ts') } }
  },
  ssr: { noExternal: true }
});
