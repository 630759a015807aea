/**
 * Conditions and expressions as designers write and read them: with the names of values, pieces, levels, groups and
 * orders, where a document keeps their ids. A name that cannot be told from something else (it is a word of the language,
 * or two things have it) stays an id.
 */
import { idPattern, reservedWords } from '../document/ids.ts';
import { levelsOf, type FlowDocument, type Id, type Owner } from '../document/types.ts';
import { groundAtHand, piecesAtHand } from '../play/scope.ts';

type Kind = 'value' | 'piece' | 'spot' | 'level' | 'list' | 'order';

/** Of which kinds is what stands in the brackets after a word, up to a comma; of two the first counts. */
const kindsIn: Record<string, Kind[]> = {
  left: ['piece'],
  taken: ['piece'],
  won: ['level'],
  wins: ['list'],
  all: ['piece', 'list'],
  count: ['piece', 'list'],
  last: [],
  has: [],
  name: [],
  number: [],
  saved: [],
  at: ['spot']
};

/** Likewise what stands behind the comma. */
const kindsBehind: Record<string, Kind[]> = { has: ['order'] };

export interface Named {
  text: string;
  /** Where what stands at a position of this text stands in the one that was given. */
  before(position: number): number;
}

export class ConditionNames {
  private readonly ids: Record<Kind, Map<string, Id>>;
  private readonly names: Record<Kind, Map<Id, string>>;

  constructor(document: FlowDocument, owner: Owner) {
    const of = (things: [Id, { name: string }][]) => things.map(([id, { name }]) => [id, name] as const);
    const things: Record<Kind, (readonly [Id, string])[]> = {
      // a value comes before a number of the same id
      value: of(Object.entries({ ...document.numbers, ...document.variables })),
      piece: of(piecesAtHand(document, owner)),
      spot: of(groundAtHand(document, owner).spots),
      level: of(levelsOf(document)),
      list: of([...Object.entries(document.groups), ...Object.entries(document.orders)]),
      order: of(Object.entries(document.orders))
    };
    const kinds = Object.keys(things) as Kind[];
    const unique = (kind: Kind) => {
      const all = things[kind].map(([, name]) => name.toLowerCase());
      return things[kind].filter(
        ([id, name]) =>
          isClear(name) && all.filter((each) => each === name.toLowerCase()).length === 1 && !clashes(things[kind], id, name)
      );
    };
    const clear = Object.fromEntries(kinds.map((kind) => [kind, unique(kind)])) as typeof things;
    this.names = byKind(kinds, (kind) => new Map(clear[kind]));
    this.ids = byKind(kinds, (kind) => new Map(clear[kind].map(([id, name]) => [name.toLowerCase(), id])));
  }

  /** What something is called in a condition: its name, or its id where that is not clear. */
  nameOf(kind: Kind, id: Id): string {
    return this.names[kind].get(id) ?? id;
  }

  /** The text with names in place of ids. */
  shown(text: string): Named {
    return this.replaced(text, (kinds, rest) => {
      const [word] = /^[a-z][a-z0-9_]*/.exec(rest) ?? [];
      const name = word === undefined ? undefined : kinds.flatMap((kind) => this.names[kind].get(word) ?? [])[0];
      return name === undefined ? undefined : { length: word!.length, by: name };
    });
  }

  /** The text with ids in place of names, the longest name first. */
  kept(text: string): Named {
    return this.replaced(text, (kinds, rest) => {
      const lower = rest.toLowerCase();
      let found: { length: number; by: string } | undefined;
      for (const [name, id] of kinds.flatMap((kind) => [...this.ids[kind]]))
        if (name.length > (found?.length ?? 0) && lower.startsWith(name) && endsThere(rest, name.length))
          found = { length: name.length, by: id };
      return found;
    });
  }

  private replaced(text: string, find: (kinds: Kind[], rest: string) => { length: number; by: string } | undefined): Named {
    const places: { from: number; length: number; to: number; by: number }[] = [];
    let made = '';
    let within: Kind[] | undefined;
    let behind: Kind[] | undefined;
    for (let at = 0; at < text.length;) {
      const rest = text.slice(at);
      const quoted = /^'[^']*'?/.exec(rest)?.[0];
      const found = quoted === undefined && beginsThere(text, at) ? find(within ?? ['value'], rest) : undefined;
      if (found) {
        places.push({ from: at, length: found.length, to: made.length, by: found.by.length });
        made += found.by;
        at += found.length;
        continue;
      }
      const word = quoted ?? /^[A-Za-z_][A-Za-z0-9_]*/.exec(rest)?.[0] ?? rest[0]!;
      const opened = /^([a-z]+)\s*\(\s*$/.exec(`${word}${/^\s*\(?/.exec(rest.slice(word.length))?.[0] ?? ''}`);
      if (opened && Object.hasOwn(kindsIn, opened[1]!)) [within, behind] = [kindsIn[opened[1]!], kindsBehind[opened[1]!]];
      else if (word === ',') within = behind;
      else if (word === ')') within = behind = undefined;
      made += word;
      at += word.length;
    }
    return { text: made, before: (position) => before(places, position) };
  }
}

const byKind = <T>(kinds: Kind[], each: (kind: Kind) => T) =>
  Object.fromEntries(kinds.map((kind) => [kind, each(kind)])) as Record<Kind, T>;

/** It could be read as a name: it begins and ends like a word, and holds no quote and no word that would be read first. */
function isClear(name: string): boolean {
  return (
    /^\p{L}/u.test(name) && /[\p{L}\p{N})]$/u.test(name) && !name.includes("'") && !reservedWords.includes(name.toLowerCase())
  );
}

/** Another one has this name as its id. */
const clashes = (things: (readonly [Id, string])[], id: Id, name: string) =>
  idPattern.test(name) && things.some(([other]) => other === name && other !== id);

const isWord = (letter: string | undefined) => letter !== undefined && /[\p{L}\p{N}_]/u.test(letter);
const beginsThere = (text: string, at: number) => !isWord(text[at - 1]);
const endsThere = (rest: string, length: number) => !isWord(rest[length]);

/** Where a position was before the replacements; within one, at its beginning. */
function before(places: { from: number; length: number; to: number; by: number }[], position: number): number {
  let shift = 0;
  for (const { from, length, to, by } of places) {
    if (position < to) break;
    if (position < to + by) return from;
    shift = from + length - (to + by);
  }
  return position + shift;
}
