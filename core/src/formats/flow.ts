/** How a flow is written in each of its forms (flow-list.ts). */
import type { FlowDocument } from '../document/types.ts';
import { write } from '../document/write.ts';
import type { FlowFormat, PagePart } from './flow-list.ts';
import { gameOf } from './game.ts';
import { dotOf, graphmlOf } from './graph.ts';
import { writeCsv } from './levels-csv.ts';
import { markdownOf } from './markdown.ts';
import { flowSchema } from './json-schema.ts';
import { pageOf } from './page.ts';
import { movesCsv, rulesCsv, rulesJsonl } from './tables.ts';

/** What a page to play is made of besides the flow: the built player, what it shows, and by what browsers tell it from others. */
export interface PageWanted {
  template: string;
  shows: readonly PagePart[];
  id?: string;
}

export const writeFlow: Record<FlowFormat, (document: FlowDocument, page?: PageWanted) => string> = {
  json: write,
  html: (document, page) => {
    if (!page) throw new Error('a page to play needs the built player');
    return pageOf(document, page.template, page.shows, page.id);
  },
  game: (document) => `${JSON.stringify(gameOf(document))}\n`,
  markdown: markdownOf,
  rules: rulesJsonl,
  rulescsv: rulesCsv,
  moves: movesCsv,
  levels: (document) => writeCsv(document),
  dot: dotOf,
  graphml: graphmlOf,
  schema: () => `${JSON.stringify(flowSchema(), null, 1)}\n`
};
