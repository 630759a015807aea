/** Rules and moves as tables: for games in any language, and for spreadsheets (RFC 4180). */
import Papa from 'papaparse';
import type { FlowDocument, Id, Rule } from '../document/types.ts';
import { treeOf, type Tree } from '../language/tree.ts';
import type { FittingRule } from '../play/fit.ts';
import { prepare } from '../play/flow.ts';
import { rulesReadIn } from '../play/reading.ts';
import { placeName } from '../words/words.ts';
import { formula } from './levels-csv.ts';
import { edgesOf } from './graph.ts';

/** A rule as it is read in a place, in the document's own words; those of groups and of the flow once for each level. */
export interface RuleRow {
  place: Id;
  rule: Id;
  /** Whose rule it is: the place's own, that of its group, or one of all levels. */
  of: 'place' | 'group' | 'flow';
  when: Rule['when'];
  if?: string;
  do?: Rule['do'];
  go?: Rule['go'];
  result?: Rule['result'];
  /** What it asks for, and of its effects what they assign, as trees; null for an effect that assigns nothing. */
  trees?: { if?: Tree; holds?: Tree; do?: (Tree | null)[] };
}

/** All rules in the order in which they are read, place by place; one that fits nothing is never read, and has no trees. */
export function ruleRows(document: FlowDocument): RuleRow[] {
  const { rules } = prepare(document);
  return Object.keys(document.places).flatMap((place) =>
    rulesReadIn(document, place).map(({ owner, rule: { id, when, if: condition, do: effects, go, result } }): RuleRow => {
      const of = 'place' in owner ? 'place' : 'group' in owner ? 'group' : 'flow';
      const trees = treesOf(rules.get(id));
      const rest = {
        ...(condition !== undefined && { if: condition }),
        ...(effects && { do: effects }),
        ...(go && { go }),
        ...(result && { result }),
        ...(Object.keys(trees).length > 0 && { trees })
      };
      return { place, rule: id, of, when, ...rest };
    })
  );
}

function treesOf(rule: FittingRule | undefined): NonNullable<RuleRow['trees']> {
  if (!rule) return {};
  const { condition, holds, expressions } = rule;
  return {
    ...(condition && { if: treeOf(condition) }),
    ...(holds && { holds: treeOf(holds) }),
    ...(expressions.some(Boolean) && { do: expressions.map((each) => (each ? treeOf(each) : null)) })
  };
}

/** A row a line, each a JSON object (JSON Lines). */
export const rulesJsonl = (document: FlowDocument): string =>
  ruleRows(document)
    .map((row) => `${JSON.stringify(row)}\n`)
    .join('');

const unparsed = (head: string[], rows: string[][]): string =>
  `${Papa.unparse([head, ...rows], { newline: '\r\n', escapeFormulae: formula })}\r\n`;

/** The same with a column for each part; what is not one text is JSON. */
export function rulesCsv(document: FlowDocument): string {
  const head = ['place', 'rule', 'of', 'when', 'if', 'do', 'go', 'result', 'trees'] as const;
  const cell = (value: unknown): string => (value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value));
  return unparsed(
    [...head],
    ruleRows(document).map((row) => head.map((column) => cell(row[column])))
  );
}

/** A line for each move from one place to another, by names. */
export function movesCsv(document: FlowDocument): string {
  const rows = edgesOf(document).map(({ from, to, words, outcome, over, rule }) => [
    placeName(document, from),
    words,
    placeName(document, to),
    outcome === 'plain' ? '' : outcome,
    over ? 'over' : '',
    rule
  ]);
  return unparsed(['From', 'When', 'To', 'Result', 'Opened', 'Rule'], rows);
}
