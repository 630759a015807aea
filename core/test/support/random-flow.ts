/** Random documents of right shape: small enough to be explored plainly, and with everything that the model has. */
import fc from 'fast-check';
import { filled } from '../../src/document/fill.ts';
import { validate } from '../../src/document/read.ts';
import type { FlowDocument } from '../../src/document/types.ts';

/** True nine times in ten. */
const often = fc.nat(9).map((n) => n > 0);
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
    'won(loft) or bell'
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
const relative = fc.oneof(
  fc.record(
    { move: fc.constantFrom('next', 'previous', 'first', 'last'), order: maybe(fc.constantFrom(...orders), 1) },
    { requiredKeys: ['move'] }
  ),
  fc.record({ move: fc.constantFrom('again', 'resume', 'load') })
);
const target = fc.oneof(
  plainTarget,
  fc.tuple(relative, maybe(plainTarget)).map(([go, other]) => ({ ...go, ...(other && { else: other }) })),
  fc.constant({ move: 'back' as const })
);

const effect = fc.oneof(
  fc.tuple(fc.constantFrom('lives', 'oil', 'best'), sum).map(([set, to]) => ({ set, to })),
  fc
    .tuple(fc.constant('bell'), fc.oneof(fc.constantFrom('true', 'false', 'not bell'), comparison))
    .map(([set, to]) => ({ set, to })),
  fc.constantFrom({ set: 'hat', to: "'red'" }, { set: 'hat', to: "'blue'" }),
  fc.constantFrom('lives', 'bell', 'oil').map((reset) => ({ reset })),
  fc.constantFrom('alarm', 'echo').map((raise) => ({ raise })),
  fc.tuple(fc.constantFrom('lamp', 'moth', 'runner'), fc.integer({ min: 1, max: 2 })).map(([remove, by]) => ({ remove, by })),
  fc.constantFrom('lamp', 'moth').map((restore) => ({ restore })),
  fc.constantFrom('night', 'sack').map((draw) => ({ draw })),
  fc.constantFrom<object>({ begin: 'run' }, { save: 'always' }, { save: 'forward' }, { forget: true }, { erase: true })
);

const trigger = fc.oneof(
  { weight: 4, arbitrary: fc.constantFrom('A', 'B').map((press) => ({ press })) },
  { weight: 2, arbitrary: fc.constantFrom('gust', 'shrine', 'moth').map((touch) => ({ touch })) },
  { weight: 2, arbitrary: fc.constant({ collect: 'lamp' }) },
  { weight: 1, arbitrary: fc.constantFrom('moth', 'runner').map((defeat) => ({ defeat })) },
  { weight: 2, arbitrary: fc.constantFrom(1, 2).map((after) => ({ after })) },
  { weight: 1, arbitrary: fc.constant({ arrive: true as const }) },
  { weight: 2, arbitrary: fc.constantFrom('alarm', 'echo').map((hear) => ({ hear })) },
  { weight: 2, arbitrary: condition.map((holds) => ({ holds })) }
);

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
    runner: maybe(piece('player'), 1)
  })
  .map((map) => clean(map));

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
    goals: fc.tuple(...levels.map(() => maybe(fc.constantFrom('win', 'leave')))),
    expects: maybe(condition),
    scopes: fc.tuple(...['lives', 'oil', 'best', 'bell', 'hat'].map(() => fc.constantFrom('attempt', 'run', 'kept'))),
    orders: fc.oneof(
      { weight: 4, arbitrary: fc.constantFrom(orders, [...orders].reverse()) },
      { weight: 1, arbitrary: fc.shuffledSubarray(orders) }
    ),
    listed: fc.shuffledSubarray(levels, { minLength: 1 }),
    /** Rules that make most documents worth playing: a way in, a way on and a way back. */
    backbone: fc.tuple(often, often, often),
    rows: fc.array(fc.array(fc.constantFrom(...levels), { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 2 })
  })
  .map((parts) => {
    let ids = 0;
    const finish = (rules: object[], inLevel: boolean) =>
      (rules as LooseRule[]).map((each) => {
        const targets = each.go ? [each.go, ...(each.go.else ? [each.go.else] : [])] : [];
        const mayResult =
          inLevel && targets.length > 0 && targets.every(({ move }) => move !== 'back') && !('choose' in each.when);
        // what can only happen in a level would set the rule aside elsewhere
        const when = !inLevel && ['touch', 'collect', 'defeat'].some((kind) => kind in each.when) ? { press: 'B' } : each.when;
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
        rules: finish([...parts.placeRules[index]!, ...backbone(id, level >= 0)], level >= 0),
        ...(index % 2 === 0 && parts.expects ? { expects: [parts.expects] } : {})
      };
      if (level >= 0) {
        const entries = level === 0 ? { door: { name: 'Door' }, shrine: { name: 'Shrine' } } : {};
        map[id] = clean({
          ...base,
          kind: 'level',
          goal: parts.goals[level],
          pieces: parts.pieces[level],
          entries,
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
      variables: {
        lives: { name: 'Lives', type: 'number', initial: 2, min: 0, max: 2, scope: lives },
        oil: { name: 'Oil', type: 'number', initial: 0, min: -1, max: 1, scope: oil },
        best: { name: 'Best', type: 'number', initial: 0, min: 0, max: 1, scope: best },
        bell: { name: 'Bell', type: 'flag', initial: false, scope: bell },
        hat: { name: 'Hat', type: 'choice', choices: ['red', 'blue'], initial: 'red', scope: hat }
      },
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
