/** Edits of saved games: how many slots, what is shown of each, and the menus in which they are picked. */
import { change, Series, type Change } from '../patch.ts';
import { same } from '../same.ts';
import {
  findRule,
  homeOf,
  ruleLists,
  type Effect,
  type FlowDocument,
  type Id,
  type Rule,
  type Saves,
  type Target
} from '../types.ts';
import { usuallyShown } from '../../vocabulary/saves.ts';
import { addPlace, emptyPlace, fieldOperations, setMessage } from './places.ts';
import { addRule, changeRule, type NewRule } from './rules.ts';

/** Sets how many slots there are and what is shown of each; what is as it is without is not written. */
export function setSaves(document: FlowDocument, { slots = 1, shows = [] }: Saves): Change {
  const saves = { ...(slots > 1 && { slots }), ...(shows.length > 0 && { shows }) };
  const after = Object.keys(saves).length > 0 ? saves : undefined;
  if (same(document.saves, after)) return change(document, 'Saved games', []);
  return change(document, slots > 1 ? `${slots} saved games` : 'Saved games', fieldOperations('/saves', document.saves, after));
}

/** What can be done with a slot that is picked in a menu. */
export type SlotAct = 'new' | 'on' | 'save' | 'clear';

/** The rule of each act. A value of the run that one game leaves never gets into the other: the run begins, or is loaded whole. */
export function slotRule(document: FlowDocument, act: SlotAct): NewRule {
  switch (act) {
    case 'new':
      return { when: { slot: 'empty' }, do: [{ slot: 'take' }, { begin: 'run' }], go: { move: 'first' } };
    case 'on':
      return { when: { slot: 'used' }, do: [{ slot: 'take' }, { begin: 'run' }], go: goingOn(document) };
    case 'save':
      return { when: { slot: 'any' }, do: [{ save: 'always' }, { slot: 'put' }] };
    case 'clear':
      return { when: { slot: 'used' }, do: [{ slot: 'clear' }] };
  }
}

/** Where a game goes on: at what was saved, else where levels are chosen, else at the first level. */
function goingOn(document: FlowDocument): Target {
  const rules = [...ruleLists(document)].flatMap(({ rules: list }) => list);
  const select = Object.keys(document.places).find((id) => document.places[id]!.rules.some(({ when }) => 'choose' in when));
  const otherwise: Target = select === undefined ? { move: 'first' } : { place: select };
  const saves = rules.some(({ do: effects = [] }) => effects.some((effect) => 'save' in effect));
  return saves ? { move: 'load', else: otherwise } : otherwise;
}

/**
 * The usual menus: one in which a slot is picked, an empty one for a new game, a used one to go on or, after a question,
 * to begin again in it. Home leads there.
 */
export function addSlotMenus(document: FlowDocument, slots = 3): Change & { id: Id } {
  const series = new Series(document);
  if ((document.saves?.slots ?? 1) < 2) series.make(setSaves(series.now, { shows: [...usuallyShown], ...document.saves, slots }));
  const menu = (name: string) => series.make(addPlace(series.now, emptyPlace('menu', name))).id;
  const rule = (place: Id, made: NewRule) => void series.make(addRule(series.now, { place }, made));
  const [pick, use] = [menu('Saved games'), menu('Go on?')];
  rule(pick, slotRule(document, 'new'));
  rule(pick, { when: { slot: 'used' }, go: { place: use, over: true } });
  const { when: _when, ...on } = slotRule(document, 'on');
  rule(use, { when: { press: 'Go on' }, ...on });
  const again: Omit<NewRule, 'when'> = { do: [{ slot: 'take' }, { slot: 'clear' }], go: { move: 'first' } };
  const question = addQuestion(series, again);
  rule(use, { when: { press: 'New game' }, go: { place: question, over: true } });
  rule(use, { when: { press: 'Back' }, go: { move: 'back' } });
  const home = homeOf(document);
  if (home !== undefined) {
    rule(pick, { when: { press: document.places[home]!.name }, go: { place: home } });
    rule(home, { when: { press: 'Saved games' }, go: { place: pick } });
  }
  return { ...series.whole('Add menus for saved games'), id: pick };
}

/** A menu that asks before a saved game is lost. */
function addQuestion(series: Series<FlowDocument>, then: Omit<NewRule, 'when'>): Id {
  const { id } = series.make(addPlace(series.now, emptyPlace('menu', 'Overwrite?')));
  series.make(setMessage(series.now, id, [{ text: 'What is saved in this slot will be lost.' }]));
  series.make(addRule(series.now, { place: id }, { when: { press: 'Overwrite' }, ...then }));
  series.make(addRule(series.now, { place: id }, { when: { press: 'Keep it' }, go: { move: 'back' } }));
  return id;
}

/** What makes a saved game be lost: it is cleared, or another is written into it. */
const loses = (effect: Effect) => 'slot' in effect && effect.slot !== 'take';

/** The rules that lose a used slot as soon as it is picked. */
export const overwriting = (document: FlowDocument): Rule[] =>
  [...ruleLists(document)].flatMap(({ rules }) =>
    rules.filter(({ when, do: effects }) => 'slot' in when && when.slot !== 'empty' && effects?.some(loses))
  );

/** Asks first: the rule opens a question, and what it did is done by the answer. An empty slot is used without one. */
export function askBeforeOverwriting(document: FlowDocument, id: Id): Change {
  const series = new Series(document);
  const { rule, owner } = findRule(document, id)!;
  const { id: _id, when, ...then } = rule;
  // what only saved or cleared leaves the question with the answer
  const question = addQuestion(series, { ...then, go: then.go ?? { move: 'back' } });
  if ('slot' in when && when.slot === 'any') series.make(addRule(series.now, owner, { ...then, when: { slot: 'empty' } }));
  series.make(changeRule(series.now, id, { when: { slot: 'used' }, go: { place: question, over: true } }));
  return series.whole('Ask before overwriting');
}
