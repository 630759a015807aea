/** Winning and losing in one stroke: one sentence for many levels, made as ordinary rules of each. */
import { idNamed } from '../document/ids.ts';
import { addPiece, changePiece } from '../document/edits/parts.ts';
import { addRule, removeRule } from '../document/edits/rules.ts';
import { Series, together, type Change } from '../document/patch.ts';
import { type FlowDocument, type Id, type Level, type PieceKind, type Target, type Trigger } from '../document/types.ts';
import { countOf } from '../vocabulary/pieces.ts';

/** What wins or loses. A piece is named as the designer names it; a level that has none of this name gets it. */
export type Stroke =
  | { by: 'all'; piece: string }
  | { by: 'some'; piece: string; count: number }
  | { by: 'reach'; piece: string }
  | { by: 'touch'; piece: string }
  | { by: 'none left'; piece: string }
  | { by: 'value'; variable: Id; number: number }
  | { by: 'within'; seconds: number }
  | { by: 'press'; label: string };

export const strokeWords: Record<'won' | 'lost', { by: Stroke['by']; words: string; kind?: PieceKind }[]> = {
  won: [
    { by: 'all', words: 'all of', kind: 'pickup' },
    { by: 'some', words: 'at least some of', kind: 'pickup' },
    { by: 'reach', words: 'reaching', kind: 'exit' },
    { by: 'none left', words: 'defeating all of', kind: 'foe' },
    { by: 'value', words: 'a value reaching' },
    { by: 'within', words: 'lasting for' },
    { by: 'press', words: 'a button' }
  ],
  lost: [
    { by: 'touch', words: 'touching', kind: 'hazard' },
    { by: 'none left', words: 'when none is left of', kind: 'player' },
    { by: 'value', words: 'a value falling to' },
    { by: 'within', words: 'when time is out, after' },
    { by: 'press', words: 'a button' }
  ]
};

/**
 * Makes levels won or lost by one stroke. `instead` takes away the levels' own rules with this result first, whose
 * transition stays; what they share with others stays too.
 */
export function stroke(
  document: FlowDocument,
  levels: Id[],
  result: 'won' | 'lost',
  how: Stroke,
  go: Target,
  instead: boolean
): Change {
  const words = strokeWords[result].find(({ by }) => by === how.by)!;
  const where = levels.length === 1 ? document.places[levels[0]!]!.name : `${levels.length} levels`;
  const label = `${where} ${result} by ${words.words} ${objectOf(document, how)}`;
  return together(
    document,
    label,
    ...levels.map((level) => (now: FlowDocument) => ofLevel(now, level, result, how, words.kind, go, instead))
  );
}

function objectOf(document: FlowDocument, how: Stroke): string {
  if ('piece' in how) return how.piece;
  if ('seconds' in how) return `${how.seconds} s`;
  return 'variable' in how ? `${document.variables[how.variable]!.name} ${how.number}` : how.label;
}

function ofLevel(
  document: FlowDocument,
  level: Id,
  result: 'won' | 'lost',
  how: Stroke,
  kind: PieceKind | undefined,
  go: Target,
  instead: boolean
): Change {
  const series = new Series(document);
  const before = instead ? (document.places[level] as Level).rules.filter((rule) => rule.result === result) : [];
  for (const rule of before) series.make(removeRule(series.now, rule.id));
  // how it looks was not asked about, so it stays as it was
  const by = before.find((rule) => rule.by)?.by;
  let piece: Id | undefined;
  if ('piece' in how) {
    piece =
      idNamed((series.now.places[level] as Level).pieces, how.piece) ??
      series.make(addPiece(series.now, level, { name: how.piece, kind: kind! })).id;
    // "at least 5" of what there is one of so far can only mean that there are five
    const there = (series.now.places[level] as Level).pieces[piece]!;
    if (how.by === 'some' && countOf(there) < how.count) series.make(changePiece(series.now, level, piece, { count: how.count }));
  }
  series.make(addRule(series.now, { place: level }, { when: triggerOf(how, piece, result), go, result, ...(by && { by }) }));
  return series.whole('');
}

function triggerOf(how: Stroke, piece: Id | undefined, result: 'won' | 'lost'): Trigger {
  switch (how.by) {
    case 'all':
    case 'none left':
      return { holds: `left(${piece}) = 0` };
    case 'some':
      return { holds: `taken(${piece}) >= ${how.count}` };
    case 'reach':
    case 'touch':
      return { touch: piece! };
    case 'value':
      return { holds: `${how.variable} ${result === 'won' ? '>=' : '<='} ${how.number}` };
    case 'within':
      return { after: how.seconds };
    case 'press':
      return { press: how.label };
  }
}
