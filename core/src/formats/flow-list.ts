/** The forms in which a flow can be given to others, in the order in which they are offered. */
export interface FlowFormatEntry {
  /** Behind "The flow, as …". */
  words: string;
  /** Its media type. */
  type: string;
  /** What the name of its file ends with. */
  ending: string;
}

export const flowFormats = {
  json: { words: 'a file', type: 'application/json; charset=utf-8', ending: 'crow.json' },
  markdown: { words: 'text in words', type: 'text/markdown; charset=utf-8', ending: 'md' },
  rules: { words: 'a table of its rules', type: 'application/x-ndjson; charset=utf-8', ending: 'rules.jsonl' },
  rulescsv: { words: 'a table of its rules (CSV)', type: 'text/csv; charset=utf-8', ending: 'rules.csv' },
  moves: { words: 'its moves (CSV)', type: 'text/csv; charset=utf-8', ending: 'moves.csv' },
  levels: { words: 'its levels (CSV)', type: 'text/csv; charset=utf-8', ending: 'levels.csv' },
  dot: { words: 'a graph (DOT)', type: 'text/vnd.graphviz; charset=utf-8', ending: 'dot' },
  graphml: { words: 'a graph (GraphML)', type: 'application/graphml+xml; charset=utf-8', ending: 'graphml' }
} as const satisfies Record<string, FlowFormatEntry>;

export type FlowFormat = keyof typeof flowFormats;
export const flowFormatNames = Object.keys(flowFormats) as FlowFormat[];
