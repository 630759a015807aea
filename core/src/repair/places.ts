/** Findings about places: not reached, not to be completed, no way on. */
import { cut } from '../document/cut.ts';
import { doorOf } from '../document/doors.ts';
import { addOtherSide, arriveAtDoor } from '../document/edits/doors.ts';
import { removeEntry, setListed } from '../document/edits/lists.ts';
import { changePiece, changeVariable, removePiece } from '../document/edits/parts.ts';
import { addPlace, emptyPlace, renamePlace, setStart } from '../document/edits/places.ts';
import { addRule, changeRule, endingOf, likelyRule, removeRule, wireRule, type NewRule } from '../document/edits/rules.ts';
import { together, type Change } from '../document/patch.ts';
import {
  findRule,
  isLevel,
  own,
  ruleLists,
  targetsOf,
  type FlowDocument,
  type Id,
  type Level,
  type Rule,
  type Target
} from '../document/types.ts';
import { variablesIn } from '../language/ast.ts';
import { bothOf } from '../language/print.ts';
import type { Verdict } from '../report/report.ts';
import type { FittingRule } from '../play/fit.ts';
import { prepare } from '../play/flow.ts';
import { rulesReadIn } from '../play/reading.ts';
import { answerRows, fillingRule } from '../sheet/answers.ts';
import { placeName, ruleWords, variableName } from '../words/words.ts';
import { withoutExpectation } from './misfits.ts';
import { named, type Offers } from './offers.ts';
import { beginningRun, deadRule, goalCount, openings, otherwiseTo } from './rules.ts';
import { rulesTo } from '../play/leading.ts';

const name = (document: FlowDocument, id: Id) => placeName(document, id);

/** A new way from one place to another, as a pull between them makes it. */
function wired(document: FlowDocument, from: Id, to: Id): Change {
  const rule = wireRule(document, from, to);
  const how = 'press' in rule.when ? ` by a button ${rule.when.press}` : '';
  return named(`From ${name(document, from)} to ${name(document, to)}${how}`, addRule(document, { place: from }, rule));
}

/** Rules that go on to the next level and say nothing for the last one. */
const openNexts = (document: FlowDocument): Rule[] =>
  [...ruleLists(document)].flatMap(({ rules }) =>
    rules.filter(({ go }) => go && 'move' in go && go.move === 'next' && go.else === undefined)
  );

/** Choices that list a level and let nobody at it. */
function unlocked(document: FlowDocument, level: Id): Change[] {
  return [...ruleLists(document)]
    .flatMap(({ rules }) => rules)
    .filter((rule) => 'choose' in rule.when && rule.if !== undefined)
    .filter(({ when }) => own(document.orders, (when as { choose: Id }).choose)?.levels.includes(level))
    .flatMap((rule) => openings(document, rule));
}

const placeReached: Offers = (document, { subject: id, why = [] }) => {
  const place = document.places[id]!;
  const found: Change[] = [];
  const home = prepare(document).home;
  if (place.kind === 'level') {
    const listed = Object.values(document.orders).some(({ levels }) => levels.includes(id));
    if (!listed)
      for (const [order, { name: orderName }] of Object.entries(document.orders))
        found.push(named(`Put it last into ${orderName}`, setListed(document, order, id, true)));
  }
  if (place.kind === 'ending' && place.outcome === 'won')
    for (const { id: rule } of openNexts(document)) found.push(...otherwiseTo(document, rule, id));
  if (rulesTo(document, id).length === 0) {
    const leadsToStart = place.rules.some(({ go }) => go && 'place' in go && go.place === document.start);
    const begin = () => named(`Let play begin at ${place.name}`, setStart(document, id));
    // what is called a splash stands before the first screen and is never returned to; credits are led to
    if (leadsToStart && /\b(splash|logo|intro|opening)\b/i.test(place.name)) return [begin()];
    if (place.kind === 'ending' && place.outcome === 'lost')
      for (const from of losing(document)) if (from !== id) found.push(wired(document, from, id));
    if (home !== undefined && home !== id && !(place.kind === 'ending' && place.outcome === 'won'))
      found.push(wired(document, home, id));
    else if (document.start !== id) found.push(wired(document, document.start, id));
    if (leadsToStart && place.kind !== 'level') found.push(begin());
  }
  for (const { rule, never, places = [] } of why) {
    if (rule !== undefined && never !== 'place not reached') found.push(...deadRule(document, rule, never));
    // nobody gets past these
    for (const level of places) if (rule === undefined) found.push(...reachableGoals(document, level));
  }
  if (place.kind === 'level') found.push(...unlocked(document, id));
  return found;
};

/** Of the rules that complete a level those that ask for what there is not. */
function reachableGoals(document: FlowDocument, id: Id): Change[] {
  return completing(document, id).flatMap((rule) => goalCount(document, { subject: rule.id }));
}

/** The rules that complete a level. */
function completing(document: FlowDocument, id: Id): FittingRule[] {
  const level = document.places[id];
  if (level?.kind !== 'level') return [];
  return prepare(document)
    .applying(id, id)
    .all.filter(({ rule }) => (level.goal === 'leave' ? rule.go : rule.result === 'won'));
}

/** The screens that losing leads to. */
function losing(document: FlowDocument): Id[] {
  const to = [...ruleLists(document)].flatMap(({ rules }) =>
    rules.flatMap(({ result, go }) => (result === 'lost' && go ? targetsOf(go) : []))
  );
  const screens = to.flatMap((target) => ('place' in target ? [target.place] : []));
  return [...new Set(screens)].filter((id) => own(document.places, id)?.kind === 'interlude').slice(0, 2);
}

const levelCompletable: Offers = (document, { subject: id, why = [] }) => {
  const level = document.places[id] as Level;
  const found = why.flatMap(({ rule, never }) => (rule === undefined ? [] : deadRule(document, rule, never)));
  if (level.goal === 'leave') return [...found, ...out(document, id)];
  if (!why.some(({ rule }) => rule !== undefined && findRule(document, rule)?.rule.result === 'won'))
    found.push(named(`Win ${level.name} with its pieces`, addRule(document, { place: id }, likelyRule(document, id, 'won'))));
  return found;
};

/** Ways out of a level: again, and home. */
function out(document: FlowDocument, id: Id): Change[] {
  const home = prepare(document).home;
  const again: NewRule = { when: { press: 'Start again' }, go: { move: 'again' } };
  const leave: NewRule | undefined =
    home === undefined ? undefined : { when: { press: name(document, home) }, go: { place: home } };
  return [
    named(`${name(document, id)}: a button to start again`, addRule(document, { place: id }, again)),
    ...(leave
      ? [named(`${name(document, id)}: a button to ${name(document, home!)}`, addRule(document, { place: id }, leave))]
      : [])
  ];
}

const attemptEnds: Offers = (document, { subject: id }) => [
  named(
    `${name(document, id)}: a button that gives up`,
    addRule(document, { place: id }, { ...likelyRule(document, id, 'lost'), when: { press: 'Give up' } })
  ),
  ...out(document, id)
];

const neverStuck: Offers = (document, { subject: id }) => out(document, id);

const movesOn: Offers = (document, { subject: id }) => {
  const opened = rulesTo(document, id).some(
    ({ go }) => go && targetsOf(go).some((target) => 'place' in target && target.place === id && target.over)
  );
  const back: NewRule = { when: { press: 'Back' }, go: { move: 'back' } };
  const home = prepare(document).home;
  return [
    ...(opened ? [named(`${name(document, id)}: a button back`, addRule(document, { place: id }, back))] : []),
    ...(home !== undefined && home !== id ? [wired(document, id, home)] : [])
  ];
};

/** A new run is begun where a game begins and what an earlier one ended with is still there. */
function runsBegun(document: FlowDocument): Change[] {
  const { home } = prepare(document);
  const carried = Object.values(document.variables).some(({ scope }) => scope === 'run');
  if (home === undefined || !carried) return [];
  return document.places[home]!.rules.flatMap((rule) => {
    const { when, go, do: effects = [] } = rule;
    const leads = go && ('place' in go ? isLevel(document, go.place) : ['first', 'next'].includes(go.move));
    if (!leads || effects.some((effect) => 'begin' in effect)) return [];
    const where = 'press' in when ? `on ${when.press}` : `in ${name(document, home)}`;
    return [beginningRun(document, rule, `Begin a new run ${where}`)];
  });
}

const endingInReach: Offers = (document, { why = [] }) => {
  const places = why.flatMap(({ places: named_ }) => named_ ?? []);
  const endings = Object.keys(document.places).filter((id) => document.places[id]!.kind === 'ending');
  if (endings.length === 0) {
    const made = addPlace(document, emptyPlace('ending', 'The end'));
    const nexts = openNexts(document).map(
      ({ id }) =>
        (now: FlowDocument) =>
          otherwiseTo(now, id, made.id)[0]!
    );
    if (nexts.length > 0) return [together(document, 'Add an ending, after the last level', () => made, ...nexts)];
    const { home = document.start } = prepare(document);
    const leave = (now: FlowDocument) => addRule(now, { place: home }, { when: { press: 'Leave' }, go: { place: made.id } });
    return [together(document, `Add an ending, reached from ${name(document, home)}`, () => made, leave)];
  }
  const home = prepare(document).home;
  const found: Change[] = runsBegun(document);
  const left = endingOf(document, 'left') ?? endings[0]!;
  if (home !== undefined && places.includes(home)) found.push(wired(document, home, left));
  else if (home !== undefined) {
    const screen = places.find((id) => !isLevel(document, id));
    if (screen !== undefined) found.push(wired(document, screen, home));
    for (const id of places) if (isLevel(document, id)) found.push(...out(document, id));
  }
  return found.slice(0, 4);
};

const arrivalCompletable: Offers = (document, verdict) => {
  const { subject: id } = verdict;
  const rules = completing(document, id);
  return [
    ...reachableGoals(document, id),
    ...(rules.length > 0 ? [] : levelCompletable(document, verdict)),
    ...begunAfresh(document, id, rules),
    ...out(document, id)
  ];
};

/** What some rules of a level ask for begins with each attempt: its pieces, and values of longer life. */
function begunAfresh(document: FlowDocument, id: Id, rules: FittingRule[]): Change[] {
  const level = document.places[id] as Level;
  const pieces = new Set(rules.flatMap((rule) => rule.pieces));
  const variables = new Set(
    rules.flatMap(({ condition, holds }) => [condition, holds].flatMap((text) => (text ? variablesIn(text) : [])))
  );
  return [
    ...[...pieces].flatMap((piece) => {
      const { name: words, renew } = level.pieces[piece] ?? {};
      if (renew !== 'run' && renew !== 'never') return [];
      return [named(`Bring ${words!} back with each attempt`, changePiece(document, id, piece, { renew: undefined }))];
    }),
    ...[...variables].flatMap((variable) => {
      const before = document.variables[variable]!;
      if (before.scope === 'attempt') return [];
      const words = variableName(document, variable);
      const reset: NewRule = { when: { arrive: true }, do: [{ reset: variable }] };
      return [
        named(`Begin ${words} with each attempt`, changeVariable(document, variable, { ...before, scope: 'attempt' })),
        named(`Reset ${words} on arrival in ${level.name}`, addRule(document, { place: id }, reset, 0))
      ];
    })
  ];
}

const overAtOnce: Offers = (document, { subject: id, why = [] }) => {
  const applying = prepare(document).applying(id, id).all;
  return why.flatMap(({ rule: fired }) => {
    const rule = applying.find((each) => each.id === fired);
    if (!rule) return [];
    const found = begunAfresh(document, id, [rule]);
    const words = ruleWords(document, findRule(document, rule.id)!.owner, rule.rule);
    return found.length > 0 ? found : [named(`Delete the rule ${words}`, removeRule(document, rule.id))];
  });
};

const alwaysSettles: Offers = (document, { why = [] }) =>
  why.flatMap(({ rule }) => {
    const found = rule === undefined ? undefined : findRule(document, rule);
    return found
      ? [named(`Delete the rule ${ruleWords(document, found.owner, found.rule)}`, removeRule(document, found.rule.id))]
      : [];
  });

const pieceHandled: Offers = (document, { subject }) => {
  const [id, piece] = subject.split('/') as [Id, Id];
  const level = document.places[id] as Level;
  const { name: words, kind } = level.pieces[piece]!;
  const found: Change[] = [];
  const row = answerRows(document, [id]).find(({ trigger }) => 'touch' in trigger && trigger.touch === piece);
  const others = Object.keys(document.places).filter((other) => other !== id && isLevel(document, other));
  if (row)
    found.push(
      named(`Add the usual rule for ${words}`, addRule(document, { place: id }, fillingRule(document, id, row, others)))
    );
  else {
    const winning = rulesReadIn(document, id).find(
      ({ rule, shared }) => !shared && rule.result === 'won' && 'holds' in rule.when
    );
    if (winning && 'holds' in winning.rule.when && kind !== 'player') {
      const { id: rule, ...rest } = winning.rule;
      const holds = bothOf(winning.rule.when.holds, `left(${piece}) = 0`);
      found.push(changeRule(document, rule, { ...rest, when: { holds } }, `Win only when all of ${words} are gone`));
    } else {
      const lost = kind === 'player';
      const when: NewRule['when'] = lost ? { defeat: piece } : { holds: `left(${piece}) = 0` };
      const rule = { ...likelyRule(document, id, lost ? 'lost' : 'won'), when };
      const label = lost ? `Lose when ${words} is defeated` : `Win when no ${words} is left`;
      found.push(named(label, addRule(document, { place: id }, rule)));
    }
  }
  return [...found, named(`Take ${words} out of ${level.name}`, removePiece(document, id, piece))];
};

const entryUsed: Offers = (document, { subject }) => {
  const [id, entry] = subject.split('/') as [Id, Id];
  const level = document.places[id] as Level;
  const words = level.entries[entry]!.name;
  const leading = rulesTo(document, id).filter(
    ({ go }) => go && 'place' in go && go.place === id && (go.entry === undefined || go.entry === Object.keys(level.entries)[0])
  );
  return [
    named(`Delete the entry ${words}`, removeEntry(document, id, entry)),
    ...leading.slice(0, 2).map(({ id: rule, ...rest }) => {
      const { owner } = findRule(document, rule)!;
      const from = 'place' in owner ? name(document, owner.place) : 'a shared rule';
      return changeRule(
        document,
        rule,
        { ...rest, go: { ...(rest.go as Target & object), entry } as Target },
        `Arrive there from ${from}`
      );
    })
  ];
};

const wayBack: Offers = (document, { subject: from, why = [] }) =>
  why.map(({ rule, places = [] }) =>
    doorOf(document, from, rule!)!.other
      ? named(`Arrive at the same door: from ${name(document, places[0]!)}`, arriveAtDoor(document, rule!))
      : named(`Make the other side: from ${name(document, places[0]!)} to ${name(document, from)}`, addOtherSide(document, rule!))
  );

const nameUnique: Offers = (document, { subject: id }) => {
  const taken = new Set(Object.values(document.places).map((place) => place.name));
  const base = document.places[id]!.name;
  let n = 2;
  while (taken.has(`${base} ${n}`)) n++;
  return [renamePlace(document, id, `${cut(base, 75)} ${n}`)];
};

const expectation: Offers = (document, { subject }: Verdict) => withoutExpectation(document, subject);

export const placeRepairs = {
  'place-reached': placeReached,
  'level-completable': levelCompletable,
  'over-at-once': overAtOnce,
  'arrival-completable': arrivalCompletable,
  'attempt-ends': attemptEnds,
  'never-stuck': neverStuck,
  'moves-on': movesOn,
  'ending-in-reach': endingInReach,
  'always-settles': alwaysSettles,
  'piece-handled': pieceHandled,
  'entry-used': entryUsed,
  'way-back': wayBack,
  'name-unique': nameUnique,
  expectation
};
