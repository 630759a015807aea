/** A flow in words, as Markdown (CommonMark): a sentence a line, so that two versions differ in what has changed. */
import type { FlowDocument, Id, Owner, Rule } from '../document/types.ts';
import { countOf } from '../vocabulary/pieces.ts';
import { placeKinds } from '../vocabulary/places.ts';
import {
  conditionWords,
  counted,
  objectiveWords,
  passageName,
  placeName,
  ruleWords,
  savesWords,
  standingWords
} from '../words/words.ts';

/** A text in which nothing is markup, nor the beginning of a list. */
const plain = (text: string): string =>
  text
    .replaceAll(/[\\`*_{}[\]<>#|~]/g, String.raw`\$&`)
    .replaceAll(/\s+/g, ' ')
    .replace(/^ ?([-+]|\d+(?=[.)]))/, (begin) => (/\d$/.test(begin) ? `${begin}\\` : `\\${begin.trim()}`));

export function markdownOf(document: FlowDocument): string {
  const { name, brief, places, orders, variables, numbers } = document;
  const value = (id: Id): string => {
    const variable = variables[id]!;
    const range = variable.type === 'number' ? `, ${variable.min} to ${variable.max}` : '';
    return `${plain(variable.name)}: ${variable.type}${range}, begins as ${String(variable.initial)}, kept for each ${variable.scope}`;
  };
  const saves = savesWords(document);
  return [
    `# ${plain(name)}`,
    ...(brief ? [plain(brief)] : []),
    `Play begins at ${plain(placeName(document, document.start))}.`,
    ...part('Values', Object.keys(variables).map(value)),
    ...part(
      'Numbers',
      Object.values(numbers).map((number) => `${plain(number.name)}: ${number.value}`)
    ),
    ...part(
      'Orders',
      Object.values(orders).map(
        (order) => `${plain(order.name)}: ${order.levels.map((id) => plain(placeName(document, id))).join(', ')}`
      )
    ),
    ...(saves === undefined ? [] : part('Saved games', [plain(saves)])),
    ...part('In every level', sentences(document, { flow: true }, document.rules)),
    ...Object.entries(document.groups).flatMap(([group, each]) =>
      part(`In every level of ${plain(each.name)}`, sentences(document, { group }, each.rules))
    ),
    ...Object.keys(places).flatMap((id) => placeIn(document, id))
  ]
    .join('\n\n')
    .concat('\n');
}

/** A heading with its list; nothing where there is none. */
const part = (title: string, lines: string[]): string[] => (lines.length === 0 ? [] : [`## ${title}`, ...listed(lines)]);
const listed = (lines: string[]): string[] => (lines.length === 0 ? [] : [lines.map((line) => `- ${line}`).join('\n')]);

const sentences = (document: FlowDocument, owner: Owner, rules: Rule[]): string[] =>
  rules.map((rule) => plain(ruleWords(document, owner, rule)) + (rule.note ? ` (${plain(rule.note)})` : ''));

function placeIn(document: FlowDocument, id: Id): string[] {
  const place = document.places[id]!;
  const level = place.kind === 'level' ? place : undefined;
  const inside = level
    ? [
        ...Object.values(level.pieces).map((piece) => {
          const where = level.plan || piece.at === undefined ? '' : `, ${plain(standingWords(document, id, piece))}`;
          return `${plain(counted(piece.name, countOf(piece)))}, ${piece.kind}${where}`;
        }),
        ...Object.values(level.entries).map((entry) => `Entry: ${plain(entry.name)}`),
        ...Object.keys(level.objectives).map((objective) => `Objective: ${plain(objectiveWords(document, id, objective))}`),
        ...(level.plan
          ? [
              `Plan: ${level.plan.rows[0]?.length ?? 0} × ${level.plan.rows.length} cells, seen from ${level.plan.view === 'side' ? 'the side' : 'above'}`
            ]
          : [
              ...Object.values(level.spots).map((spot) => `Spot: ${plain(spot.name)}`),
              ...Object.keys(level.passages).map((passage) => {
                const { if: condition } = level.passages[passage]!;
                const asks = condition === undefined ? '' : `, if ${conditionWords(document, { place: id }, condition)}`;
                return `Passage: ${plain(passageName(document, { place: id }, passage) + asks)}`;
              })
            ])
      ]
    : [];
  return [
    `## ${plain(place.name)} (${placeKinds[place.kind].words})`,
    ...(place.brief ? [plain(place.brief)] : []),
    ...listed(inside),
    ...listed(sentences(document, { place: id }, place.rules))
  ];
}
