/** How a flow is written in each of its forms (flow-list.ts). */
import type { FlowDocument } from '../document/types.ts';
import { write } from '../document/write.ts';
import type { FlowFormat } from './flow-list.ts';
import { dotOf, graphmlOf } from './graph.ts';
import { writeCsv } from './levels-csv.ts';
import { markdownOf } from './markdown.ts';
import { movesCsv, rulesCsv, rulesJsonl } from './tables.ts';

export const writeFlow: Record<FlowFormat, (document: FlowDocument) => string> = {
  json: write,
  markdown: markdownOf,
  rules: rulesJsonl,
  rulescsv: rulesCsv,
  moves: movesCsv,
  levels: (document) => writeCsv(document),
  dot: dotOf,
  graphml: graphmlOf
};
