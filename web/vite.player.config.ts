import { svelte } from '@sveltejs/vite-plugin-svelte';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { defineConfig, type Plugin } from 'vite';

const file = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/**
 * Puts script and style into the page, which needs nothing else then, and gives it as a module with one text. The page's policy
 * (CSP) names both by their hashes: nothing else that comes to stand in it can run.
 */
function onePage(): Plugin {
  const hashed = (text: string) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
  return {
    name: 'one-page',
    // the style is put together last
    enforce: 'post',
    generateBundle(_options, bundle) {
      let [script, style] = ['', ''];
      for (const [name, made] of Object.entries(bundle)) {
        if (made.type === 'chunk') script += made.code;
        else style += made.source.toString();
        delete bundle[name];
      }
      // what would end the element, or begin a comment in it
      script = script.trim().replaceAll(/<(?=\/script|!--)/gi, '\\x3c');
      style = style.trim();
      const policy = `default-src 'none'; script-src ${hashed(script)}; style-src ${hashed(style)}; img-src data:; base-uri 'none'; form-action 'none'`;
      const parts: Record<string, string> = { policy, script, style };
      const page = readFileSync(file('src/player/index.html'), 'utf8')
        .replaceAll(/>\s+(?=%)|(?<=%)\s+(?=<)/g, (space) => (space.startsWith('>') ? '>' : ''))
        .replaceAll(/%(policy|script|style)%/g, (_, part: string) => parts[part]!);
      this.emitFile({ type: 'asset', fileName: 'player.js', source: `export default ${JSON.stringify(page)};\n` });
    }
  };
}

// A page to play, without the game: scripts and styles in one text, which command line and server put a flow into.
export default defineConfig({
  publicDir: false,
  plugins: [svelte(), onePage()],
  resolve: { alias: { $lib: file('src/lib') } },
  build: {
    outDir: 'dist',
    target: 'es2022',
    cssCodeSplit: false,
    modulePreload: false,
    rollupOptions: { input: file('src/player/main.ts'), output: { format: 'iife' } }
  }
});
