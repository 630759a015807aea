import { defineConfig } from 'vite';

// What a game takes in, as modules that need nothing else: each is built alone (`--mode play`), so that who plays loads nothing of
// what reads and checks.
export default defineConfig(({ mode }) => ({
  build: {
    lib: { entry: { [mode]: `src/${mode}.ts` }, formats: ['es'] },
    target: 'es2022',
    emptyOutDir: false
  }
}));
