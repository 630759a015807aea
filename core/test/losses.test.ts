/** Job by job what a designer forgets about losses and later games: where they lead, and what they leave as it was. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { restsOn } from '../src/check/rests.ts';
import { apply } from '../src/document/patch.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { flowOf } from './support/flows.ts';
import { jobs } from './support/jobs.ts';

const lost = (id: string, go: object, effects?: object[]) => ({
  id,
  when: { touch: 'pit' },
  result: 'lost',
  go,
  ...(effects && { do: effects })
});
const level = (n: number, loss: object) => ({
  name: `Level ${n}`,
  kind: 'level',
  pieces: { pit: { name: 'Pit', kind: 'hazard' }, star: { name: 'Star', kind: 'pickup', count: 2 } },
  rules: [
    { id: `gain${n}`, when: { collect: 'star' }, do: [{ set: 'score', to: 'score + 10' }] },
    { id: `won${n}`, when: { holds: 'left(star) = 0' }, result: 'won', go: { move: 'next', else: { place: 'end' } } },
    loss
  ]
});

/** Two levels; a fall in each leads through a black screen as it is said. */
function game(fall1: object, fall2: object, after: object, arrive: object[] = []): FlowDocument {
  return flowOf({
    variables: { score: { name: 'Score', type: 'number', initial: 0, min: 0, max: 60, scope: 'run' } },
    orders: { main: { name: 'Main', draw: 'fixed', levels: ['l1', 'l2'] } },
    rules: arrive,
    places: {
      title: {
        name: 'Title',
        kind: 'menu',
        rules: [{ id: 'begin', when: { press: 'Begin' }, do: [{ begin: 'run' }], go: { move: 'first', order: 'main' } }]
      },
      l1: level(1, fall1),
      l2: level(2, fall2),
      black: { name: 'Black', kind: 'interlude', rules: [{ id: 'after', when: { after: 1 }, go: after }] },
      end: {
        name: 'The end',
        kind: 'ending',
        outcome: 'won',
        rules: [{ id: 'menu', when: { press: 'Menu' }, go: { place: 'title' } }]
      }
    }
  });
}

const failing = (document: FlowDocument) =>
  check(document)
    .checks.filter(({ check: name, outcome }) => outcome === 'fails' && ['lost-elsewhere', 'gain-kept'].includes(name))
    .map(({ check: name, subject }) => `${name} ${subject}`);
const message = (document: FlowDocument, name: string) =>
  check(document).checks.find((each) => each.check === name && each.outcome === 'fails')!;
const black = { place: 'black' };

describe('a fall in level 2', () => {
  it('that restarts level 1 is told, and starts the lost level again', () => {
    const document = game(lost('fall1', black), lost('fall2', { place: 'l1' }, [{ reset: 'score' }]), { move: 'again' });
    const verdict = message(document, 'lost-elsewhere');
    expect(verdict.message).to.equal('A loss in Level 2 leads to Level 1, not back to the level that was lost.');
    const [fix] = repairsOf(document, verdict);
    expect(fix!.label).to.equal('Start the lost level again instead');
    expect(failing(apply(document, fix!.patch))).to.not.include('lost-elsewhere fall2');
  });

  it('is followed through the screens after it', () => {
    const document = game(lost('fall1', black), lost('fall2', black), { move: 'first' });
    expect(failing(document)).to.include('lost-elsewhere fall2').and.not.include('lost-elsewhere fall1');
    const [fix] = repairsOf(document, message(document, 'lost-elsewhere'));
    expect(failing(apply(document, fix!.patch))).to.not.include('lost-elsewhere fall2');
  });

  it('may end the game, or lead back', () => {
    for (const after of [{ move: 'again' }, { place: 'title' }, { place: 'end' }, { move: 'resume', else: { move: 'first' } }])
      expect(failing(game(lost('fall1', black), lost('fall2', black), after))).to.not.include('lost-elsewhere fall2');
  });
});

describe('a score after a loss', () => {
  it('that keeps what was gained is told, with the rules that do it', () => {
    const document = game(lost('fall1', black), lost('fall2', black), { move: 'again' });
    const verdict = message(document, 'gain-kept');
    expect(verdict.message).to.equal('Score keeps what was gained when one of 2 levels is lost and played again.');
    expect(verdict.why!.map(({ rule }) => rule)).to.have.members(['gain1', 'fall1', 'gain2', 'fall2']);
    const fixes = repairsOf(document, verdict);
    expect(fixes.map(({ label }) => label)).to.deep.equal(['Begin Score with each attempt', 'Reset Score when a level is lost']);
    for (const { patch } of fixes) expect(failing(apply(document, patch))).to.deep.equal([]);
  });

  it('is no news where the loss, the screen after it or the arrival resets it', () => {
    const reset = [{ reset: 'score' }];
    expect(failing(game(lost('fall1', black, reset), lost('fall2', black, reset), { move: 'again' }))).to.deep.equal([]);
    const arrive = [{ id: 'fresh', when: { arrive: true }, do: [{ set: 'score', to: '0' }] }];
    expect(failing(game(lost('fall1', black), lost('fall2', black), { move: 'again' }, arrive))).to.deep.equal([]);
    expect(failing(game(lost('fall1', black), lost('fall2', black), { place: 'title' }))).to.deep.equal([]);
  });
});

describe('a value that is kept', () => {
  const told = (document: FlowDocument, options = {}) => {
    const { outcome, message: text, why = [] } = check(document, options).checks.find((each) => each.check === 'second-game')!;
    return { outcome, text, why: why.map((each) => each.text) };
  };
  const kept = flowOf(jobs.kept);
  /** The same with another list of what Begin does, and something done at the end. */
  const doing = (begin: object[], finish: object[] = []) =>
    flowOf({
      ...kept,
      places: {
        ...kept.places,
        title: { ...kept.places.title, rules: [{ ...kept.places.title!.rules[0]!, do: begin }] },
        end: { ...kept.places.end, rules: [...kept.places.end!.rules, { id: 'finish', when: { arrive: true }, do: finish }] }
      }
    } as Record<string, unknown>);

  it('and changes with what a level of the second game begins is told with both, and can begin with each run', () => {
    expect(told(kept)).to.deep.equal({
      outcome: 'fails',
      text: 'Score is carried into later games: One can begin with other values than in the first game.',
      why: ['One is entered with 0 in the first game, and with 0 to 40 in later games.']
    });
    const verdict = message(kept, 'second-game');
    const [fix] = repairsOf(kept, verdict);
    expect(fix!.label).to.equal('Begin Score with each run');
    const fixed = apply(kept, fix!.patch);
    expect(check(fixed).checks.filter(({ check: name }) => name === 'second-game')).to.deep.equal([]);
  });

  it('is no news where a new game resets it, or only screens show it', () => {
    expect(told(doing([{ begin: 'run' }, { reset: 'score' }])).outcome).to.equal('holds');
    const onlyAtTheEnd = doing([{ reset: 'score' }], [{ set: 'score', to: '40' }]);
    expect(told(onlyAtTheEnd).outcome).to.equal('holds');
  });

  it('is open where the flow is too large, or the first game is not asked for', () => {
    expect(told(kept, { limit: 3 }).outcome).to.equal('open');
    expect(told(kept, { firstGame: false }).outcome).to.equal('open');
  });

  it('stays accepted whatever becomes of the levels', () => {
    const found = message(kept, 'second-game');
    const accepted = {
      ...kept,
      accepted: [{ check: 'second-game', subject: 'score', reason: 'x', rests: restsOn(kept, found) }]
    };
    const places = { ...kept.places, one: { ...kept.places.one!, rules: kept.places.one!.rules.slice(0, 1) } };
    const later = { ...accepted, places: { ...places, two: kept.places.one! } } as FlowDocument;
    expect(check(later).checks.find(({ check: name }) => name === 'accepted-unused')!.message).to.not.contain('has changed');
    const other = { ...accepted, variables: { score: { ...kept.variables.score!, max: 50 } } } as FlowDocument;
    expect(check(other).checks.find(({ check: name }) => name === 'accepted-unused')!.message).to.contain('has changed');
  });
});
