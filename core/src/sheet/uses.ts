/** Where values are changed and where they are read. */
import { casesOf, valuesShown } from '../document/messages.ts';
import { ruleLists, type FlowDocument, type Id } from '../document/types.ts';
import { variablesIn } from '../language/ast.ts';
import { parse } from '../language/parse.ts';
import { passageName, ruleWords } from '../words/words.ts';

export interface Use {
  /** The place whose rule, expectation or text it is; undefined for shared rules. */
  place: Id | undefined;
  words: string;
}

export interface Uses {
  set: Use[];
  read: Use[];
}

/** By variable where it is set or reset, and where a condition, an expression or a text reads it. */
export function usesOf(document: FlowDocument): Map<Id, Uses> {
  const uses = new Map<Id, Uses>(Object.keys(document.variables).map((id) => [id, { set: [], read: [] }]));
  const note = (what: keyof Uses, id: Id, use: Use) => {
    const list = uses.get(id)?.[what];
    if (list && list.at(-1)?.words !== use.words) list.push(use);
  };
  for (const { owner, rules } of ruleLists(document)) {
    const place = 'place' in owner ? owner.place : undefined;
    for (const rule of rules) {
      const use = { place, words: ruleWords(document, owner, rule) };
      const texts = [rule.if, 'holds' in rule.when ? rule.when.holds : undefined];
      for (const effect of rule.do ?? []) {
        if ('set' in effect) {
          note('set', effect.set, use);
          texts.push(effect.to);
        } else if ('reset' in effect) note('set', effect.reset, use);
      }
      for (const text of texts) for (const id of read(text)) note('read', id, use);
    }
  }
  for (const id of document.saves?.shows ?? []) note('read', id, { place: undefined, words: 'what saved games show' });
  for (const [place, shown] of Object.entries(document.places)) {
    const { expects, name } = shown;
    for (const text of expects)
      for (const id of read(text)) note('read', id, { place, words: `what is expected on arrival in ${name}` });
    for (const { met, text } of shown.kind === 'level' ? Object.values(shown.objectives) : [])
      for (const id of read(met)) note('read', id, { place, words: `the objective “${text}” of ${name}` });
    for (const [passage, { if: text }] of shown.kind === 'level' ? Object.entries(shown.passages) : [])
      for (const id of read(text))
        note('read', id, { place, words: `the passage ${passageName(document, { place }, passage)} of ${name}` });
    const words = { place, words: `the text of ${name}` };
    for (const id of valuesShown(shown)) note('read', id, words);
    for (const { if: text } of casesOf(shown.message)) for (const id of read(text)) note('read', id, words);
  }
  return uses;
}

/** The variables a text names; none where it cannot be read. */
function read(text: string | undefined): Id[] {
  if (text === undefined) return [];
  try {
    return variablesIn(parse(text));
  } catch {
    return [];
  }
}
