/** The texts that places show: one, or several of which the first that fits is shown, with placeholders in braces. */
import { levelsCounted, own, type FlowDocument, type Id, type Message, type MessageCase, type Place } from './types.ts';

/** The texts in order; one without a condition always fits. */
export const casesOf = (message: Message | undefined): MessageCase[] =>
  message === undefined ? [] : typeof message === 'string' ? [{ text: message }] : message;

/** What a placeholder shows: a value of the game, or what a word says of a name: "left" of "lamp". */
export interface Placeholder {
  word?: string;
  name: Id;
}

/** The words before the brackets. */
const shownWords = ['left', 'taken', 'count', 'wins', 'name', 'number', 'saved'] as const;
export type ShownWord = (typeof shownWords)[number];
const isShownWord = (word: string): boolean => (shownWords as readonly string[]).includes(word);

const form = /\{([^{}]*)\}/g;

/** The text with something in place of what each pair of braces holds; undefined leaves it as it stands. */
export const withPlaceholders = (text: string, put: (content: string) => string | undefined): string =>
  text.replaceAll(form, (whole, content: string) => put(content) ?? whole);

/** What stands in the braces of a text. */
export const contentsOf = (text: string): string[] => [...text.matchAll(form)].map(([, content]) => content!);

/** Reads what stands in braces; undefined where it is no name and no word with a name in brackets. */
export function placeholder(content: string): Placeholder | undefined {
  const [, first, second] = /^\s*([a-z][a-z0-9_]*)\s*(?:\(\s*([a-z][a-z0-9_]*)\s*\))?\s*$/.exec(content) ?? [];
  if (first === undefined) return undefined;
  return second === undefined ? { name: first } : { word: first, name: second };
}

/** The values of the game that the texts of a place show. */
export const valuesShown = ({ message }: Place): Id[] =>
  casesOf(message)
    .flatMap(({ text }) => contentsOf(text))
    .flatMap((content) => {
      const found = placeholder(content);
      return found && found.word === undefined ? [found.name] : [];
    });

/** What is wrong with a placeholder of a place's text; undefined where nothing is. `missing` names nothing. */
export function placeholderMisfit(
  document: FlowDocument,
  content: string,
  pieces: (id: Id) => boolean
): { words: string; missing?: Id } | undefined {
  const shows = placeholder(content);
  if (!shows || (shows.word !== undefined && !isShownWord(shows.word)))
    return { words: 'which is neither a value nor anything else that can be shown' };
  const { word, name } = shows;
  const missing = (what: string) => ({ words: `and there is no such ${what}`, missing: name });
  switch (word) {
    case undefined:
      return own(document.variables, name) ? undefined : missing('value');
    case 'left':
    case 'taken':
      return pieces(name) ? undefined : missing('piece here');
    case 'count':
      return pieces(name) || levelsCounted(document, name) !== undefined ? undefined : missing('piece, group or order');
    case 'wins':
      return levelsCounted(document, name) === undefined ? missing('group or order') : undefined;
    case 'saved':
      return name === 'progress' ? undefined : { words: 'but only progress is saved: saved(progress)' };
    default:
      return name === 'level' ? undefined : { words: `but it is written ${word}(level)` };
  }
}
