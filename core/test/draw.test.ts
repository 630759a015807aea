/** Plans are drawn, read from grids, merged, judged and walked. */
import { expect } from 'chai';
import fc from 'fast-check';
import { addLevels } from '../src/document/edits/levels.ts';
import { removeEntry } from '../src/document/edits/lists.ts';
import { removePiece } from '../src/document/edits/parts.ts';
import { removePlan, setMovement, setPlan } from '../src/document/edits/plan.ts';
import { apply, Conflict, rebase } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { Cell, FlowDocument, Level, Plan, PlanPatrol } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { check } from '../src/check/check.ts';
import { planSvg } from '../src/formats/plan-svg.ts';
import { reportHtml } from '../src/formats/report-html.ts';
import { Automaton, out, type Place } from '../src/plan/automaton.ts';
import { emptyPlan, fillCells, lineCells, mirrored, movedPart, partCells, resized, stamped, thingsAt } from '../src/plan/draw.ts';
import { derive, nothingFollows } from '../src/plan/derive.ts';
import { TooMany } from '../src/plan/places.ts';
import { faultsOf, mildFaults, tooClose } from '../src/plan/fits.ts';
import { Ground } from '../src/plan/ground.ts';
import { planShapes } from '../src/plan/picture.ts';
import { reachFrom } from '../src/plan/reach.ts';
import { csvOf, drawnFrom, gridOf, textOf, TooLarge, unknownIn } from '../src/plan/text.ts';
import { movementIn, usualMovement } from '../src/plan/types.ts';
import { tick, wayTo, type Keys } from '../src/plan/walk.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { countOf } from '../src/vocabulary/pieces.ts';
import { conditionWords, ruleWords } from '../src/words/words.ts';
import { compare, seed } from './support/compare.ts';
import { flowOf } from './support/flows.ts';
import { randomPlan } from './support/random-plan.ts';

const street = (plan?: Plan): FlowDocument =>
  flowOf({
    places: {
      quay: {
        name: 'Quay',
        kind: 'level',
        entries: { front: { name: 'the front' } },
        pieces: {
          lamp: { name: 'Lamp', kind: 'pickup', ...(!plan && { count: 7 }) },
          gust: { name: 'Gust', kind: 'hazard' }
        },
        ...(plan && { plan }),
        rules: [{ id: 'w', when: { holds: 'all(lamp)' }, go: { place: 'end' }, result: 'won' }]
      },
      end: { name: 'End', kind: 'ending', outcome: 'won' }
    }
  });
const levelOf = (document: FlowDocument) => document.places.quay as Level & { plan: Plan };
const planOf = (...rows: string[]): Plan => ({ view: 'side', rows });

describe('drawing a plan', () => {
  it('stamps ground, one piece a cell, an entry in one place, and takes away what stands there first', () => {
    let plan = emptyPlan('side', 6, 4);
    expect(plan.rows).to.deep.equal(['#....#', '#....#', '#....#', '######']);
    plan = stamped(
      plan,
      [
        [1, 2],
        [2, 2]
      ],
      { piece: 'lamp' }
    );
    plan = stamped(plan, [[2, 2]], { piece: 'gust' });
    expect(plan.things).to.deep.equal({
      lamp: { piece: 'lamp', cells: [[1, 2]] },
      gust: { piece: 'gust', cells: [[2, 2]] }
    });
    plan = stamped(
      plan,
      [
        [1, 2],
        [3, 2]
      ],
      { entry: 'front' }
    );
    expect(plan.things!.front).to.deep.equal({ entry: 'front', cell: [3, 2] });
    plan = stamped(
      plan,
      [
        [3, 1],
        [3, 2]
      ],
      { gate: 'taken(lamp) >= 1' }
    );
    expect(thingsAt(plan, [3, 2]).map(({ id }) => id)).to.deep.equal(['front', 'gate']);
    const bare = stamped(plan, [[2, 2]], { nothing: true });
    expect(bare.things).not.to.have.property('gust');
    expect(stamped(bare, [[0, 0]], { nothing: true }).rows[0]).to.equal('.....#');
    // outside of the rows nothing is drawn
    expect(stamped(plan, [[9, 9]], { ground: '#' })).to.equal(plan);
  });

  it('runs along lines, over rectangles, and fills what hangs together', () => {
    expect(lineCells([0, 0], [3, 1])).to.deep.equal([
      [0, 0],
      [1, 0],
      [2, 1],
      [3, 1]
    ]);
    expect(lineCells([2, 2], [2, 2])).to.deep.equal([[2, 2]]);
    expect(partCells({ from: [2, 1], to: [1, 0] })).to.have.length(4);
    const plan = planOf('#####', '#.#.#', '#.#.#', '#####');
    expect(fillCells(plan, [1, 1]).sort().join(' ')).to.equal('1,1 1,2');
    expect(fillCells(plan, [9, 9])).to.deep.equal([]);
  });

  it('mirrors and moves a part with all that stands in it', () => {
    let plan: Plan = { view: 'above', rows: ['#.>..', '.....'] };
    plan = stamped(plan, [[1, 0]], { piece: 'lamp' });
    plan = { ...plan, links: { l: { from: [1, 0], to: [4, 1] } } };
    const turned = mirrored(plan, { from: [0, 0], to: [2, 0] });
    expect(turned.rows).to.deep.equal(['<.#..', '.....']);
    expect(turned.things).to.deep.equal({ lamp: { piece: 'lamp', cells: [[1, 0]] } });
    const moved = movedPart(plan, { from: [0, 0], to: [1, 0] }, [3, 1]);
    expect(moved.rows).to.deep.equal(['..>..', '...#.']);
    expect(moved.things).to.deep.equal({ lamp: { piece: 'lamp', cells: [[4, 1]] } });
    expect(moved.links!.l).to.deep.equal({ from: [4, 1], to: [4, 1] });
    // what would go outside is lost
    expect(movedPart(plan, { from: [1, 0], to: [1, 0] }, [0, -1]).things).to.deep.equal({});
  });

  it('becomes larger and smaller', () => {
    const plan = stamped(planOf('##', '##'), [[1, 1]], { piece: 'lamp' });
    expect(resized(plan, 3, 3).rows).to.deep.equal(['##.', '##.', '...']);
    expect(resized({ ...plan, links: { a: { from: [0, 0], to: [1, 1] } } }, 1, 2).links).to.deep.equal({});
    expect(resized(plan, 1, 1).things).to.deep.equal({});
    expect(resized(plan, 999, 999).rows[0]).to.have.length(240);
  });

  it('makes the pieces of the level as many as are drawn, and leaves as many when none is drawn any longer', () => {
    const before = street();
    const drawn = apply(
      before,
      setPlan(
        before,
        'quay',
        stamped(
          planOf('....', '####'),
          [
            [1, 0],
            [2, 0]
          ],
          { piece: 'lamp' }
        ),
        'x'
      ).patch
    );
    expect(countOf(levelOf(drawn).pieces.lamp!)).to.equal(2);
    expect(validate(drawn).errors).to.equal(undefined);
    const { plan } = levelOf(drawn);
    const bare = setPlan(
      drawn,
      'quay',
      stamped(
        plan,
        [
          [1, 0],
          [2, 0]
        ],
        { nothing: true }
      ),
      'x'
    );
    expect(countOf(levelOf(apply(drawn, bare.patch)).pieces.lamp!)).to.equal(2);
    const first = setPlan(before, 'quay', plan, 'x');
    expect(apply(drawn, first.inverse)).to.deep.equal(before);
    // what followed from the plan can stay without it
    const kept = apply(drawn, removePlan(drawn, 'quay').patch);
    expect(levelOf(kept).plan).to.equal(undefined);
    expect(Object.keys(levelOf(kept).spots)).to.deep.equal(Object.keys(levelOf(drawn).spots));
    expect(read(write(kept)).document).to.deep.equal(kept);
  });

  it('goes with the pieces and entries that are deleted', () => {
    let plan = stamped(planOf('....', '####'), [[1, 0]], { piece: 'lamp' });
    plan = { ...stamped(plan, [[0, 0]], { entry: 'front' }), below: 'gust' };
    const document = street(plan);
    const without = (change: { patch: Parameters<typeof apply>[1] }) => levelOf(apply(document, change.patch)).plan;
    expect(without(removePiece(document, 'quay', 'lamp')).things).not.to.have.property('lamp');
    expect(without(removePiece(document, 'quay', 'gust'))).not.to.have.property('below');
    expect(without(removeEntry(document, 'quay', 'front')).things).not.to.have.property('front');
  });

  it('merges what two people draw in one row and of one piece, and refuses the same cell', () => {
    const plan = stamped(planOf('......', '######'), [[5, 0]], { piece: 'lamp' });
    const document = street(plan);
    const draw = (cells: Cell[], stamp: Parameters<typeof stamped>[2]) =>
      setPlan(document, 'quay', stamped(levelOf(document).plan, cells, stamp), 'x');
    const mine = draw([[1, 0]], { ground: '-' });
    const theirs = apply(document, draw([[3, 0]], { ground: '#' }).patch);
    const both = apply(theirs, rebase(mine.patch, theirs));
    expect(levelOf(both).plan.rows[0]).to.equal('.-.#..');
    // and mine alone can be taken back
    expect(levelOf(apply(both, rebase(mine.inverse, both))).plan.rows[0]).to.equal('...#..');
    expect(() => rebase(draw([[3, 0]], { ground: '|' }).patch, theirs)).to.throw(Conflict);
    // the same drawn by both is no quarrel
    expect(
      levelOf(
        apply(
          theirs,
          rebase(
            draw(
              [
                [3, 0],
                [4, 0]
              ],
              { ground: '#' }
            ).patch,
            theirs
          )
        )
      ).plan.rows[0]
    ).to.equal('...##.');

    const lamps = apply(document, draw([[0, 0]], { piece: 'lamp' }).patch);
    const more = apply(lamps, rebase(draw([[2, 0]], { piece: 'lamp' }).patch, lamps));
    expect(countOf(levelOf(more).pieces.lamp!)).to.equal(3);
    const fewer = apply(lamps, rebase(draw([[5, 0]], { nothing: true }).patch, lamps));
    expect(levelOf(fewer).plan.things!.lamp).to.deep.equal({ piece: 'lamp', cells: [[0, 0]] });
  });

  it('goes along with a level that is made after it, as a copy of its own', () => {
    const document = street(stamped(planOf('....', '####'), [[1, 0]], { piece: 'lamp' }));
    const made = addLevels(document, undefined, 1, 'Quay #', 'quay');
    const both = apply(document, made.patch);
    const copy = made.ids[0]!;
    const at = (now: FlowDocument, id: string) => (now.places[id] as Level).plan!.rows[0];
    expect(at(both, copy)).to.equal('....');
    const drawn = apply(
      both,
      setPlan(both, copy, stamped((both.places[copy] as Level).plan!, [[3, 0]], { ground: '#' }), 'x').patch
    );
    expect([at(drawn, copy), at(drawn, 'quay')]).to.deep.equal(['...#', '....']);
  });

  it('moves the player as a level says, or all do', () => {
    const document = street(planOf('....', '####'));
    const all = apply(document, setMovement(document, undefined, { side: { up: 4 } }).patch);
    expect(movementIn(all, levelOf(all)).side).to.include({ up: 4, across: 3 });
    const own = apply(all, setMovement(all, 'quay', { side: { up: 1 } }).patch);
    expect(movementIn(own, levelOf(own)).side.up).to.equal(1);
    const back = apply(own, setMovement(own, 'quay', undefined).patch);
    expect(back).to.deep.equal(all);
    expect(validate(own).errors).to.equal(undefined);
  });
});

describe('a plan as text', () => {
  const document = street();
  const level = levelOf(document);

  it('is read back as it was, whatever stands on whatever ground', () => {
    let drawn = 0;
    for (const view of ['above', 'side'] as const)
      fc.assert(
        fc.property(randomPlan(view), ({ plan }) => {
          const text = textOf(level, plan);
          drawn += Object.keys(plan.things ?? {}).length;
          expect(drawnFrom(gridOf(text), level, plan)).to.deep.equal(plan);
          const rows = gridOf(csvOf(level, plan));
          expect(rows.map((row) => row.join('')).join('\n')).to.equal(text);
        }),
        { numRuns: 150, seed }
      );
    expect(drawn).to.be.greaterThan(300);
  });

  it('changes what is typed and leaves the rest, with the ground beneath', () => {
    const plan = stamped(planOf('|...', '####'), [[0, 0]], { piece: 'lamp' });
    expect(textOf(level, plan)).to.equal('L...\n####');
    const typed = drawnFrom(gridOf('L.L.\n##.#'), level, plan);
    expect(typed.rows).to.deep.equal(['|...', '##.#']);
    // what is typed over is gone; what a grid from elsewhere does not speak of stays
    const gone = [false, true].map((isOwn) => drawnFrom(gridOf('....\n####'), level, plan, isOwn).things);
    expect(gone).to.deep.equal([plan.things, {}]);
    expect(typed.things!.lamp).to.deep.equal({
      piece: 'lamp',
      cells: [
        [0, 0],
        [2, 0]
      ]
    });
  });

  it('asks what characters and words of other grids mean, and keeps the answer', () => {
    const plan = planOf('#');
    const cells = gridOf('wall;wall;wall\r\nwall;;lamp\r\n');
    expect([...unknownIn(cells, level, plan)]).to.deep.equal([
      ['wall', 4],
      [' ', 1],
      ['lamp', 1]
    ]);
    const reads = { wall: '#', ' ': '.', lamp: { piece: 'lamp' } };
    const drawn = drawnFrom(cells, level, { ...plan, reads });
    expect(drawn.rows).to.deep.equal(['###', '#..']);
    expect(drawn.things).to.deep.equal({ lamp: { piece: 'lamp', cells: [[2, 1]] } });
    expect(unknownIn(gridOf('wall;lamp'), level, drawn).size).to.equal(0);
    const kept = apply(document, setPlan(document, 'quay', drawn, 'x').patch);
    expect(read(write(kept)).document).to.deep.equal(kept);
    expect(() => drawnFrom([Array.from({ length: 241 }, () => '.')], level, plan)).to.throw(TooLarge);
  });

  it('keeps rows of unequal length as they are', () => {
    expect(drawnFrom(gridOf('..\n....\n###'), level, planOf('#')).rows).to.deep.equal(['..', '....', '###']);
  });
});

describe('whether a plan fits', () => {
  const judged = (plan: Plan) => {
    const document = street(plan);
    return faultsOf(document, levelOf(document));
  };
  const good = (): Plan => {
    let plan = stamped(emptyPlan('side', 8, 4), [[1, 2]], { entry: 'front' });
    plan = stamped(plan, [[3, 2]], { piece: 'lamp' });
    return stamped(plan, [[5, 2]], { piece: 'gust' });
  };
  /** With a patrol through points that are written as "2,1 5,1". */
  const patrolling =
    (along: string, fields: Partial<PlanPatrol> = {}) =>
    (plan: Plan): Plan => {
      const points = along.split(' ').map((point) => point.split(',').map(Number) as Cell);
      return { ...plan, patrols: { p: { piece: 'gust', points, turn: 'back', speed: 2, ...fields } } };
    };
  const cases: [string, (plan: Plan) => Plan, string][] = [
    [
      'uneven rows',
      (plan) => ({ ...plan, rows: plan.rows.map((row, y) => (y === 1 ? '#..' : row)) }),
      'Row 1 has 3 cells and the widest row 8'
    ],
    [
      'no ground',
      (plan) => ({ ...plan, rows: plan.rows.map((row, y) => (y === 1 ? '#..?..?#' : row)) }),
      '“?” at 3, 1 and 6, 1 is no ground'
    ],
    ['no such thing', (plan) => stamped(plan, [[6, 2]], { piece: 'bell' }), 'The plan places bell, which Quay does not have.'],
    ['not placed', (plan) => stamped(plan, [[5, 2]], { nothing: true }), 'Gust is not placed. It counts as everywhere.'],
    [
      'no footing',
      (plan) => stamped(plan, [[2, 1]], { entry: 'front' }),
      'The player arrives at the front, 2, 1, and cannot stand there.'
    ],
    [
      'outside',
      (plan) => ({
        ...plan,
        things: {
          ...plan.things,
          lamp: {
            piece: 'lamp',
            cells: [
              [3, 2],
              [9, 9]
            ]
          }
        }
      }),
      'Lamp at 9, 9 is outside of the plan.'
    ],
    ['in solid ground', (plan) => stamped(plan, [[3, 2]], { ground: '#' }), 'Lamp at 3, 2 is in solid ground.'],
    [
      'two in a cell',
      (plan) => ({ ...plan, things: { ...plan.things, gust: { piece: 'gust', cells: [[3, 2]] } } }),
      'Lamp and Gust stand in one cell at 3, 2.'
    ],
    ['trapdoor', (plan) => stamped(plan, [[4, 1]], { gate: 'taken(lamp) >= 1' }), 'A gate at 4, 1 is a trapdoor'],
    [
      'link',
      (plan) => ({ ...plan, links: { a: { from: [2, 0], to: [3, 2] } } }),
      'A link begins at 2, 0, where the player cannot stand.'
    ],
    ['no such thing', patrolling('2,1 5,1', { piece: 'bell' }), 'bell patrols, which Quay does not have.'],
    ['no patrol', patrolling('2,1 5,1', { piece: 'lamp' }), 'Lamp: it is a pickup, and only foes and hazards patrol.'],
    ['no speed', patrolling('2,1 5,1', { speed: 'slow' }), 'Gust: there is no number “slow” for its speed.'],
    ['patrol blocked', patrolling('2,1 9,1'), 'Gust: point 2 is outside of the plan.'],
    ['patrol blocked', patrolling('2,1 2,3 3,1'), 'Gust: point 2 is in solid ground at 2, 3.'],
    [
      'patrol blocked',
      (plan) => patrolling('2,1 6,1')(stamped(plan, [[4, 1]], { ground: '#' })),
      'Gust: it goes through solid ground at 4, 1.'
    ],
    [
      'patrol blocked',
      (plan) => patrolling('2,2 6,2')(stamped(plan, [[4, 2]], { gate: 'taken(lamp) >= 1' })),
      'Gust: it goes through a gate at 4, 2; foes open none.'
    ],
    ['idle point', patrolling('2,1 2,1 5,1'), 'Gust: point 2 is where point 1 is: it is skipped.'],
    ['idle point', patrolling('2,1 5,1 2,1', { turn: 'round' }), 'Gust: point 3 is where point 1 is: it is skipped.'],
    ['idle point', patrolling('2,1'), 'Gust: it has one point and stands still.']
  ];

  it('tells nothing of one that does', () => expect(judged(good())).to.deep.equal([]));

  for (const [is, spoil, words] of cases)
    it(`tells of ${is} (“${words}”), with its cells, and offers what makes it right`, () => {
      const plan = spoil(good());
      const fault = judged(plan).find((each) => each.is === is)!;
      expect(fault.text).to.include(words);
      const document = street(plan);
      const verdict = check(document).checks.find((each) => each.check === 'plan-fits')!;
      expect(verdict).to.include({
        outcome: 'fails',
        severity: mildFaults.includes(fault.is) ? 'warning' : 'error',
        subject: 'quay'
      });
      if (is === 'link') return;
      const offers = repairsOf(document, verdict);
      expect(offers.length, 'offers').to.be.greaterThan(0);
      const fixed = apply(document, offers[0]!.patch);
      expect(faultsOf(fixed, levelOf(fixed)).filter((each) => each.is === is)).to.deep.equal([]);
    });

  it('bears ten thousand things, and too many spots', () => {
    const cells = partCells({ from: [0, 0], to: [99, 99] });
    const plan = stamped({ view: 'above', rows: Array.from({ length: 100 }, () => '.'.repeat(100)) }, cells, { piece: 'lamp' });
    const document = street(plan);
    expect(countOf(levelOf(document).pieces.lamp!)).to.equal(10_000);
    expect(validate(document).errors).to.equal(undefined);
    // rooms without a door between them, each with a lamp
    const rooms: Plan = {
      view: 'above',
      rows: Array.from({ length: 40 }, (_, y) => (y % 2 === 0 ? '.#'.repeat(20) : '#'.repeat(40)))
    };
    const lamps = partCells({ from: [0, 0], to: [39, 39] }).filter(([x, y]) => x % 2 === 0 && y % 2 === 0);
    const many = street(stamped(rooms, lamps, { piece: 'lamp' }));
    expect(Object.keys(levelOf(many).spots)).to.deep.equal(['s0_0']);
    expect(countOf(levelOf(many).pieces.lamp!)).to.equal(400);
    expect(faultsOf(many, levelOf(many)).map(({ text }) => text)).to.include(
      '400 spots follow from the plan. More than 256 are not looked at: all of it counts as one spot now.'
    );
  }).timeout(60_000);

  it('looks at no more places than there is room for, and says so', () => {
    const drawn = {
      plan: stamped(emptyPlan('side', 60, 40), [[5, 5]], { piece: 'lamp' }),
      movement: { ...usualMovement, side: { speed: 4, up: 20, across: 20, drop: 20, tall: 1 } },
      acts: new Set<string>()
    };
    expect(derive(drawn, {}, 20_000)).to.deep.equal(nothingFollows(new TooMany('places')));
    // a jump as high and as far on less ground is derived
    const small = { ...drawn, plan: stamped(emptyPlan('side', 6, 4), [[3, 1]], { piece: 'lamp' }) };
    expect(Object.keys(derive(small).spots)).to.have.length(1);
  }).timeout(60_000);

  it('looks at no more leads than can be held against each other, and says so', () => {
    const hall = Array.from({ length: 12 }, (_, y) => (y === 11 ? '#'.repeat(40) : `#${'.'.repeat(38)}#`));
    // a jump over some of thirty things that each do something else
    const pieces = Array.from({ length: 30 }, (_, n) => `thing_${n}`);
    const plan = pieces.reduce((now, piece, n): Plan => stamped(now, [[2 + n, 10]], { piece }), {
      view: 'side',
      rows: hall
    } as Plan);
    const derived = derive({ plan, movement: usualMovement, acts: new Set(pieces) });
    expect(derived).to.deep.equal(nothingFollows(new TooMany('leads')));
    const things = Object.fromEntries(pieces.map((id) => [id, { name: id, kind: 'hazard' }]));
    const whole = flowOf({ places: { quay: { name: 'Quay', kind: 'level', pieces: things, plan, rules: [] } } });
    expect(faultsOf(whole, levelOf(whole)).map(({ text }) => text)).to.include(
      'So many different things can be touched on a jump or a fall that not all orders of them can be looked at: all of it counts as one spot now.'
    );
    // of the same thing there can be as many as there is room for
    const same = stamped(
      { view: 'side', rows: hall },
      pieces.map((_, n): Cell => [2 + n, 10]),
      { piece: 'gust' }
    );
    expect(derive({ plan: same, movement: usualMovement, acts: new Set(['gust']) }).tooMany).to.equal(undefined);
  }).timeout(120_000);

  it('tells of pieces side by side where nearly all others keep apart', () => {
    const cells = partCells({ from: [1, 1], to: [11, 9] }).filter(([x, y]) => x % 2 === 1 && y % 2 === 1);
    const plan: Plan = { view: 'above', rows: Array.from({ length: 11 }, () => '.'.repeat(13)) };
    const close = stamped(plan, [...cells, [2, 1]], { piece: 'lamp' });
    expect(tooClose(levelOf(street(stamped(plan, cells, { piece: 'lamp' })))).size).to.equal(0);
    expect(tooClose(levelOf(street(close))).get('lamp')).to.deep.equal([
      [1, 1],
      [3, 1],
      [2, 1]
    ]);
    const document = street(close);
    const verdict = check(document, { limit: 10 }).checks.find((each) => each.check === 'too-close')!;
    expect(verdict.message).to.equal('Quay: Lamp × 3 side by side at 1, 1; 3, 1 and 2, 1; all others keep apart.');
    const [offer] = repairsOf(document, verdict);
    expect(tooClose(levelOf(apply(document, offer!.patch))).get('lamp')).to.have.length(2);
  });
});

describe('walking a plan', () => {
  const automatonOf = (plan: Plan) => new Automaton(new Ground({ plan, movement: usualMovement, acts: new Set() }));

  it('says where the player gets from a cell, and what is missing for the rest', () => {
    const plan: Plan = {
      view: 'side',
      rows: ['#########', '#...#...#', '#...#...#', '#########', '#.......#', '#########'],
      things: { g: { gate: 'taken(key) >= 1', cells: [[4, 2]] } },
      links: {}
    };
    const open = stamped(plan, [[4, 2]], { ground: '.' });
    const reach = reachFrom(automatonOf(open), [1, 2])!;
    expect(reach.stands.sort().join(' ')).to.equal('1,2 2,2 3,2');
    expect(reach.behind).to.deep.equal([{ asks: ['taken(key) >= 1'], more: 3 }]);
    expect(reach.never).to.equal(7);
    expect(reach.falls).to.equal(false);
    expect(reachFrom(automatonOf(open), [0, 0])).to.equal(undefined);
    expect(reachFrom(automatonOf(planOf('..', '..')), [0, 0])!.falls).to.equal(true);
  });

  it('does not say of more conditions what fewer of them give', () => {
    const plan = planOf('.....', '.....', '.....', '..###', '.....', '.....', '.....', '#####');
    const abilities = {
      boots: { name: 'Boots', if: 'taken(boots) >= 1', up: 4 },
      kite: { name: 'Kite', if: 'taken(kite) >= 1', across: 5 }
    };
    const automaton = new Automaton(new Ground({ plan, movement: { ...usualMovement, abilities }, acts: new Set() }));
    expect(reachFrom(automaton, [0, 6])!.behind).to.deep.equal([{ asks: ['taken(boots) >= 1'], more: 3 }]);
  });

  it('goes, jumps, climbs and falls as keys are held', () => {
    const automaton = automatonOf(planOf('.....|..', '...--|..', '.....|..', '########'));
    const { ground } = automaton;
    const ticks = (from: Cell, ...held: Keys[]) => {
      let place: Place | typeof out | undefined = { cell: ground.at(...from)! };
      for (const keys of held) if (place && place !== out) place = tick(automaton, place, keys, () => true) ?? place;
      return place === out || !place ? out : [...ground.cellOf(place.cell), place.air ? 'air' : 'stands'];
    };
    expect(ticks([0, 2], { right: true })).to.deep.equal([1, 2, 'stands']);
    expect(ticks([0, 2], { left: true })).to.deep.equal([0, 2, 'stands']);
    expect(ticks([0, 2], { up: true })).to.deep.equal([0, 1, 'air']);
    expect(ticks([0, 2], { up: true }, {}, {})).to.deep.equal([0, 2, 'stands']);
    expect(ticks([5, 2], { up: true }, { up: true })).to.deep.equal([5, 0, 'stands']);
    expect(ticks([5, 0], { down: true })).to.deep.equal([5, 1, 'stands']);
    // up and across onto the ledge
    expect(ticks([1, 2], { up: true, right: true }, { up: true, right: true }, { right: true }, {})).to.deep.equal([
      3,
      0,
      'stands'
    ]);
    expect(
      tick(automatonOf(planOf('#.', '..')), { cell: 1, air: { rise: 0, across: 0, fallen: 1 } }, {}, () => true)
    ).to.deep.include({
      cell: 3
    });
    expect(tick(automatonOf(planOf('#.')), { cell: 1, air: { rise: 0, across: 0, fallen: 0 } }, {}, () => true)).to.equal(out);
  });

  it('finds a way to every cell that can be come to, each of its steps a move', () => {
    let ways = 0;
    for (const view of ['above', 'side'] as const)
      fc.assert(
        fc.property(randomPlan(view), (drawn) => {
          const automaton = new Automaton(new Ground(drawn));
          const { ground } = automaton;
          const cells = Array.from({ length: ground.width * ground.height }, (_, cell) => cell);
          const start = cells.find((cell) => ground.isFooting(...ground.cellOf(cell)));
          if (start === undefined) return;
          const reach = reachFrom(automaton, ground.cellOf(start))!;
          const closed = (asks: readonly string[]) => asks.length === 0;
          const come = new Set([...reach.stands, ...reach.air].map(String));
          for (const cell of cells) {
            const to = ground.cellOf(cell);
            const way = wayTo(automaton, { cell: start }, to, closed);
            if (ground.isFooting(...to) || !way) expect(way !== undefined, `${to}`).to.equal(come.has(String(to)));
            let at: Place = { cell: start };
            for (const next of way ?? []) {
              ways++;
              const codes = automaton
                .movesFrom(at)
                .flatMap((move) => (move === out || !closed(move.asks) ? [] : [automaton.codeOf(move.to)]));
              expect(codes).to.include(automaton.codeOf(next));
              at = next;
            }
          }
        }),
        { numRuns: 60, seed }
      );
    expect(ways).to.be.greaterThan(500);
  });
});

describe('areas of a plan in rules', () => {
  /** Two rooms in one area and a third beyond, each left only to the right; the key stands in the second. */
  const rooms = (win: object) =>
    flowOf({
      start: 'yard',
      signals: { bell: { name: 'Bell' } },
      variables: { rung: { name: 'Rung', type: 'number', scope: 'attempt', initial: 0, min: 0, max: 9 } },
      places: {
        yard: {
          name: 'Yard',
          kind: 'level',
          pieces: { key: { name: 'Key', kind: 'pickup' } },
          plan: {
            view: 'above',
            rows: ['..>..>..>..'],
            things: { key: { piece: 'key', cells: [[4, 0]] } },
            areas: { court: { name: 'Court', from: [3, 0], to: [7, 0] } }
          },
          rules: [
            { id: 'w', ...win, go: { place: 'end' }, result: 'won' },
            { id: 'r', when: { reach: 'court' }, do: [{ set: 'rung', to: 'rung + 1' }] }
          ]
        },
        end: {
          name: 'End',
          kind: 'ending',
          outcome: 'won',
          rules: [{ id: 'm', when: { press: 'Again' }, go: { place: 'yard' } }]
        }
      }
    });

  it('stand for all spots in them, for both engines and in words', () => {
    const document = rooms({ when: { holds: 'at(court) and taken(key) = 1' } });
    const { spots } = document.places.yard as Level;
    expect(Object.values(spots).filter(({ area }) => area === 'court').length).to.be.greaterThan(1);
    expect(compare(document, 5000)).to.equal(true);
    const report = check(document);
    const outcome = (name: string, subject: string) =>
      report.checks.find((each) => each.check === name && each.subject === subject)?.outcome;
    expect([outcome('level-completable', 'yard'), outcome('rule-fires', 'r'), outcome('rule-fires', 'w')]).to.deep.equal(
      Array.from({ length: 3 }, () => 'holds')
    );
    // coming in rings once, whatever spot it is; going on within it does not
    expect(report.arrivals.end!.rung).to.deep.equal({ min: 1, max: 1 });
    expect(conditionWords(document, { place: 'yard' }, 'at(court)')).to.equal('the player is at Court');
    expect(ruleWords(document, { place: 'yard' }, document.places.yard!.rules[1]!)).to.include('Court is reached');
    expect(read(write(document)).document).to.deep.equal(document);
  });

  it('that no ground lies in are never come to', () => {
    const document = rooms({ when: { holds: 'at(court)' } });
    const plan = {
      ...(document.places.yard as Level).plan!,
      areas: { court: { name: 'Court', from: [0, 5], to: [1, 6] } as const }
    };
    const now = apply(document, setPlan(document, 'yard', plan as unknown as Plan, 'x').patch);
    expect(compare(now, 5000)).to.equal(true);
    expect(check(now).checks.find((each) => each.check === 'level-completable')!.outcome).to.equal('fails');
  });
});

describe('the picture of a plan', () => {
  it('draws only what is in sight, and all of it as SVG that names cannot break', () => {
    const plan = stamped(
      emptyPlan('side', 40, 30),
      [
        [2, 2],
        [35, 20]
      ],
      { piece: 'lamp' }
    );
    const document = street(plan);
    const level = { ...levelOf(document), name: 'A <b> & "c"' };
    const some = planShapes(level, plan, { from: [0, 0], to: [9, 9] });
    expect(some.filter(({ is }) => is === 'text')).to.have.length(1);
    expect(planShapes(level, plan).length).to.be.greaterThan(some.length);
    const svg = planSvg(level, plan, { size: 10, marked: [[2, 2]] });
    expect(svg).to.include('width="400" height="300"').and.to.include('<title>A &lt;b&gt; &amp; &quot;c&quot;</title>');
    expect(svg.match(/<text /g)).to.have.length(2);
    expect(svg).to.include('<rect x="20" y="20" width="10" height="10" fill="none" stroke="#e39a12"');
    // and in the page to print, with what is found
    const spoilt = street(stamped(plan, [[2, 2]], { ground: '#' }));
    const page = reportHtml(spoilt, check(spoilt), { date: new Date(0) });
    expect(page).to.include('<h2>Plans</h2>').and.to.include('Lamp at 2, 2 is in solid ground.');
    expect(page.match(/stroke-width="3"/g)).to.have.length(1);
  });
});
