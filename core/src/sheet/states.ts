/** Which state of a level answers what: a table of what can happen by what a choice is, its blanks what a state ignores. */
import type { NewRule } from '../document/edits/rules.ts';
import { levelsOf, type FlowDocument, type Id, type Rule, type Trigger } from '../document/types.ts';
import { parts, type Expression } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { rulesReadIn } from '../play/reading.ts';
import { triggerWords } from '../words/words.ts';

/** A choice that rules of a level ask for. */
export interface States {
  level: Id;
  variable: Id;
  choices: Id[];
}

export interface StateRow {
  trigger: Trigger;
  /** "when Gust is touched". */
  words: string;
  /** By choice the rules that can fire then, in reading order; none where the state ignores it. */
  answers: Map<Id, Rule[]>;
}

/** By level the choices that the conditions of its rules ask for, in display order. */
export function statesOf(document: FlowDocument): States[] {
  const choices = Object.entries(document.variables).flatMap(([id, variable]) =>
    variable.type === 'choice' ? [[id, variable.choices] as const] : []
  );
  if (choices.length === 0) return [];
  return levelsOf(document).flatMap(([level]) => {
    const asked = new Set(rulesReadIn(document, level).flatMap(({ rule }) => conditionsOf(rule).flatMap(comparedIn)));
    return choices.flatMap(([variable, all]) => (asked.has(variable) ? [{ level, variable, choices: all }] : []));
  });
}

/** What can happen in a level, each with what answers it in each state. */
export function stateRows(document: FlowDocument, { level, variable, choices }: States): StateRow[] {
  const rows = new Map<string, StateRow>();
  for (const { rule, owner } of rulesReadIn(document, level)) {
    const { when } = rule;
    if ('arrive' in when || 'choose' in when) continue;
    const key = JSON.stringify({ ...when, key: undefined, idle: undefined });
    let row = rows.get(key);
    if (!row) {
      const answers = new Map(choices.map((choice): [Id, Rule[]] => [choice, []]));
      rows.set(key, (row = { trigger: when, words: triggerWords(document, owner, rule), answers }));
    }
    for (const choice of choices) if (canFire(rule, variable, choice)) row.answers.get(choice)!.push(rule);
  }
  return [...rows.values()];
}

/** The rule that fills a blank: as another state answers it, asked for in this one. */
export function ruleForState({ variable }: States, row: StateRow, choice: Id): NewRule {
  const [usual] = [...row.answers.values()].flat();
  const { id: _id, if: _if, ...rest } = usual ?? { id: '', when: row.trigger };
  return { ...rest, if: `${variable} = '${choice}'` };
}

/** Whether a rule is not ruled out by what a choice is: what else it asks may be true. */
function canFire(rule: Rule, variable: Id, choice: Id): boolean {
  return conditionsOf(rule).every((condition) => truthOf(condition, variable, choice) !== false);
}

function conditionsOf({ if: condition, when }: Rule): Expression[] {
  return [condition, 'holds' in when ? when.holds : undefined].flatMap((text) => {
    if (text === undefined) return [];
    try {
      return [parse(text)];
    } catch {
      return [];
    }
  });
}

/** The variables that are held against a choice. */
function comparedIn(condition: Expression): Id[] {
  return parts(condition).flatMap((part) => {
    if (part.kind !== 'compare') return [];
    const { left, right } = part;
    if (left.kind === 'variable' && right.kind === 'literal') return [left.id];
    return right.kind === 'variable' && left.kind === 'literal' ? [right.id] : [];
  });
}

/** What a condition is when all that is known is what a choice is; undefined where that does not settle it. */
function truthOf(condition: Expression, variable: Id, choice: Id): boolean | undefined {
  const of = (part: Expression) => truthOf(part, variable, choice);
  switch (condition.kind) {
    case 'truth':
      return condition.value;
    case 'not': {
      const truth = of(condition.of);
      return truth === undefined ? undefined : !truth;
    }
    case 'and':
    case 'or': {
      const settles = condition.kind === 'or';
      const [left, right] = [of(condition.left), of(condition.right)];
      if (left === settles || right === settles) return settles;
      return left === undefined || right === undefined ? undefined : !settles;
    }
    case 'compare': {
      const sides = [condition.left, condition.right];
      const literal = sides.find((side) => side.kind === 'literal');
      if (!literal || !sides.some((side) => side.kind === 'variable' && side.id === variable)) return undefined;
      return (literal.id === choice) === (condition.operator === '=');
    }
    default:
      return undefined;
  }
}
