/** The forms in which a report can be given to others, in the order in which they are offered. */
export interface ReportFormatEntry {
  /** In the list of exports. */
  words: string;
  /** Its media type. */
  type: string;
  /** It is made of one file at a time. */
  single?: true;
}

export const reportFormats = {
  html: { words: 'As a page to print', type: 'text/html; charset=utf-8', single: true },
  sarif: { words: 'As SARIF', type: 'application/sarif+json; charset=utf-8' },
  junit: { words: 'As JUnit', type: 'application/xml; charset=utf-8' },
  vectors: { words: 'Test vectors: routes and runs (JSON Lines)', type: 'application/x-ndjson; charset=utf-8' },
  json: { words: 'The report itself', type: 'application/json; charset=utf-8' }
} as const satisfies Record<string, ReportFormatEntry>;

export type ReportFormat = keyof typeof reportFormats;
export const reportFormatNames = Object.keys(reportFormats) as ReportFormat[];
