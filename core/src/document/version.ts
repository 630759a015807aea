/** The version of the format that a document needs. */
import { ruleLists, type FlowDocument } from './types.ts';

/** 1 as long as nothing is used that version 1 has not. */
export function versionOf(document: FlowDocument): FlowDocument['version'] {
  const rules = [...ruleLists(document)].flatMap((list) => list.rules);
  if (rules.some(({ when }) => 'side' in when)) return 2;
  if (rules.some(({ by, do: effects }) => by?.colour !== undefined || effects?.some((effect) => 'defeat' in effect))) return 2;
  if (Object.values(document.places).some(({ message }) => typeof message === 'object' || /\{[^{}]*\(/.test(message ?? '')))
    return 2;
  const texts = [
    ...rules.flatMap(({ if: condition, when, do: effects = [] }) => [
      condition ?? '',
      'holds' in when ? when.holds : '',
      ...effects.map((effect) => ('to' in effect ? effect.to : ''))
    ]),
    ...Object.values(document.places).flatMap(({ expects }) => expects)
  ];
  return texts.some((text) => /\b(all|count|last)\s*\(/.test(text)) ? 2 : 1;
}
