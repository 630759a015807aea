/** Texts by condition, what their placeholders say, how the last attempt ended, and foes that rules defeat. */
import { expect } from 'chai';
import { check, finish } from '../src/check/check.ts';
import { setMessage } from '../src/document/edits/places.ts';
import { apply } from '../src/document/patch.ts';
import { read, validate } from '../src/document/read.ts';
import type { FlowDocument } from '../src/document/types.ts';
import { versionOf } from '../src/document/version.ts';
import { write } from '../src/document/write.ts';
import { messageIn } from '../src/play/messages.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { textsShown } from '../src/trial/messages.ts';
import { usesOf } from '../src/sheet/uses.ts';
import { differences } from '../src/words/differences.ts';
import { conditionWords, effectWords } from '../src/words/words.ts';
import { ConditionNames } from '../src/words/named.ts';
import { flowOf, Player, threeLamps } from './support/flows.ts';

const over = [
  { if: 'last(won)', text: '{name(level)} shines. {left(lamp)} left, {taken(lamp)} lit.' },
  { if: 'last(lost) and lives = 0', text: 'Out.' },
  { text: 'Level {number(level)} of {count(main)}, {wins(main)} won, {saved(progress)} %, lives {lives}.' }
];
/** Three lamps with one screen after each attempt. */
const spoken: FlowDocument = flowOf({
  ...threeLamps,
  places: {
    ...threeLamps.places,
    quay: {
      ...threeLamps.places.quay,
      rules: [{ id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { place: 'splash' }, result: 'won' }]
    },
    splash: {
      name: 'After it',
      kind: 'interlude',
      message: over,
      rules: [{ id: 'on', when: { press: 'On' }, go: { move: 'next', else: { place: 'title' } } }]
    }
  }
});
const shown = (player: Player) => messageIn(player.flow, player.state);

describe('how the last attempt ended', () => {
  it('is asked by last(won) and last(lost): by rules with a result alone, until a new run begins', () => {
    const player = new Player(spoken);
    const last = () => player.state.last;
    expect(last()).to.equal(null);
    player.press('Begin');
    player.do({ touch: 'water' });
    expect(last()).to.equal('lost');
    player.press('On');
    player.do({ collect: 'lamp' });
    expect(last(), 'playing on changes nothing').to.equal('lost');
    const begun = flowOf({
      ...threeLamps,
      rules: [...threeLamps.rules, { id: 'new', when: { press: 'New' }, do: [{ begin: 'run' }], go: { place: 'title' } }]
    });
    const again = new Player(begun).press('Begin');
    again.do({ touch: 'water' });
    expect(again.state.last).to.equal('lost');
    again.do({ time: true }).press('New');
    expect(again.state.last).to.equal(null);
  });

  it('is written and read with its words, and is a value elsewhere', () => {
    expect(conditionWords(spoken, { place: 'splash' }, 'last(won) or not last(lost)')).to.equal(
      'the last attempt was won or not the last attempt was lost'
    );
    expect(new ConditionNames(spoken, { place: 'splash' }).kept('Last(won)').text).to.equal('Last(won)');
    const named = flowOf({
      ...threeLamps,
      variables: { ...threeLamps.variables, last: { name: 'Last', type: 'flag', initial: false, scope: 'run' } },
      places: { ...threeLamps.places, title: { ...threeLamps.places.title, expects: ['not last'] } }
    });
    expect(check(named).checks.filter(({ check: name }) => name === 'condition')).to.deep.equal([]);
    const wrong = flowOf({
      ...threeLamps,
      places: { ...threeLamps.places, title: { ...threeLamps.places.title, expects: ['last(seen)'] } }
    });
    const [verdict] = check(wrong).checks.filter(({ check: name }) => name === 'condition');
    expect(verdict!.message).to.equal('How an attempt ended is won or lost.');
  });
});

describe('the texts of a place', () => {
  it('are the first whose condition holds, with what is then so', () => {
    const player = new Player(spoken).press('Begin');
    player.do({ collect: 'lamp' }, { collect: 'lamp' }, { collect: 'lamp' });
    // no lamp is at hand where no level is
    expect(shown(player)).to.equal('Quay Street shines. {left(lamp)} left, {taken(lamp)} lit.');
    const fallen = new Player(spoken).press('Begin').do({ touch: 'water' });
    expect(shown(fallen)).to.equal('Level 1 of 2, 0 won, 0 %, lives 1.');
    const twice = { ...spoken.places.splash!, rules: [{ id: 'on', when: { press: 'On' }, go: { move: 'again' as const } }] };
    const out = new Player(flowOf({ ...spoken, places: { ...spoken.places, splash: twice } })).press('Begin');
    out.do({ touch: 'water' }, { press: 'On' }, { touch: 'water' });
    expect(shown(out)).to.equal('Out.');
  });

  it('count the pieces of the level that they are shown over', () => {
    const level = { ...threeLamps.places.quay, message: 'Left: {left(lamp)} of {count(lamp)}, {taken(lamp)} lit' };
    const player = new Player(flowOf({ ...threeLamps, places: { ...threeLamps.places, quay: level } })).press('Begin');
    player.do({ collect: 'lamp' });
    expect(shown(player)).to.equal('Left: 2 of 3, 1 lit');
  });

  it('that name nothing are told, each with its place and a fix that leaves the rest', () => {
    const wrong = flowOf({
      ...threeLamps,
      places: {
        ...threeLamps.places,
        aglow: {
          ...threeLamps.places.aglow,
          message: [
            { if: 'livse = 0', text: 'Had {livse}' },
            { text: '{wins(mian)} {name(quay)} {saved(all)} {what?} {colour(lamp)}' }
          ]
        }
      }
    });
    const found = check(wrong).checks.filter(
      ({ outcome, check: name }) => outcome === 'fails' && /reference|condition/.test(name)
    );
    expect(found.map(({ check: name, subject, pointer }) => [name, subject, pointer])).to.deep.equal([
      ['reference', 'place/aglow', '/places/aglow/message/0/text'],
      ['condition', 'aglow/message/0', '/places/aglow/message/0/if']
    ]);
    const told = [found[0]!.message, ...found[0]!.why!.map(({ text }) => text)];
    expect(told).to.deep.equal([
      'The text of The town aglow shows "{livse}", and there is no such value.',
      'The text of The town aglow shows "{wins(mian)}", and there is no such group or order.',
      'The text of The town aglow shows "{name(quay)}", but it is written name(level).',
      'The text of The town aglow shows "{saved(all)}", but only progress is saved: saved(progress).',
      'The text of The town aglow shows "{what?}", which is neither a value nor anything else that can be shown.',
      'The text of The town aglow shows "{colour(lamp)}", which is neither a value nor anything else that can be shown.'
    ]);
    const [fix] = repairsOf(wrong, found[0]!);
    const after = apply(wrong, fix!.patch).places.aglow!.message as { text: string }[];
    expect(after[0]!.text).to.equal('Had {lives}');
    const [change] = repairsOf(wrong, found[1]!);
    expect(change!.label).to.equal('Change “livse” to Lives');
  });

  it('are found where they are really shown on arrival, or never', () => {
    const shown = finish(textsShown(spoken, 'splash'));
    expect(shown.map(({ text, complete }) => [text, complete])).to.deep.equal([
      ['Quay Street shines. {left(lamp)} left, {taken(lamp)} lit.', true],
      ['Out.', true],
      ['Level 1 of 2, 0 won, 0 %, lives 1.', true]
    ]);
    const dead = flowOf({
      ...spoken,
      places: {
        ...spoken.places,
        splash: { ...spoken.places.splash, message: [{ text: 'Always' }, { if: 'last(won)', text: 'Never' }] }
      }
    });
    expect(finish(textsShown(dead, 'splash'))[1]).to.deep.equal({ complete: true });
    expect(finish(textsShown(spoken, 'title'))).to.deep.equal([]);
  });

  it('are edited as one text or several, and are of version 2 only where they are', () => {
    const plain = apply(spoken, setMessage(spoken, 'splash', [{ text: 'Lives {lives}' }]).patch);
    expect(plain.places.splash!.message).to.equal('Lives {lives}');
    expect([spoken, plain].map(versionOf)).to.deep.equal([2, 1]);
    expect(apply(plain, setMessage(plain, 'splash', []).patch).places.splash).to.not.have.property('message');
    expect(setMessage(spoken, 'splash', over).patch).to.deep.equal([]);
    expect(read(write(spoken)).document).to.deep.equal({ ...spoken, version: 2 });
    const uses = usesOf(spoken)
      .get('lives')!
      .read.filter(({ place }) => place === 'splash');
    expect(uses.map(({ words }) => words)).to.deep.equal(['the text of After it']);
  });

  it('are compared as texts', () => {
    const plain = apply(spoken, setMessage(spoken, 'splash', [{ text: 'Lives {lives}' }]).patch);
    expect(
      differences(plain, {
        ...plain,
        places: { ...plain.places, splash: { ...plain.places.splash!, message: over.slice(1) } }
      }).map(({ text }) => text)
    ).to.deep.equal([
      'After it: message “Lives {lives}” → “Out.” if the last attempt was lost and Lives is 0; “Level {number(level)} of {count(main)}, {wins(main)} won, {saved(progress)} %, lives {lives}.”.'
    ]);
  });

  it('of a wrong shape are refused', () => {
    for (const message of [[], [{ if: 'true' }], [{ text: 3 }], 7]) {
      const { errors } = validate({ ...JSON.parse(write(spoken)), places: { title: { name: 'T', kind: 'menu', message } } });
      expect(errors![0]!.pointer).to.match(/^\/places\/title\/message/);
    }
  });
});

describe('a foe that a rule defeats', () => {
  const caught = flowOf({
    ...threeLamps,
    places: {
      ...threeLamps.places,
      quay: {
        ...threeLamps.places.quay,
        pieces: { moth: { name: 'Moth', kind: 'foe', count: 2 }, rope: { name: 'Rope', kind: 'switch' } },
        rules: [
          { id: 'pull', when: { touch: 'rope' }, do: [{ defeat: 'moth' }, { set: 'lives', to: 'lives - 1' }] },
          { id: 'down', when: { defeat: 'moth' }, do: [{ set: 'lives', to: '2' }] },
          { id: 'all', when: { holds: 'left(moth) = 0' }, go: { move: 'next' }, result: 'won' }
        ]
      }
    }
  });

  it('is one fewer, and the rules that wait for its defeat are read like those that hear a signal', () => {
    const player = new Player(caught).press('Begin');
    player.do({ touch: 'rope' });
    expect(player.left('moth')).to.equal(1);
    // heard after the other effects of the rule
    expect(player.value('lives')).to.equal(2);
    player.do({ touch: 'rope' });
    expect(player.bottom, 'won by the last').to.equal('loft');
  });

  it('is not there any more when none is left, and nothing is heard then', () => {
    const quay = caught.places.quay!;
    const endless = flowOf({ ...caught, places: { ...caught.places, quay: { ...quay, rules: quay.rules.slice(0, 2) } } });
    const player = new Player(endless).press('Begin');
    player.do({ touch: 'rope' }, { touch: 'rope' }, { touch: 'rope' });
    expect([player.left('moth'), player.value('lives')]).to.deep.equal([0, 1]);
  });

  it('has to be one', () => {
    const quay = caught.places.quay as { pieces: Record<string, { name: string; kind: string }> };
    const wrong = flowOf({
      ...caught,
      places: { ...caught.places, quay: { ...quay, pieces: { ...quay.pieces, moth: { name: 'Moth', kind: 'pickup' } } } }
    });
    const told = check(wrong).checks.filter(({ check: name, outcome }) => name === 'reference' && outcome === 'fails');
    expect(told.map(({ subject }) => subject)).to.include('rule/pull');
    expect(told[0]!.message).to.include('Moth cannot be defeated by a rule: it is a pickup.');
    expect(effectWords(caught, { place: 'quay' }, { defeat: 'moth' })).to.equal('defeat 1 Moth');
    expect(versionOf(caught)).to.equal(2);
  });
});
