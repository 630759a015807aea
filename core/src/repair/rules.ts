/** Findings about rules: never firing, leading nowhere, asking for what there never is. */
import { wayOfLoss } from '../check/loss-checks.ts';
import { canBeTrue, countable, goalComparisons, levelsFor, type Countable, type GoalComparison } from '../check/goal-checks.ts';
import type { Reason } from '../report/report.ts';
import { changePiece, changeVariable } from '../document/edits/parts.ts';
import { changeRule, endingOf, moveRule, removeRule } from '../document/edits/rules.ts';
import { changeObjective } from '../document/edits/objectives.ts';
import { setExpects } from '../document/edits/lists.ts';
import { secondsOf } from '../document/numbers.ts';
import { together, type Change } from '../document/patch.ts';
import {
  findRule,
  own,
  ruleLists,
  type FlowDocument,
  type FoundRule,
  type Id,
  type Level,
  type Rule,
  type Target
} from '../document/types.ts';
import { parts, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { bothOf, print } from '../language/print.ts';
import { same } from '../document/same.ts';
import { prepare, type Flow } from '../play/flow.ts';
import { rulesTo } from '../play/leading.ts';
import { placeKinds } from '../vocabulary/places.ts';
import { placeName, counted, haveWords, secondsWords, variableName } from '../words/words.ts';
import { named, type Offers } from './offers.ts';

const rest = ({ id: _id, ...rule }: Rule) => rule;

/** Other ways for a level select to open its levels. */
export function openings(document: FlowDocument, { id, ...rule }: Rule): Change[] {
  const { if: _locked, ...open } = rule;
  return [
    changeRule(document, id, { ...rule, if: 'won(it) or won(previous)' }, 'Open each level when the one before is won'),
    changeRule(document, id, open, 'Open all levels at once')
  ];
}

/** Says where a rule leads when its move does not resolve. */
export function otherwiseTo(document: FlowDocument, id: Id, place: Id): Change[] {
  const { rule } = findRule(document, id)!;
  if (!rule.go || !('move' in rule.go)) return [];
  const go: Target = { ...rule.go, else: { place } };
  return [changeRule(document, id, { ...rest(rule), go }, `Otherwise to ${placeName(document, place)}`)];
}

const neverStranded: Offers = (document, { subject: id }) => {
  const { rule } = findRule(document, id)!;
  const { go } = rule;
  if (!go || !('move' in go)) return [];
  const found: Change[] = [];
  const drawn = go.order === undefined ? Object.keys(document.orders) : [go.order];
  const order = drawn.find((each) => own(document.orders, each) && document.orders[each]!.draw !== 'fixed');
  const begins = go.move === 'first' || go.move === 'last';
  if (order !== undefined && (begins || (go.move === 'next' && !draws(document, order)))) {
    const draw = [{ draw: order }, ...(rule.do ?? [])];
    found.push(changeRule(document, id, { ...rest(rule), do: draw }, `Draw ${document.orders[order]!.name} first`));
  }
  if (go.move === 'back') found.push(...openedOver(document, id));
  const home = prepare(document).home;
  const won = go.move === 'next' ? endingOf(document, 'won') : undefined;
  if (won !== undefined) found.push(...otherwiseTo(document, id, won));
  const asked =
    go.move === 'next' || go.move === 'previous' ? go.move : go.move === 'resume' || go.move === 'load' ? 'save' : undefined;
  if (asked) {
    const asks = print({
      kind: 'has',
      what: asked,
      ...(go.order !== undefined && { order: go.order }),
      at: { start: 0, end: 0 }
    });
    const only = `Only while ${haveWords[asked]}`;
    // only a control can be used once more when there is one
    if ('press' in rule.when) found.push(changeRule(document, id, { ...rest(rule), if: bothOf(rule.if, asks) }, only));
  }
  if (home !== undefined) found.push(...otherwiseTo(document, id, home));
  if (go.move === 'resume' || go.move === 'load' || go.move === 'again') {
    const to: Target = { ...go, else: { move: go.move === 'again' ? 'first' : 'again' } };
    // a control that goes on where nothing is saved is better not there
    found.splice(
      asked && 'press' in rule.when ? 1 : 0,
      0,
      changeRule(
        document,
        id,
        { ...rest(rule), go: to },
        go.move === 'again' ? 'Otherwise to the first level' : 'Otherwise start the level again'
      )
    );
  }
  return found;
};

/** Whether some rule draws an order. */
const draws = (document: FlowDocument, order: Id) =>
  [...ruleLists(document)].some(({ rules }) =>
    rules.some((rule) => rule.do?.some((effect) => 'draw' in effect && effect.draw === order))
  );

/** Lets a place from which a rule goes back be opened over those that lead to it. */
function openedOver(document: FlowDocument, id: Id): Change[] {
  const { owner } = findRule(document, id)!;
  if (!('place' in owner) || !placeKinds[document.places[owner.place]!.kind].over) return [];
  const opened = rulesTo(document, owner.place).flatMap((rule) => {
    const { go } = rule;
    if (!go || !('place' in go) || go.over || rule.result) return [];
    return [(now: FlowDocument) => changeRule(now, rule.id, { ...rest(rule), go: { place: go.place, over: true } })];
  });
  if (opened.length === 0) return [];
  return [together(document, `Open ${placeName(document, owner.place)} over the place before it`, ...opened)];
}

/** Reads a rule with a condition before the rules of its list with the same trigger; one without would only hide those. */
function readEarlier(document: FlowDocument, { owner, rule, index }: FoundRule): Change[] {
  const list =
    'place' in owner
      ? document.places[owner.place]!.rules
      : 'group' in owner
        ? document.groups[owner.group]!.rules
        : document.rules;
  const first = list.findIndex((other) => same(other.when, rule.when) && other.go);
  if (rule.if === undefined || first < 0 || first >= index) return [];
  return [named('Read it first', moveRule(document, rule.id, first))];
}

/** A button of its own for a rule that shares one with a rule that always leaves. */
function ownButton(document: FlowDocument, rule: Rule): Change[] {
  const to = rule.go && 'place' in rule.go ? own(document.places, rule.go.place) : undefined;
  if (!('press' in rule.when) || !to || rule.when.press === to.name) return [];
  return [changeRule(document, rule.id, { ...rest(rule), when: { press: to.name } }, `Give it a button of its own, ${to.name}`)];
}

/** A rule that never fires: by the reason why not. */
export function deadRule(document: FlowDocument, id: Id, never: Reason['never']): Change[] {
  const found = findRule(document, id);
  if (!found) return [];
  const { rule } = found;
  const remove = named('Delete the rule', removeRule(document, id));
  if (never === 'place not reached') return [];
  if (never === 'always overtaken') return [...readEarlier(document, found), ...ownButton(document, rule), remove];
  if (never === 'condition never true') {
    const counts = [...goalCount(document, { subject: id }), ...askForAll(document, id)];
    if ('choose' in rule.when) return [...openings(document, rule), remove];
    const { if: condition, ...always } = rest(rule);
    const drop = condition === undefined ? [] : [changeRule(document, id, always, 'Remove its condition')];
    return [...counts, ...drop, remove];
  }
  return [remove];
}

const ruleFires: Offers = (document, { subject, why = [] }) => deadRule(document, subject, why[0]?.never);

/** The texts of a subject that is a rule, an expectation or an objective, each with how to put another in its place. */
function textsOf(document: FlowDocument, subject: Id): Text[] {
  const found = findRule(document, subject);
  if (!found) {
    const [place, index] = subject.split('/') as [Id, string];
    const at = own(document.places, place);
    const objective = at?.kind === 'level' ? own(at.objectives, index) : undefined;
    if (objective) {
      const put = (met: string, words: string) => named(words, changeObjective(document, place, index, { met }));
      return [{ text: objective.met, put }];
    }
    const text = at?.expects[Number(index)];
    if (text === undefined) return [];
    return [
      {
        text,
        put: (to, words) =>
          named(words, setExpects(document, place, document.places[place]!.expects.toSpliced(Number(index), 1, to)))
      }
    ];
  }
  const { rule } = found;
  const { when } = rule;
  return [
    ...('holds' in when
      ? [
          {
            text: when.holds,
            put: (to: string, words: string) => changeRule(document, subject, { ...rest(rule), when: { holds: to } }, words)
          }
        ]
      : []),
    ...(rule.if === undefined
      ? []
      : [{ text: rule.if, put: (to: string, words: string) => changeRule(document, subject, { ...rest(rule), if: to }, words) }])
  ];
}

export function parsed(text: string): Expression | undefined {
  try {
    return parse(text);
  } catch {
    return undefined;
  }
}

const spliced = (text: string, { start, end }: { start: number; end: number }, by: string) =>
  text.slice(0, start) + by + text.slice(end);

/** The levels that a subject's conditions are asked in. */
function levelsAsked(flow: Flow, subject: Id): Id[] {
  const rule = flow.rules.get(subject);
  if (rule) return levelsFor(flow, rule);
  const place = subject.split('/')[0]!;
  return flow.document.places[place]?.kind === 'level' ? [place] : flow.levels.map(([id]) => id);
}

/**
 * "All of it" in place of a number, which then follows what there is; undefined where the number does not mean all, or what
 * is counted is never used up.
 */
function askedForAll(
  { of, operator, literal, whole }: GoalComparison,
  { most, full, only, amount }: Countable,
  text: string,
  put: (to: string, words: string) => Change
): Change | undefined {
  const upTo = 'wins' in of || of.taken;
  const rises = operator === '>=' || operator === '=' || operator === '>';
  const falls = operator === '<=' || operator === '=' || operator === '<';
  if (only !== undefined || most === 0 || (upTo ? !rises : !falls)) return undefined;
  if (operator === '=' && !upTo && Number(literal) !== full) return undefined;
  return put(spliced(text, whole, `all(${'wins' in of ? of.wins : of.piece})`), `Ask for all: ${amount}`);
}

/** A condition, with how to put another in its place. */
interface Text {
  text: string;
  put: (text: string, words: string) => Change;
}

/** What each comparison of texts counts in each of their levels, with how its number is changed. */
function countedIn(document: FlowDocument, levels: Id[], texts: Text[]) {
  return texts.flatMap(({ text, put }) => {
    const expression = parsed(text);
    return (expression ? goalComparisons(expression) : []).flatMap((comparison) =>
      ('wins' in comparison.of ? levels.slice(0, 1) : levels).flatMap((level) => {
        const there = countable(document, level, comparison);
        const ask = (n: number, words: string) => put(spliced(text, comparison.at, String(n)), words);
        return there ? [{ comparison, level, there, ask, all: askedForAll(comparison, there, text, put) }] : [];
      })
    );
  });
}

const countedBy = (document: FlowDocument, subject: string) =>
  countedIn(document, levelsAsked(prepare(document), subject), textsOf(document, subject));

export const goalCount = (document: FlowDocument, { subject }: { subject: string }): Change[] =>
  goalNumbers(document, levelsAsked(prepare(document), subject), textsOf(document, subject));

/** Texts that are read in levels ask for numbers that there can be. */
export const goalNumbers = (document: FlowDocument, levels: Id[], texts: Text[]): Change[] =>
  countedIn(document, levels, texts).flatMap(({ comparison, level, there, ask, all }) => {
    if (canBeTrue(comparison, there)) return [];
    const { of, literal } = comparison;
    const wanted = [there.full, there.most, 0].find((n) => canBeTrue({ ...comparison, literal: n }, there));
    const found = [
      ...(all ? [all] : []),
      ...(wanted === undefined ? [] : [ask(wanted, `Ask for ${wanted} instead of ${literal}`)])
    ];
    const more = Number(literal);
    if ('wins' in of || more <= there.most || more > 10_000) return found;
    const { name } = (document.places[level] as Level).pieces[of.piece]!;
    const put = changePiece(document, level, of.piece, { count: more });
    return [...found, named(`Put ${counted(name, more)} into ${placeName(document, level)}`, put)];
  });

const goalPartial: Offers = (document, { subject }) => askForAll(document, subject);

function askForAll(document: FlowDocument, subject: string): Change[] {
  const seen = new Set<GoalComparison>();
  return countedBy(document, subject).flatMap(({ comparison, there, ask, all: named }) => {
    // the number is one, whatever levels it is read in: the first is asked
    if (seen.has(comparison) || !canBeTrue(comparison, there, true)) return [];
    seen.add(comparison);
    if (named) return [named];
    const all = (literal: number) =>
      canBeTrue({ ...comparison, literal }, there) && !canBeTrue({ ...comparison, literal }, there, true);
    const wanted = [there.full, there.most, 0, 1, there.most - 1].find(all);
    return wanted === undefined ? [] : [ask(wanted, `Ask for all: ${there.amount}`)];
  });
}

/** The rule begins a new run first. */
export const beginningRun = (document: FlowDocument, { id, ...rule }: Rule, label: string): Change =>
  changeRule(document, id, { ...rule, do: [{ begin: 'run' }, ...(rule.do ?? [])] }, label);

const freshStart: Offers = (document, { subject: id, variables = [] }) => {
  const { rule } = findRule(document, id)!;
  const names = variables.map((variable) => variableName(document, variable)).join(', ');
  const reset = { ...rest(rule), do: [...variables.map((variable) => ({ reset: variable })), ...(rule.do ?? [])] };
  const scopes = variables.map(
    (variable) => (now: FlowDocument) => changeVariable(now, variable, { ...now.variables[variable]!, scope: 'attempt' })
  );
  return [
    beginningRun(document, rule, 'Begin a new run in this rule'),
    changeRule(document, id, reset, `Set ${names} back there`),
    together(document, `Begin ${names} with each attempt`, ...scopes)
  ];
};

const overtakenDeadline: Offers = (document, { subject: id, why = [] }) => {
  const { rule } = findRule(document, id)!;
  const earlier = why[0]?.rule === undefined ? undefined : findRule(document, why[0].rule)?.rule.when;
  const before = earlier && 'after' in earlier ? secondsOf(document, earlier.after)! / 2 : undefined;
  return [
    ...(before === undefined
      ? []
      : [changeRule(document, id, { ...rest(rule), when: { after: before } }, `Let it come first, after ${before} s`)]),
    named('Delete the rule', removeRule(document, id))
  ];
};

const ruleHidden: Offers = (document, { subject: id }) => [
  ...readEarlier(document, findRule(document, id)!),
  ...ownButton(document, findRule(document, id)!.rule),
  named('Delete the rule', removeRule(document, id))
];

/** The rules of the levels' own go; those of a group are meant for many. */
const sharedOverriding: Offers = (document, { why = [] }) => {
  const own = why.flatMap(({ rule, places = [] }) => {
    const owner = rule === undefined ? undefined : findRule(document, rule)?.owner;
    return owner && 'place' in owner ? [{ rule: rule!, place: placeName(document, places[0]!) }] : [];
  });
  const where = own.length > 3 ? `${own.length} levels` : own.map(({ place }) => place).join(', ');
  const removals = own.map(
    ({ rule }) =>
      (now: FlowDocument) =>
        removeRule(now, rule)
  );
  return own.length > 0 ? [together(document, `Use the shared rule in ${where}`, ...removals)] : [];
};

const numberSkipped: Offers = (document, { subject }) =>
  textsOf(document, subject).flatMap(({ text, put }) => {
    const expression = parsed(text);
    return (expression ? parts(expression) : []).flatMap((part) => {
      if (part.kind !== 'compare' || part.operator !== '=' || part.left.kind !== 'variable' || part.right.kind !== 'integer')
        return [];
      const between = { start: part.left.at.end, end: part.right.at.start };
      const variable = part.left.id;
      const grows =
        document.variables[variable]?.type === 'number' &&
        Number(part.right.value) > Number(document.variables[variable].initial);
      const sign = grows ? '>=' : '<=';
      const words = `Ask for ${variableName(document, variable)} at ${grows ? 'least' : 'most'} ${part.right.value}`;
      return [put(spliced(text, between, ` ${sign} `), words)];
    });
  });

const waitTooShort: Offers = (document, { subject: id, why = [] }) => {
  const { rule } = findRule(document, id)!;
  const seconds = why[0]?.rule === undefined ? undefined : findRule(document, why[0].rule)?.rule.by?.in;
  if (seconds === undefined) return [];
  return [
    changeRule(
      document,
      id,
      { ...rest(rule), when: { after: seconds } },
      `Wait ${secondsWords(document, seconds)}, until it is seen`
    )
  ];
};

/** The rules that lead from a loss into a level start the lost one again instead. */
const lostElsewhere: Offers = (document, { subject: id }) => {
  const flow = prepare(document);
  const changed = wayOfLoss(flow, flow.rules.get(id)!).rules.flatMap(({ rule }) => {
    const { go } = rule;
    const leads = go && ('move' in go ? go.move === 'first' : own(document.places, go.place)?.kind === 'level');
    return leads ? [(now: FlowDocument) => changeRule(now, rule.id, { ...rest(rule), go: { move: 'again' } })] : [];
  });
  return [together(document, 'Start the lost level again instead', ...changed)];
};

/** A new run that goes back to an old save: the save is forgotten where the run begins. */
const freshSave: Offers = (document, { why = [] }) => {
  const beginning = why.flatMap(({ rule }) => (rule === undefined ? [] : (findRule(document, rule)?.rule ?? [])));
  const forgetting = beginning.map((rule) => (now: FlowDocument) => {
    return changeRule(now, rule.id, { ...rest(rule), do: [...(rule.do ?? []), { forget: true }] });
  });
  return forgetting.length > 0 ? [together(document, 'Forget the save when a new run begins', ...forgetting)] : [];
};

const slotPicked: Offers = (document, { subject: id }) => {
  const { rule, owner } = findRule(document, id)!;
  const left = (rule.do ?? []).filter((effect) => !('slot' in effect));
  const without = changeRule(document, id, { ...rest(rule), do: left.length > 0 ? left : undefined }, 'Leave the slots alone');
  // what another trigger brings with it, as a chosen level, is not there when a slot is picked
  const picks = 'press' in rule.when && 'place' in owner && document.places[owner.place]!.kind === 'menu';
  return [
    ...(picks ? [changeRule(document, id, { ...rest(rule), when: { slot: 'any' } }, 'Do it when a slot is picked')] : []),
    without
  ];
};

export const ruleRepairs = {
  'never-stranded': neverStranded,
  'rule-fires': ruleFires,
  'goal-count': goalCount,
  'goal-partial': goalPartial,
  'fresh-start': freshStart,
  'overtaken-deadline': overtakenDeadline,
  'rule-hidden': ruleHidden,
  'shared-overridden': sharedOverriding,
  'number-skipped': numberSkipped,
  'wait-too-short': waitTooShort,
  'lost-elsewhere': lostElsewhere,
  'fresh-save': freshSave,
  'slot-picked': slotPicked
};
