/** The manual: the pages of `docs/` that a designer reads, as they are built into the application. */
import { Marked } from 'marked';
import { gfmHeadingId } from 'marked-gfm-heading-id';
import { pages } from '../help.ts';

const texts = import.meta.glob<string>(
  ['../../../../docs/manual/*.md', '../../../../docs/checks.md', '../../../../docs/flow-format.md'],
  {
    query: '?raw',
    import: 'default',
    eager: true
  }
);
const pictures = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true
});

const fileOf = (name: string) => texts[`../../../../docs/manual/${name}.md`] ?? texts[`../../../../docs/${name}.md`];

/** A page as HTML; undefined when there is none of this name. Links between pages and pictures lead to where they are here. */
export function pageHtml(name: string, base: string): string | undefined {
  const text = pages.some((page) => page.name === name) ? fileOf(name) : undefined;
  if (text === undefined) return undefined;
  const marked = new Marked(gfmHeadingId(), {
    walkTokens(token) {
      if (token.type === 'link') {
        const page = /^(?:\.\.\/)?(?:manual\/)?([a-z-]+)\.md(#.*)?$/.exec(token.href as string);
        if (page) token.href = `${base}/${page[1]}${page[2] ?? ''}`;
      }
      if (token.type === 'image') {
        const picture = /screenshots\/([a-z]+)\.png$/.exec(token.href as string)?.[1];
        if (picture) token.href = pictures[`../../../../docs/screenshots/${picture}.png`] ?? token.href;
      }
    }
  });
  return marked.parse(text, { async: false });
}
