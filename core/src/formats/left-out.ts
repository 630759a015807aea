/** What comes of reading a file that is no flow file of ours. */
import type { ReadError } from '../document/read.ts';
import type { FlowDocument } from '../document/types.ts';

/** Something in a file that a flow has no place for. */
export interface LeftOut {
  what: string;
  /** Counted from 1. */
  line: number;
}

/** The flow, and what of the file it has no place for; or what is wrong with the file. */
export type ReadFlow =
  { document: FlowDocument; left: LeftOut[]; errors?: undefined } | { document?: undefined; errors: ReadError[] };
