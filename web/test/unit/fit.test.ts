import { changePiece } from '@crow-lane/core/document/edits/parts';
import { renamePlace, setStart } from '@crow-lane/core/document/edits/places';
import { apply, type Change } from '@crow-lane/core/document/patch';
import { read } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { expect } from 'chai';
import fc from 'fast-check';
import { fitEdits, patchOf, snapshotEvery, takenBack } from '../../src/lib/server/fit.ts';
import { small } from '../support/small.ts';

const first = read(JSON.stringify(small)).document!;
const edits: ((document: FlowDocument) => Change)[] = [
  (document) => renamePlace(document, 'quay', `${document.places.quay!.name}!`.slice(0, 80)),
  (document) => changePiece(document, 'quay', 'lamp', { count: 7 }),
  (document) => changePiece(document, 'quay', 'lamp', { count: 3 }),
  (document) => setStart(document, 'loft'),
  (document) => setStart(document, 'title')
];

describe('edits fitted to a document', () => {
  it('are one revision each, in turn, and can all be taken back', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(edits.length - 1), { maxLength: 12 }), (which) => {
        const documents = [first];
        const sent = which.map((index) => {
          const { patch, label } = edits[index]!(documents.at(-1)!);
          documents.push(apply(documents.at(-1)!, patch));
          return { patch: JSON.stringify(patch), label };
        });
        // those that change nothing are never sent
        const real = sent.filter(({ patch }) => patch !== '[]');
        const fit = fitEdits(first, 1, real);
        expect(fit.document).to.deep.equal(documents.at(-1));
        const inverses = fit.results.map((result) => (result.done === 'kept' ? result.inverse : ''));
        expect(JSON.parse(takenBack(JSON.stringify(fit.document), inverses.reverse()))).to.deep.equal(first);
      }),
      { numRuns: 60, seed: 11 }
    );
  });

  it('that do not fit leave the others alone, and say why', () => {
    const rename = (value: unknown) => JSON.stringify([{ op: 'replace', path: '/name', value }]);
    const stale = JSON.stringify([
      { op: 'test', path: '/name', value: 'Another' },
      { op: 'replace', path: '/name', value: 'B' }
    ]);
    const sent = [rename('A'), stale, rename(''), '[', rename('C')].map((patch) => ({ patch, label: 'Edit' }));
    const { results, document } = fitEdits(first, 1, sent);
    expect(results.map(({ done }) => done)).to.deep.equal(['kept', 'conflict', 'invalid', 'invalid', 'kept']);
    expect(results[1]).to.include({ pointer: '/name' });
    expect(results[2]).to.include({ status: 422 });
    expect(results[3]).to.include({ status: 400 });
    expect(document.name).to.equal('C');
  });

  it('keep the whole document now and then', () => {
    const sent = ['A', 'B', 'C', 'D'].map((value) => ({
      patch: JSON.stringify([{ op: 'replace', path: '/name', value }]),
      label: 'Edit'
    }));
    const { snapshots } = fitEdits(first, snapshotEvery - 2, sent);
    expect(snapshots.map(({ number, document }) => [number, document.name])).to.deep.equal([[snapshotEvery, 'B']]);
  });
});

describe('a patch', () => {
  const refusal = (text: string) => {
    const found = patchOf(text);
    return 'done' in found ? [found.status, found.errors[0]?.pointer] : 'taken';
  };
  it('is refused, with the place in the document, where it holds what cannot be kept', () => {
    expect(refusal('[{"op":"replace","path":"/name","value":"\\ud83d"}]')).to.deep.equal([422, '/name']);
    expect(refusal('[{"op":"add","path":"/places/a/look","value":{"b":["\\ude00"]}}]')).to.deep.equal([
      422,
      '/places/a/look/b/0'
    ]);
    expect(refusal('[{"op":"add","path":"/places/a/look","value":{"__proto__":1}}]')).to.deep.equal([
      422,
      '/places/a/look/__proto__'
    ]);
    expect(refusal('[{"op":"add","path":"/__proto__/x","value":1}]')).to.deep.equal([422, '/__proto__/x']);
    expect(refusal('[{"op":"add","path":"/constructor/prototype/x","value":1}]')).to.deep.equal([
      422,
      '/constructor/prototype/x'
    ]);
    const deep = `${'['.repeat(5000)}${']'.repeat(5000)}`;
    expect(refusal(`[{"op":"add","path":"/brief","value":${deep}}]`)).to.have.property('0', 422);
    expect(refusal('nonsense')).to.deep.equal([400, undefined]);
    expect(refusal('[{"op":"replace","path":"/name","value":"\\ud83c\\udfee"}]')).to.equal('taken');
    // an id may be called so
    expect(refusal('[{"op":"add","path":"/places/constructor","value":{}}]')).to.equal('taken');
  });
});
