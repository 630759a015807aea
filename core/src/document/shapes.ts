/** Starting shapes: small whole flows of ours to begin from, each of which passes every check. */
import { filled } from './fill.ts';
import type { Effect, FlowDocument, Id, Level, Piece, Place, Rule, Target, Variable } from './types.ts';

export interface Answers {
  /** 1 to 60. */
  levels: number;
  /** How often the player may fail in a run, 1 to 99; undefined where there is always another try. */
  lives?: number;
  /** A score is kept, over the whole run or in each attempt again. */
  score?: 'run' | 'attempt';
  /** The levels stand in so many groups, about as many in each; undefined for none. */
  groups?: number;
  /** Each arrival in a level is saved, and the title offers to go on. */
  saves?: boolean;
  /** Screens that most games have. */
  pause?: boolean;
  options?: boolean;
  credits?: boolean;
}

export interface FlowShape {
  key: string;
  name: string;
  /** What it is, in one line. */
  line: string;
  /** What it asks beyond what every shape does: the number of levels, and the screens around them. */
  asks: ('lives' | 'score' | 'groups' | 'saves')[];
  /** What a level is called in it. */
  level: string;
  make(name: string, answers: Answers): FlowDocument;
}

const begin: Effect[] = [{ begin: 'run' }];
const lamp: Piece = { name: 'Lamp', kind: 'pickup', count: 3 };
const hazard: Piece = { name: 'Hazard', kind: 'hazard' };

/** Rule ids count up; they are only told apart. */
function numbering(): (rule: Omit<Rule, 'id'>) => Rule {
  let n = 0;
  return (rule) => ({ id: `rule_${++n}`, ...rule });
}

const ids = (count: number, base: string): Id[] => Array.from({ length: count }, (_, n) => `${base}_${n + 1}`);

function variables({ lives, score }: Answers): Record<Id, Variable> {
  return {
    ...(lives && lives > 1 ? { lives: { name: 'Lives', type: 'number', initial: lives, min: 0, max: lives, scope: 'run' } } : {}),
    ...(score ? { score: { name: 'Score', type: 'number', initial: 0, min: 0, max: 999_999, scope: score } } : {})
  } as Record<Id, Variable>;
}

type Numbered = ReturnType<typeof numbering>;

/** Levels in a row, in their groups where there are some. */
function levels(ids: Id[], { groups = 0 }: Answers): Record<Id, Level> {
  const share = Math.ceil(ids.length / Math.max(1, groups));
  return Object.fromEntries(
    ids.map((id, n): [Id, Level] => [
      id,
      {
        name: `Level ${n + 1}`,
        kind: 'level',
        ...(groups > 0 && { group: `group_${Math.floor(n / share) + 1}` }),
        rules: [],
        expects: [],
        entries: {},
        pieces: { lamp: { ...lamp }, hazard: { ...hazard } },
        objectives: {},
        spots: {},
        passages: {}
      }
    ])
  );
}

/** As many groups as there are levels for. */
const groupsOf = (count: number, { groups = 0 }: Answers): FlowDocument['groups'] =>
  Object.fromEntries(
    ids(groups > 0 ? Math.ceil(count / Math.ceil(count / groups)) : 0, 'group').map((id, n) => [
      id,
      { name: `Group ${n + 1}`, rules: [] }
    ])
  );

/** What all levels share, as they are won and lost alike. */
const shared = (rule: Numbered, answers: Answers, won: Target): Rule[] => [
  ...(answers.saves ? [rule({ when: { arrive: true }, do: [{ save: 'always' }] })] : []),
  ...(answers.score ? [rule({ when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 10' }] })] : []),
  rule({ when: { holds: 'left(lamp) = 0' }, go: won, result: 'won' }),
  ...failing(rule, answers),
  ...pausing(rule, answers)
];

const pausing = (rule: Numbered, { pause }: Answers): Rule[] =>
  pause ? [rule({ when: { press: 'Pause', key: 'Escape' }, go: { place: 'pause', over: true } })] : [];

/** The buttons of the title that lead to the screens around the levels. */
const around = (rule: Numbered, { options, credits }: Answers): Rule[] => [
  ...(options ? [rule({ when: { press: 'Options' }, go: { place: 'options', over: true } })] : []),
  ...(credits ? [rule({ when: { press: 'Credits' }, go: { place: 'credits' } })] : [])
];

/** The screens around the levels. */
function screens(rule: Numbered, { pause, options, credits }: Answers): Record<Id, Place> {
  const screen = (name: string, kind: 'menu' | 'interlude', ...rules: Omit<Rule, 'id'>[]): Place => ({
    name,
    kind,
    expects: [],
    rules: rules.map(rule)
  });
  const back = (label: string) => ({ when: { press: label }, go: { move: 'back' } as const });
  const home = { go: { place: 'title' } };
  const toOptions = { when: { press: 'Options' }, go: { place: 'options', over: true } as const };
  return {
    ...(pause && {
      pause: screen('Pause', 'menu', back('Resume'), ...(options ? [toOptions] : []), { when: { press: 'Title' }, ...home })
    }),
    ...(options && { options: screen('Options', 'menu', back('Back')) }),
    ...(credits && {
      credits: screen('Credits', 'interlude', { when: { after: 20 }, ...home }, { when: { press: 'Skip' }, ...home })
    })
  };
}

/** Touching the hazard: a life less, or the same level again. */
function failing(rule: Numbered, { lives }: Answers): Rule[] {
  const touched = { when: { touch: 'hazard' } };
  if (!lives) return [rule({ ...touched, go: { place: 'failed' }, result: 'lost' })];
  if (lives === 1) return [rule({ ...touched, go: { place: 'lost' }, result: 'lost' })];
  return [rule({ ...touched, do: [{ set: 'lives', to: 'lives - 1' }], go: { place: 'failed' }, result: 'lost' })];
}

/** The screens after a failed attempt: another try, and with lives the end of the game when none is left. */
function failed(rule: Numbered, { lives }: Answers): Record<Id, Place> {
  const again = () => rule({ when: { press: 'Try again' }, go: { move: 'again' } });
  const screen = (name: string, rules: Rule[]): Place => ({ name, kind: 'interlude', expects: [], rules });
  if (!lives) return { failed: screen('Try again', [again()]) };
  const over = rule({ when: { press: 'Title' }, go: { place: 'title' } });
  const lost: Place = { name: 'Game over', kind: 'ending', outcome: 'lost', expects: [], rules: [over] };
  // with one life there is no other try
  if (lives === 1) return { lost };
  const none = rule({ when: { arrive: true }, if: 'lives = 0', go: { place: 'lost' } });
  return { failed: screen('A life lost', [none, again()]), lost };
}

const title = (...rules: Rule[]): Place => ({ name: 'Title', kind: 'menu', rules, expects: [] });
const won = (rule: Numbered, { credits }: Answers): Place => ({
  name: 'The end',
  kind: 'ending',
  outcome: 'won',
  expects: [],
  rules: [
    ...(credits ? [rule({ when: { press: 'Credits' }, go: { place: 'credits' } })] : []),
    rule({ when: { press: 'Title' }, go: { place: 'title' } })
  ]
});
const flow = (name: string, parts: Partial<FlowDocument>): FlowDocument =>
  filled({ format: 'crow-lane', version: 1, name, start: 'title', ...parts } as FlowDocument);

/** Title, the levels of one order, what comes after each, and what follows a failed attempt. */
function run(
  name: string,
  answers: Answers,
  order: { name: string; draw: 'fixed' | 'bag' },
  won: Target,
  rest: (rule: Numbered) => Record<Id, Place>
): FlowDocument {
  const rule = numbering();
  const all = ids(answers.levels, 'level');
  const bag = order.draw === 'bag';
  const first: Target = { move: 'first', order: 'main', ...(bag ? { else: { place: 'end' } } : {}) };
  const goOn = { when: { press: 'Continue' }, go: { move: 'load', else: first } } as const;
  return flow(name, {
    variables: variables(answers),
    orders: { main: { ...order, levels: all } },
    groups: groupsOf(all.length, answers),
    rules: shared(rule, answers, won),
    places: {
      title: title(
        rule({ when: { press: 'Begin' }, do: [...begin, ...(bag ? [{ draw: 'main' }] : [])], go: first }),
        ...(answers.saves ? [rule(goOn)] : []),
        ...around(rule, answers)
      ),
      ...levels(all, answers),
      ...rest(rule),
      ...failed(rule, answers),
      ...screens(rule, answers)
    }
  });
}

/** A screen after each level, and the end after the last. */
const afterEach = (rule: Numbered, answers: Answers): Record<Id, Place> => ({
  done: {
    name: 'Level complete',
    kind: 'interlude',
    expects: [],
    rules: [rule({ when: { press: 'Next' }, go: { move: 'next', order: 'main', else: { place: 'end' } } })]
  },
  end: won(rule, answers)
});

const straight: FlowShape = {
  key: 'straight',
  name: 'One after another',
  line: 'Title, levels in a row, a screen after each, game over and an end.',
  asks: ['lives', 'score', 'groups', 'saves'],
  level: 'level',
  make: (name, answers) =>
    run(name, answers, { name: 'Main round', draw: 'fixed' }, { place: 'done' }, (rule) => afterEach(rule, answers))
};

const select: FlowShape = {
  key: 'select',
  name: 'Choose a level',
  line: 'A list of levels that open one after another; what is won stays won.',
  asks: ['lives', 'score', 'groups'],
  level: 'level',
  make(name, given) {
    const rule = numbering();
    // what is won stays won by itself
    const { saves: _saves, ...answers } = given;
    const all = ids(answers.levels, 'level');
    return flow(name, {
      variables: variables(answers),
      orders: { main: { name: 'All levels', draw: 'fixed', levels: all } },
      groups: groupsOf(all.length, answers),
      rules: shared(rule, answers, { place: 'list' }),
      places: {
        title: title(rule({ when: { press: 'Play' }, do: begin, go: { place: 'list' } }), ...around(rule, answers)),
        list: {
          name: 'Choose a level',
          kind: 'menu',
          expects: [],
          rules: [
            rule({ when: { choose: 'main' }, if: 'won(previous)', do: begin, go: { move: 'chosen' } }),
            rule({ when: { press: 'The end' }, if: 'all(main)', go: { place: 'end' } }),
            rule({ when: { press: 'Back' }, go: { place: 'title' } })
          ]
        },
        ...levels(all, answers),
        ...failed(rule, answers),
        ...screens(rule, answers),
        end: won(rule, answers)
      }
    });
  }
};

const hub: FlowShape = {
  key: 'hub',
  name: 'A hub of doors',
  line: 'One place with a door to each room and back, and a last door that opens when all is done.',
  asks: [],
  level: 'room',
  make(name, answers) {
    const { levels: count } = answers;
    const rule = numbering();
    const rooms = ids(count, 'room');
    const door = (room: string): Piece => ({ name: `Door to ${room}`, kind: 'exit' });
    return flow(name, {
      orders: { main: { name: 'Rooms', draw: 'fixed', levels: rooms } },
      rules: pausing(rule, answers),
      places: {
        title: title(rule({ when: { press: 'Begin' }, do: [{ erase: true }], go: { place: 'hall' } }), ...around(rule, answers)),
        hall: {
          name: 'Hall',
          kind: 'level',
          goal: 'leave',
          expects: [],
          entries: {
            start: { name: 'Middle' },
            ...Object.fromEntries(rooms.map((id, n) => [`from_${id}`, { name: `From room ${n + 1}` }]))
          },
          pieces: Object.fromEntries([
            ...rooms.map((id, n) => [`to_${id}`, door(`room ${n + 1}`)]),
            ['last', { name: 'Last door', kind: 'exit' }]
          ]),
          objectives: {},
          spots: {},
          passages: {},
          rules: [
            ...rooms.map((id) => rule({ when: { touch: `to_${id}` }, go: { place: id } })),
            rule({ when: { touch: 'last' }, if: 'all(main)', go: { place: 'end' } })
          ]
        },
        ...Object.fromEntries(
          rooms.map((id, n): [Id, Level] => [
            id,
            {
              name: `Room ${n + 1}`,
              kind: 'level',
              expects: [],
              entries: {},
              pieces: { lamp: { ...lamp }, back: { name: 'Door back', kind: 'exit' } },
              objectives: {},
              spots: {},
              passages: {},
              rules: [
                rule({
                  when: { touch: 'back' },
                  if: 'left(lamp) = 0',
                  go: { place: 'hall', entry: `from_${id}` },
                  result: 'won'
                }),
                rule({ when: { touch: 'back' }, go: { place: 'hall', entry: `from_${id}` } })
              ]
            }
          ])
        ),
        ...screens(rule, answers),
        end: won(rule, answers)
      }
    });
  }
};

const shuffled: FlowShape = {
  key: 'shuffled',
  name: 'A shuffled run',
  line: 'Every run draws its levels in another order, none twice.',
  asks: ['lives', 'score', 'groups'],
  level: 'level',
  // to go on where nothing has been saved, a run would have to be drawn
  make: (name, { saves: _saves, ...answers }) =>
    run(name, answers, { name: 'Bag of levels', draw: 'bag' }, { place: 'done' }, (rule) => afterEach(rule, answers))
};

const loop: FlowShape = {
  key: 'loop',
  name: 'Round and round',
  line: 'After the last level the first comes again, as long as the lives last.',
  asks: ['lives', 'score', 'groups', 'saves'],
  level: 'level',
  make(name, answers) {
    const round: Target = { move: 'next', else: { move: 'first' } };
    return run(name, { ...answers, lives: answers.lives ?? 3 }, { name: 'Round', draw: 'fixed' }, round, () => ({}));
  }
};

export const shapes: FlowShape[] = [straight, select, hub, shuffled, loop];

/** A flow to begin with: one menu, where play begins. */
export function emptyFlow(name: string) {
  return { format: 'crow-lane', version: 1, name, start: 'title', places: { title: { name: 'Title', kind: 'menu' } } };
}
