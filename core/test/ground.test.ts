/** Where things are in a level: walking, what can be touched where, what is out of reach, missed or lost for good. */
import { expect } from 'chai';
import fc from 'fast-check';
import { check, finish } from '../src/check/check.ts';
import { read, validate } from '../src/document/read.ts';
import { apply } from '../src/document/patch.ts';
import {
  addPassage,
  addSpot,
  groundShapes,
  movePiece,
  removeSpot,
  setEntrySpot,
  setStanding,
  splitLevel,
  withCount,
  type GroundShape
} from '../src/document/edits/ground.ts';
import { changePiece } from '../src/document/edits/parts.ts';
import type { FlowDocument, Level } from '../src/document/types.ts';
import { write } from '../src/document/write.ts';
import { explore } from '../src/explore/plain.ts';
import { explorePacked } from '../src/explore/packed/explore.ts';
import { prepare } from '../src/play/flow.ts';
import { replay } from '../src/play/replay.ts';
import { repairsOf } from '../src/repair/repairs.ts';
import { groundMarks, groundPicture } from '../src/lane/ground.ts';
import { columnsOf } from '../src/sheet/columns.ts';
import { usesOf } from '../src/sheet/uses.ts';
import { reportHtml } from '../src/formats/report-html.ts';
import { routeToUse, uncovered } from '../src/trial/coverage.ts';
import { keepRun } from '../src/trial/runs.ts';
import { act, beginTrial, leftFor, playSteps } from '../src/trial/trial.ts';
import { lineWords } from '../src/trial/words.ts';
import { differences } from '../src/words/differences.ts';
import { stepWords } from '../src/words/steps.ts';
import { conditionWords } from '../src/words/words.ts';
import type { CheckName, Verdict } from '../src/report/report.ts';
import { compare, seed } from './support/compare.ts';
import { flowOf, Player } from './support/flows.ts';
import { pooledFlow } from './support/random-flow.ts';
import { randoms } from './support/everyday.ts';

const one = (name: string, kind: string, at?: object) => ({ name, kind, ...(at && { at }) });

/**
 * Net Loft: a yard, a loft behind a trapdoor that asks for a key, and a cellar that is dropped into. All four lamps win it.
 * `change` spoils it.
 */
function netLoft(change: (level: any, document: any) => void = () => {}): FlowDocument {
  const loft = {
    name: 'Net Loft',
    kind: 'level',
    entries: { door: { name: 'Door' }, back: { name: 'Back', spot: 'cellar' } },
    spots: { yard: { name: 'Yard' }, loft: { name: 'Loft' }, cellar: { name: 'Cellar' } },
    passages: {
      trapdoor: { from: 'yard', to: 'loft', both: true, if: 'taken(key) >= 1', name: 'Trapdoor' },
      drop: { from: 'yard', to: 'cellar', through: ['web'] },
      stairs: { from: 'cellar', to: 'yard' }
    },
    pieces: {
      lamp: one('Lamp', 'pickup', { yard: 2, loft: 2 }),
      key: one('Key', 'pickup', { cellar: 1 }),
      web: one('Cobweb', 'hazard'),
      shrine: { ...one('Shrine', 'checkpoint', { cellar: 1 }), progress: 30 }
    },
    rules: [
      { id: 'lit', when: { holds: 'all(lamp)' }, go: { place: 'end' }, result: 'won' },
      { id: 'sticky', when: { touch: 'web' }, do: [{ set: 'webs', to: 'webs + 1' }] },
      { id: 'up', when: { walk: 'trapdoor' }, do: [{ set: 'climbs', to: 'climbs + 1' }] },
      { id: 'there', when: { reach: 'loft' }, do: [{ set: 'seen', to: 'true' }] },
      { id: 'quit', when: { press: 'Quit' }, go: { place: 'title' } }
    ]
  };
  const number = (name: string) => ({ name, type: 'number', initial: 0, min: 0, max: 3, scope: 'attempt' });
  const document = {
    version: 2,
    variables: {
      webs: number('Webs'),
      climbs: number('Climbs'),
      seen: { name: 'Seen', type: 'flag', initial: false, scope: 'attempt' }
    },
    places: {
      title: {
        name: 'Title',
        kind: 'menu',
        rules: [
          { id: 'begin', when: { press: 'Begin' }, do: [{ begin: 'run' }], go: { place: 'loft' } },
          { id: 'rear', when: { press: 'Rear' }, go: { place: 'loft', entry: 'back' } }
        ]
      },
      loft,
      end: {
        name: 'The end',
        kind: 'ending',
        outcome: 'won',
        rules: [{ id: 'home', when: { press: 'Title' }, go: { place: 'title' } }]
      }
    }
  };
  change(document.places.loft, document);
  return flowOf(document);
}

const levelOf = (document: FlowDocument, id = 'loft') => document.places[id] as Level;
const verdicts = (document: FlowDocument): Verdict[] => check(document).checks;
const verdict = (document: FlowDocument, name: CheckName, subject: string): Verdict => {
  const found = verdicts(document).find((each) => each.check === name && each.subject === subject);
  expect(found, `${name} ${subject}`).not.to.equal(undefined);
  return found!;
};
/** The document after the first offer for a failing verdict, which is found under its check and subject. */
const fixed = (document: FlowDocument, name: CheckName, subject: string, label?: RegExp): FlowDocument => {
  const offers = repairsOf(document, verdict(document, name, subject));
  const offer = label ? offers.find((each) => label.test(each.label)) : offers[0];
  expect(offer, offers.map((each) => each.label).join(' | ')).not.to.equal(undefined);
  return apply(document, offer!.patch);
};

describe('inside a level: play', () => {
  it('begins at the first spot, or where the entry leads; what is elsewhere cannot be touched', () => {
    const player = new Player(netLoft()).press('Begin');
    expect(player.state.spot).to.equal('yard');
    const names = player.events.map((event) => JSON.stringify(event));
    expect(names).to.include('{"collect":"lamp","of":0}');
    expect(names).to.include('{"walk":"drop"}');
    // the web is everywhere, the key and the loft's lamps are not here, the trapdoor is locked
    expect(names).to.include('{"touch":"web"}');
    for (const away of ['{"collect":"key"}', '{"collect":"lamp","of":1}', '{"walk":"trapdoor"}', '{"walk":"stairs"}'])
      expect(names).not.to.include(away);
    expect(new Player(netLoft()).press('Rear').state.spot).to.equal('cellar');
  });

  it('walks: what cannot be avoided is touched, then the passage, then the spot that is reached', () => {
    const player = new Player(netLoft()).press('Begin').do({ walk: 'drop' });
    expect([player.state.spot, player.value('webs')]).to.deep.equal(['cellar', 1]);
    player.do({ collect: 'key' }, { walk: 'stairs' }, { walk: 'trapdoor' });
    expect([player.state.spot, player.value('climbs'), player.value('seen')]).to.deep.equal(['loft', 1, true]);
    player.do({ walk: 'trapdoor' });
    expect([player.state.spot, player.value('climbs')]).to.deep.equal(['yard', 2]);
  });

  it('stops reading where a rule of what is touched on the way leaves', () => {
    const document = netLoft((level) => {
      level.rules[1] = { id: 'sticky', when: { touch: 'web' }, go: { place: 'title' }, result: 'lost' };
      level.rules.push({ id: 'below', when: { reach: 'cellar' }, do: [{ set: 'seen', to: 'true' }] });
    });
    const player = new Player(document).press('Begin').do({ walk: 'drop' });
    expect([player.at, player.value('seen')]).to.deep.equal(['title', false]);
  });

  it('counts what is left over all spots, removes what is near first, and puts all back', () => {
    const document = netLoft((level) => {
      level.rules.push({ id: 'dim', when: { press: 'Dim' }, do: [{ remove: 'lamp', by: 3 }] });
      level.rules.push({ id: 'relight', when: { press: 'Relight' }, do: [{ restore: 'lamp' }] });
    });
    const player = new Player(document).press('Begin').do({ collect: 'lamp', of: 0 });
    expect(player.left('lamp')).to.equal(3);
    player.press('Relight', 'Dim');
    expect([player.left('lamp'), player.state.pieces['lamp#0'], player.state.pieces['lamp#1']]).to.deep.equal([1, 0, 1]);
  });

  it('remembers in a save where the player was, and goes back there; again begins where the level was entered', () => {
    const document = netLoft((level) =>
      level.rules.push(
        { id: 'mark', when: { touch: 'shrine' }, do: [{ save: 'always' }] },
        { id: 'again', when: { press: 'Again' }, go: { move: 'again' } },
        { id: 'resume', when: { press: 'Resume' }, go: { move: 'resume' } }
      )
    );
    const player = new Player(document).press('Begin').do({ walk: 'drop' }, { touch: 'shrine' }, { walk: 'stairs' });
    player.press('Resume');
    expect(player.state.spot).to.equal('cellar');
    player.press('Again');
    expect(player.state.spot).to.equal('yard');
  });

  it('asks where the player is, and speaks of spots and passages by name', () => {
    const document = netLoft((level) =>
      level.rules.push({ id: 'low', when: { press: 'Sing' }, if: 'at(cellar)', do: [{ set: 'seen', to: 'true' }] })
    );
    expect(new Player(document).press('Begin', 'Sing').value('seen')).to.equal(false);
    expect(new Player(document).press('Rear', 'Sing').value('seen')).to.equal(true);
    expect(conditionWords(document, { place: 'loft' }, 'not at(cellar)')).to.equal('not the player is at Cellar');
    expect(stepWords(document, { walk: 'drop' }, 'loft')).to.equal('walk to Cellar');
    expect(stepWords(document, { walk: 'trapdoor' }, 'loft')).to.equal('take Trapdoor');
    expect(stepWords(document, { walk: 'trapdoor' }, 'loft', 'yard')).to.equal('walk to Yard by Trapdoor');
  });

  it('plays a step that leaves out which, where only one can be meant', () => {
    const document = netLoft();
    const route = [{ press: 'Begin' }, { collect: 'lamp' }, { walk: 'drop' }, { collect: 'key' }];
    expect(replay(document, route, prepare(document)).length).to.equal(5);
  });
});

describe('inside a level: checks', () => {
  it('hold, with routes to each spot and through each passage', () => {
    const document = netLoft();
    for (const explorer of [explore, explorePacked]) {
      const { checks } = check(document, { explorer });
      const of = (name: string, subject: string) => checks.find((each) => each.check === name && each.subject === subject)!;
      expect(of('spot-reached', 'loft/loft')).to.deep.include({ outcome: 'holds', length: 4 });
      expect(of('spot-reached', 'loft/loft').route!.at(-1)).to.deep.equal({ walk: 'trapdoor' });
      expect(of('passage-walked', 'loft/stairs').outcome).to.equal('holds');
      expect(of('piece-in-reach', 'loft/lamp').outcome).to.equal('holds');
      expect(of('missable', 'loft/lamp').outcome).to.equal('holds');
      expect(of('level-completable', 'loft')).to.deep.include({ outcome: 'holds', length: 8 });
    }
  });

  it('the key behind its own door: the level cannot be won, and every view of it says why; its key is put on this side', () => {
    const document = netLoft((level) => (level.pieces.key.at = { loft: 1 }));
    expect(verdict(document, 'level-completable', 'loft').outcome).to.equal('fails');
    const spot = verdict(document, 'spot-reached', 'loft/loft');
    expect(spot.why![0]!.text).to.equal(
      'Trapdoor asks for “Key is collected”, which is never true (Key collected: always 0). 1 Key stands out of reach: Loft.'
    );
    expect(verdict(document, 'piece-in-reach', 'loft/lamp').message).to.equal(
      'The player never gets to 2 of Lamp × 4 in Net Loft: Loft.'
    );
    const mended = fixed(document, 'spot-reached', 'loft/loft');
    expect(levelOf(mended).pieces.key!.at).to.deep.equal({ yard: 1 });
    expect(verdict(mended, 'level-completable', 'loft').outcome).to.equal('holds');
    const unlocked = fixed(document, 'passage-walked', 'loft/trapdoor', /open$/);
    expect(verdict(unlocked, 'level-completable', 'loft').outcome).to.equal('holds');
  });

  it('a passage that asks for more than there is: for as many as there are', () => {
    const document = netLoft((level) => (level.passages.trapdoor.if = 'taken(key) >= 2'));
    const found = verdict(document, 'passage-walked', 'loft/trapdoor');
    expect(found.why![0]).to.include({ never: 'condition never true' });
    expect(verdict(fixed(document, 'passage-walked', 'loft/trapdoor'), 'passage-walked', 'loft/trapdoor').outcome).to.equal(
      'holds'
    );
  });

  it('a pit without a way out: the player gets stuck there, and what is left above is missed; the passage is opened both ways', () => {
    const document = netLoft((level) => {
      delete level.passages.stairs;
      level.rules = level.rules.slice(0, 4);
    });
    for (const [name, subject] of [
      ['never-stuck', 'loft'],
      ['missable', 'loft/lamp']
    ] as const) {
      const found = verdict(document, name, subject);
      expect(found, name).to.include({ outcome: 'fails' });
      expect(found.route!.at(-1), name).to.deep.equal(name === 'missable' ? { press: 'Rear' } : found.route!.at(-1));
      expect(verdict(fixed(document, name, subject), name, subject).outcome, name).to.equal('holds');
    }
  });

  it('a spot that no passage leads to: a passage, or what stands there comes to the player', () => {
    const document = netLoft((level) => {
      level.spots.attic = { name: 'Attic' };
      level.pieces.lamp.at.attic = 1;
    });
    expect(verdict(document, 'spot-reached', 'loft/attic').why![0]!.text).to.equal('No passage leads to Attic.');
    const reached = fixed(document, 'spot-reached', 'loft/attic');
    expect(verdict(reached, 'piece-in-reach', 'loft/lamp').outcome).to.equal('holds');
    const moved = fixed(document, 'piece-in-reach', 'loft/lamp', /^Move/);
    expect(levelOf(moved).pieces.lamp!.at).to.deep.equal({ yard: 3, loft: 2 });
  });

  it('what never comes back can be lost for good where there is no way back to it, in a run or for ever', () => {
    for (const [renew, severity] of [
      ['never', 'warning'],
      ['run', 'information']
    ] as const) {
      const document = netLoft((level, whole) => {
        level.pieces.coin = { ...one('Coin', 'pickup', { yard: 1 }), renew };
        level.rules = level.rules.filter(({ id }: { id: string }) => id !== 'quit');
        delete level.passages.stairs;
        level.rules.push({ id: 'out', when: { touch: 'shrine' }, go: { place: 'end' } });
        whole.places.end.rules = [];
      });
      expect(verdict(document, 'lost-for-good', 'loft/coin')).to.include({ outcome: 'fails', severity });
      expect(verdict(fixed(document, 'lost-for-good', 'loft/coin', /each attempt/), 'missable', 'loft/coin').outcome).to.equal(
        'fails'
      );
    }
  });

  it('a new game brings nothing back that was lost in this one', () => {
    const lost = (more: object[]) =>
      netLoft((level, whole) => {
        level.pieces.coin = { ...one('Coin', 'pickup', { yard: 1 }), renew: 'never' };
        level.rules.push({ id: 'burn', when: { press: 'Burn' }, do: [{ remove: 'lamp' }], go: { place: 'after' } });
        whole.places.after = {
          name: 'After',
          kind: 'menu',
          rules: [{ id: 'on', when: { press: 'On' }, do: more, go: { place: 'title' } }]
        };
        whole.places.title.rules = whole.places.title.rules.map((rule: object) => ({ ...rule, if: 'not gone' }));
        whole.places.title.rules.push({ id: 'wipe', when: { press: 'Wipe' }, do: [{ erase: true }] });
        whole.variables.gone = { name: 'Gone', type: 'flag', initial: false, scope: 'kept' };
        level.rules.at(-1).do.push({ set: 'gone', to: 'true' });
      });
    const found = verdict(lost([]), 'lost-for-good', 'loft/coin');
    expect([found.outcome, found.route!.at(-1)]).to.deep.equal(['fails', { press: 'Burn' }]);
    expect(verdict(lost([{ set: 'gone', to: 'false' }]), 'lost-for-good', 'loft/coin').outcome).to.equal('holds');
  });

  it('where every passage is open both ways, states are not multiplied, routes are walked, and lengths say that there may be shorter ones', () => {
    const open = netLoft((level, document) => {
      level.passages = { a: { from: 'yard', to: 'loft', both: true }, b: { from: 'loft', to: 'cellar', both: true } };
      level.rules = level.rules.filter(({ id }: { id: string }) => id === 'lit');
      document.places.title.rules = document.places.title.rules.slice(0, 1);
    });
    const { states, checks } = check(open);
    const plain = check(open, { explorer: explore });
    expect(states).to.be.lessThan(plain.states / 4);
    const won = checks.find((each) => each.check === 'level-completable')!;
    const real = plain.checks.find((each) => each.check === 'level-completable')!;
    expect([won.outcome, won.shortest]).to.deep.equal(['holds', false]);
    expect(won.length).to.be.at.least(real.length!);
    expect(replay(open, won.route!, prepare(open)).at(-1)!.won).to.deep.equal(['loft']);
    expect(checks.find((each) => each.check === 'spot-reached' && each.subject === 'loft/cellar')!.outcome).to.equal('holds');
  });
});

describe('inside a level: the document', () => {
  it('is version 2 as soon as anything of it is used, and is written as it was read', () => {
    const document = netLoft();
    expect(document.version).to.equal(2);
    const text = write(document);
    expect(read(text).document).to.deep.equal(document);
    expect(write(read(text).document!)).to.equal(text);
    expect(text).to.include('"at": {"yard": 2, "loft": 2}');
    expect(flowOf({ places: { title: { name: 'T', kind: 'level', spots: { a: { name: 'A' } } } } }).version).to.equal(2);
  });

  it('refuses what has no shape, plainly', () => {
    const refused = (change: (level: any) => void): string[] => {
      const document = structuredClone(netLoft()) as any;
      change(document.places.loft);
      return validate(document).errors!.map(({ pointer, message }) => `${pointer} ${message}`);
    };
    expect(refused((level) => (level.passages.drop.to = 'yard'))[0]).to.include(
      '/places/loft/passages/drop must lead from one spot to another'
    );
    expect(refused((level) => (level.pieces.lamp.count = 3))[0]).to.include('/places/loft/pieces/lamp/count');
    expect(refused((level) => (level.pieces.lamp.at = []))[0]).to.include('/places/loft/pieces/lamp/at');
    expect(refused((level) => (level.pieces.lamp.at = { yard: 9000, loft: 9000 }))[0]).to.include(
      'stands for more than 10,000 pieces'
    );
    expect(refused((level) => (level.pieces.hero = { name: 'Hero', kind: 'player', at: { yard: 1 } }))[0]).to.include(
      '/pieces/hero/at'
    );
    const many = (count: number) => Object.fromEntries(Array.from({ length: count }, (_, n) => [`s${n}`, { name: `S ${n}` }]));
    expect(refused((level) => (level.spots = many(257)))[0]).to.include('/places/loft/spots');
  });

  it('tells what names nothing: ends of passages, what they go through, entries, places of pieces, rules', () => {
    const document = netLoft((level, whole) => {
      level.passages.drop.to = 'well';
      level.passages.trapdoor.through = ['rope', 'lamp'];
      level.passages.stairs.if = 'at(roof)';
      level.entries.back.spot = 'well';
      level.pieces.key.at = { well: 1 };
      level.rules.push({ id: 'walked', when: { walk: 'bridge' }, do: [{ set: 'seen', to: 'true' }] });
      whole.places.title.rules.push({ id: 'far', when: { press: 'X' }, if: 'at(yard)' });
    });
    const found = prepare(document).misfits;
    expect(found.map(({ check: name, subject, message }) => `${name} ${subject}: ${message}`)).to.deep.equal([
      'reference place/loft: Back arrives at "well", and there is no such spot.',
      'reference place/loft: Key stands at "well", and there is no such spot.',
      'reference rule/walked: There is no passage "bridge" here.',
      'reference place/loft: A passage of Net Loft goes through "rope", and there is no such piece.',
      'reference place/loft: A passage of Net Loft goes through Lamp, which is a pickup.',
      'reference place/loft: A passage of Net Loft names "well", and there is no such spot.',
      'condition loft/stairs: There is no spot "roof" here.'
    ]);
    // what does not fit is never open, and says nothing of being walked
    expect(verdicts(document).filter(({ check: name }) => name === 'passage-walked')).to.deep.equal([]);
  });
});

describe('inside a level: edits', () => {
  const round = (document: FlowDocument, change: { patch: any; inverse: any }): FlowDocument => {
    const after = apply(document, change.patch);
    expect(apply(after, change.inverse)).to.deep.equal(document);
    expect(validate(JSON.parse(write(after))).errors).to.equal(undefined);
    return after;
  };

  for (const shape of Object.keys(groundShapes) as GroundShape[])
    it(`splits a level into ${groundShapes[shape].name.toLowerCase()}, in which every spot is reached`, () => {
      const plain = netLoft((level) => {
        for (const key of ['spots', 'passages']) delete level[key];
        delete level.entries.back.spot;
        for (const piece of Object.values<any>(level.pieces)) delete piece.at;
        level.rules = level.rules.filter(({ id }: { id: string }) => id !== 'up' && id !== 'there');
      });
      const split = round(plain, splitLevel(plain, 'loft', shape));
      expect(Object.keys(levelOf(split).spots).length).to.equal(3);
      const failing = verdicts(split).filter((each) => each.outcome === 'fails' && each.severity !== 'information');
      const inside = failing.filter(({ check: name }) => /spot|passage|reach/.test(name));
      expect(inside).to.deep.equal([]);
    });

  it('add and delete spots and passages, with what refers to them', () => {
    const document = netLoft();
    const added = addSpot(document, 'loft', { name: 'Roof' });
    const roofed = round(document, added);
    const passage = addPassage(roofed, 'loft', { from: 'loft', to: added.id, both: true });
    expect(Object.keys(levelOf(round(roofed, passage)).passages)).to.include(passage.id);
    const without = levelOf(round(document, removeSpot(document, 'loft', 'cellar')));
    expect(Object.keys(without.passages)).to.deep.equal(['trapdoor']);
    expect([without.entries.back!.spot, without.pieces.key!.at]).to.deep.equal([undefined, { yard: 1 }]);
  });

  it('move pieces from spot to spot, all or some, and keep the count', () => {
    const document = netLoft();
    const some = round(document, movePiece(document, 'loft', 'lamp', 'cellar', 'yard', 1));
    expect(levelOf(some).pieces.lamp!.at).to.deep.equal({ yard: 1, loft: 2, cellar: 1 });
    const all = round(some, movePiece(some, 'loft', 'lamp', 'cellar', 'yard'));
    expect(levelOf(all).pieces.lamp!.at).to.deep.equal({ loft: 2, cellar: 2 });
    const placed = round(document, movePiece(document, 'loft', 'web', 'loft'));
    expect(levelOf(placed).pieces.web).to.deep.equal({ name: 'Cobweb', kind: 'hazard', at: { loft: 1 } });
    const entry = round(document, setEntrySpot(document, 'loft', 'door', 'loft'));
    expect(levelOf(entry).entries.door!.spot).to.equal('loft');
    const none = round(document, setStanding(document, 'loft', 'key', 'cellar', 0));
    expect(levelOf(none).pieces.key!.at).to.equal(undefined);
  });

  it('change a count that is a sum where it is one', () => {
    const document = netLoft();
    const at = (count: number) => levelOf(round(document, changePiece(document, 'loft', 'lamp', { count }))).pieces.lamp!.at;
    expect([at(6), at(3), at(1)]).to.deep.equal([{ yard: 4, loft: 2 }, { yard: 2, loft: 1 }, { yard: 1 }]);
    const shared = { name: 'Lamp', kind: 'pickup' as const, at: [{ spots: ['yard', 'loft'], n: 2 }, { spots: ['loft'] }] };
    expect(withCount(shared, 2)).to.deep.equal([{ spots: ['yard', 'loft'], n: 2 }]);
  });

  it('of two people in one map merge', () => {
    const document = netLoft();
    const mine = movePiece(document, 'loft', 'lamp', 'cellar', 'yard', 1);
    const theirs = addPassage(document, 'loft', { from: 'loft', to: 'cellar' });
    const both = levelOf(apply(apply(document, mine.patch), theirs.patch));
    expect([both.pieces.lamp!.at, Object.keys(both.passages).length]).to.deep.equal([{ yard: 1, loft: 2, cellar: 1 }, 4]);
  });
});

describe('inside a level: views', () => {
  it('the picture has a room for each spot, none on another, with what stands there, also where there are very many', () => {
    const many = netLoft((level) => {
      level.spots = Object.fromEntries(Array.from({ length: 256 }, (_, n) => [`s${n}`, { name: `S ${n}` }]));
      level.passages = Object.fromEntries(
        Array.from({ length: 2000 }, (_, n) => [`p${n}`, { from: `s${n % 256}`, to: `s${(n * 3 + 1) % 256}` }])
      );
      for (const passage of Object.values<any>(level.passages))
        if (passage.from === passage.to) passage.to = passage.from === 's0' ? 's1' : 's0';
      level.pieces = {};
      level.entries = {};
      level.rules = [];
    });
    for (const document of [netLoft(), many]) {
      const { rooms, ways, width, height } = groundPicture(document, 'loft');
      expect([rooms.length, ways.length]).to.deep.equal([
        Object.keys(levelOf(document).spots).length,
        Object.keys(levelOf(document).passages).length
      ]);
      for (const [n, a] of rooms.entries()) {
        expect(a.x >= 0 && a.y >= 0 && a.x + a.width <= width && a.y + a.height <= height, a.id).to.equal(true);
        for (const b of rooms.slice(n + 1))
          expect(
            a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y,
            `${a.id} ${b.id}`
          ).to.equal(true);
      }
    }
    const { rooms, ways, doors } = groundPicture(netLoft(), 'loft');
    expect(rooms.find(({ id }) => id === 'yard')!.pieces).to.deep.equal([{ piece: 'lamp', n: 2, shared: false }]);
    expect(ways.map(({ label }) => label)).to.deep.equal(['Key', 'past Cobweb', '']);
    expect(doors.map(({ kind, spot }) => `${kind} ${spot}`)).to.deep.equal(['entry yard', 'entry cellar']);
  });

  it('its marks tell what is never reached, and where no way leads back', () => {
    const document = netLoft((level) => {
      delete level.passages.stairs;
      level.pieces.key.at = { loft: 1 };
    });
    const marks = groundMarks(document, 'loft', verdicts(document));
    expect([[...marks.spots.keys()], [...marks.passages.keys()], [...marks.drops]]).to.deep.equal([
      ['loft'],
      ['trapdoor'],
      ['drop']
    ]);
  });

  it('recorded runs know which spots and passages they use, and are written for those that none uses', () => {
    const document = netLoft();
    expect(uncovered(document).passages).to.deep.equal(['loft/trapdoor', 'loft/drop', 'loft/stairs']);
    const route = finish(routeToUse(document, { passage: 'loft/trapdoor' }))!;
    const kept = apply(document, keepRun(document, playSteps(document, route)!.trial, 'Up')!.patch);
    expect(validate(JSON.parse(write(kept))).errors).to.equal(undefined);
    const { spots, passages } = uncovered(kept);
    expect([spots, passages]).to.deep.equal([[], ['loft/drop']]);
    expect(finish(routeToUse(document, { spot: 'loft/loft' }))!.at(-1)).to.deep.equal({ walk: 'trapdoor' });
  });

  it('the tape says where the player walks, and counts what is left where the player is', () => {
    let trial = beginTrial(netLoft())!;
    for (const event of [{ press: 'Begin' }, { collect: 'lamp', of: 0 }] as const) trial = act(trial, event);
    expect(leftFor(trial, { collect: 'lamp', of: 0 })).to.equal(1);
    trial = act(trial, { walk: 'drop' });
    expect(lineWords(trial.flow.document, trial.lines.at(-1)!)).to.match(/^walk to Cellar: Webs 0 → 1 \(/);
  });

  it('the sheet, the uses of values, the history and the printed report speak of it', () => {
    const document = netLoft((level) => (level.passages.drop.if = 'webs < 2'));
    const column = columnsOf(document).find(({ key }) => key === 'standing')!;
    expect(column.read(document, 'loft')).to.equal('Lamp: Yard 2, Loft 2; Key: Cellar 1; Shrine: Cellar 1');
    expect(
      usesOf(document)
        .get('webs')!
        .read.map(({ words }) => words)
    ).to.include('the passage Yard → Cellar of Net Loft');
    const roofed = apply(document, addSpot(document, 'loft', { name: 'Roof' }).patch);
    const moved = apply(roofed, movePiece(roofed, 'loft', 'key', 'yard', 'cellar').patch);
    expect(differences(document, moved).map(({ text }) => text)).to.deep.equal([
      'Net Loft, Key: at Cellar 1 → Yard 1.',
      'Net Loft: the spot Roof.'
    ]);
    expect(reportHtml(document, check(document), { date: new Date(0) }))
      .to.include('Inside levels')
      .and.include('Trapdoor: Loft (if Key is collected)');
  });

  it('is out of reach where there are no spots at all, says either engine', () => {
    const document = netLoft((level) => (level.spots = {}));
    const piece = check(document).checks.find((each) => each.check === 'piece-in-reach' && each.subject === 'loft/lamp')!;
    expect(piece.outcome).to.equal('fails');
    let compared = 0;
    fc.assert(
      fc.property(pooledFlow, (found) => {
        const bare = structuredClone(found);
        for (const place of Object.values(bare.places)) if (place.kind === 'level') place.spots = {};
        if (JSON.stringify(bare) !== JSON.stringify(found) && compare(bare)) compared++;
      }),
      { numRuns: randoms(60), seed }
    );
    expect(compared).to.be.greaterThan(randoms(15));
  }).timeout(60 * 60_000);
});
