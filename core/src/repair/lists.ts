/** Findings about what is listed: signals, orders, values, groups. */
import { loadRows, measures } from '../sheet/loads.ts';
import { progressFromOrder, renumber, setLimit } from '../document/edits/levels.ts';
import { removeListed } from '../document/edits/lists.ts';
import { completeRows, shuffledRows } from '../document/edits/orders.ts';
import { changeVariable, removeVariable } from '../document/edits/parts.ts';
import { addRule, changeRule, likelyRule, removeRule } from '../document/edits/rules.ts';
import { together, type Change } from '../document/patch.ts';
import {
  findRule,
  levelsOfOwner,
  ruleLists,
  type Effect,
  type FlowDocument,
  type Id,
  type Owner,
  type Rule
} from '../document/types.ts';
import { named, type Offers } from './offers.ts';

const rulesOf = (document: FlowDocument): Rule[] => [...ruleLists(document)].flatMap(({ rules }) => rules);
const raises = ({ do: effects = [] }: Rule, signal: Id) => effects.some((effect) => 'raise' in effect && effect.raise === signal);

const signalHeard: Offers = (document, { subject: id }) => {
  const { name } = document.signals[id]!;
  const silent = rulesOf(document)
    .filter((rule) => raises(rule, id))
    .map(({ id: rule, ...rest }) => (now: FlowDocument) => {
      const left = (rest.do ?? []).filter((effect) => !('raise' in effect && effect.raise === id));
      return changeRule(now, rule, { ...rest, do: left.length > 0 ? left : undefined });
    });
  return [
    ...waiting(document, id),
    ...hearing(document, id),
    together(document, `Stop raising ${name}, and delete it`, ...silent, (now) => removeListed(now, 'signals', id))
  ];
};

/** What a signal is called says what hears it: that levels are won, or lost. */
function hearing(document: FlowDocument, id: Id): Change[] {
  const { name } = document.signals[id]!;
  const raisers = [...ruleLists(document)].filter(({ rules }) => rules.some((rule) => raises(rule, id)));
  const [level] = raisers.flatMap(({ owner }) => levelsOfOwner(document, owner) ?? []);
  const owner: Owner = raisers.length === 1 ? raisers[0]!.owner : { flow: true };
  if (level === undefined) return [];
  return (['won', 'lost'] as const).flatMap((result) => {
    const said = (result === 'won' ? /w[oi]n|complete|done|goal/i : /lo[st]|dead|die|fail|over|caught/i).test(name);
    if (!said) return [];
    const rule = { ...likelyRule(document, level, result), when: { hear: id } };
    return [named(`${result === 'won' ? 'Win' : 'Lose'} when ${name} is raised`, addRule(document, owner, rule))];
  });
}

/** Rules that wait for another signal, which nothing raises, may be meant to hear this one. */
function waiting(document: FlowDocument, id: Id): Change[] {
  const raised = (signal: Id) => rulesOf(document).some((rule) => raises(rule, signal));
  return rulesOf(document).flatMap((rule) => {
    const { id: which, ...rest } = rule;
    if (!('hear' in rule.when) || raised(rule.when.hear)) return [];
    const other = document.signals[rule.when.hear]?.name ?? rule.when.hear;
    const words = `Let the rule that waits for ${other} hear ${document.signals[id]!.name}`;
    return [changeRule(document, which, { ...rest, when: { hear: id } }, words)];
  });
}

const signalRaised: Offers = (document, { subject: id }) => {
  const deaf = rulesOf(document).filter(({ when }) => 'hear' in when && when.hear === id);
  const { name } = document.signals[id]!;
  const remove = deaf.map(
    ({ id: rule }) =>
      (now: FlowDocument) =>
        removeRule(now, rule)
  );
  const heard = (signal: Id) => rulesOf(document).some(({ when }) => 'hear' in when && when.hear === signal);
  const unheard = Object.keys(document.signals).filter(
    (other) => other !== id && !heard(other) && rulesOf(document).some((rule) => raises(rule, other))
  );
  return [
    ...unheard.map((other) =>
      together(
        document,
        `Wait for ${document.signals[other]!.name} instead`,
        ...deaf.map(
          ({ id: rule, ...rest }) =>
            (now: FlowDocument) =>
              changeRule(now, rule, { ...rest, when: { hear: other } })
        )
      )
    ),
    together(document, `Stop waiting for ${name}, and delete it`, ...remove, (now) => removeListed(now, 'signals', id))
  ];
};

const orderComplete: Offers = (document, { subject }) => [
  named('List each level once in each row', completeRows(document, subject))
];

const orderRepeats: Offers = (document, { subject }) =>
  document.orders[subject]!.draw === 'table' ? [named('Twelve shuffled rows', shuffledRows(document, subject, 12, 1))] : [];

/** With a value goes what sets it. */
const variableUsed: Offers = (document, { subject }) => {
  const sets = (effect: Effect) => ('set' in effect && effect.set === subject) || ('reset' in effect && effect.reset === subject);
  const setting = rulesOf(document)
    .filter(({ do: effects = [] }) => effects.some(sets))
    .map(({ id, ...rest }) => (now: FlowDocument) => {
      const left = rest.do!.filter((effect) => !sets(effect));
      return changeRule(now, id, { ...rest, do: left.length > 0 ? left : undefined });
    });
  const removed = removeVariable(document, subject);
  return [together(document, removed.label, ...setting, (now) => removeVariable(now, subject))];
};

const most = 2 ** 31 - 1;
/** Says in the rules themselves that a number stays at its bound, or gives it more room. */
const valueClamped: Offers = (document, { subject, why = [] }) => {
  const variable = document.variables[subject]!;
  if (variable.type !== 'number') return [];
  const { min, max, name } = variable;
  const wide = Math.min(most, Math.max(10, (max - min) * 10));
  const said = why.flatMap(({ rule }) => (rule === undefined ? [] : [(now: FlowDocument) => held(now, rule, subject, min, max)]));
  return [
    together(document, `Say that ${name} stays within ${min} to ${max}`, ...said),
    named(
      `Let ${name} go up to ${Math.min(most, max + wide)}`,
      changeVariable(document, subject, { ...variable, max: Math.min(most, max + wide) })
    )
  ];
};

/** A rule that sets a number, held within bounds by the rule itself. */
function held(document: FlowDocument, id: Id, variable: Id, min: number, max: number): Change {
  const { id: _id, ...rule } = findRule(document, id)!.rule;
  const effects = (rule.do ?? []).map((effect) =>
    'set' in effect && effect.set === variable ? { ...effect, to: `max(${min}, min(${max}, ${effect.to}))` } : effect
  );
  return changeRule(document, id, { ...rule, do: effects });
}

const nameNumber: Offers = (document, { subject }) => [named('Number the names in their order', renumber(document, subject))];

const loadLimit: Offers = (document, { subject }) => {
  const row = loadRows(document).find(
    ({ of, id }) => subject === (of === 'whole' ? 'flow' : of === 'place' ? `place/${id}` : id)
  );
  if (!row) return [];
  const limited = measures.filter((what) => row.most[what] !== undefined);
  const raised = Object.fromEntries(limited.map((what) => [what, Math.max(row.most[what]!, row.sum[what])]));
  return [named('Raise the limit to the present load', setLimit(document, row.of, raised))];
};

/** A number that keeps what was gained in a lost attempt begins with each, or is reset by the loss. */
const gainKept: Offers = (document, { subject, why = [] }) => {
  const variable = document.variables[subject]!;
  const losing = why.flatMap(({ rule }) =>
    rule !== undefined && findRule(document, rule)!.rule.result === 'lost' ? [rule] : []
  );
  const reset = losing.map((rule) => (now: FlowDocument) => {
    const { id, ...rest } = findRule(now, rule)!.rule;
    return changeRule(now, id, { ...rest, do: [...(rest.do ?? []), { reset: subject }] });
  });
  return [
    named(`Begin ${variable.name} with each attempt`, changeVariable(document, subject, { ...variable, scope: 'attempt' })),
    together(document, `Reset ${variable.name} when a level is lost`, ...reset)
  ];
};

/** A kept value that later games should not know begins with each run. */
const secondGame: Offers = (document, { subject }) => {
  const variable = document.variables[subject]!;
  return [named(`Begin ${variable.name} with each run`, changeVariable(document, subject, { ...variable, scope: 'run' }))];
};

const progressFalls: Offers = (document, { subject }) => [named('Progress from the order', progressFromOrder(document, subject))];

export const listRepairs = {
  'signal-heard': signalHeard,
  'signal-raised': signalRaised,
  'order-complete': orderComplete,
  'order-repeats': orderRepeats,
  'variable-used': variableUsed,
  'value-clamped': valueClamped,
  'name-number': nameNumber,
  'progress-falls': progressFalls,
  'load-limit': loadLimit,
  'gain-kept': gainKept,
  'second-game': secondGame
};
