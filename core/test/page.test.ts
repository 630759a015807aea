/** Pages to play: the whole of a flow that players need, nothing else, and nothing in it that runs. */
import { expect } from 'chai';
import fc from 'fast-check';
import { filled } from '../src/document/fill.ts';
import { readRun } from '../src/document/read.ts';
import { randomFrom } from '../src/document/random.ts';
import { writeRun } from '../src/document/run-file.ts';
import type { FlowDocument } from '../src/document/types.ts';
import type { PagePart } from '../src/formats/flow-list.ts';
import { pageOf, type PageGame } from '../src/formats/page.ts';
import { playable } from '../src/formats/playable.ts';
import { keyOf } from '../src/play/state.ts';
import { runOf } from '../src/trial/recorded.ts';
import { addRun, replayRun } from '../src/trial/runs.ts';
import { act, beginTrial, choicesOf } from '../src/trial/trial.ts';
import { apply } from '../src/document/patch.ts';
import { seed } from './support/compare.ts';
import { demo } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const flows = ['lamplighters-round', 'lamplighters-round-with-faults', 'ferry-rooms', 'night-market'].map(demo);
const template = '<title>%title%</title><script type="application/json">%game%</script>';

/** What a page plays, as it reads it. */
function gameOf(document: FlowDocument, shows: PagePart[] = ['values', 'map']): PageGame {
  const [, json] = /<script type="application\/json">(.*)<\/script>$/s.exec(pageOf(document, template, shows))!;
  return JSON.parse(json!) as PageGame;
}

/** All states of a game of some events, as texts. */
function statesOf(document: FlowDocument, events: number): string[] {
  const random = randomFrom(seed);
  let trial = beginTrial(document);
  const states: string[] = [];
  for (let n = 0; trial && n < events; n++) {
    states.push(keyOf(trial.state));
    const choices = choicesOf(trial);
    if (choices.length === 0) break;
    trial = act(trial, choices[Math.floor(random() * choices.length)]!);
  }
  return states;
}

describe('a page to play', () => {
  it('plays as the flow does', () => {
    const holds = (document: FlowDocument) => {
      const states = statesOf(document, 80);
      expect(statesOf(filled(gameOf(document).flow), 80)).to.deep.equal(states);
      return states.length;
    };
    for (const document of flows) expect(holds(document)).to.be.greaterThan(20);
    fc.assert(
      fc.property(randomFlow, (document) => void holds(document)),
      { numRuns: randoms(100), seed }
    );
  });

  it('has nothing in it that a designer notes', () => {
    const noted = structuredClone(demo('lamplighters-round'));
    const secret = 'only for us';
    noted.brief = secret;
    for (const place of Object.values(noted.places)) {
      Object.assign(place, { brief: secret, tags: [secret], look: { secret }, expects: ['true'] });
      for (const rule of place.rules) rule.note = secret;
      if (place.kind !== 'level') continue;
      for (const map of [place.pieces, place.entries, place.spots, place.passages])
        for (const thing of Object.values(map)) thing.brief = secret;
    }
    for (const map of [noted.variables, noted.numbers, noted.signals, noted.orders, noted.groups])
      for (const thing of Object.values(map)) thing.brief = secret;
    for (const rule of [...noted.rules, ...Object.values(noted.groups).flatMap(({ rules }) => rules)]) rule.note = secret;
    expect(JSON.stringify(noted)).to.include(secret);
    expect(JSON.stringify(playable(noted))).not.to.include(secret);
    expect(pageOf(noted, template, [])).not.to.include(secret);
    expect(playable(noted).runs).to.deep.equal({});
    // an id that is called like a note is none
    const document = structuredClone(demo('ferry-rooms'));
    document.variables.note = { name: 'Note', scope: 'run', type: 'flag', initial: false };
    expect(playable(document).variables.note).to.deep.equal(document.variables.note);
  });

  it('holds any name as it is, and nothing of it is markup', () => {
    const odd = ['</script><script>alert(1)</script>', '<!--<script>', '%game%%title%$&$1', '\u2028\u2029"\\', '&lt;'];
    for (const name of odd) {
      const page = pageOf({ ...demo('ferry-rooms'), name }, template, ['map']);
      expect(page.match(/<\/?(?:script|title)/g)).to.have.length(4);
      const game = gameOf({ ...demo('ferry-rooms'), name });
      expect([game.flow.name, game.id]).to.deep.equal([name, name]);
    }
  });

  it('shows what it was asked to, with a place on the map for each of the flow', () => {
    for (const document of flows) {
      const { map, shows } = gameOf(document);
      expect(shows).to.deep.equal({ values: true });
      expect(Object.keys(map!.tiles).sort()).to.deep.equal(Object.keys(document.places).sort());
      for (const [x, y, width, height] of Object.values(map!.tiles))
        expect(x >= 0 && y >= 0 && x + width <= map!.width && y + height <= map!.height).to.equal(true);
    }
    expect(Object.keys(gameOf(flows[0]!, []))).to.deep.equal(['id', 'shows', 'insides', 'flow']);
  });
});

describe('what a player did', () => {
  const document = demo('ferry-rooms');
  const random = randomFrom(seed);
  let trial = beginTrial(document)!;
  for (let n = 0; n < 12; n++) {
    const choices = choicesOf(trial);
    trial = act(trial, choices[Math.floor(random() * choices.length)]!);
  }
  const text = writeRun(document.name, runOf(trial, 'Where I got stuck')!);

  it('comes back as a run that goes as recorded', () => {
    const { file } = readRun(text);
    const change = addRun(document, file!.run);
    const after = apply(document, change.patch);
    expect(after.runs[change.id]!.name).to.equal('Where I got stuck');
    expect(replayRun(after, after.runs[change.id]!)).to.deep.equal({ goes: 'as recorded' });
  });

  it('is refused where it is none, with where that is', () => {
    const refused = (changed: string) => readRun(changed).errors?.map(({ pointer, line }) => `${line} ${pointer}`);
    expect(refused('{"format": "crow-lane"}')).to.deep.equal(['1 /format']);
    expect(refused('[')).to.deep.equal(['1 ']);
    expect(refused('null')).to.deep.equal(['1 /format']);
    expect(refused(text.replace('"name"', '"nahme"'))).to.have.length(2);
    expect(readRun(text.replace(/"in": "\w+"/, '"in": "No"')).errors![0]!.pointer).to.match(/^\/run\/steps\/0\/then\/in$/);
    expect(readRun(text.replace('"steps": [', '"steps": [{"__proto__": 1},')).errors).to.have.length(1);
  });
});
