/** The version of the format that a document needs. */
import { ruleLists, type FlowDocument, type Level } from './types.ts';

/** 1 as long as nothing is used that version 1 has not. */
export function versionOf(document: FlowDocument): FlowDocument['version'] {
  const rules = [...ruleLists(document)].flatMap((list) => list.rules);
  const newer =
    Object.keys(document.numbers).length > 0 ||
    Object.keys(document.assets).length > 0 ||
    document.saves !== undefined ||
    document.movement !== undefined ||
    document.limit?.place !== undefined ||
    document.limit?.whole !== undefined ||
    Object.values(document.places).some(({ kind, load }) => kind !== 'level' && load !== undefined) ||
    Object.values(document.variables).some((variable) => variable.type === 'choice' && variable.labels !== undefined) ||
    rules.some(
      ({ when, by, do: effects }) =>
        'side' in when ||
        'every' in when ||
        'slot' in when ||
        'walk' in when ||
        'reach' in when ||
        'idle' in when ||
        by?.colour !== undefined ||
        effects?.some((each) => 'defeat' in each || 'slot' in each)
    ) ||
    Object.values(document.places).some(
      (place) =>
        typeof place.message === 'object' ||
        /\{[^{}]*\(/.test(place.message ?? '') ||
        (place.kind === 'level' &&
          (place.plan !== undefined ||
            place.movement !== undefined ||
            Object.keys(place.objectives).length > 0 ||
            saysWhere(place)))
    );
  if (newer) return 2;
  const texts = [
    ...rules.flatMap(({ if: condition, when, do: effects = [] }) => [
      condition ?? '',
      'holds' in when ? when.holds : '',
      ...effects.map((effect) => ('to' in effect ? effect.to : ''))
    ]),
    ...Object.values(document.places).flatMap(({ expects }) => expects)
  ];
  return texts.some((text) => /\b(all|count|last|has|saved|at)\s*\(/.test(text)) ? 2 : 1;
}

/** Whether something is said of where things are in a level. */
const saysWhere = ({ spots, passages, entries, pieces }: Level): boolean =>
  [spots, passages].some((map) => Object.keys(map).length > 0) ||
  Object.values(entries).some(({ spot }) => spot !== undefined) ||
  Object.values(pieces).some(({ at }) => at !== undefined);
