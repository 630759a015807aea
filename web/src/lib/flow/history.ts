import { apply, type Patch } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { RevisionNote } from './api.ts';

/**
 * A document as it was at a revision: what came after it is taken back, the newest first. `notes` lists the revisions,
 * newest first, from the one the document is.
 */
export function documentAt(document: FlowDocument, notes: RevisionNote[], revision: number): FlowDocument {
  for (const { number, inverse } of notes) {
    if (number <= revision) return document;
    document = apply(document, inverse as Patch);
  }
  return document;
}
