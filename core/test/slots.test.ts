/** Saved games side by side: what a slot holds, what leaks from one into another, and the menus in which they are picked. */
import { expect } from 'chai';
import { check } from '../src/check/check.ts';
import { addSlotMenus, askBeforeOverwriting, overwriting, setSaves, slotRule } from '../src/document/edits/slots.ts';
import { addRule } from '../src/document/edits/rules.ts';
import { progressFromOrder } from '../src/document/edits/levels.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { isUsed } from '../src/play/slots.ts';
import { removeVariable } from '../src/document/edits/parts.ts';
import { usesOf } from '../src/sheet/uses.ts';
import { differences } from '../src/words/differences.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { playSteps, beginTrial, act } from '../src/trial/trial.ts';
import { slotCards, slotWords } from '../src/trial/slots.ts';
import { outcomeWords } from '../src/trial/words.ts';
import type { CheckName, Verdict } from '../src/report/report.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

/** Three lamps that are saved on arrival, with a kept record and a menu of saved games. */
const saving = (more: object = {}, titleRules: object[] = []): FlowDocument =>
  flowOf({
    ...threeLamps,
    version: 2,
    saves: { slots: 3, shows: ['level', 'progress', 'lives'] },
    variables: {
      ...threeLamps.variables,
      best: { name: 'Best', type: 'number', initial: 0, min: 0, max: 9, scope: 'kept' }
    },
    rules: [...threeLamps.rules, { id: 'mark', when: { arrive: true }, do: [{ save: 'always' }] }],
    places: {
      ...threeLamps.places,
      loft: { ...threeLamps.places.loft, progress: 50 },
      title: {
        ...threeLamps.places.title,
        rules: [
          ...threeLamps.places.title.rules,
          { id: 'games', when: { press: 'Games' }, go: { place: 'games' } },
          ...titleRules
        ]
      },
      games: {
        name: 'Games',
        kind: 'menu',
        rules: [
          { id: 'fresh', when: { slot: 'empty' }, do: [{ slot: 'take' }, { begin: 'run' }], go: { move: 'first' } },
          { id: 'old', when: { slot: 'used' }, do: [{ slot: 'take' }], go: { move: 'resume' } },
          { id: 'copy', when: { press: 'Copy' }, do: [{ slot: 'put' }] },
          { id: 'empty', when: { press: 'Empty' }, do: [{ slot: 'clear' }] },
          { id: 'back', when: { press: 'Title' }, go: { place: 'title' } }
        ]
      },
      ...more
    }
  });
const verdict = (document: FlowDocument, name: CheckName, subject: string): Verdict =>
  check(document).checks.find((each) => each.check === name && each.subject === subject)!;
const offered = (player: Player) => player.events.flatMap((event) => ('slot' in event ? [event.slot] : []));

describe('saved games in play', () => {
  it('are used once a level was played, or something is kept; each holds its own progress', () => {
    const player = new Player(saving());
    expect(isUsed(player.flow, player.state, 0)).to.equal(false);
    player.press('Games').do({ slot: 1 });
    expect([player.at, player.state.slot, isUsed(player.flow, player.state, 0)]).to.deep.equal(['quay', 1, false]);
    player.do({ collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' });
    expect([player.at, player.state.bookmark!.progress]).to.deep.equal(['loft', 50]);
    player.do({ collect: 'lamp' }, { collect: 'lamp' }).press('Title', 'Games').do({ slot: 0 });
    expect([player.at, player.state.won, player.state.bookmark!.level]).to.deep.equal(['quay', {}, 'quay']);
    // what was put away is taken up again
    player.do({ touch: 'water' }, { time: true }, { collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' });
    player.do({ collect: 'lamp' }, { collect: 'lamp' }).press('Title', 'Games').do({ slot: 1 });
    expect([player.at, player.state.slot, player.state.won]).to.deep.equal(['loft', 1, { quay: true, loft: true }]);
  });

  it('are offered by their kind alone, and picked until a place is entered afresh', () => {
    const only = saving();
    only.places.games!.rules.splice(0, 1);
    const player = new Player(only).press('Games');
    expect(offered(player), 'none is used').to.deep.equal([]);
    const all = new Player(saving()).press('Games');
    expect(offered(all)).to.deep.equal([0, 1, 2]);
    const picking = saving();
    picking.places.games!.rules.unshift({ id: 'pick', when: { slot: 'any' } });
    picking.places.games!.rules.splice(1, 2);
    const picked = new Player(picking).press('Games').do({ slot: 2 });
    expect(picked.state.picked).to.equal(2);
    expect(picked.press('Title').state.picked).to.equal(null);
  });

  it('are written into another slot, and cleared, one by one', () => {
    const picking = saving();
    picking.places.games!.rules.splice(0, 2, { id: 'pick', when: { slot: 'any' } });
    const player = new Player(picking).press('Begin');
    player.do({ touch: 'water' }, { time: true });
    const inTitle = { ...player.state };
    expect(inTitle.latest!.level).to.equal('quay');
    for (let n = 0; n < 3; n++) player.do({ collect: 'lamp' });
    player.do({ collect: 'lamp' }, { collect: 'lamp' }).press('Title', 'Games').do({ slot: 2 }).press('Copy');
    const used = () => [0, 1, 2].map((slot) => isUsed(player.flow, player.state, slot));
    expect([player.state.slot, used()]).to.deep.equal([2, [true, false, true]]);
    player.do({ slot: 0 }).press('Empty');
    expect([player.state.slot, used()]).to.deep.equal([2, [false, false, true]]);
    player.do({ slot: 2 }).press('Empty');
    expect([used(), player.state.won, player.state.latest]).to.deep.equal([[false, false, false], {}, null]);
  });

  it('give conditions: whether there is a save, how far it is, and whether the picked slot is used', () => {
    const asking = saving({
      games: {
        name: 'Games',
        kind: 'menu',
        rules: [
          { id: 'pick', when: { slot: 'any' } },
          { id: 'yes', when: { press: 'Ask' }, if: 'has(save) and saved(progress) >= 50 and has(slot)', go: { place: 'aglow' } },
          { id: 'back', when: { press: 'Title' }, go: { place: 'title' } }
        ]
      }
    });
    const player = new Player(asking).press('Games').do({ slot: 0 }).press('Ask');
    expect(player.at).to.equal('games');
    player.press('Title', 'Begin');
    for (let n = 0; n < 5; n++) player.do({ collect: 'lamp' });
    player.press('Title', 'Games', 'Ask');
    expect(player.at, 'none is picked').to.equal('games');
    expect(player.do({ slot: 1 }).press('Ask').at, 'that one is empty').to.equal('games');
    expect(player.do({ slot: 0 }).press('Ask').at).to.equal('aglow');
  });
});

describe('checks of saved games', () => {
  it('fresh-start: a value of one game leaks into the one that is gone on with, until the run begins or is loaded', () => {
    const leak = verdict(saving(), 'fresh-start', 'old');
    expect(leak.outcome, 'the second slot was never used in what is checked').to.equal('holds');
    const never = saving({}, [{ id: 'other', when: { press: 'Other' }, go: { place: 'other' } }]);
    never.places.other = {
      name: 'Other',
      kind: 'menu',
      expects: [],
      rules: [{ id: 'switch', when: { slot: 'any' }, do: [{ slot: 'take' }], go: { move: 'again', else: { move: 'first' } } }]
    };
    const carried = verdict(flowOf(never as never), 'fresh-start', 'switch');
    expect([carried.outcome, carried.variables]).to.deep.equal(['fails', ['lives']]);
    expect(carried.route!.at(-1)).to.deep.equal({ slot: 1 });
    const begun = structuredClone(never);
    begun.places.other!.rules[0]!.do!.push({ begin: 'run' });
    expect(verdict(begun, 'fresh-start', 'switch').outcome).to.equal('holds');
  });

  it('fresh-save: going on at what an earlier run has saved, until it is forgotten with the new run', () => {
    const again = saving({}, [
      { id: 'anew', when: { press: 'New' }, do: [{ begin: 'run' }], go: { place: 'title' } },
      { id: 'goon', when: { press: 'Continue' }, if: 'has(save)', go: { move: 'resume' } }
    ]);
    const found = verdict(again, 'fresh-save', 'goon');
    expect([found.outcome, found.severity, found.why!.map(({ rule }) => rule)]).to.deep.equal(['fails', 'warning', ['anew']]);
    const [fix] = repairsOf(again, found);
    expect(fix!.label).to.equal('Forget the save when a new run begins');
    const fixed = apply(again, fix!.patch);
    expect(verdict(fixed, 'fresh-save', 'goon').outcome).to.equal('holds');
    expect(verdict(fixed, 'never-stranded', 'goon').outcome).to.equal('holds');
  });

  it('never-stranded: Continue without a save is hidden by the first fix', () => {
    const without = saving({}, [{ id: 'goon', when: { press: 'Continue' }, go: { move: 'resume' } }]);
    const found = verdict(without, 'never-stranded', 'goon');
    expect(found.outcome).to.equal('fails');
    const [hide] = repairsOf(without, found);
    expect(hide!.label).to.equal('Only while there is a saved game');
    expect(verdict(apply(without, hide!.patch), 'never-stranded', 'goon').outcome).to.equal('holds');
  });

  it('slot-picked: a slot is used that nothing has picked', () => {
    const unpicked = verdict(saving(), 'slot-picked', 'empty');
    expect([unpicked.outcome, unpicked.route]).to.deep.equal(['fails', [{ press: 'Games' }, { press: 'Empty' }]]);
    expect(verdict(saving(), 'slot-picked', 'old').outcome).to.equal('holds');
    expect(repairsOf(saving(), unpicked).map(({ label }) => label)).to.deep.equal([
      'Do it when a slot is picked',
      'Leave the slots alone'
    ]);
  });

  it('progress-falls: along the order, checkpoints too; progress from the order makes it rise', () => {
    const falling = saving();
    Object.assign(falling.places.quay!, { progress: 60 });
    (falling.places.loft as { pieces: object }).pieces = {
      ...(falling.places.loft as { pieces: object }).pieces,
      shrine: { name: 'Shrine', kind: 'checkpoint', progress: 55 }
    };
    const found = verdict(falling, 'progress-falls', 'main');
    expect(found.message).to.equal('Round: progress falls. Net Loft gives 50, after 60 before it.');
    expect(found.why!.map(({ text }) => text)[1]).to.equal('Shrine in Net Loft gives 55, after 60 before it.');
    const risen = apply(falling, progressFromOrder(falling, 'main').patch);
    expect(verdict(risen, 'progress-falls', 'main').outcome).to.equal('holds');
    expect((risen.places.loft as { pieces: Record<string, { progress?: number }> }).pieces.shrine!.progress).to.equal(75);
    expect(verdict(flowOf(threeLamps), 'progress-falls', 'main').outcome, 'none is given').to.equal('holds');
  });

  it('look at one slot that was never used besides the one in hand: at most twice the states', () => {
    const whole = apply(saving(), addSlotMenus(saving()).patch);
    const states = (slots: number) => check(apply(whole, setSaves(whole, { slots }).patch), { firstGame: false }).states;
    expect(states(3)).to.be.greaterThan(states(1));
    expect(states(3)).to.be.at.most(2 * states(1));
    expect(states(9)).to.equal(states(2));
  });
});

describe('saved games: menus, cards and bad input', () => {
  it('have their usual menus in one act: a game beside another, gone on with, and begun again after a question', () => {
    const document = saving();
    delete document.places.games;
    document.places.title!.rules.pop();
    const made = addSlotMenus(document);
    const whole = apply(document, made.patch);
    expect(apply(whole, made.inverse)).to.deep.equal(document);
    const failing = check(whole).checks.filter(
      ({ check: name, outcome, severity }) => outcome === 'fails' && severity !== 'information' && name !== 'fresh-start'
    );
    expect(failing.map(({ check: name, subject }) => `${name} ${subject}`)).to.deep.equal([]);
    const player = new Player(whole).press('Saved games').do({ slot: 0 }, { collect: 'lamp' });
    player.do({ touch: 'water' }, { time: true }).do({ collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' });
    player.do({ collect: 'lamp' }, { collect: 'lamp' }).press('Title', 'Saved games').do({ slot: 1 });
    expect([player.at, player.state.slot, player.value('lives')]).to.deep.equal(['quay', 1, 2]);
    player.do({ collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' });
    player.press('Title', 'Saved games').do({ slot: 0 });
    expect(player.at).to.equal('go_on');
    player.press('Go on');
    expect([player.at, player.state.slot, player.value('lives'), player.state.won.quay]).to.deep.equal(['loft', 0, 1, true]);
    player
      .do({ collect: 'lamp' }, { collect: 'lamp' })
      .press('Title', 'Saved games')
      .do({ slot: 1 })
      .press('New game', 'Keep it');
    expect(player.at).to.equal('go_on');
    player.press('New game', 'Overwrite');
    expect([player.at, player.state.slot, player.state.won]).to.deep.equal(['quay', 1, {}]);
  });

  it('ask before something is lost: the question does what was done at once', () => {
    const hasty = apply(saving(), addRule(saving(), { place: 'games' }, slotRule(saving(), 'save')).patch);
    const [rule] = overwriting(hasty);
    const asked = apply(hasty, askBeforeOverwriting(hasty, rule!.id).patch);
    expect(overwriting(asked)).to.deep.equal([]);
    expect(asked.places.overwrite!.rules[0]).to.deep.include({ do: [{ save: 'always' }, { slot: 'put' }], go: { move: 'back' } });
    expect(asked.places.games!.rules.filter(({ when }) => 'slot' in when).map(({ when }) => when)).to.deep.include({
      slot: 'empty'
    });
    expect(validate(JSON.parse(write(asked))).errors).to.equal(undefined);
  });

  it('are shown as a card each, on the tape and where a trial is begun elsewhere', () => {
    const { trial } = playSteps(saving(), [{ press: 'Games' }, { slot: 1 }, { touch: 'water' }])!;
    const cards = slotCards(trial.flow, trial.state);
    expect(cards.map(({ used, inHand }) => [used, inHand])).to.deep.equal([
      [false, false],
      [true, true],
      [false, false]
    ]);
    expect(cards[1]!.shown.map(({ name, value }) => `${name} ${value}`)).to.deep.equal([
      'Level Quay Street',
      'Progress 0 %',
      'Lives 2'
    ]);
    expect(slotWords(trial.flow, trial.state)).to.equal('slot 1 empty; slot 2 Quay Street, 0 %, 2; slot 3 empty');
    const line = act(act(beginTrial(saving())!, { press: 'Games' }), { slot: 1 }).lines.at(-1)!;
    expect(outcomeWords(saving(), line)).to.equal('to Quay Street; plays on in slot 2');
  });

  it('are refused with the place of what does not fit', () => {
    const errors = (part: object) =>
      read(JSON.stringify({ ...JSON.parse(write(saving())), ...part })).errors?.map(({ pointer }) => pointer);
    expect(errors({ saves: { slots: 10 } })).to.deep.equal(['/saves/slots']);
    expect(errors({ saves: { slots: 0 } })).to.deep.equal(['/saves/slots']);
    expect(errors({ saves: { shows: ['level', 'level'] } })![0]).to.match(/^\/saves\/shows/);
    const misfit = saving({}, []);
    misfit.saves!.shows = ['gold'];
    misfit.places.splash!.rules.push({ id: 'wrong', when: { slot: 'any' } });
    const found = check(misfit).checks.filter(({ check: name, outcome }) => name === 'reference' && outcome === 'fails');
    expect(found.map(({ subject, message }) => `${subject}: ${message}`)).to.deep.equal([
      'flow: Saved games show "gold", and there is no such value.',
      'rule/wrong: The rule “when a slot is picked” in Overboard does not fit: Saved games are picked in a menu alone.'
    ]);
    // two rules for one kind: the second is never read
    const twice = saving();
    twice.places.games!.rules.splice(1, 0, { id: 'second', when: { slot: 'empty' }, go: { place: 'title' } });
    expect(verdict(twice, 'rule-fires', 'second').why![0]!.never).to.equal('always overtaken');
  });

  it('count what they show as read, lose it with its value, and are told in the history', () => {
    const document = saving();
    expect(
      usesOf(document)
        .get('lives')!
        .read.map(({ words }) => words)
    ).to.include('what saved games show');
    document.saves!.shows = ['best'];
    expect(verdict(document, 'variable-used', 'best').message).to.equal('Best is never set.');
    const without = apply(document, removeVariable(document, 'best').patch);
    expect(without.saves).to.deep.equal({ slots: 3 });
    expect(apply(without, removeVariable(document, 'best').inverse)).to.deep.equal(document);
    expect(differences(without, document).map(({ text }) => text)).to.include('The flow: saved games 3 → 3, which show Best.');
  });
});
