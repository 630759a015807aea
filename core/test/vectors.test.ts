/** Vectors and the table of rules: held to play, and read by the example in another language. */
import { expect } from 'chai';
import fc from 'fast-check';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { check } from '../src/check/check.ts';
import { randomFrom } from '../src/document/random.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { rulesJsonl } from '../src/formats/tables.ts';
import { vectorsJsonl, vectorsOf } from '../src/formats/vectors.ts';
import { evaluate, type Reading, type Value } from '../src/language/evaluate.ts';
import { treeOf, type Tree } from '../src/language/tree.ts';
import { active } from '../src/play/state.ts';
import { readingOf } from '../src/play/turn.ts';
import { act, beginTrial, choicesOf, playSteps } from '../src/trial/trial.ts';
import { seed } from './support/compare.ts';
import { demo, flowOf, threeLamps } from './support/flows.ts';
import { randomFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const lamps = flowOf(threeLamps);
const flows = [lamps, demo('ferry-rooms'), demo('night-market')];

/** A tree read as its description says (docs/manual/game.md), with nothing of the language. */
function valueOfTree(tree: Tree, reading: Reading): Value {
  if (!Array.isArray(tree)) return tree;
  const [head, ...parts] = tree as [string, ...Tree[]];
  const [name, other] = parts as [string, string | undefined];
  const at = (n: number) => valueOfTree(parts[n]!, reading) as number;
  switch (head) {
    case 'value':
      return reading.variable(name);
    case 'left':
      return reading.left(name);
    case 'taken':
      return reading.count(name) - reading.left(name);
    case 'won':
      return reading.won(name);
    case 'wins':
      return reading.wins(name);
    case 'last':
      return reading.last === name;
    case 'has':
      return reading.has(name as 'next', other);
    case 'saved':
      return reading.saved;
    case 'at':
      return reading.spot === name;
    case 'not':
      return !at(0);
    case 'negative':
      return -at(0);
    case 'and':
      return at(0) && at(1);
    case 'or':
      return at(0) || at(1);
    case '=':
      return at(0) === at(1);
    case '!=':
      return at(0) !== at(1);
    case '<':
      return at(0) < at(1);
    case '<=':
      return at(0) <= at(1);
    case '>':
      return at(0) > at(1);
    case '>=':
      return at(0) >= at(1);
    case '+':
      return at(0) + at(1);
    case '-':
      return at(0) - at(1);
    case '*':
      return at(0) * at(1);
    case 'min':
    case 'max':
      return Math[head](at(0), at(1));
  }
  throw new Error(`no tree begins with ${head}`);
}

describe('trees of conditions', () => {
  it('are as the conditions, in any state', () => {
    let held = 0;
    const holds = (document: FlowDocument) => {
      const random = randomFrom(seed);
      let trial = beginTrial(document);
      for (let n = 0; trial && n < 40; n++) {
        const { flow, state } = trial;
        const { all } = flow.applying(active(state).place, state.stack[0]!.place);
        for (const { condition, holds: also, expressions, rule } of all)
          for (const each of [condition, also, ...expressions])
            if (each && !('choose' in rule.when)) {
              const reading = readingOf(flow, state);
              expect(valueOfTree(treeOf(each), reading)).to.equal(evaluate(each, reading));
              held++;
            }
        const choices = choicesOf(trial);
        if (choices.length === 0) break;
        trial = act(trial, choices[Math.floor(random() * choices.length)]!);
      }
    };
    [...flows, demo('lamplighters-round')].forEach(holds);
    fc.assert(fc.property(randomFlow, holds), { numRuns: randoms(200), seed });
    expect(held).to.be.greaterThan(randoms(2000, 1500));
  });
});

describe('vectors', () => {
  it('go along every route of a report, and every recorded run, and none twice', () => {
    for (const document of [...flows, demo('lamplighters-round-with-faults')]) {
      const report = check(document);
      const vectors = vectorsOf(document, report);
      const walked = vectors.map(({ steps }) => steps.map((step) => JSON.stringify(step.do)));
      const isWalked = (steps: string[]) => walked.some((each) => steps.every((step, n) => each[n] === step));
      for (const { check: name, outcome, route } of report.checks) {
        if (outcome !== 'holds' || !route || !['place-reached', 'level-completable', 'rule-fires'].includes(name)) continue;
        const begins = route[0] && 'start' in route[0] ? [] : ['{"start":true}'];
        // nothing can be said after an event that never settles
        if (!playSteps(document, route)!.trial.lines.every(({ state }) => state)) continue;
        expect(isWalked([...begins, ...route.map((step) => JSON.stringify(step))]), `${document.name} ${name}`).to.equal(true);
      }
      expect(vectors.filter(({ vector }) => vector.startsWith('run '))).to.have.length(Object.keys(document.runs).length);
      expect(
        new Set(vectors.filter(({ vector }) => !vector.startsWith('run ')).map(({ steps }) => JSON.stringify(steps))).size
      ).to.equal(vectors.length - Object.keys(document.runs).length);
      for (const { steps } of vectors) expect(steps[0]!.do).to.have.property('start');
    }
  });

  it('say after each step where play is, with which values', () => {
    const { steps } = vectorsOf(lamps, check(lamps)).find(({ vector }) => vector.endsWith('home2'))!;
    expect(steps.slice(0, 3)).to.deep.equal([
      { do: { start: true }, in: 'title', values: { lives: 2 }, rules: [] },
      { do: { press: 'Begin' }, in: 'quay', values: { lives: 2 }, left: { lamp: 3 }, rules: ['begin'] },
      { do: { touch: 'water' }, in: 'splash', values: { lives: 1 }, rules: ['slip'] }
    ]);
  });
});

describe('the example in Python', () => {
  let folder: string;
  before(() => (folder = mkdtempSync(join(tmpdir(), 'crow-lane-vectors-'))));
  after(() => rmSync(folder, { recursive: true }));

  /** Holds the game that one flow is against the vectors of another. */
  function replayed(game: FlowDocument, expected: FlowDocument) {
    const files = [write(game), rulesJsonl(game), `${vectorsJsonl(expected, check(expected))}\n`].map((text, n) => {
      const name = join(folder, `${n}.json`);
      writeFileSync(name, text);
      return name;
    });
    const { status, stdout, stderr } = spawnSync('python3', ['-B', 'examples/python/replay.py', ...files], { encoding: 'utf8' });
    return { status, stdout, stderr };
  }

  it('finds all as expected where the flow is the same', () => {
    for (const flow of [lamps, demo('ferry-rooms')]) {
      const { status, stdout, stderr } = replayed(flow, flow);
      expect([stderr, status]).to.deep.equal(['', 0]);
      expect(stdout).to.match(/^\d+ vectors, \d+ steps: all as expected\n$/);
    }
  });

  it('tells of a flow that was changed where it first is another', () => {
    const change = (from: string, to: string) =>
      flowOf(JSON.parse(JSON.stringify(threeLamps).replace(from, to)) as typeof threeLamps);
    for (const [changed, told] of [
      [change('"count":3', '"count":4'), 'step 1 {"press": "Begin"}: left is'],
      [change('lives - 1', 'lives - 2'), 'step 2 {"touch": "water"}: in is dark, expected splash'],
      [change('left(lamp) = 0', 'left(lamp) = 1'), 'in is loft, expected quay'],
      [change('"move":"first"', '"move":"last"'), 'in is loft, expected quay'],
      [change('"initial":2', '"initial":1'), "values is {'lives': 1}"],
      [change('lives = 0', 'lives = 9'), 'in is splash, expected dark']
    ] as const) {
      const { status, stdout } = replayed(changed, lamps);
      expect(stdout).to.include(told);
      expect(status).to.equal(1);
    }
  });

  it('says what it does not know', () => {
    const { status, stderr } = replayed(demo('lamplighters-round'), demo('lamplighters-round'));
    expect(stderr).to.include('NotImplementedError');
    expect(status).to.equal(1);
  });
});
