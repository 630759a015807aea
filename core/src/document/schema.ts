/**
 * The shape of a flow document: what can be seen without following an id (docs/flow-format.md, section 1).
 * What does not fit (an id that names nothing, a condition that does not parse) is no matter of shape: see play/fit.ts.
 */
import Joi from 'joi';
import { idPattern, reservedWords } from './ids.ts';
import { effects } from '../vocabulary/effects.ts';
import { constant, type Field, type Shape } from '../vocabulary/fields.ts';
import {
  grounds,
  mostCells,
  mostPassages,
  mostPatrols,
  mostPoints,
  mostReach,
  mostSpots,
  mostThings
} from '../vocabulary/ground.ts';
import { moveKinds, moves, movesAlong } from '../vocabulary/moves.ts';
import { pieceKindsInOrder } from '../vocabulary/pieces.ts';
import { mostSlots } from '../vocabulary/saves.ts';
import { events, triggers } from '../vocabulary/triggers.ts';
import { mostSteps, type RunFile } from './run-file.ts';
import type { FlowDocument, PlaceKind, Rule, Standing, Target } from './types.ts';

const largest = 2 ** 31 - 1;
export const mostPlaces = 10_000;
/** As many rules as a place, a group or the flow can have. */
export const mostRules = 2000;
/** All messages of our own stand at the root: a part that had some would be slow, as Joi puts them together for each value. */
const messages = {
  'string.pattern.base': 'must be an id: a small letter, then up to 39 small letters, digits or underscores',
  'any.invalid': 'is a word of the condition language and cannot be an id',
  'map.key':
    'holds {{#wrong}}, which is not an id (a small letter, then small letters, digits or underscores; not a word of the condition language)',
  'object.one': 'must have exactly one of {{#keys}}',
  target: '{{#rule}}',
  rule: '{{#text}}',
  range: 'must have min ≤ initial ≤ max',
  initial: 'must begin with one of its choices',
  many: 'stands for more than 10,000 pieces',
  passage: 'must lead from one spot to another',
  rounds: 'patrols with other than one number of seconds for each of its spots',
  labels: 'has a label for {{#none}}, which is none of its choices'
};

const preferences: Joi.ValidationOptions = { convert: false, errors: { wrap: { label: false, array: false } }, messages };

const id = Joi.string()
  .pattern(idPattern)
  .invalid(...reservedWords)
  .meta({ def: 'id' });
const name = Joi.string().min(1).max(80).meta({ def: 'name' });
const brief = Joi.string().max(4000).allow('');
const text = Joi.string().max(4000);
const condition = Joi.string().min(1).max(4000).meta({ def: 'condition' });
const integer = Joi.number().integer().min(-largest).max(largest).strict();
const seconds = Joi.number().min(0).max(86_400).strict();
const index = Joi.number().integer().min(0).max(9999).strict();
/** How many of something there can be at once. */
const countShape = Joi.number().integer().min(1).max(10_000).strict();
const percent = Joi.number().integer().min(0).max(100).strict();

/*
 * What is noted of a schema (`meta`) is for JSON Schema alone (formats/json-schema.ts): by which name it is said once, which of its
 * keys there is one of, and that its keys are ids.
 */

/** A map by id. Keys are checked by hand, for Joi would blame the map and not the key. */
function mapOf(value: Joi.Schema): Joi.ObjectSchema {
  return Joi.object()
    .pattern(Joi.string(), value)
    .meta({ ids: true })
    .custom((map: Record<string, unknown>, helpers) => {
      const wrong = Object.keys(map).filter((key) => id.validate(key).error);
      if (wrong.length > 0)
        return helpers.error('map.key', {
          wrong: wrong
            .slice(0, 3)
            .map((key) => JSON.stringify(key))
            .join(', ')
        });
      return map;
    });
}

/** An object that has exactly one of these keys. */
function withOne(object: Joi.ObjectSchema, keys: string[]): Joi.ObjectSchema {
  return object.meta({ one: keys }).custom((value: Record<string, unknown>, helpers) => {
    const found = keys.filter((key) => value[key] !== undefined);
    return found.length === 1 ? value : helpers.error('object.one', { keys: keys.join(', ') });
  });
}

/** The shapes that a vocabulary describes: exactly one of the kinds, with what it needs and may have. */
function oneKindOf(vocabulary: Record<string, Shape>, more: Record<string, Joi.Schema> = {}): Joi.ObjectSchema {
  const kinds = Object.entries(vocabulary);
  const keys = kinds.flatMap(([kind, { value, needs, may }]) => [
    [kind, value] as const,
    ...Object.entries({ ...needs, ...may })
  ]);
  let schema = Joi.object({ ...Object.fromEntries(keys.map(([key, field]) => [key, shapeOf(field)])), ...more });
  const beside = new Map<string, string[]>();
  for (const [kind, { needs, may }] of kinds) {
    for (const key of Object.keys({ ...needs, ...may })) beside.set(key, [...(beside.get(key) ?? []), kind]);
    for (const key of Object.keys(needs ?? {})) schema = schema.with(kind, key);
  }
  for (const [key, [kind, ...others]] of beside) {
    if (others.length === 0) schema = schema.with(key, kind!);
    else schema = schema.when(Joi.object({ [key]: Joi.exist() }).unknown(), { then: Joi.object().or(kind!, ...others) });
  }
  return withOne(
    schema,
    kinds.map(([kind]) => kind)
  );
}

function shapeOf(field: Field): Joi.Schema {
  switch (field.is) {
    case 'name':
      return name;
    case 'seconds':
      return Joi.alternatives(Joi.number().greater(0).max(86_400).strict(), id);
    case 'slot':
      return Joi.number()
        .integer()
        .min(0)
        .max(mostSlots - 1)
        .strict();
    case 'index':
      return index;
    case 'count':
      return countShape;
    case 'condition':
    case 'expression':
      return condition;
    case 'constant':
      return Joi.valid(...field.values);
    case 'id':
      return id;
  }
}

const trigger = oneKindOf(triggers).meta({ def: 'trigger' });
const effect = oneKindOf(effects, { at: Joi.valid('leaving', 'hidden') }).meta({ def: 'effect' });

function targetShape(value: Target & { entry?: string; order?: string; over?: true; else?: Target }, helpers: Joi.CustomHelpers) {
  const wrong = (rule: string) => helpers.error('target', { rule });
  if ('place' in value === 'move' in value) return wrong('must have exactly one of place, move');
  if ('place' in value) {
    if (value.order !== undefined) return wrong('may name an order only with a relative move');
    if (value.else !== undefined) return wrong('may have an "else" only with a relative move');
    return value;
  }
  if (value.over) return wrong('may be "over" only toward a place');
  const { along, mayNameEntry } = moves[value.move];
  if (value.order !== undefined && !along) return wrong(`may name an order only with ${movesAlong.join(', ')}`);
  if (value.entry !== undefined && !mayNameEntry) return wrong(`may not name an entry with "${value.move}"`);
  return value;
}
const targetKeys = { place: id, entry: id, over: Joi.valid(true), move: Joi.valid(...moveKinds), order: id };
const otherwise = Joi.object(targetKeys)
  .meta({ def: 'otherwise', one: ['place', 'move'] })
  .custom(targetShape);
const target = Joi.object({ ...targetKeys, else: otherwise })
  .meta({ def: 'target', one: ['place', 'move'] })
  .custom(targetShape);

const transition = Joi.object({
  style: Joi.valid('cut', 'fade', 'slide', 'iris').required(),
  wait: Joi.alternatives(seconds, id),
  out: Joi.alternatives(seconds, id),
  hold: Joi.alternatives(seconds, id),
  in: Joi.alternatives(seconds, id),
  colour: Joi.string().pattern(/^#[0-9a-f]{6}$/, 'a colour like #1a2b3c'),
  sound: name,
  music: Joi.valid('keep', 'stop', 'fade')
}).meta({ def: 'transition' });

function ruleShape(mayResult: boolean) {
  return (rule: Rule, helpers: Joi.CustomHelpers) => {
    const wrong = (text: string) => helpers.error('rule', { text });
    const targets = rule.go ? [rule.go, ...('else' in rule.go && rule.go.else ? [rule.go.else] : [])] : [];
    if (targets.some((to) => 'move' in to && to.move === 'chosen') && !('choose' in rule.when)) {
      return wrong('goes to the chosen level, which only a rule with "choose" can');
    }
    if (!rule.result) return rule;
    if (!mayResult) return wrong('has a result, which only rules of levels, groups and the flow can have');
    if (!rule.go) return wrong('has a result but goes nowhere');
    if (targets.some((to) => 'move' in to && to.move === 'back'))
      return wrong('has a result and goes back, which cannot win or lose a level');
    return rule;
  };
}
function ruleList(mayResult: boolean) {
  const rule = Joi.object({
    id: id.required(),
    when: trigger.required(),
    if: condition,
    do: Joi.array().items(effect).max(100),
    go: target,
    result: Joi.valid('won', 'lost'),
    by: transition,
    note: text
  })
    .meta({ def: mayResult ? 'levelRule' : 'rule' })
    .custom(ruleShape(mayResult));
  return Joi.array().items(rule).max(mostRules);
}
const levelRules = ruleList(true);
const otherRules = ruleList(false);

const entry = Joi.object({ name: name.required(), brief, facing: name, spot: id });
/** Where the pieces of a kind stand; a player is where it is. */
const turn = Joi.valid('round', 'back').required();
const stay = Joi.number().greater(0).max(86_400).strict();
const standing = Joi.object({
  spots: Joi.array().items(id).min(1).max(mostSpots).unique().required(),
  n: countShape,
  patrol: Joi.object({ turn, seconds: Joi.array().items(stay).min(2).max(mostSpots).required() })
}).custom((value: Standing, helpers) =>
  value.patrol && value.patrol.seconds.length !== value.spots.length ? helpers.error('rounds') : value
);
const at = Joi.alternatives(Joi.array().items(standing).min(1).max(mostSpots), mapOf(countShape).min(1)).custom(
  (value: Standing[] | Record<string, number>, helpers) =>
    sum(Array.isArray(value) ? value.map(({ n = 1 }) => n) : Object.values(value)) > 10_000 ? helpers.error('many') : value
);
const sum = (numbers: number[]) => numbers.reduce((all, n) => all + n, 0);
const piece = Joi.object({
  name: name.required(),
  brief,
  kind: Joi.valid(...pieceKindsInOrder).required(),
  count: countShape.when('at', { is: Joi.exist(), then: Joi.forbidden() }),
  at: at.when('kind', { is: 'player', then: Joi.forbidden() }),
  renew: Joi.valid('arrival', 'attempt', 'run', 'never'),
  progress: percent.when('kind', { not: 'checkpoint', then: Joi.forbidden() })
});

/** Parts of a level, and how the player gets from one to another. */
// an area is said of spots that follow from a plan alone, in memory
const spot = Joi.object({ name: name.required(), brief, area: id });
const passage = Joi.object({
  from: id.required(),
  to: id.required(),
  both: Joi.valid(true),
  if: condition,
  through: Joi.array().items(id).min(1).max(100).unique(),
  name,
  brief,
  note: text
}).custom((value: { from: string; to: string }, helpers) => (value.from === value.to ? helpers.error('passage') : value));

/** What the player is to do in a level: no meaning for play, but shown, ticked off and checked. */
const objective = Joi.object({ text: name.required(), met: condition.required(), needed: Joi.valid(true) });

/** What is drawn of a level; whether it is ground, and whether what stands there can, is told by checks: nothing drawn is refused. */
const cell = Joi.array().ordered(index.required(), index.required());
const cells = Joi.array().items(cell).max(mostThings);
const thing = withOne(Joi.object({ piece: id, entry: id, gate: condition, cells, cell, facing: name, name }), [
  'piece',
  'entry',
  'gate'
])
  .with('piece', 'cells')
  .with('gate', 'cells')
  .with('entry', 'cell')
  .with('cell', 'entry')
  .with('facing', 'entry')
  .with('name', 'gate');
const link = Joi.object({
  from: cell.required(),
  to: cell.required(),
  both: Joi.valid(true),
  if: condition,
  name,
  seconds
});
const speed = Joi.number().greater(0).max(1000).strict();
const plan = Joi.object({
  view: Joi.valid('above', 'side').required(),
  rows: Joi.array().items(Joi.string().max(mostCells.x).allow('')).min(1).max(mostCells.y).required(),
  things: mapOf(thing).max(mostThings),
  links: mapOf(link).max(1000),
  areas: mapOf(Joi.object({ name: name.required(), from: cell.required(), to: cell.required() })).max(mostSpots),
  patrols: mapOf(
    Joi.object({
      piece: id.required(),
      points: Joi.array().items(cell).min(1).max(mostPoints).required(),
      turn,
      speed: Joi.alternatives(speed, id).required()
    })
  ).max(mostPatrols),
  below: id,
  reads: Joi.object()
    .pattern(
      /^(?!__proto__$).{1,40}$/su,
      Joi.alternatives(Joi.valid(...Object.keys(grounds)), Joi.object({ piece: id, entry: id, gate: condition }).length(1))
    )
    .max(500)
});
const reach = Joi.number().integer().min(0).max(mostReach).strict();
const diagonal = Joi.valid(true);
const movement = Joi.object({
  above: Joi.object({ speed, diagonal }),
  side: Joi.object({ speed, up: reach, across: reach, drop: reach, tall: Joi.valid(1, 2) }),
  abilities: mapOf(Joi.object({ name: name.required(), if: condition.required(), up: reach, across: reach, diagonal })).max(8)
});

const free = Joi.object().unknown();
const amount = Joi.number().min(0).max(1e6).strict();
/** What a designer expects of a level (seconds to play, chance to win) and what it costs to load; no meaning for play. */
const estimate = Joi.object({ seconds: amount, chance: Joi.number().min(0).max(1).strict() });
const load = Joi.object({ megabytes: amount, seconds: amount });
const limit = load.keys({ place: load, whole: load });
const uses = Joi.array().items(id).min(1).max(1000).unique();
const placeKeys = {
  name: name.required(),
  brief,
  expects: Joi.array().items(condition).max(100),
  message: Joi.alternatives(
    text,
    Joi.array()
      .items(Joi.object({ if: condition, text: text.allow('').required() }))
      .min(1)
      .max(20)
  ),
  load,
  uses,
  tags: Joi.array().items(name).max(50),
  look: free
};
const kinds: Record<PlaceKind, Joi.ObjectSchema> = {
  level: Joi.object({
    kind: Joi.required(),
    ...placeKeys,
    rules: levelRules,
    group: id,
    entries: mapOf(entry),
    pieces: mapOf(piece),
    goal: Joi.valid('win', 'leave'),
    progress: percent,
    objectives: mapOf(objective).max(100),
    spots: mapOf(spot).max(mostSpots),
    passages: mapOf(passage).max(mostPassages),
    estimate,
    plan,
    movement
  }),
  menu: Joi.object({ kind: Joi.required(), ...placeKeys, rules: otherRules }),
  interlude: Joi.object({ kind: Joi.required(), ...placeKeys, rules: otherRules }),
  ending: Joi.object({
    kind: Joi.required(),
    ...placeKeys,
    rules: otherRules,
    outcome: Joi.valid('won', 'lost', 'left').required()
  })
};
const place = Joi.alternatives().conditional(Joi.object({ kind: Joi.valid(...Object.keys(kinds)).required() }).unknown(), {
  then: Joi.alternatives().conditional('.kind', {
    switch: Object.entries(kinds).map(([kind, schema]) => ({ is: kind, then: schema }))
  }),
  otherwise: Joi.object({ kind: Joi.valid(...Object.keys(kinds)).required() }).unknown()
});

const scope = Joi.valid('attempt', 'run', 'kept').required();
const variableKeys = { name: name.required(), brief, scope };
const number = Joi.object({
  ...variableKeys,
  type: Joi.required(),
  initial: integer.required(),
  min: integer.required(),
  max: integer.required()
}).custom((value: { min: number; initial: number; max: number }, helpers) =>
  value.min <= value.initial && value.initial <= value.max ? value : helpers.error('range')
);
const flag = Joi.object({ ...variableKeys, type: Joi.required(), initial: Joi.boolean().strict().required() });
const choice = Joi.object({
  ...variableKeys,
  type: Joi.required(),
  choices: Joi.array().items(id).min(2).max(64).unique().required(),
  labels: mapOf(name),
  initial: id.required()
}).custom((value: { choices: string[]; labels?: Record<string, string>; initial: string }, helpers) => {
  const none = Object.keys(value.labels ?? {}).find((label) => !value.choices.includes(label));
  if (none !== undefined) return helpers.error('labels', { none });
  return value.choices.includes(value.initial) ? value : helpers.error('initial');
});
const variable = Joi.alternatives().conditional(
  Joi.object({ type: Joi.valid('number', 'flag', 'choice').required() }).unknown(),
  {
    then: Joi.alternatives().conditional('.type', {
      switch: [
        { is: 'number', then: number },
        { is: 'flag', then: flag },
        { is: 'choice', then: choice }
      ]
    }),
    otherwise: Joi.object({ type: Joi.valid('number', 'flag', 'choice').required() }).unknown()
  }
);

const order = Joi.object({
  name: name.required(),
  brief,
  draw: Joi.valid('fixed', 'table', 'bag').required(),
  levels: Joi.array().items(id).min(1).unique().required(),
  rows: Joi.array()
    .items(Joi.array().items(id).min(1))
    .min(1)
    .when('draw', { is: 'table', then: Joi.required(), otherwise: Joi.forbidden() })
});

const value = Joi.alternatives(integer, Joi.boolean().strict(), id);
const draw = Joi.object({ order: id.required(), row: Joi.number().integer().min(0).strict(), level: id }).xor('row', 'level');
const stepKinds: Record<string, Shape> = { start: { value: constant(true) }, ...events };
const runStep = oneKindOf(stepKinds, {
  draws: Joi.array().items(draw).max(1000),
  then: Joi.object({
    in: id.required(),
    rules: Joi.array().items(id).max(201),
    values: Joi.object().pattern(id, value)
  }).required(),
  expects: Joi.array().items(condition).min(1).max(100)
});
/** Trials that were kept. They say nothing of play; they are played again to see whether it still goes as it went. */
const run = Joi.object({
  name: name.required(),
  brief,
  bug: text.min(1),
  steps: Joi.array().items(runStep).min(1).max(mostSteps).required()
});

export const runFileSchema: Joi.ObjectSchema<RunFile> = Joi.object<RunFile>({
  format: Joi.valid('crow-lane-run').required(),
  version: Joi.valid(1).required(),
  flow: name.required(),
  run: run.required()
})
  .required()
  .prefs(preferences);

const documentShapes: Record<keyof FlowDocument, Joi.Schema> = {
  format: Joi.valid('crow-lane').required(),
  version: Joi.valid(1, 2).required(),
  name: name.required(),
  brief,
  start: id.required(),
  limit,
  saves: Joi.object({
    slots: Joi.number().integer().min(1).max(mostSlots).strict(),
    shows: Joi.array().items(id).min(1).max(20).unique()
  }),
  movement,
  variables: mapOf(variable),
  numbers: mapOf(Joi.object({ name: name.required(), brief, value: Joi.number().min(-1e9).max(1e9).strict().required() })),
  signals: mapOf(Joi.object({ name: name.required(), brief })),
  orders: mapOf(order),
  groups: mapOf(Joi.object({ name: name.required(), brief, uses, rules: levelRules })),
  assets: mapOf(Joi.object({ name: name.required(), brief, megabytes: amount.required() })),
  places: mapOf(place).max(mostPlaces).required(),
  rules: levelRules,
  accepted: Joi.array().items(
    Joi.object({
      check: Joi.string().max(40).required(),
      subject: Joi.string().max(200).required(),
      reason: text.required(),
      rests: Joi.string().hex().length(16)
    })
  ),
  runs: mapOf(run)
};

export const documentSchema: Joi.ObjectSchema<FlowDocument> = Joi.object<FlowDocument>(documentShapes)
  .required()
  .prefs(preferences);
