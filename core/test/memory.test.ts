import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { Memory } from '../src/check/memory.ts';
import type { FlowDocument, Level } from '../src/document/types.ts';
import { documentFrom } from './support/flows.ts';
import { long } from './support/everyday.ts';

const text = readFileSync(join(__dirname, '../../demo/lamplighters-round.crow.json'), 'utf8');
const demo = (): FlowDocument => documentFrom(text);

/** Checks with one memory, and counts how often the flow was explored, and its first game. */
function remembering() {
  const memory = new Memory();
  let explored = 0;
  let firstGames = 0;
  return {
    explored: () => explored,
    firstGames: () => firstGames,
    check: (document: FlowDocument, limit = 200_000) =>
      check(document, {
        limit,
        memory,
        explorer: (...given) => {
          if (Object.hasOwn(given[0].document.places, 'copy_1')) firstGames++;
          else explored++;
          return explorePacked(...given);
        }
      })
  };
}

describe('the memory of a check', () => {
  it('explores once what only has other words, and says the new ones', () => {
    const { check: again, explored, firstGames } = remembering();
    again(demo());
    const document = demo();
    document.name = 'Another name';
    for (const place of Object.values(document.places)) place.name = `${place.name}, renamed`;
    for (const rule of document.rules) rule.note = 'why';
    document.accepted = [{ check: 'never-stuck', subject: 'nobody', reason: 'meant' }];
    expect(again(document)).to.deep.equal(check(document));
    expect([explored(), firstGames()]).to.deep.equal([1, 1]);
    expect(again(document).checks.some(({ message }) => message.includes(', renamed'))).to.equal(true);
  });

  long('explores again whatever play could see, whatever it is called', () => {
    const edits: ((document: FlowDocument) => void)[] = [
      ({ places }) => (Object.values(places).find((place): place is Level => place.kind === 'level')!.goal = 'leave'),
      ({ variables }) => (variables['name'] = { name: 'Name', type: 'flag', initial: false, scope: 'run' }),
      ({ variables }) => (variables['name'] = { name: 'Name', type: 'flag', initial: true, scope: 'run' }),
      ({ rules }) => rules.pop(),
      ({ places }) => (Object.values(places)[0]!.rules[0]!.if = 'false'),
      ({ places }) => Object.values(places)[0]!.rules.push({ id: 'more', when: { press: 'Name' } }),
      ({ places }) => (Object.values(places)[0]!.rules.at(-1)!.when = { press: 'Another' })
    ];
    const { check: again, explored } = remembering();
    let document = demo();
    again(document);
    edits.forEach((edit, index) => {
      document = structuredClone(document);
      edit(document);
      expect(again(document)).to.deep.equal(check(document));
      expect(explored()).to.equal(index + 2);
    });
    again(document, 150_000);
    expect(explored()).to.equal(edits.length + 2);
  });

  it('keeps nothing that was cut', () => {
    const { check: again, explored } = remembering();
    const document = demo();
    expect(again(document, 100).complete).to.equal(false);
    again(document, 100);
    expect(explored()).to.equal(2);
  });
});
