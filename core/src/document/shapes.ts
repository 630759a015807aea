/** Starting shapes: small whole flows of ours to begin from, each of which passes every check. */
import { filled } from './fill.ts';
import type { Effect, FlowDocument, Id, Level, Piece, Place, Rule, Target, Variable } from './types.ts';

export interface Answers {
  /** 1 to 60. */
  levels: number;
  /** How often the player may fail in a run, 1 to 99; undefined where there is always another try. */
  lives?: number;
  /** A score is kept, over the whole run or in each attempt anew. */
  score?: 'run' | 'attempt';
}

export interface FlowShape {
  key: string;
  name: string;
  /** What it is, in one line. */
  line: string;
  /** What it asks: how many levels there are is always asked. */
  asks: ('lives' | 'score')[];
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

function level(rule: Numbered, name: string, answers: Answers, won: Target, rest: Partial<Level> = {}): Level {
  const rules = [rule({ when: { holds: 'left(lamp) = 0' }, go: won, result: 'won' })];
  if (answers.score) rules.unshift(rule({ when: { collect: 'lamp' }, do: [{ set: 'score', to: 'score + 10' }] }));
  return { name, kind: 'level', rules, expects: [], entries: {}, pieces: { lamp: { ...lamp }, hazard: { ...hazard } }, ...rest };
}

/** Touching the hazard: a life less, or the same level again. Every level shares it. */
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
const won = (rule: Numbered): Place => ({
  name: 'The end',
  kind: 'ending',
  outcome: 'won',
  expects: [],
  rules: [rule({ when: { press: 'Title' }, go: { place: 'title' } })]
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
  const levels = ids(answers.levels, 'level');
  const bag = order.draw === 'bag';
  const first: Target = { move: 'first', order: 'main', ...(bag ? { else: { place: 'end' } } : {}) };
  return flow(name, {
    variables: variables(answers),
    orders: { main: { ...order, levels } },
    rules: failing(rule, answers),
    places: {
      title: title(rule({ when: { press: 'Begin' }, do: [...begin, ...(bag ? [{ draw: 'main' }] : [])], go: first })),
      ...Object.fromEntries(levels.map((id, n) => [id, level(rule, `Level ${n + 1}`, answers, won)])),
      ...rest(rule),
      ...failed(rule, answers)
    }
  });
}

/** A screen after each level, and the end after the last. */
const afterEach = (rule: Numbered): Record<Id, Place> => ({
  done: {
    name: 'Level complete',
    kind: 'interlude',
    expects: [],
    rules: [rule({ when: { press: 'Next' }, go: { move: 'next', order: 'main', else: { place: 'end' } } })]
  },
  end: won(rule)
});

const straight: FlowShape = {
  key: 'straight',
  name: 'One after another',
  line: 'Title, levels in a row, a screen after each, game over and an end.',
  asks: ['lives', 'score'],
  level: 'level',
  make: (name, answers) => run(name, answers, { name: 'Main round', draw: 'fixed' }, { place: 'done' }, afterEach)
};

const select: FlowShape = {
  key: 'select',
  name: 'Choose a level',
  line: 'A list of levels that open one after another; what is won stays won.',
  asks: ['score'],
  level: 'level',
  make(name, answers) {
    const rule = numbering();
    const levels = ids(answers.levels, 'level');
    return flow(name, {
      variables: variables(answers),
      orders: { main: { name: 'Levels', draw: 'fixed', levels } },
      rules: failing(rule, {} as Answers),
      places: {
        title: title(rule({ when: { press: 'Play' }, do: begin, go: { place: 'list' } })),
        list: {
          name: 'Choose a level',
          kind: 'menu',
          expects: [],
          rules: [
            rule({ when: { choose: 'main' }, if: 'won(previous)', do: begin, go: { move: 'chosen' } }),
            rule({ when: { press: 'The end' }, if: `wins(main) = ${levels.length}`, go: { place: 'end' } }),
            rule({ when: { press: 'Back' }, go: { place: 'title' } })
          ]
        },
        ...Object.fromEntries(levels.map((id, n) => [id, level(rule, `Level ${n + 1}`, answers, { place: 'list' })])),
        ...failed(rule, {} as Answers),
        end: won(rule)
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
  make(name, { levels: count }) {
    const rule = numbering();
    const rooms = ids(count, 'room');
    const door = (room: string): Piece => ({ name: `Door to ${room}`, kind: 'exit' });
    return flow(name, {
      orders: { main: { name: 'Rooms', draw: 'fixed', levels: rooms } },
      places: {
        title: title(rule({ when: { press: 'Begin' }, do: [{ erase: true }], go: { place: 'hall' } })),
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
          rules: [
            ...rooms.map((id) => rule({ when: { touch: `to_${id}` }, go: { place: id } })),
            rule({ when: { touch: 'last' }, if: `wins(main) = ${rooms.length}`, go: { place: 'end' } })
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
        end: won(rule)
      }
    });
  }
};

const shuffled: FlowShape = {
  key: 'shuffled',
  name: 'A shuffled run',
  line: 'Every run draws its levels in another order, none twice.',
  asks: ['lives', 'score'],
  level: 'level',
  make: (name, answers) => run(name, answers, { name: 'Bag of levels', draw: 'bag' }, { place: 'done' }, afterEach)
};

const loop: FlowShape = {
  key: 'loop',
  name: 'Round and round',
  line: 'After the last level the first comes again, as long as the lives last.',
  asks: ['lives', 'score'],
  level: 'level',
  make(name, answers) {
    const round: Target = { move: 'next', else: { move: 'first' } };
    return run(name, { ...answers, lives: answers.lives ?? 3 }, { name: 'Round', draw: 'fixed' }, round, () => ({}));
  }
};

export const shapes: FlowShape[] = [straight, select, hub, shuffled, loop];
