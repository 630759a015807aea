/** Random documents of right shape: small enough to be explored plainly, and with everything that the model has. */
import fc from 'fast-check';
import { filled } from '../../src/document/fill.ts';
import { validate } from '../../src/document/read.ts';
import type { EffectKind, FlowDocument, Trigger, TriggerKind } from '../../src/document/types.ts';
import { deedOf } from '../../src/vocabulary/triggers.ts';

/** True nine times in ten. */
const often = fc.nat(9).map((n) => n > 0);
/** Nothing once in so many times: 1 would be never anything. */
const maybe = <T>(arbitrary: fc.Arbitrary<T>, likely = 2) => fc.option(arbitrary, { nil: undefined, freq: likely });
const levels = ['quay', 'loft', 'hill'];
const others = ['title', 'splash', 'pause'];
const places = [...levels, ...others, 'aglow', 'dark'];
const orders = ['main', 'night', 'sack'];

const number = fc.constantFrom(
  'lives',
  'oil',
  '1',
  '0',
  '2',
  'left(lamp)',
  'taken(lamp)',
  'left(moth)',
  'wins(main)',
  'wins(harbour)',
  'count(lamp)',
  'count(night)',
  'few',
  'best'
);
const sum = fc.oneof(
  number,
  fc.tuple(number, fc.constantFrom('+', '-', '*'), number).map((parts) => parts.join(' ')),
  fc.tuple(number, number).map(([a, b]) => `max(${a}, ${b})`)
);
const comparison = fc.oneof(
  fc.tuple(sum, fc.constantFrom('=', '!=', '<', '<=', '>', '>='), sum).map((parts) => parts.join(' ')),
  fc.constantFrom(
    'bell',
    'not bell',
    'won(quay)',
    "hat = 'red'",
    "hat != 'blue'",
    'left(lamp) = 0',
    'lives = 0',
    'all(lamp)',
    'all(harbour) or not all(main)',
    'won(loft) or bell',
    'last(won)',
    'not last(lost)',
    'has(next)',
    'not has(previous)',
    'has(next, night)',
    'has(next, sack)',
    'has(save)',
    'not has(slot)',
    'saved(progress) >= 10',
    'at(yard)',
    'not at(loft)'
  )
);
const condition = fc.oneof(
  { weight: 3, arbitrary: comparison },
  { weight: 1, arbitrary: fc.tuple(comparison, fc.constantFrom('and', 'or'), comparison).map((parts) => parts.join(' ')) }
);
const choosing = fc.oneof(
  fc.constantFrom('won(previous)', 'not won(it)', 'position <= 2', 'won(previous) and not won(it)'),
  condition
);

const plainTarget = fc.oneof(
  { weight: 5, arbitrary: fc.constantFrom(...places).map((place) => ({ place })) },
  { weight: 2, arbitrary: fc.constantFrom(...others).map((place) => ({ place, over: true as const })) },
  { weight: 1, arbitrary: fc.constant({ place: 'quay', entry: 'shrine' }) }
);
const along = fc.record(
  { move: fc.constantFrom('next', 'previous', 'first', 'last'), order: maybe(fc.constantFrom(...orders)) },
  { requiredKeys: ['move'] }
);
const relative = fc.oneof(along, fc.record({ move: fc.constantFrom('again', 'resume', 'load') }));
const target = fc.oneof(
  plainTarget,
  fc.tuple(relative, maybe(plainTarget)).map(([go, other]) => ({ ...go, ...(other && { else: other }) })),
  fc.constant({ move: 'back' as const })
);

type Weighed = { weight: number; arbitrary: fc.Arbitrary<object> };
const one = (weight: number, ...values: object[]): Weighed => ({ weight, arbitrary: fc.constantFrom(...values) });
const of = (weight: number, arbitrary: fc.Arbitrary<object>): Weighed => ({ weight, arbitrary });

/** One for each kind there is, so that none can be forgotten. */
const effects: Record<EffectKind, Weighed> = {
  set: of(
    3,
    fc.oneof(
      fc.tuple(fc.constantFrom('lives', 'oil', 'best'), sum).map(([set, to]) => ({ set, to })),
      fc
        .tuple(fc.constant('bell'), fc.oneof(fc.constantFrom('true', 'false', 'not bell'), comparison))
        .map(([set, to]) => ({ set, to })),
      fc.constantFrom({ set: 'hat', to: "'red'" }, { set: 'hat', to: "'blue'" })
    )
  ),
  reset: one(1, { reset: 'lives' }, { reset: 'bell' }, { reset: 'oil' }),
  raise: one(1, { raise: 'alarm' }, { raise: 'echo' }),
  remove: of(
    1,
    fc.tuple(fc.constantFrom('lamp', 'moth', 'runner'), fc.integer({ min: 1, max: 2 })).map(([remove, by]) => ({ remove, by }))
  ),
  restore: one(1, { restore: 'lamp' }, { restore: 'moth' }),
  defeat: one(1, { defeat: 'moth' }),
  draw: one(1, { draw: 'night' }, { draw: 'sack' }),
  begin: one(0.2, { begin: 'run' }),
  save: one(0.4, { save: 'always' }, { save: 'forward' }),
  slot: one(1, { slot: 'take' }, { slot: 'take' }, { slot: 'put' }, { slot: 'clear' }),
  forget: one(0.2, { forget: true }),
  erase: one(0.2, { erase: true })
};
const tenfold = (all: Record<string, Weighed>) =>
  fc.oneof(...Object.values(all).map(({ weight, arbitrary }) => ({ weight: weight * 10, arbitrary })));
const effect = tenfold(effects);

/** Likewise; a choice stands in rules of its own kind. */
const triggers: Record<Exclude<TriggerKind, 'choose'>, Weighed> = {
  press: one(4, { press: 'A' }, { press: 'B' }),
  touch: one(
    2,
    { touch: 'gust' },
    { touch: 'shrine' },
    { touch: 'moth' },
    { touch: 'gust', side: 'above' },
    { touch: 'moth', side: 'beside' },
    { touch: 'moth', side: 'below' },
    { touch: 'moth', side: 'above' }
  ),
  collect: one(2, { collect: 'lamp' }),
  defeat: one(1, { defeat: 'moth' }, { defeat: 'runner' }),
  after: one(2, { after: 1 }, { after: 2 }, { after: 'pace' }),
  every: one(1.5, { every: 0.6 }, { every: 1 }, { every: 'pace' }, { every: 0.0015 }),
  arrive: one(1, { arrive: true }),
  slot: one(1, { slot: 'used' }, { slot: 'empty' }, { slot: 'any' }),
  walk: one(1, { walk: 'ramp' }, { walk: 'stair' }),
  reach: one(1, { reach: 'loft' }, { reach: 'yard' }),
  hear: one(2, { hear: 'alarm' }, { hear: 'echo' }),
  holds: of(
    2,
    condition.map((holds) => ({ holds }))
  )
};
const trigger = tenfold(triggers);

/** A rule without its id; results and impossible triggers are taken out again where they may not stand. */
const rule = fc.oneof(
  {
    weight: 8,
    arbitrary: fc.record({
      when: trigger,
      if: maybe(condition),
      do: maybe(fc.array(effect, { minLength: 1, maxLength: 2 })),
      go: maybe(target, 3),
      result: maybe(fc.constantFrom('won', 'lost'))
    })
  },
  {
    weight: 1,
    arbitrary: fc.record({
      when: fc.constantFrom(...orders).map((choose) => ({ choose })),
      if: maybe(choosing),
      go: fc.constant({ move: 'chosen' }),
      do: maybe(fc.array(effect, { maxLength: 1 }))
    })
  }
);
type LooseRule = { when: object; go?: { move?: string; else?: { move?: string } }; result?: string };

const piece = (kind: string) =>
  fc.record({
    name: fc.constant(kind),
    kind: fc.constant(kind),
    count: fc.integer({ min: 1, max: 2 }),
    renew: maybe(fc.constantFrom('arrival', 'attempt', 'run', 'never'))
  });
const pieceMap = fc
  .record({
    lamp: maybe(piece('pickup'), 9),
    moth: maybe(piece('foe'), 5),
    gust: maybe(piece('hazard'), 5),
    shrine: maybe(piece('checkpoint'), 5),
    runner: maybe(piece('player'))
  })
  .map((map) => clean(map));

const spots = ['yard', 'loft', 'attic'];
/** Where things are in a level: all open both ways, or with conditions and pieces on the way. */
const ground = fc
  .record({
    count: fc.integer({ min: 1, max: 3 }),
    open: fc.boolean(),
    passages: fc.array(
      fc.record({
        from: fc.constantFrom(...spots),
        to: fc.constantFrom(...spots),
        both: maybe(fc.constant(true)),
        if: maybe(comparison),
        through: maybe(fc.shuffledSubarray(['gust', 'shrine', 'moth', 'lamp'], { minLength: 1, maxLength: 2 }), 3)
      }),
      { minLength: 1, maxLength: 3 }
    ),
    at: fc.dictionary(
      fc.constantFrom('lamp', 'moth', 'gust', 'shrine'),
      fc.array(
        fc.record({
          spots: fc.oneof(
            { weight: 5, arbitrary: fc.constantFrom(...spots).map((spot) => [spot]) },
            fc.shuffledSubarray(spots, { minLength: 2 })
          ),
          n: maybe(fc.constant(1))
        }),
        { minLength: 1, maxLength: 2 }
      )
    ),
    entries: fc.record({ door: maybe(fc.constantFrom(...spots)), shrine: maybe(fc.constantFrom(...spots)) })
  })
  .map(({ count, open, passages, at, entries }) => ({
    spots: Object.fromEntries(spots.slice(0, count).map((spot) => [spot, { name: spot }])),
    passages: Object.fromEntries(
      (open
        ? spots.slice(1, count).map((to, n) => ({ from: spots[n]!, to, both: true }))
        : passages.filter(({ from, to }) => from !== to)
      ).map((passage, n) => [['ramp', 'stair', 'hatch'][n]!, passage])
    ),
    at,
    entries
  }));

type Ground = typeof ground extends fc.Arbitrary<infer T> ? T : never;

/** A level with a ground; what does not stand in it is left out. */
function grounded(level: { pieces: Record<string, object>; entries: Record<string, object> }, found: Ground) {
  const pieces = Object.entries(level.pieces).map(([id, piece]) => {
    const at = found.at[id];
    return [id, at ? { ...piece, count: undefined, at } : piece];
  });
  const entries = Object.entries(level.entries).map(([id, entry]) => [
    id,
    { ...entry, spot: (found.entries as Record<string, string | undefined>)[id] }
  ]);
  return { ...level, ...found, at: undefined, pieces: Object.fromEntries(pieces), entries: Object.fromEntries(entries) };
}

const clean = <T extends object>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** `validate` takes every one of them. */
const anyFlow: fc.Arbitrary<FlowDocument> = fc
  .record({
    start: fc.constantFrom('title', 'title', 'title', 'splash', 'quay'),
    placeRules: fc.array(fc.array(rule, { minLength: 1, maxLength: 4 }), { minLength: places.length, maxLength: places.length }),
    used: fc.array(often, { minLength: places.length, maxLength: places.length }),
    groupRules: fc.array(rule, { maxLength: 2 }),
    flowRules: fc.array(rule, { maxLength: 2 }),
    pieces: fc.tuple(pieceMap, pieceMap, pieceMap),
    grounds: fc.tuple(maybe(ground, 4), maybe(ground), maybe(ground)),
    goals: fc.tuple(...levels.map(() => maybe(fc.constantFrom('win', 'leave')))),
    expects: maybe(condition),
    objectives: fc.tuple(...levels.map(() => maybe(fc.record({ met: condition, needed: maybe(fc.constant(true)) })))),
    scopes: fc.tuple(...['lives', 'oil', 'best', 'bell', 'hat'].map(() => fc.constantFrom('attempt', 'run', 'kept'))),
    orders: fc.oneof(
      { weight: 4, arbitrary: fc.constantFrom(orders, [...orders].reverse()) },
      { weight: 1, arbitrary: fc.shuffledSubarray(orders) }
    ),
    listed: fc.shuffledSubarray(levels, { minLength: 1 }),
    /** Rules that make most documents worth playing: a way in, a way on and a way back. */
    backbone: fc.tuple(often, often, often),
    slots: fc.constantFrom(undefined, 2, 3),
    rows: fc.array(fc.array(fc.constantFrom(...levels), { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 2 })
  })
  .map((parts) => {
    let ids = 0;
    const finish = (rules: object[], inLevel: boolean, inMenu = false) =>
      (rules as LooseRule[]).map((each) => {
        const targets = each.go ? [each.go, ...(each.go.else ? [each.go.else] : [])] : [];
        const mayResult =
          inLevel && targets.length > 0 && targets.every(({ move }) => move !== 'back') && !('choose' in each.when);
        // what can only happen in a level would set the rule aside elsewhere
        const inside = deedOf(each.when as Trigger) || 'walk' in each.when || 'reach' in each.when;
        const impossible = (!inLevel && inside) || (!inMenu && 'slot' in each.when);
        const when = impossible ? { press: 'B' } : each.when;
        return clean({ id: `r${ids++}`, ...each, when, result: mayResult ? each.result : undefined });
      });
    const [wayIn, wayOn, wayBack] = parts.backbone;
    const backbone = (id: string, inLevel: boolean): object[] => {
      const when = { press: 'C' };
      if (inLevel) return wayOn ? [{ when, go: { move: 'next', else: { place: parts.start } }, result: 'won' }] : [];
      if (id === parts.start) return wayIn ? [{ when, go: { move: 'first', else: { place: 'quay' } } }] : [];
      return wayBack ? [{ when, go: { place: parts.start } }] : [];
    };
    const map: Record<string, object> = {};
    places.forEach((id, index) => {
      const level = levels.indexOf(id);
      if (!parts.used[index] && id !== parts.start && id !== 'quay') return;
      const base = {
        name: id,
        rules: finish([...parts.placeRules[index]!, ...backbone(id, level >= 0)], level >= 0, id === 'title' || id === 'pause'),
        ...(index % 2 === 0 && parts.expects ? { expects: [parts.expects] } : {})
      };
      if (level >= 0) {
        const entries: Record<string, object> = level === 0 ? { door: { name: 'Door' }, shrine: { name: 'Shrine' } } : {};
        const inside = { pieces: parts.pieces[level] as Record<string, object>, entries };
        const found = parts.grounds[level];
        map[id] = clean({
          ...base,
          kind: 'level',
          goal: parts.goals[level],
          ...(found ? grounded(inside, found) : inside),
          objectives: parts.objectives[level] && { to_do: { text: `Task of ${id}`, ...parts.objectives[level] } },
          progress: level * 10,
          ...(level < 2 ? { group: 'harbour' } : {})
        });
      } else if (id === 'aglow' || id === 'dark') map[id] = { ...base, kind: 'ending', outcome: id === 'aglow' ? 'won' : 'lost' };
      else map[id] = { ...base, kind: id === 'splash' ? 'interlude' : 'menu' };
    });
    const [lives, oil, best, bell, hat] = parts.scopes;
    const order = (id: string) =>
      id === 'main'
        ? { name: id, draw: 'fixed', levels: parts.listed }
        : id === 'night'
          ? { name: id, draw: 'table', levels: parts.listed, rows: parts.rows }
          : { name: id, draw: 'bag', levels: parts.listed };
    const document = {
      format: 'crow-lane',
      version: 1,
      name: 'Random',
      start: parts.start,
      ...(parts.slots && { saves: { slots: parts.slots } }),
      variables: {
        lives: { name: 'Lives', type: 'number', initial: 2, min: 0, max: 2, scope: lives },
        oil: { name: 'Oil', type: 'number', initial: 0, min: -1, max: 1, scope: oil },
        best: { name: 'Best', type: 'number', initial: 0, min: 0, max: 1, scope: best },
        bell: { name: 'Bell', type: 'flag', initial: false, scope: bell },
        hat: { name: 'Hat', type: 'choice', choices: ['red', 'blue'], initial: 'red', scope: hat }
      },
      numbers: { pace: { name: 'Pace', value: 0.9 }, few: { name: 'A few', value: -1 } },
      signals: { alarm: { name: 'Alarm' }, echo: { name: 'Echo' } },
      orders: Object.fromEntries(parts.orders.map((id) => [id, order(id)])),
      groups: { harbour: { name: 'Harbour', rules: finish(parts.groupRules, true) } },
      places: map,
      rules: finish(parts.flowRules, true)
    };
    const { errors } = validate(document);
    if (errors) throw new Error(`The generator made a document of wrong shape: ${JSON.stringify(errors)}`);
    return filled(document as unknown as FlowDocument);
  });

/** Without the leaning toward smallest values: the smallest documents have nothing to play. */
export const randomFlow = fc.noBias(anyFlow);

/** The same flow with each level twice: where an order lists one, its twin follows. */
export function withTwins(document: FlowDocument): FlowDocument {
  const twinned = structuredClone(document);
  for (const [id, place] of Object.entries(document.places)) {
    if (place.kind !== 'level') continue;
    const rules = place.rules.map((rule) => ({ ...rule, id: `${rule.id}_twin` }));
    twinned.places[`${id}_twin`] = { ...structuredClone(place), rules };
  }
  for (const order of Object.values(twinned.orders)) {
    const twice = (levels: string[]) => levels.flatMap((id) => (twinned.places[`${id}_twin`] ? [id, `${id}_twin`] : [id]));
    order.levels = twice(order.levels);
    if (order.draw === 'table') order.rows = order.rows.map(twice);
  }
  return twinned;
}

const scoring = fc.record({
  scope: fc.constantFrom('attempt', 'run', 'kept'),
  max: fc.constantFrom(3, 5, 9),
  initial: fc.constantFrom(0, 1),
  // by rule, in their order: what is done with the score there, and what is asked
  acts: fc.array(fc.constantFrom('', '', 'score + 1', '2 + score', 'score + 0', 'reset', '0', '1', '4', '20'), {
    minLength: 30,
    maxLength: 30
  }),
  asks: fc.array(fc.constantFrom('', '', '', '', 'score >= 1', 'score = 2', 'not (1 < score)', 'score != 0'), {
    minLength: 30,
    maxLength: 30
  })
});

/** Random flows with a score, which only grows or is set to a number, and is only compared with numbers. */
export const scoringFlow = fc.tuple(randomFlow, fc.noBias(scoring)).map(([flow, { scope, max, initial, acts, asks }]) => {
  const document = structuredClone(flow);
  document.variables.score = { name: 'Score', type: 'number', initial, min: 0, max, scope } as FlowDocument['variables'][string];
  const lists = [...Object.values(document.places), ...Object.values(document.groups), document].map(({ rules }) => rules);
  lists.flat().forEach((rule, index) => {
    const [act, ask] = [acts[index % 30]!, asks[(index * 7) % 30]!];
    if (act) rule.do = [...(rule.do ?? []), act === 'reset' ? { reset: 'score' } : { set: 'score', to: act }];
    if (ask) rule.if = rule.if ? `(${rule.if}) and ${ask}` : ask;
  });
  return document;
});

/** All that there is, mixed: one in five with a score whose high values are one, one in five with levels built alike. */
export const pooledFlow = fc
  .tuple(fc.noBias(fc.nat(4)), fc.noBias(fc.nat(4)), randomFlow, scoringFlow)
  .map(([score, twins, plain, scored]) => {
    const document = score === 0 ? scored : plain;
    return twins === 0 ? withTwins(document) : document;
  });
