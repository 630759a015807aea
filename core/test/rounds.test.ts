/** Patrols between spots: who gets past them, held against a search second by second; their edits, shape and fixes. */
import { expect } from 'chai';
import fc from 'fast-check';
import { check } from '../src/check/check.ts';
import { movePiece, removeSpot, setRounds, setStanding } from '../src/document/edits/ground.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import { write } from '../src/document/write.ts';
import type { FlowDocument, Id, Level, Passage, Rounds } from '../src/document/types.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { crossRounds, roundsOf, Timetable, type Round } from '../src/times/rounds.ts';
import { seed } from './support/compare.ts';
import { flowOf } from './support/flows.ts';

const spotIds = ['a', 'b', 'c', 'd', 'e'];

function levelWith(passages: Passage[]): Level {
  const spots = Object.fromEntries(spotIds.map((id) => [id, { name: id.toUpperCase() }]));
  const level = { name: 'L', kind: 'level', entries: {}, pieces: {}, spots, passages: {}, objectives: {}, rules: [] };
  passages.forEach((passage, n) => ((level.passages as Record<Id, Passage>)[`p${n}`] = passage));
  return level as unknown as Level;
}

/** Second by second: in which spots the player can be at some time. */
function plainly(level: Level, rounds: Round[], period: number): Set<Id> {
  const at = ({ stops }: Round, second: number): Id => {
    const whole = stops.reduce((sum, { seconds }) => sum + seconds, 0);
    let left = second % whole;
    return stops.find(({ seconds }) => (left -= seconds) < 0)!.spot;
  };
  const isTaken = (spot: Id, second: number) => rounds.some((round) => at(round, second) === spot);
  const found = new Set<string>();
  const queue: [Id, number][] = isTaken('a', 0) ? [] : [['a', 0]];
  for (const [spot, second] of queue) {
    const add = (to: Id, when: number) => {
      const key = `${to} ${when % period}`;
      if (isTaken(to, when) || found.has(key)) return;
      found.add(key);
      queue.push([to, when % period]);
    };
    found.add(`${spot} ${second}`);
    add(spot, second + 1);
    for (const { from, to, both } of Object.values(level.passages)) {
      if (from === spot) add(to, second);
      if (both && to === spot) add(from, second);
    }
  }
  return new Set([...found].map((key) => key.split(' ')[0]!));
}

describe('patrols between spots', () => {
  it('are passed exactly where a search second by second gets past them', () => {
    const seen = { blocked: 0, passed: 0, met: 0, two: 0 };
    const spot = fc.constantFrom(...spotIds);
    const round = fc.array(fc.record({ spot, seconds: fc.integer({ min: 1, max: 3 }) }), { minLength: 1, maxLength: 4 });
    const passage = fc.record({ from: spot, to: spot, both: fc.constantFrom(true as const, undefined) });
    fc.assert(
      fc.property(
        fc.array(passage, { minLength: 2, maxLength: 7 }),
        fc.array(round, { minLength: 1, maxLength: 2 }),
        (passages, all) => {
          const level = levelWith(passages.map(({ both, ...ends }) => ({ ...ends, ...(both && { both }) })));
          const rounds = all.map((stops, n): Round => ({ id: `r${n}`, piece: 'moth', stops }));
          const table = new Timetable(rounds);
          const reached = plainly(level, rounds, table.period / 1000);
          const free = plainly(level, [{ id: '', piece: '', stops: [{ spot: 'nowhere', seconds: 1 }] }], 1);
          const lost = [...free].filter((each) => !reached.has(each)).sort();
          const { outcome, lost: found, pass } = crossRounds(level, null, table, new Set());
          expect((found?.spots ?? []).map((name) => name.toLowerCase()).sort()).to.deep.equal(lost);
          expect(outcome === 'met').to.equal(reached.size === 0);
          if (outcome === 'blocked') seen.blocked++;
          if (outcome === 'met') seen.met++;
          if (rounds.length > 1) seen.two++;
          if (outcome !== 'passed') return;
          seen.passed++;
          const waited = pass!.waits.reduce((sum, { seconds }) => sum + seconds, 0);
          expect(waited).to.equal(pass!.seconds);
        }
      ),
      { numRuns: 2000, seed }
    );
    expect(Math.min(...Object.values(seen))).to.be.greaterThan(50);
  });

  /** A yard, a walk of two parts in which a moth goes up and down, and a loft with the lamp behind it. */
  function walk(at: unknown, more: { shed?: true; rules?: object[] } = {}): FlowDocument {
    const passages: Record<Id, object> = {
      yard_west: { from: 'yard', to: 'west', both: true },
      west_east: { from: 'west', to: 'east', both: true },
      east_loft: { from: 'east', to: 'loft', both: true },
      ...(more.shed && {
        west_shed: { from: 'west', to: 'shed', both: true },
        shed_east: { from: 'shed', to: 'east', both: true }
      })
    };
    const names = ['yard', 'west', 'east', 'loft', ...(more.shed ? ['shed'] : [])];
    return flowOf({
      version: 2,
      start: 'walk',
      places: {
        walk: {
          name: 'Walk',
          kind: 'level',
          spots: Object.fromEntries(names.map((id) => [id, { name: `The ${id}` }])),
          passages,
          pieces: { lamp: { name: 'Lamp', kind: 'pickup', at: { loft: 1 } }, moth: { name: 'Moth', kind: 'foe', at } },
          rules: [
            { id: 'w', when: { holds: 'all(lamp)' }, go: { place: 'end' }, result: 'won' },
            { id: 'l', when: { touch: 'moth' }, go: { move: 'again' }, result: 'lost' },
            ...(more.rules ?? [])
          ]
        },
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      }
    });
  }
  const rounds = (turn: Rounds['turn'], ...stops: [Id, number][]) => [
    { spots: stops.map(([spot]) => spot), patrol: { turn, seconds: stops.map(([, seconds]) => seconds) } }
  ];
  const told = (document: FlowDocument, subject = 'walk/moth') =>
    check(document).checks.find((each) => each.check === 'patrol-passable' && each.subject === subject);

  it('are told where nobody gets past them, with a fix that has been tried', () => {
    const document = walk(rounds('back', ['west', 2], ['east', 3]));
    const verdict = told(document)!;
    expect(verdict.message).to.equal('Moth cannot be passed in Walk without meeting it: 1 Lamp is out of reach.');
    expect(verdict.why).to.deep.equal([{ text: 'Behind it: 1 Lamp.' }]);
    const [fix] = repairsOf(document, verdict);
    expect(fix!.label).to.equal('Let Moth stay at The west');
    const longer = walk(rounds('back', ['west', 2], ['east', 2], ['loft', 2]));
    expect(repairsOf(longer, told(longer)!)[0]!.label).to.equal('Let Moth leave out The east');
  });

  it('are told with how long the player waits, and where', () => {
    const verdict = told(walk(rounds('back', ['west', 2], ['east', 3]), { shed: true }))!;
    expect(verdict.outcome).to.equal('holds');
    expect(verdict.message).to.equal(
      'Moth can be passed in Walk: 5 s after arrival, having waited 2 s at The yard, then 3 s at The shed.'
    );
    const fought = walk(rounds('back', ['west', 2], ['east', 3]), { rules: [{ id: 'f', when: { defeat: 'moth' } }] });
    expect(told(fought)!.message).to.equal('Moth can be passed in Walk once it is defeated.');
    const home = walk(rounds('round', ['yard', 1], ['west', 1]));
    expect(told(home)!.message).to.equal('Moth is where the player arrives in Walk.');
  });

  it('have so many seconds for each of their spots', () => {
    const document = walk(rounds('back', ['west', 2], ['east', 3]));
    expect(read(write(document)).document).to.deep.equal(document);
    const wrong = structuredClone(document) as unknown as {
      places: { walk: { pieces: { moth: { at: { patrol: Rounds }[] } } } };
    };
    wrong.places.walk.pieces.moth.at[0]!.patrol.seconds = [1, 2, 3];
    expect(
      validate(wrong)
        .errors!.map(({ message }) => message)
        .join()
    ).to.include('patrols with other than one number of seconds for each of its spots');
  });

  it('begin, go on and end by edits that can be taken back', () => {
    const document = walk({ west: 1 });
    const stops = [
      { spot: 'west', seconds: 2 },
      { spot: 'east', seconds: 3 },
      { spot: 'loft', seconds: 1 }
    ];
    const change = setRounds(document, 'walk', 'moth', stops, 'back');
    const patrolled = apply(document, change.patch);
    expect(roundsOf(patrolled.places.walk as Level)[0]!.stops.map(({ spot }) => spot)).to.deep.equal([
      'west',
      'east',
      'loft',
      'east'
    ]);
    expect(write(apply(patrolled, change.inverse))).to.equal(write(document));
    const mothOf = (now: FlowDocument) => (now.places.walk as Level).pieces.moth!.at;
    const gone = apply(patrolled, removeSpot(patrolled, 'walk', 'east').patch);
    expect(mothOf(gone)).to.deep.equal([{ spots: ['west', 'loft'], n: 1, patrol: { turn: 'back', seconds: [2, 1] } }]);
    const moved = apply(patrolled, movePiece(patrolled, 'walk', 'moth', 'yard', 'east').patch);
    expect(mothOf(moved)).to.deep.equal([
      { spots: ['west', 'yard', 'loft'], n: 1, patrol: { turn: 'back', seconds: [2, 3, 1] } }
    ]);
    const still = apply(gone, removeSpot(gone, 'walk', 'west').patch);
    expect(mothOf(still)).to.deep.equal({ loft: 1 });
    const more = apply(patrolled, setStanding(patrolled, 'walk', 'moth', 'yard', 2).patch);
    expect(roundsOf(more.places.walk as Level).map(({ id }) => id)).to.deep.equal(['moth#0']);
    expect(told(more, 'walk/moth#0')!.outcome).to.equal('fails');
    const ended = apply(patrolled, setRounds(patrolled, 'walk', 'moth', stops.slice(0, 1), 'back').patch);
    expect(mothOf(ended)).to.deep.equal({ west: 1 });
  });
});
