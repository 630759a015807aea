// A plugin for Vite that puts script and style into the page, which needs nothing else then. The page's policy (CSP) names both by
// their hashes: nothing else that comes to stand in it can run.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';

const hashed = (text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;

/** `template` has %policy%, %script% and %style% where these go; `written` gives the name of the file, and its text. */
export function onePage(template, written) {
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
      const parts = { policy, script, style };
      const page = readFileSync(template, 'utf8')
        .replaceAll(/>\s+(?=%)|(?<=%)\s+(?=<)/g, (space) => (space.startsWith('>') ? '>' : ''))
        .replaceAll(/%(policy|script|style)%/g, (_, part) => parts[part]);
      const [fileName, source] = written(page);
      this.emitFile({ type: 'asset', fileName, source });
    }
  };
}
