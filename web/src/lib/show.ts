/** What is told of a flow on show. */
import type { Summary } from './summary.ts';

export interface Show {
  id: string;
  /** Of which flow, and which of its revisions. */
  flow: string;
  revision: number;
  name: string;
  summary: string;
  tags: string[];
  /** Those who edited it; and who put it on show, where there are accounts. */
  authors: string;
  by: string | null;
  places: number;
  levels: number;
  verdict: Summary | null;
  played: number;
  shownAt: Date | string;
  /** The level whose plan is its picture; null where that is the lane. */
  pictureOf: string | null;
}

/** So many stand on one page of the shared shelf. */
export const perPage = 24;

export const showSorts = { date: 'newest first', name: 'by name', size: 'largest first', played: 'most played first' } as const;
export type ShowSort = keyof typeof showSorts;

export interface ShowQuery {
  search?: string;
  tag?: string;
  sort?: ShowSort;
  /** From 0. */
  page?: number;
}
