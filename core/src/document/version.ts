/** The version of the format that a document needs. */
import { ruleLists, type FlowDocument } from './types.ts';

/** 1 as long as nothing is used that version 1 has not. */
export function versionOf(document: FlowDocument): FlowDocument['version'] {
  if ([...ruleLists(document)].some(({ rules }) => rules.some(({ by }) => by?.colour !== undefined))) return 2;
  const texts = [
    ...[...ruleLists(document)].flatMap(({ rules }) =>
      rules.flatMap(({ if: condition, when, do: effects = [] }) => [
        condition ?? '',
        'holds' in when ? when.holds : '',
        ...effects.map((effect) => ('to' in effect ? effect.to : ''))
      ])
    ),
    ...Object.values(document.places).flatMap(({ expects }) => expects)
  ];
  return texts.some((text) => /\b(all|count)\s*\(/.test(text)) ? 2 : 1;
}
