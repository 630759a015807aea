import { expect } from 'chai';
import { prepare } from '../src/play/flow.ts';
import { begin, handle } from '../src/play/handle.ts';
import { keyOf } from '../src/play/state.ts';
import type { FittingRule } from '../src/play/fit.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

/** A player in a document of these places, whose title menu has the given rules. */
function play(places: Record<string, unknown>, rest: Record<string, unknown> = {}): Player {
  return new Player(flowOf({ places, ...rest }));
}
const menu = (...rules: unknown[]) => ({
  name: 'Menu',
  kind: 'menu',
  rules: rules.map((rule, n) => ({ id: `m${n}_${count++}`, ...(rule as object) }))
});
const level = (rules: unknown[] = [], rest: object = {}) => ({
  name: 'Level',
  kind: 'level',
  rules: rules.map((rule, n) => ({ id: `l${n}_${count++}`, ...(rule as object) })),
  ...rest
});
let count = 0;
const number = (scope: string, rest: object = {}) => ({ name: 'N', type: 'number', initial: 0, min: 0, max: 99, scope, ...rest });
const lamp = (rest: object = {}) => ({ name: 'Lamp', kind: 'pickup', ...rest });
const collect = { collect: 'lamp' };
const time = { time: true } as const;

describe('play: the worked example', () => {
  it('is won and lost as the page tells', () => {
    const won = new Player(flowOf(threeLamps)).press('Begin');
    expect(won.at).to.equal('quay');
    won.do(collect, collect).do({ touch: 'water' });
    expect([won.at, won.value('lives')]).to.deep.equal(['splash', 1]);
    won.do(time);
    expect([won.at, won.left('lamp')]).to.deep.equal(['quay', 3]);
    won.do(collect, collect, collect);
    expect(won.at).to.equal('loft');
    won.do(collect, collect);
    expect(won.at).to.equal('aglow');
    const lost = new Player(flowOf(threeLamps)).press('Begin').do({ touch: 'water' }, time, { touch: 'water' });
    expect(lost.at).to.equal('dark');
    expect(lost.press('Title').press('Begin').value('lives')).to.equal(0);
  });
});

describe('play: what can happen', () => {
  const pieces = {
    lamp: lamp({ count: 2 }),
    moth: { name: 'Moth', kind: 'foe' },
    gust: { name: 'Gust', kind: 'hazard' },
    stairs: { name: 'Stairs', kind: 'exit' },
    shrine: { name: 'Shrine', kind: 'checkpoint' },
    lever: { name: 'Lever', kind: 'switch' },
    bench: { name: 'Bench', kind: 'other' }
  };
  it('lists labels once, each piece by its kind, whether or not a rule listens', () => {
    const player = play({
      title: level([{ when: { press: 'Go' } }, { when: { press: 'Go' } }, { when: { press: 'Stop' } }], { pieces })
    });
    expect(player.events).to.deep.equal([
      { press: 'Go' },
      { press: 'Stop' },
      collect,
      { touch: 'moth' },
      { defeat: 'moth' },
      { touch: 'gust' },
      { touch: 'stairs' },
      { touch: 'shrine' },
      { touch: 'lever' },
      { touch: 'bench' }
    ]);
    player.do({ defeat: 'moth' }, collect, collect);
    expect(player.events).not.to.deep.include({ touch: 'moth' }).and.not.to.deep.include(collect);
  });

  it('needs a player who is up to touch, collect and defeat foes', () => {
    const runner = { name: 'Runner', kind: 'player', count: 2 };
    const player = play({ title: level([], { pieces: { runner, moth: pieces.moth, lamp: pieces.lamp } }) });
    expect(player.events).to.deep.equal([{ defeat: 'runner' }, { touch: 'moth' }, { defeat: 'moth' }, collect]);
    player.do({ defeat: 'runner' });
    expect(player.events).to.have.length(4);
    player.do({ defeat: 'runner' });
    expect(player.events).to.deep.equal([]);
  });

  it('lets deadlines pass in order, rules of one deadline together, whatever their conditions', () => {
    const variables = { n: number('run') };
    const player = play(
      {
        title: menu(
          { when: { after: 5 }, do: [{ set: 'n', to: 'n + 10' }] },
          { when: { after: 2 }, if: 'n > 0', do: [{ set: 'n', to: '50' }] },
          { when: { after: 5 }, do: [{ set: 'n', to: 'n + 1' }] }
        )
      },
      { variables }
    );
    player.do(time);
    expect(player.value('n')).to.equal(0);
    player.do(time);
    expect(player.value('n')).to.equal(11);
    expect(player.events).to.deep.equal([]);
  });

  it('offers levels whose condition holds for them', () => {
    const orders = { main: { name: 'Main', draw: 'fixed', levels: ['one', 'gone', 'two', 'three'] } };
    const win = { when: { press: 'Win' }, go: { place: 'title' }, result: 'won' };
    const player = play(
      {
        title: menu({ when: { choose: 'main' }, if: 'won(previous) or won(it)', go: { move: 'chosen' } }),
        one: level([win]),
        two: level([win]),
        three: level([win])
      },
      { orders }
    );
    const offered = () => player.events.map((event) => (event as { choose: string }).choose);
    expect(offered()).to.deep.equal(['one']);
    player.do(player.events[0]!).press('Win');
    // "gone" is no level: it keeps its place, is never offered and never won, and so bars the one behind it
    expect(offered()).to.deep.equal(['one']);
  });
});

describe('play: rules', () => {
  it('reads own rules, then the group’s, then the flow’s, until one leaves', () => {
    const note = (text: string) => [{ set: 'n', to: `n * 10 + ${text}` }];
    const player = play(
      {
        title: level([{ when: { press: 'A' }, do: note('1') }], { group: 'g' }),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      },
      {
        variables: { n: number('run', { max: 9999 }) },
        groups: { g: { name: 'G', rules: [{ id: 'g1', when: { press: 'A' }, do: note('2') }] } },
        rules: [
          { id: 'f1', when: { press: 'A' }, if: 'n = 12', do: note('3'), go: { place: 'end' } },
          { id: 'f2', when: { press: 'A' }, do: note('4') }
        ]
      }
    ).press('A');
    expect([player.at, player.value('n')]).to.deep.equal(['end', 123]);
  });

  it('does not read rules that name a piece the bottom level lacks', () => {
    const rules = [{ id: 'f1', when: { press: 'Win' }, if: 'left(lamp) = 1', go: { place: 'end' }, result: 'won' }];
    const end = { name: 'End', kind: 'ending', outcome: 'won' };
    expect(play({ title: level([], { pieces: { lamp: lamp() } }), other: level(), end }, { rules }).events).to.deep.include({
      press: 'Win'
    });
    expect(play({ title: level(), other: level([], { pieces: { lamp: lamp() } }), end }, { rules }).events).to.deep.equal([]);
  });

  it('clamps what is assigned', () => {
    const player = play(
      {
        title: menu(
          { when: { press: 'Up' }, do: [{ set: 'n', to: 'n * 50 + 3' }] },
          { when: { press: 'Down' }, do: [{ set: 'n', to: '0 - 7' }] }
        )
      },
      { variables: { n: number('run', { min: -2 }) } }
    );
    expect(player.press('Up').value('n')).to.equal(3);
    expect(player.press('Up').value('n')).to.equal(99);
    expect(player.press('Down').value('n')).to.equal(-2);
  });

  it('handles signals first in first out, after the rules of the event', () => {
    const note = (text: string) => ({ set: 'n', to: `n * 10 + ${text}` });
    const player = play(
      {
        title: menu(
          { when: { press: 'A' }, do: [{ raise: 'x' }, { raise: 'y' }, note('1')] },
          { when: { press: 'A' }, do: [note('2')] },
          { when: { hear: 'x' }, do: [note('3'), { raise: 'z' }] },
          { when: { hear: 'y' }, do: [note('4')] },
          { when: { hear: 'z' }, do: [note('5')] }
        )
      },
      { variables: { n: number('run', { max: 99999 }) }, signals: { x: { name: 'X' }, y: { name: 'Y' }, z: { name: 'Z' } } }
    ).press('A');
    expect(player.value('n')).to.equal(12345);
  });

  it('takes along the signals of the rule that leaves and drops those that waited before', () => {
    const player = play(
      {
        title: menu(
          { when: { press: 'A' }, do: [{ raise: 'x' }] },
          { when: { press: 'A' }, do: [{ raise: 'y' }], go: { place: 'next' } }
        ),
        next: menu(
          { when: { arrive: true }, do: [{ set: 'n', to: 'n + 1' }] },
          { when: { hear: 'x' }, do: [{ set: 'n', to: 'n + 10' }] },
          { when: { hear: 'y' }, do: [{ set: 'n', to: 'n * 50' }] }
        )
      },
      { variables: { n: number('run') }, signals: { x: { name: 'X' }, y: { name: 'Y' } } }
    ).press('A');
    expect(player.value('n')).to.equal(50);
  });

  it('fires a holds rule when it becomes true, again only after it was false, and at once when true on arrival', () => {
    const player = play(
      {
        title: menu(
          { when: { press: 'Up' }, do: [{ set: 'n', to: 'n + 1' }] },
          { when: { press: 'Zero' }, do: [{ set: 'n', to: '0' }] },
          { when: { holds: 'n >= 2' }, do: [{ set: 'm', to: 'm + 1' }] },
          { when: { holds: 'n = 0' }, do: [{ set: 'm', to: 'm + 10' }] }
        )
      },
      { variables: { n: number('run'), m: number('run') } }
    );
    expect(player.value('m')).to.equal(10);
    expect(player.press('Up', 'Up', 'Up').value('m')).to.equal(11);
    expect(player.press('Zero', 'Up', 'Up').value('m')).to.equal(22);
  });

  it('makes another pass while a pass fires', () => {
    const player = play(
      {
        title: menu(
          { when: { holds: 'n = 1' }, do: [{ set: 'n', to: '2' }] },
          { when: { press: 'A' }, do: [{ set: 'n', to: '3' }] },
          { when: { holds: 'n = 3' }, do: [{ set: 'n', to: '1' }] }
        )
      },
      { variables: { n: number('run') } }
    );
    expect(player.press('A').value('n')).to.equal(2);
  });

  it('stops at the 201st rule, whose effects do not happen', () => {
    const document = flowOf({
      variables: { n: number('kept', { max: 9999 }) },
      signals: { x: { name: 'X' } },
      places: {
        title: menu(
          { when: { press: 'A' }, do: [{ raise: 'x' }] },
          { when: { hear: 'x' }, do: [{ set: 'n', to: 'n + 1' }, { raise: 'x' }] }
        )
      }
    });
    const player = new Player(document);
    const seen: unknown[] = [];
    const { results } = handle(player.flow, player.state, { press: 'A' }, () => ({
      unsettled: (rule: FittingRule, turn) => seen.push(rule.rule.when, turn.state.kept.n)
    }));
    expect(results.map(({ state }) => state)).to.deep.equal([undefined]);
    expect(seen).to.deep.equal([{ hear: 'x' }, 199]);
  });
});

describe('play: moving', () => {
  const orders = { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three'] } };
  const walk = [
    { when: { press: 'Next' }, go: { move: 'next' } },
    { when: { press: 'Previous' }, go: { move: 'previous' } },
    { when: { press: 'Last' }, go: { move: 'last' } },
    { when: { press: 'Again' }, go: { move: 'again' } }
  ];
  const levels = () => ({ one: level(walk), two: level(walk), three: level(walk) });

  it('walks an order', () => {
    const player = play({ title: menu({ when: { press: 'Begin' }, go: { move: 'next' } }), ...levels() }, { orders }).press(
      'Begin'
    );
    const seen = ['Next', 'Next', 'Previous', 'Last', 'Again'].map((label) => player.press(label).at);
    expect(seen).to.deep.equal(['two', 'three', 'two', 'three', 'three']);
  });

  it('strands where there is no next: no move, but the effects have happened', () => {
    const variables = { n: number('run') };
    const stranded: string[] = [];
    const places = {
      title: level([{ when: { press: 'Next' }, do: [{ set: 'n', to: '5' }], go: { move: 'next' }, result: 'won' }])
    };
    const player = play(places, { variables, orders: { main: { name: 'Main', draw: 'fixed', levels: ['title'] } } });
    const [result] = handle(player.flow, player.state, { press: 'Next' }, () => ({
      stranded: ({ id }) => stranded.push(id)
    })).results;
    expect(stranded).to.have.length(1);
    expect(result!.state).to.deep.include({ run: { n: 5 }, won: {} });
  });

  it('uses the otherwise', () => {
    const go = { move: 'next', else: { place: 'end' } };
    const player = play(
      { title: level([{ when: { press: 'Next' }, go, result: 'won' }]), end: { name: 'End', kind: 'ending', outcome: 'won' } },
      { orders: { main: { name: 'Main', draw: 'fixed', levels: ['title'] } } }
    ).press('Next');
    expect(player.at).to.equal('end');
    expect(player.state.won).to.deep.equal({ title: true });
  });

  it('opens over and comes back to what was paused, clocks and all', () => {
    const player = play({
      title: level(
        [
          { when: { after: 9 }, do: [] },
          { when: { press: 'Pause' }, go: { place: 'pause', over: true } }
        ],
        { pieces: { lamp: lamp({ count: 3 }) } }
      ),
      pause: menu(
        { when: { press: 'Options' }, go: { place: 'pause', over: true } },
        { when: { press: 'Back' }, go: { move: 'back' } },
        { when: { press: 'Again' }, go: { move: 'again' } }
      )
    });
    player.do(collect, time).press('Pause', 'Options', 'Options');
    expect(player.state.stack).to.have.length(4);
    const before = keyOf(player.state);
    // a fifth frame does not resolve
    expect(keyOf(player.press('Options').state)).to.equal(before);
    player.press('Back', 'Back', 'Back');
    expect([player.at, player.left('lamp'), player.events.length]).to.deep.equal(['title', 2, 2]);
    player.press('Pause', 'Again');
    expect([player.state.stack.length, player.left('lamp')]).to.deep.equal([1, 3]);
  });

  it('reads no arrive rules on coming back', () => {
    const player = play(
      {
        title: menu(
          { when: { arrive: true }, do: [{ set: 'n', to: 'n + 1' }] },
          { when: { press: 'Over' }, go: { place: 'pause', over: true } }
        ),
        pause: menu({ when: { press: 'Back' }, go: { move: 'back' } })
      },
      { variables: { n: number('run') } }
    );
    expect(player.press('Over', 'Back').value('n')).to.equal(1);
  });

  it('enters at the entry named, else the default, and again where it was', () => {
    const entries = { door: { name: 'Door' }, roof: { name: 'Roof' } };
    const player = play(
      {
        title: menu(
          { when: { press: 'Roof' }, go: { place: 'one', entry: 'roof' } },
          { when: { press: 'Any' }, go: { place: 'one' } },
          { when: { press: 'No' }, go: { place: 'one', entry: 'cellar' } }
        ),
        one: level([{ when: { press: 'Again' }, go: { move: 'again' } }], { entries })
      },
      {}
    );
    expect(player.press('No').at).to.equal('title');
    expect(player.press('Roof', 'Again').state.latest).to.deep.equal({ level: 'one', entry: 'roof' });
    const other = new Player(player.flow.document).press('Any');
    expect(other.state.latest).to.deep.equal({ level: 'one', entry: 'door' });
  });

  it('cannot open a level over another place', () => {
    const player = play({ title: menu({ when: { press: 'Go' }, go: { place: 'one', over: true } }), one: level() }).press('Go');
    expect(player.at).to.equal('title');
  });

  it('takes the current order before the one that lists the level', () => {
    const two = {
      main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] },
      back: { name: 'Back', draw: 'fixed', levels: ['two', 'one'] }
    };
    const places = {
      title: menu(
        { when: { press: 'Back' }, go: { move: 'first', order: 'back' } },
        { when: { press: 'One' }, go: { place: 'one' } }
      ),
      one: level(walk),
      two: level(walk)
    };
    expect(play(places, { orders: two }).press('Back', 'Next').at).to.equal('one');
    expect(play(places, { orders: two }).press('One', 'Next').at).to.equal('two');
  });
});

describe('play: drawing', () => {
  it('draws a row of a table, one successor a row', () => {
    const orders = { night: { name: 'Night', draw: 'table', levels: ['a', 'b'], rows: [['a', 'b'], ['b', 'a', 'b'], ['a']] } };
    const document = flowOf({
      orders,
      places: {
        title: menu(
          { when: { press: 'Go' }, do: [{ draw: 'night' }], go: { move: 'next' } },
          { when: { press: 'Early' }, go: { move: 'next' } }
        ),
        a: level([{ when: { press: 'Next' }, go: { move: 'next' } }]),
        b: level([{ when: { press: 'Next' }, go: { move: 'next' } }])
      }
    });
    const player = new Player(document);
    expect(player.press('Early').at).to.equal('title');
    const { results, cut } = handle(player.flow, player.state, { press: 'Go' });
    expect(cut).to.equal(false);
    expect(results.map(({ draws }) => draws)).to.deep.equal([0, 1, 2].map((row) => [{ order: 'night', row }]));
    expect(results.map(({ state }) => state!.stack[0]!.place)).to.deep.equal(['a', 'b', 'a']);
    // a level that a row holds twice: next finds the second one
    player.state = results[1]!.state!;
    expect(player.press('Next').at).to.equal('a');
    expect(player.press('Next').at).to.equal('b');
    expect(player.state.orders.night!.position).to.equal(2);
  });

  it('draws levels from a bag, none twice', () => {
    const orders = { night: { name: 'Night', draw: 'bag', levels: ['a', 'b', 'c', 'ghost'] } };
    const next = { when: { press: 'Next' }, go: { move: 'next', else: { place: 'end' } } };
    const player = play(
      {
        title: menu({ when: { press: 'Go' }, do: [{ draw: 'night' }], go: { move: 'next' } }),
        a: level([next]),
        b: level([next]),
        c: level([next]),
        end: { name: 'End', kind: 'ending', outcome: 'won' }
      },
      { orders }
    );
    const ends = new Set<string>();
    const walk = (state: typeof player.state, event: { press: string }, seen: string[]): void => {
      for (const result of handle(player.flow, state, event).results) {
        const at = result.state!.stack[0]!.place;
        if (at === 'end') ends.add(seen.join(''));
        else walk(result.state!, { press: 'Next' }, [...seen, at]);
      }
    };
    walk(player.state, { press: 'Go' }, []);
    expect([...ends].sort()).to.deep.equal(['abc', 'acb', 'bac', 'bca', 'cab', 'cba']);
  });

  it('gives up on an event with more than a thousand series of draws', () => {
    const rows = Array.from({ length: 40 }, () => ['a']);
    const player = play(
      { title: menu({ when: { press: 'Go' }, do: [{ draw: 'night' }, { draw: 'night' }] }), a: level() },
      { orders: { night: { name: 'Night', draw: 'table', levels: ['a'], rows } } }
    );
    expect(handle(player.flow, player.state, { press: 'Go' }).cut).to.equal(true);
  });

  it('draws at the very start too', () => {
    const document = flowOf({
      orders: { night: { name: 'Night', draw: 'table', levels: ['a'], rows: [['a'], ['a']] } },
      places: { title: menu({ when: { arrive: true }, do: [{ draw: 'night' }] }), a: level() }
    });
    expect(begin(prepare(document))!.results.map(({ draws }) => draws)).to.deep.equal([
      [{ order: 'night', row: 0 }],
      [{ order: 'night', row: 1 }]
    ]);
    expect(begin(prepare({ ...document, start: 'gone' }))).to.equal(undefined);
  });
});

describe('play: what goes back by itself', () => {
  const pieces = {
    each: lamp({ count: 5, renew: 'arrival' }),
    lamp: lamp({ count: 5 }),
    gem: lamp({ count: 5, renew: 'run' }),
    star: lamp({ count: 5, renew: 'never' }),
    shrine: { name: 'Shrine', kind: 'checkpoint', progress: 40 }
  };
  const variables = { n: number('attempt'), oil: number('run'), best: number('kept') };
  const up = ['n', 'oil', 'best'].map((id) => ({ set: id, to: `${id} + 1` }));
  const flow = () => ({
    variables,
    places: {
      title: menu(
        { when: { press: 'Play' }, go: { place: 'one' } },
        { when: { press: 'New' }, do: [{ begin: 'run' }] },
        { when: { press: 'Erase' }, do: [{ erase: true }] },
        { when: { press: 'Load' }, go: { move: 'load' } },
        { when: { press: 'Resume' }, go: { move: 'resume' } },
        { when: { press: 'Forget' }, do: [{ forget: true }] }
      ),
      one: level(
        [
          { when: { press: 'Up' }, do: up },
          { when: { touch: 'shrine' }, do: [{ save: 'forward' }] },
          { when: { press: 'Save' }, do: [{ save: 'always' }] },
          { when: { press: 'Quit' }, go: { place: 'title' } },
          { when: { press: 'Win' }, go: { place: 'title' }, result: 'won' },
          { when: { press: 'Spend' }, do: [{ remove: 'lamp', by: 9 }] },
          { when: { press: 'Refill' }, do: [{ restore: 'lamp' }] }
        ],
        { pieces, entries: { door: { name: 'Door' }, shrine: { name: 'At the shrine' } }, progress: 10 }
      )
    }
  });
  const take = (...ids: string[]) => ids.map((id) => ({ collect: id }));
  const all = take('each', 'lamp', 'gem', 'star');
  const lefts = (player: Player) => ['each', 'lamp', 'gem', 'star'].map((id) => player.left(id));
  const values = (player: Player) => ['n', 'oil', 'best'].map((id) => player.value(id));

  it('follows scope and renewal', () => {
    const player = play(flow().places, flow())
      .press('Play', 'Up')
      .do(...all);
    player.press('Quit', 'Play');
    expect([values(player), lefts(player)]).to.deep.equal([
      [0, 1, 1],
      [5, 5, 4, 4]
    ]);
    player.press('Quit', 'New', 'Play');
    expect([values(player), lefts(player)]).to.deep.equal([
      [0, 0, 1],
      [5, 5, 5, 4]
    ]);
    player.press('Win');
    expect(player.state.won).to.deep.equal({ one: true });
    player.press('Erase', 'Play');
    expect([values(player), lefts(player), player.state.won]).to.deep.equal([[0, 0, 0], [5, 5, 5, 5], {}]);
  });

  it('keeps the attempt variables readable until the next level', () => {
    expect(play(flow().places, flow()).press('Play', 'Up', 'Quit').value('n')).to.equal(1);
  });

  it('resumes with the attempt as saved and the run as it is', () => {
    const player = play(flow().places, flow())
      .press('Play', 'Up')
      .do(...all, { touch: 'shrine' })
      .press('Up')
      .do(...all)
      .press('Quit', 'Resume');
    expect([values(player), lefts(player)]).to.deep.equal([
      [1, 2, 2],
      [5, 4, 3, 3]
    ]);
    expect(player.state.latest).to.deep.equal({ level: 'one', entry: 'shrine' });
    expect(player.state.bookmark!.progress).to.equal(40);
  });

  it('loads with the run as saved too, and the bookmark then is of this run', () => {
    const player = play(flow().places, flow())
      .press('Play', 'Up')
      .do(...all, { touch: 'shrine' })
      .press('Up')
      .do(...all)
      .press('Quit', 'New');
    expect(player.state.bookmark!.thisRun).to.equal(false);
    player.press('Load');
    expect([values(player), lefts(player)]).to.deep.equal([
      [1, 1, 2],
      [5, 4, 4, 3]
    ]);
    expect(player.state.bookmark!.thisRun).to.equal(true);
  });

  it('saves forward only over less progress or an older run', () => {
    const player = play(flow().places, flow()).press('Play').do({ touch: 'shrine' }).press('Up').do({ touch: 'shrine' });
    expect(player.state.bookmark!.run.oil).to.equal(0);
    player.press('Save');
    expect(player.state.bookmark).to.deep.include({ progress: 10, entry: 'door' });
    player.press('Quit', 'New', 'Play').do({ touch: 'shrine' });
    expect(player.state.bookmark).to.deep.include({ progress: 40, thisRun: true });
    player.press('Quit', 'Forget');
    expect(player.state.bookmark).to.equal(null);
    expect(player.press('Resume').at).to.equal('title');
  });

  it('removes and restores within the count', () => {
    const player = play(flow().places, flow()).press('Play', 'Spend');
    expect(player.left('lamp')).to.equal(0);
    expect(player.press('Refill').left('lamp')).to.equal(5);
  });

  it('forgets the latest level on erasing, unless it is being played', () => {
    const player = play(flow().places, flow()).press('Play', 'Quit', 'Erase');
    expect(player.state.latest).to.equal(null);
  });
});

describe('play: stale values', () => {
  const places = {
    title: menu({ when: { press: 'Play' }, go: { place: 'one' } }, { when: { press: 'Set' }, do: [{ set: 'n', to: '7' }] }),
    one: level([
      { when: { press: 'Up' }, do: [{ set: 'n', to: 'n + 1' }] },
      { when: { press: 'Quit' }, go: { place: 'title' } }
    ])
  };
  it('are those of an earlier run, from home on until they are assigned or a level has settled', () => {
    const player = play(places, { variables: { n: number('run') } }).press('Play', 'Up');
    expect(player.state.stale).to.deep.equal({});
    player.press('Quit');
    expect(player.state.stale).to.deep.equal({ n: 'run' });
    const again = handle(player.flow, player.state, { press: 'Play' }).results[0]!;
    expect(again.arrival).to.deep.include({ back: false, stale: ['n'] });
    expect(again.state!.stale).to.deep.equal({});
    player.press('Set');
    expect(player.state.stale).to.deep.equal({});
  });
});
