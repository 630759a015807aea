/** Ids are made here and never shown: a name can change, an id does not. */
import { freeId, reservedWords } from '../ids.ts';
import { ruleLists, type FlowDocument, type Id } from '../types.ts';

/** An id from a name ("Quay Street" gives quay_street), with a number behind it when it is taken. */
export function idFrom(name: string, taken: Record<Id, unknown>, otherwise: string): Id {
  const plain = name
    .normalize('NFD')
    .toLowerCase()
    .replaceAll(/[\u0300-\u036f]/g, '')
    .replaceAll(/[^a-z0-9]+/g, '_')
    .replaceAll(/^[_0-9]+|_+$/g, '')
    .slice(0, 34);
  const base = plain === '' || reservedWords.includes(plain) ? otherwise : plain;
  return freeId(base, taken);
}

/** What a variable can be, from a name; no choice twice. */
export function choiceFrom(name: string, choices: readonly Id[]): Id {
  return idFrom(name, Object.fromEntries(choices.map((choice) => [choice, true])), 'choice');
}

/** A fresh rule id, unlikely to be made a second time by somebody else at the same moment. */
export function ruleId(document: FlowDocument, random: () => number = Math.random): Id {
  const taken = new Set<Id>();
  for (const { rules } of ruleLists(document)) for (const rule of rules) taken.add(rule.id);
  for (;;) {
    const id = `r${Math.floor(random() * 36 ** 6)
      .toString(36)
      .padStart(6, '0')}`;
    if (!taken.has(id)) return id;
  }
}
