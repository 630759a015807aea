/** What the effects of a rule do. */
import type { Act, Effect, EffectKind, With } from '../document/types.ts';
import { constant, fieldsOf, id, kindIn, type Field, type Say, type Shape } from './fields.ts';

interface EffectEntry<T> extends Shape {
  /** In the list of effects. */
  label: string;
  /** What it does: "reset Lives". */
  words(effect: T, say: Say): string;
}

/** In the order in which they are offered. */
export const effects: { [K in EffectKind]: EffectEntry<With<Act, K>> } = {
  set: {
    value: id('variable'),
    needs: { to: { is: 'expression' } },
    label: 'set a value',
    words: setWords
  },
  reset: { value: id('variable'), label: 'reset a value', words: ({ reset }, say) => `reset ${say.variable(reset)}` },
  begin: { value: constant('run'), label: 'begin a new run', words: () => 'begin a new run' },
  raise: { value: id('signal'), label: 'raise a signal', words: ({ raise }, say) => `raise ${say.signal(raise)}` },
  remove: {
    value: id('piece'),
    may: { by: { is: 'count' } },
    label: 'remove a piece',
    words: ({ remove, by = 1 }, say) => (by === 1 ? `remove 1 ${say.piece(remove)}` : `remove ${say.piece(remove)} × ${by}`)
  },
  restore: {
    value: id('piece'),
    label: 'put pieces back',
    words: ({ restore }, say) => `put every ${say.piece(restore)} back`
  },
  defeat: { value: id('piece'), label: 'defeat a foe', words: ({ defeat }, say) => `defeat 1 ${say.piece(defeat)}` },
  draw: { value: id('order'), label: 'draw an order', words: ({ draw }, say) => `draw ${say.order(draw)}` },
  save: {
    value: constant('always', 'forward'),
    label: 'save',
    words: ({ save }) => (save === 'forward' ? 'save, if further on' : 'save')
  },
  slot: {
    value: constant('take', 'put', 'clear'),
    label: 'use the picked slot',
    words: ({ slot }) =>
      ({ take: 'play on in the picked slot', put: 'save into the picked slot', clear: 'clear the picked slot' })[slot]
  },
  forget: { value: constant(true), label: 'forget the save', words: () => 'forget the save' },
  erase: { value: constant(true), label: 'erase all progress', words: () => 'erase all progress' }
};

export const effectKinds = Object.keys(effects) as EffectKind[];
export const effectKind = (effect: Effect): EffectKind => kindIn(effects, effect);
/** What an effect does. */
export const effectSaid = (effect: Effect, say: Say): string =>
  (effects[effectKind(effect)] as EffectEntry<Effect>).words(effect, say);
export const effectFields = (effect: Effect): Generator<[string, Field, unknown]> => {
  const kind = effectKind(effect);
  return fieldsOf(kind, effects[kind], effect);
};

/** Steps up and down are said as such; everything else is "set Lives to …". */
function setWords({ set, to }: With<Act, 'set'>, say: Say): string {
  const name = say.variable(set);
  const [, from, sign, by] = /^\s*([a-z][a-z0-9_]*)\s*([+-])\s*(\d+)\s*$/.exec(to) ?? [];
  if (from === set) return sign === '+' ? `add ${by} to ${name}` : `take ${by} from ${name}`;
  const flag = to === 'true' ? 'yes' : to === 'false' ? 'no' : undefined;
  return `set ${name} to ${flag ?? say.value(set, to)}`;
}
