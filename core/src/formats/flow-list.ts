/** The forms in which a flow can be given to others, in the order in which they are offered. */
export interface FlowFormatEntry {
  /** Under which heading it is offered. */
  group: FlowFormatGroup;
  /** In the list of exports. */
  words: string;
  /** Its media type. */
  type: string;
  /** What the name of its file ends with. */
  ending: string;
}

export const flowFormatGroups = {
  flow: 'The flow',
  play: 'To play',
  program: 'For games and programs',
  picture: 'As a picture'
} as const;
export type FlowFormatGroup = keyof typeof flowFormatGroups;

export const flowFormats = {
  json: { group: 'flow', words: 'As a file', type: 'application/json; charset=utf-8', ending: 'crow.json' },
  html: { group: 'play', words: 'A page to play', type: 'text/html; charset=utf-8', ending: 'html' },
  game: { group: 'play', words: 'Game data (JSON)', type: 'application/json; charset=utf-8', ending: 'game.json' },
  markdown: { group: 'flow', words: 'In words', type: 'text/markdown; charset=utf-8', ending: 'md' },
  rules: {
    group: 'program',
    words: 'The rules, as JSON Lines',
    type: 'application/x-ndjson; charset=utf-8',
    ending: 'rules.jsonl'
  },
  rulescsv: { group: 'program', words: 'The rules, as CSV', type: 'text/csv; charset=utf-8', ending: 'rules.csv' },
  moves: { group: 'program', words: 'The moves, as CSV', type: 'text/csv; charset=utf-8', ending: 'moves.csv' },
  levels: { group: 'flow', words: 'The levels, as CSV', type: 'text/csv; charset=utf-8', ending: 'levels.csv' },
  dot: { group: 'picture', words: 'The moves, as a graph (DOT)', type: 'text/vnd.graphviz; charset=utf-8', ending: 'dot' },
  graphml: {
    group: 'picture',
    words: 'The moves, as a graph (GraphML)',
    type: 'application/graphml+xml; charset=utf-8',
    ending: 'graphml'
  },
  schema: {
    group: 'program',
    words: 'JSON Schema of flow files',
    type: 'application/schema+json; charset=utf-8',
    ending: 'schema.json'
  }
} as const satisfies Record<string, FlowFormatEntry>;

export type FlowFormat = keyof typeof flowFormats;
export const flowFormatNames = Object.keys(flowFormats) as FlowFormat[];

/** What a page can show besides the game itself, in the order in which it is offered. */
export const pageParts = { values: 'values', map: 'a map of the flow' } as const;
export type PagePart = keyof typeof pageParts;
export const pagePartNames = Object.keys(pageParts) as PagePart[];

/** The forms from which a flow can be read, with what the names of their files end with. */
export const flowSources = {
  json: ['json'],
  dot: ['dot', 'gv'],
  levels: ['csv', 'tsv']
} as const;
export type FlowSource = keyof typeof flowSources;
export const flowSourceNames = Object.keys(flowSources) as FlowSource[];

/** What a file is, by its name: a flow file where that does not tell. */
export const sourceOf = (file: string): FlowSource =>
  flowSourceNames.find((source) => flowSources[source].some((ending) => file.toLowerCase().endsWith(`.${ending}`))) ?? 'json';
