/** Findings about objectives, and about wins by what was not collected. */
import { changeObjective, removeObjective } from '../document/edits/objectives.ts';
import { changePiece, likelyPieceKind } from '../document/edits/parts.ts';
import { changeRule } from '../document/edits/rules.ts';
import { together, type Change } from '../document/patch.ts';
import { findRule, own, type Effect, type FlowDocument, type FoundRule, type Id, type Level } from '../document/types.ts';
import { bothOf } from '../language/print.ts';
import { piecesCounted } from '../play/fit.ts';
import { textError } from '../play/scope.ts';
import { prepare } from '../play/flow.ts';
import { levelsFor } from '../check/goal-checks.ts';
import { objectiveWords, placeName } from '../words/words.ts';
import { named, type Offers } from './offers.ts';
import { goalCount } from './rules.ts';

/** For a subject `level/objective`: the objective is deleted. */
export function withoutObjective(document: FlowDocument, subject: string): Change[] {
  const [level, id] = subject.split('/') as [Id, Id];
  const place = own(document.places, level);
  if (place?.kind !== 'level' || !own(place.objectives, id)) return [];
  return [named(`Delete the objective ${objectiveWords(document, level, id)}`, removeObjective(document, level, id))];
}

const objectiveMet: Offers = (document, { subject }) => [
  ...goalCount(document, { subject }),
  ...withoutObjective(document, subject)
];

const objectiveNeeded: Offers = (document, { subject, why = [] }) => {
  const [level, id] = subject.split('/') as [Id, Id];
  const { met } = (document.places[level] as Level).objectives[id]!;
  const words = objectiveWords(document, level, id);
  const found = why[0]?.rule === undefined ? undefined : findRule(document, why[0].rule);
  const waits: Change[] = [];
  // what other levels lack would take a shared rule away from them
  if (found && ('place' in found.owner || textError(document, found.owner, met, 'if') === undefined)) {
    const { id: rule, ...rest } = found.rule;
    waits.push(
      changeRule(document, rule, { ...rest, if: bothOf(rest.if, met) }, `Win ${placeName(document, level)} only with ${words}`)
    );
  }
  return [...waits, named(`${words} is not needed`, changeObjective(document, level, id, { needed: undefined }))];
};

const wonByRemoval: Offers = (document, { subject, why = [] }) => {
  const flow = prepare(document);
  const winning = flow.rules.get(subject)!;
  const counted = piecesCounted(winning);
  const removing = why.flatMap(({ rule }) => (rule === undefined ? [] : (findRule(document, rule) ?? [])));
  const removed = new Set(removing.flatMap(({ rule }) => (rule.do ?? []).flatMap((effect) => removedBy(effect, counted))));
  const levels = levelsFor(flow, winning);
  const collects = levels.flatMap((level) => flow.applying(level, level).by.collect);
  return [...removed].flatMap((piece) => {
    const { name } = levels.map((level) => own((document.places[level] as Level).pieces, piece)).find(Boolean)!;
    const foes = levels.map((level) => (now: FlowDocument) => changePiece(now, level, piece, { kind: 'foe' }));
    const defeats = without(removing, piece, { defeat: piece });
    const never = together(document, `Stop removing ${name}`, ...without(removing, piece));
    if (collects.some(({ rule }) => rule.when.collect === piece)) return [never];
    const foe = together(document, `Make ${name} a foe, which is defeated`, ...foes, ...defeats);
    return likelyPieceKind(document, name) === 'foe' ? [foe, never] : [never, foe];
  });
};

const removedBy = (effect: Effect, counted: Set<Id>): Id[] =>
  'remove' in effect && counted.has(effect.remove) ? [effect.remove] : [];

/** Rules with another effect, or none, in place of removing a piece. */
const without = (rules: FoundRule[], piece: Id, instead?: Effect) =>
  rules.map(({ rule: { id, ...rest } }) => (now: FlowDocument) => {
    const effects = (rest.do ?? []).flatMap((effect): Effect[] => {
      if (!('remove' in effect) || effect.remove !== piece) return [effect];
      return instead ? [instead] : [];
    });
    const { do: _do, ...others } = rest;
    return changeRule(now, id, effects.length > 0 ? { ...rest, do: effects } : others, '');
  });

export const goalRepairs = {
  'objective-met': objectiveMet,
  'objective-needed': objectiveNeeded,
  'won-by-removal': wonByRemoval
};
