/** A trial in words: what a control would do now, and what the tape says. */
import { findRule, own, type FlowDocument, type Id, type Owner, type RunOutcome, type Event } from '../document/types.ts';
import type { Value } from '../language/evaluate.ts';
import { valueNamed } from '../document/values.ts';
import { bottom, type Bookmark } from '../play/state.ts';
import { spotIn, stepWords } from '../words/steps.ts';
import {
  conditionWords,
  effectSeenWords,
  objectiveWords,
  pieceName,
  placeName,
  ruleWords,
  spotName,
  targetWords,
  variableName
} from '../words/words.ts';
import type { Game } from './beginnings.ts';
import type { Line } from './trial.ts';
import { countOf, pieceKinds } from '../vocabulary/pieces.ts';
import { deedOf } from '../vocabulary/triggers.ts';

/** What an event does, or did: "wins, to Level complete; Lives 3 → 2". Where nothing happens, why not. */
export function outcomeWords(document: FlowDocument, line: Line): string {
  if (!line.state) return 'never settles: its rules go on forever';
  const said: string[] = [];
  const named = (variable: Id, value: Value) => valueNamed(own(document.variables, variable), value);
  const results = line.moves.flatMap(({ rule }) => findRule(document, rule)?.rule.result ?? []);
  const last = line.entered.at(-1);
  const back = line.moves.some(({ to }) => to === null);
  const where =
    last !== undefined ? `to ${placeName(document, last)}` : back ? `back to ${placeName(document, topOf(line))}` : '';
  const result = results.includes('won') ? 'wins' : results.includes('lost') ? 'loses' : '';
  if (result || where) said.push([result, where].filter(Boolean).join(', '));
  for (const { variable, from, to } of line.values)
    said.push(`${variableName(document, variable)} ${named(variable, from)} → ${named(variable, to)}`);
  for (const { piece, from, to } of line.pieces) said.push(`${pieceName(document, ownerOf(line), piece)} left ${from} → ${to}`);
  const walks = 'walk' in line.step;
  if (line.spot !== undefined && !walks) said.push(`at ${spotName(document, ownerOf(line), line.spot)}`);
  for (const id of line.met) said.push(`${objectiveWords(document, line.bottom!, id)} met`);
  const { bookmark } = line.state;
  if (line.save === 'saved') said.push(`saved: ${bookmarkWords(document, bookmark!)}`);
  if (line.save === 'kept') said.push(`nothing saved: the save at ${placeName(document, bookmark!.level)} is as far on`);
  if (line.save === 'gone') said.push('the saved game is gone');
  if (line.slot !== undefined) said.push(`plays on in slot ${line.slot + 1}`);
  for (const rule of line.stranded) said.push(`stranded: ${wordsOf(document, rule)} leads nowhere`);
  if (said.length > 0) return said.join('; ');
  if (walks && line.fired.length === 0) return 'nothing else happens';
  return line.fired.length > 0 ? 'no visible change' : whyNothing(document, line);
}

/** Where a saved game goes on and what it brings back: "Net Loft at Back, progress 20; Lives 2". */
export function bookmarkWords(document: FlowDocument, { level, entry, progress, run, attempt }: Bookmark): string {
  const where = targetWords(document, { place: level, ...(entry !== null && { entry }) });
  const values = Object.entries({ ...run, ...attempt }).map(
    ([id, value]) => `${variableName(document, id)} ${valueNamed(own(document.variables, id), value)}`
  );
  return [`${where}, progress ${progress}`, ...(values.length > 0 ? [values.join(', ')] : [])].join('; ');
}

/** Why nothing happened: no rule listens, or the conditions of those that do did not hold. */
export function whyNothing(document: FlowDocument, line: Line): string {
  if (line.held.length === 0) return 'nothing: no rule responds';
  const conditions = line.held.flatMap((id) => {
    const found = findRule(document, id);
    return found?.rule.if === undefined ? [] : [conditionWords(document, found.owner, found.rule.if)];
  });
  return `nothing: only if ${[...new Set(conditions)].join(', or if ')}`;
}

/** What the player does, in words. */
export function eventWords(document: FlowDocument, event: Event, level: Id, to?: Id): string {
  return stepWords(document, event, level, to);
}

/** What was done in a line. */
export const doneWords = (document: FlowDocument, { step, bottom: level, state }: Line): string =>
  stepWords(document, step, level, spotIn(state, level));

/** A line as text: what was done, what came of it, and the rules that did it. */
export function lineWords(document: FlowDocument, line: Line): string {
  const done = doneWords(document, line);
  const rules = line.fired.map((id) => firedWords(document, id));
  return `${done}: ${outcomeWords(document, line)}${rules.length > 0 ? ` (${rules.join('; ')})` : ''}`;
}

const ordinals = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth'];

/** "first game", "after the second game". */
export function gameWords({ game, over }: Game): string {
  const which = `${ordinals[game - 1] ?? `${game}th`} game`;
  return over ? `after the ${which}` : which;
}

/** The values of an arrival that differ from how they begin, "Lives 1, Oil 20"; all as they begin where none does. */
export function valuesWords(document: FlowDocument, values: Record<Id, Value>): string {
  const said = Object.entries(values)
    .filter(([id, value]) => value !== document.variables[id]!.initial)
    .map(([id, value]) => `${variableName(document, id)} ${valueNamed(own(document.variables, id), value)}`);
  return said.join(', ') || 'all values as they begin';
}

/** A rule that fired, with what it did: "when Bell rope is touched" in Bell Alley: set Bell rung to yes. */
export function firedWords(document: FlowDocument, id: Id): string {
  const found = findRule(document, id);
  if (!found) return id;
  const effects = (found.rule.do ?? []).map((effect) => effectSeenWords(document, found.owner, effect));
  return `${ruleWords(document, found.owner, found.rule)}${effects.length > 0 ? `: ${effects.join(', ')}` : ''}`;
}

/** What a step of a recorded run came to: "in Net Loft; Lives 1", with the rules that fired. */
export function runOutcomeWords(document: FlowDocument, { in: place, rules = [], values = {} }: RunOutcome): string {
  const said = [`in ${placeName(document, place)}`];
  for (const [variable, value] of Object.entries(values))
    said.push(`${variableName(document, variable)} ${valueNamed(own(document.variables, variable), value)}`);
  const fired = rules.map((id) => wordsOf(document, id));
  return `${said.join('; ')}${fired.length > 0 ? ` (${fired.join('; ')})` : ''}`;
}

/** Whether an event uses up one of several pieces, of which `left` are left, so that "all but one" says something. */
export function manyLeft(document: FlowDocument, level: Id, event: Event, left: number): boolean {
  const place = own(document.places, level);
  const done = deedOf(event);
  const piece = place?.kind === 'level' && done ? place.pieces[done.piece] : undefined;
  return piece !== undefined && pieceKinds[piece.kind].usedUpBy === done!.deed && left > 2 && countOf(piece) > 2;
}

const ownerOf = (line: Line): Owner => (line.bottom === undefined ? { flow: true } : { place: line.bottom });
const topOf = (line: Line): Id => line.state!.stack.at(-1)?.place ?? bottom(line.state!).place;

function wordsOf(document: FlowDocument, id: Id): string {
  const found = findRule(document, id);
  return found ? ruleWords(document, found.owner, found.rule) : id;
}
