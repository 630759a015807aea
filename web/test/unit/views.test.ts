import { expect } from 'chai';
import { filled } from '@crow-lane/core/document/fill';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { layout } from '@crow-lane/core/lane/layout';
import { lengthOf, spansOf, transitionWords } from '../../src/lib/parts/transition.ts';
import { neighbour } from '../../src/lib/lane/walk.ts';
import { tileWords } from '../../src/lib/lane/words.ts';
import { ago, verdictWords } from '../../src/lib/parts/shelf-words.ts';
import { small } from '../support/small.ts';

const document = filled(structuredClone(small) as unknown as FlowDocument);

describe('shelf: words', () => {
  const item = (summary: object | null, revision = 3) => ({
    id: 'x',
    name: 'X',
    revision: 3,
    places: 4,
    levels: 2,
    changedAt: '2030-01-01T00:00:00Z',
    verdict: summary && {
      revision,
      summary: { complete: true, levels: 2, completable: 2, places: 4, reached: 4, failing: 0, open: 0, ...summary }
    }
  });
  it('say what was found, and when nothing is known of this revision', () => {
    expect(verdictWords(item({}))).to.deep.equal({ text: 'all levels can be completed, all places reached', look: 'won' });
    expect(verdictWords(item({ failing: 1, completable: 1, reached: 3 })).text).to.equal(
      '1 finding, 1 of 2 levels can be completed, 3 of 4 places reached'
    );
    expect(verdictWords(item({ failing: 2 })).text).to.equal('2 findings');
    expect(verdictWords(item({ open: 5 })).look).to.equal('plain');
    expect(verdictWords(item({ places: 0 })).text).to.equal('empty');
    expect(verdictWords(item({}, 2)).text).to.include('not checked');
    expect(verdictWords(item(null)).text).to.include('not checked');
  });

  it('say how long ago something was', () => {
    const now = Date.parse('2030-06-15T12:00:00Z');
    const at = (minutes: number) => ago(new Date(now - minutes * 60_000), now);
    expect([at(0), at(5), at(60 * 5)]).to.deep.equal(['just now', '5 min ago', '5 h ago']);
    expect(at(60 * 24 * 40)).to.equal('6 May 2030');
  });
});

describe('lane: walking', () => {
  const lane = layout(document);
  it('goes along a row and to the nearest in the next', () => {
    expect(neighbour(lane, 'quay', 'ArrowRight')).to.equal('loft');
    expect(neighbour(lane, 'loft', 'ArrowRight')).to.equal(undefined);
    expect(neighbour(lane, 'loft', 'Home')).to.equal('quay');
    expect(neighbour(lane, 'quay', 'End')).to.equal('loft');
    expect(neighbour(lane, 'quay', 'ArrowDown')).to.equal('title');
    // there is no interlude, so up leads on to the endings
    expect(neighbour(lane, 'loft', 'ArrowUp')).to.equal('aglow');
    expect(neighbour(lane, 'aglow', 'ArrowUp')).to.equal(undefined);
  });

  it('begins somewhere when nothing is selected, and nowhere in an empty flow', () => {
    expect(neighbour(lane, undefined, 'ArrowRight')).to.be.a('string');
    expect(neighbour(layout(filled({ ...document, places: {}, orders: {} })), undefined, 'ArrowLeft')).to.equal(undefined);
  });
});

describe('lane: words', () => {
  it('say how one gets on from a screen', () => {
    expect([tileWords(document, 'title'), tileWords(document, 'aglow')]).to.deep.equal(['1 button', 'won · 1 button']);
    const other = filled({
      ...document,
      places: {
        a: { name: 'A', kind: 'menu', rules: [{ id: 'x', when: { press: 'Done' }, go: { move: 'back' } }], expects: [] },
        b: { name: 'B', kind: 'interlude', rules: [{ id: 'y', when: { after: 3 }, go: { place: 'a' } }], expects: [] },
        c: { name: 'C', kind: 'menu', rules: [], expects: [] }
      }
    });
    expect(['a', 'b', 'c'].map((id) => tileWords(other, id))).to.deep.equal(['1 button · back', 'after 3 s', 'no rules yet']);
  });
});

describe('transitions: words', () => {
  it('say what takes time, and what is heard', () => {
    expect(transitionWords({ style: 'fade', out: 0.3, in: 0.2 })).to.equal('fading over 0.5 s');
    expect(transitionWords({ style: 'cut', wait: 2 })).to.equal('after 2 s');
    expect(transitionWords({ style: 'cut' })).to.equal('at once');
    expect(transitionWords({ style: 'iris', wait: 1, hold: 1, sound: 'gust', music: 'fade' })).to.equal(
      'after 1 s, by a closing circle over 1 s, with the sound gust, the music fades'
    );
  });
  it('share one line of time', () => {
    const by = { style: 'fade', wait: 1, out: 0.5, in: 0.5 } as const;
    expect(lengthOf(by)).to.equal(2);
    expect(spansOf(by)).to.deep.equal([
      { part: 'wait', share: 0.5 },
      { part: 'out', share: 0.25 },
      { part: 'hold', share: 0 },
      { part: 'in', share: 0.25 }
    ]);
    expect(spansOf({ style: 'cut' }).every(({ share }) => share === 0)).to.equal(true);
  });
});
