import { changePiece } from '@crow-lane/core/document/edits/parts';
import { renamePlace, setStart } from '@crow-lane/core/document/edits/places';
import { apply, type Change } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { read } from '@crow-lane/core/document/read';
import { expect } from 'chai';
import fc from 'fast-check';
import type { RevisionNote } from '../../src/lib/flow/api.ts';
import { documentAt } from '../../src/lib/flow/history.ts';
import { small } from '../support/small.ts';

const first = read(JSON.stringify(small)).document!;
const edits: ((document: FlowDocument) => Change)[] = [
  (document) => renamePlace(document, 'quay', `${document.places.quay!.name}!`.slice(0, 80)),
  (document) => changePiece(document, 'quay', 'lamp', { count: 7 }),
  (document) => changePiece(document, 'quay', 'lamp', { count: 3 }),
  (document) => setStart(document, 'loft'),
  (document) => setStart(document, 'title')
];

describe('a document as it was', () => {
  it('is the present one with what came later taken back, at every revision', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(edits.length - 1), { maxLength: 12 }), (which) => {
        const documents = [first];
        const notes: RevisionNote[] = [];
        for (const index of which) {
          const now = documents.at(-1)!;
          const { patch, inverse, label } = edits[index]!(now);
          documents.push(apply(now, patch));
          const number = documents.length;
          notes.unshift({ number, editId: String(number), kind: 'edit', label, author: 'Ada', patch, inverse, at: '' });
        }
        documents.forEach((document, index) => expect(documentAt(documents.at(-1)!, notes, index + 1)).to.deep.equal(document));
      }),
      { numRuns: 60 }
    );
  });
});
