/** Checks of the numbers of pieces that rules ask for. */
import { isLevel, levelsOfOwner, own, type FlowDocument, type Id, type Owner } from '../document/types.ts';
import { parts, turned, type Comparison, type Expression, type Span } from '../language/ast.ts';
import { compare } from '../language/evaluate.ts';
import { print } from '../language/print.ts';
import type { FittingRule } from '../play/fit.ts';
import type { Flow } from '../play/flow.ts';
import { conditionWords, counted, objectiveWords, placeName, plural } from '../words/words.ts';
import type { Reason, Verdict } from '../report/report.ts';
import { plain, ruleNamed } from './verdict.ts';
import { usedUp, countOf } from '../vocabulary/pieces.ts';

/** A comparison with a number, turned so that what is counted stands left. */
export interface GoalComparison {
  of: { piece: Id; taken: boolean } | { wins: Id };
  operator: Comparison;
  literal: number | bigint;
  text: string;
  /** Where the number stands in the condition, and where the whole comparison does. */
  at: Span;
  whole: Span;
}

export function goalComparisons(expression: Expression): GoalComparison[] {
  return parts(expression).flatMap((part) => {
    if (part.kind !== 'compare') return [];
    for (const [term, other, operator] of [
      [part.left, part.right, part.operator],
      [part.right, part.left, turned[part.operator]]
    ] as const) {
      const [of, literal] = [countedBy(term), literalOf(other)];
      if (of && literal !== undefined) return [{ of, operator, literal, text: print(part), at: other.at, whole: part.at }];
    }
    return [];
  });
}

function countedBy(term: Expression): GoalComparison['of'] | undefined {
  if (term.kind === 'wins') return { wins: term.of };
  return term.kind === 'left' || term.kind === 'taken' ? { piece: term.piece, taken: term.kind === 'taken' } : undefined;
}

function literalOf(term: Expression): number | bigint | undefined {
  if (term.kind === 'integer') return term.value;
  return term.kind === 'negative' && term.of.kind === 'integer' ? -term.of.value : undefined;
}

/** What can be counted somewhere. */
export interface Countable {
  /** Who has it, and how many there are: "Candle × 3". */
  owner: string;
  amount: string;
  /** The most there can be, and the number when all are taken or won. */
  most: number;
  full: number;
  /** The numbers there can be: all from 0 to the most, or the only one. */
  only?: number;
}

/**
 * What a comparison counts over a bottom level; undefined where that has no such piece. Pieces that are never used up are
 * always as many as there are.
 */
export function countable(document: FlowDocument, level: Id, { of }: GoalComparison): Countable | undefined {
  if ('wins' in of) {
    const group = own(document.groups, of.wins);
    const most = group
      ? levelsOfOwner(document, { group: of.wins })!.length
      : document.orders[of.wins]!.levels.filter((id) => isLevel(document, id)).length;
    const { name } = group ?? document.orders[of.wins]!;
    return { owner: name, amount: `${most} ${plural('level', most)}`, most, full: most };
  }
  const place = document.places[level]!;
  const piece = place.kind === 'level' ? own(place.pieces, of.piece) : undefined;
  if (!piece) return undefined;
  const most = countOf(piece);
  const said = { owner: place.name, amount: counted(piece.name, most), most };
  if (usedUp(piece)) return { ...said, full: of.taken ? most : 0 };
  const only = of.taken ? 0 : most;
  return { ...said, full: only, only };
}

/** Whether a comparison is true of some number there can be; of one that is not the full one, with `partly`. */
export function canBeTrue({ operator, literal }: GoalComparison, { most, full, only }: Countable, partly = false): boolean {
  // a comparison can only change its truth near its number or at the ends of the range, so only these are tried
  const near = Number(literal);
  const tried = only === undefined ? [0, 1, most - 1, most, near - 1, near, near + 1] : [only];
  return tried.some(
    (n) => Number.isInteger(n) && n >= 0 && n <= most && !(partly && n === full) && compare(operator, n, literal)
  );
}

/** A text with the levels that can be at the bottom when it is read. */
interface Asking {
  subject: string;
  pointer: string;
  words: string;
  comparisons: GoalComparison[];
  levels: Id[];
  /** In whose words it is told. */
  owner: Owner;
}

/** `goal-count`: in each of its levels a comparison is of a number that there can be. */
export function goalCounts(flow: Flow): Verdict[] {
  return [...rulesAsking(flow), ...placesAsking(flow)].map(({ subject, pointer, words, ...asking }) => {
    const why = reasons(flow, asking, (comparison, there) => !canBeTrue(comparison, there));
    const failing = why.length > 0 ? `${words} asks for a number that never occurs.` : undefined;
    const more = { pointer, ...(why.length > 0 ? { why } : {}) };
    return plain('goal-count', subject, failing, `${words} asks for numbers that can occur.`, more);
  });
}

/**
 * `goal-partial`: what wins or loses a level is true only when all are taken, or all levels won; and what any rule asks
 * for of levels won, only when all of them are.
 */
export function goalsPartial(flow: Flow): Verdict[] {
  const decides = ({ rule }: FittingRule) => rule.result !== undefined;
  return rulesAsking(flow, (rule, { of }) => decides(rule) || 'wins' in of).map(({ subject, pointer, words, ...asking }) => {
    const why = reasons(flow, asking, (comparison, there) => canBeTrue(comparison, there, true));
    const failing = why.length > 0 ? `${words} is satisfied before all are done.` : undefined;
    const more = { pointer, ...(why.length > 0 ? { why } : {}) };
    return plain('goal-partial', subject, failing, `${words} asks for all of them.`, more);
  });
}

/** The rules that compare what is counted, with those of their comparisons that are asked about. */
function rulesAsking(flow: Flow, asks: (rule: FittingRule, comparison: GoalComparison) => boolean = () => true): Asking[] {
  return [...flow.rules.values()].flatMap((rule) => {
    const all = [rule.holds, rule.condition].flatMap((text) => (text ? goalComparisons(text) : []));
    const comparisons = all.filter((comparison) => asks(rule, comparison));
    if (comparisons.length === 0) return [];
    const { words, pointer } = ruleNamed(flow.document, rule.id);
    return [
      { subject: rule.id, pointer, words: `The rule ${words}`, comparisons, levels: levelsFor(flow, rule), owner: rule.owner }
    ];
  });
}

/** What is expected on arrival, and the objectives. */
function placesAsking({ document, expectations, objectives, levels }: Flow): Asking[] {
  const asking = (place: Id, condition: Expression, said: Pick<Asking, 'subject' | 'pointer' | 'words'>): Asking[] => {
    const comparisons = goalComparisons(condition);
    if (comparisons.length === 0) return [];
    const at = isLevel(document, place) ? [place] : levels.map(([id]) => id);
    return [{ ...said, comparisons, levels: at, owner: { place } }];
  };
  return [
    ...expectations.flatMap(({ place, index, condition }) => {
      const pointer = `/places/${place}/expects/${index}`;
      const words = `What ${placeName(document, place)} expects`;
      return asking(place, condition, { subject: `${place}/${index}`, pointer, words });
    }),
    ...objectives.flatMap(({ key, place, id, condition }) => {
      const pointer = `/places/${place}/objectives/${id}/met`;
      const words = `The objective ${objectiveWords(document, place, id)}`;
      return asking(place, condition, { subject: key, pointer, words });
    })
  ];
}

/** The comparisons that are bad, each with every level that it is bad in; what counts levels is told once. */
function reasons(
  { document }: Flow,
  { comparisons, levels, owner }: Pick<Asking, 'comparisons' | 'levels' | 'owner'>,
  bad: (comparison: GoalComparison, there: Countable) => boolean
): Reason[] {
  return comparisons.flatMap((comparison) => {
    const wins = 'wins' in comparison.of;
    return (wins ? [''] : levels).flatMap((level) => {
      const there = countable(document, level, comparison);
      if (!there || !bad(comparison, there)) return [];
      return [
        {
          text: `“${conditionWords(document, owner, comparison.text)}”: ${there.owner} has ${there.amount}.`,
          ...(wins ? {} : { places: [level] })
        }
      ];
    });
  });
}

/** The levels that can be at the bottom when a rule applies: of a level its own, else any over which the rule is read. */
export function levelsFor(flow: Flow, { id, owner }: FittingRule): Id[] {
  if ('place' in owner && isLevel(flow.document, owner.place)) return [owner.place];
  return flow.levels
    .map(([level]) => level)
    .filter((level) => flow.applying('place' in owner ? owner.place : level, level).all.some((rule) => rule.id === id));
}
