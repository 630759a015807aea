import { createInterface } from 'node:readline/promises';
import { parseArgs } from 'node:util';
import { finish } from '@crow-lane/core/check/check';
import type { FlowDocument, Step, Event } from '@crow-lane/core/document/types';
import { active, bottom } from '@crow-lane/core/play/state';
import { walkedTo } from '@crow-lane/core/play/events';
import { messageIn } from '@crow-lane/core/play/messages';
import { valueOf } from '@crow-lane/core/play/turn';
import { act, beginTrial, choicesOf, leftIn, lineOf, playSteps, rewind, type Trial } from '@crow-lane/core/trial/trial';
import { stepOfRun } from '@crow-lane/core/trial/recorded';
import { replayRun } from '@crow-lane/core/trial/runs';
import { eventWords, lineWords, outcomeWords, runOutcomeWords } from '@crow-lane/core/trial/words';
import { valueNamed } from '@crow-lane/core/document/values';
import { walk, type Weights } from '@crow-lane/core/trial/walks';
import { stepWords } from '@crow-lane/core/words/steps';
import { isRunFile } from '@crow-lane/core/document/run-file';
import { readRun } from '@crow-lane/core/document/read';
import { capital, pieceName, placeName, variableName } from '@crow-lane/core/words/words';
import { load, tellErrors, textOf } from './files.ts';
import { misused, type Output } from './output.ts';
import { placeKinds } from '@crow-lane/core/vocabulary/places';

interface Options {
  file: string;
  script: string | undefined;
  runs: boolean;
  random: number | undefined;
  most: number;
  seed: number;
  weights: Weights;
}

/** `crow-lane play`: 0 when it was played to the end, 1 when a step cannot happen or a run goes another way, 2 when the input is wrong. */
export async function playCommand(args: string[], output: Output): Promise<0 | 1 | 2> {
  const options = parse(args);
  if (typeof options === 'string') return misused(output, options);
  const loaded = await load(options.file, output);
  if (!loaded) return 2;
  const { document } = loaded;
  const trial = beginTrial(document, options.seed);
  if (!trial) {
    output.err(`${options.file}: play cannot begin: there is no start place, or its rules go on forever`);
    return 2;
  }
  if (options.runs) return playRuns(document, output);
  if (options.random !== undefined) return randomly(document, options, output);
  if (options.script !== undefined) return await scripted(document, options.script, options, output);
  return await byHand(document, trial, output);
}

/**
 * Plays every recorded run again, and says of each that goes another way where and how. One that is known to show a bug of
 * the flow is named, and does not count.
 */
function playRuns(document: FlowDocument, output: Output): 0 | 1 {
  const runs = Object.values(document.runs);
  if (runs.length === 0) output.out(`${document.name} has no recorded runs.`);
  let different = 0;
  for (const run of runs) {
    const result = replayRun(document, run);
    if (result.goes === 'as recorded') {
      output.out(`as recorded   ${run.name} (${run.steps.length - 1} events)`);
      if (run.bug !== undefined) output.out(`  it was known to show a bug, and no longer does: ${run.bug}`);
      continue;
    }
    if (run.bug === undefined) different++;
    const done = stepWords(document, stepOfRun(run.steps[result.at]!));
    output.out(`${run.bug === undefined ? 'DIFFERENTLY ' : 'known bug   '}  ${run.name}, event ${result.at}: ${done}`);
    if (run.bug !== undefined) output.out(`  ${run.bug}`);
    if (result.goes === 'against') {
      output.out(`  expected: ${result.expected}${result.readable ? '' : ' (which cannot be read there)'}`);
      continue;
    }
    output.out(`  recorded: ${runOutcomeWords(document, result.before)}`);
    output.out(`  now:      ${result.now ? runOutcomeWords(document, result.now) : 'it cannot be done'}`);
  }
  return different > 0 ? 1 : 0;
}

function randomly(document: FlowDocument, { random, most, seed, weights }: Options, output: Output): 0 {
  const { games, endings, unended, lengths, places } = finish(walk(document, random!, most, seed, weights));
  const share = (count: number) => `${((100 * count) / games).toFixed(1).padStart(5)} %  ${count}`;
  output.out(`${document.name}: ${games} games at random, seed ${seed}`);
  for (const [ending, count] of Object.entries(endings).sort((a, b) => b[1] - a[1]))
    output.out(`  ${share(count)}  ${placeName(document, ending)}`);
  if (unended > 0) output.out(`  ${share(unended)}  not ended within ${most} events`);
  const sorted = [...lengths].sort((a, b) => a - b);
  output.out(`events a game: ${sorted[0]} to ${sorted.at(-1)}, half of them at most ${sorted[Math.floor(games / 2)]}`);
  const never = Object.keys(document.places).filter((place) => !places[place]);
  if (never.length > 0) output.out(`never entered: ${never.map((place) => placeName(document, place)).join(', ')}`);
  return 0;
}

async function scripted(document: FlowDocument, script: string, { seed }: Options, output: Output): Promise<0 | 1 | 2> {
  const text = await textOf(script, output);
  if (text === undefined) return 2;
  let steps: Step[];
  try {
    let value: unknown = JSON.parse(text);
    if (isRunFile(value)) {
      const { file, errors } = readRun(text);
      if (!file) {
        tellErrors(script, errors, output);
        return 2;
      }
      value = file.run.steps.map(stepOfRun);
    }
    if (!Array.isArray(value) || value.some((step) => typeof step !== 'object' || step === null))
      throw new Error('a script is a list of steps, as routes have them');
    steps = value as Step[];
  } catch (error) {
    output.err(`${script}: cannot be read (${(error as Error).message})`);
    return 2;
  }
  const { trial, played } = playSteps(document, steps, seed)!;
  trial.lines.forEach((line, index) => output.out(`${String(index).padStart(4)}  ${lineWords(document, line)}`));
  const given = steps.filter((step) => !('start' in step));
  if (played < given.length) {
    output.err(
      `step ${played + 1} cannot happen in ${placeName(document, active(trial.state).place)}: ${JSON.stringify(given[played])}`
    );
    return 1;
  }
  output.out(`ends in ${placeName(document, active(trial.state).place)}`);
  return 0;
}

/** What there is to see now: the place, its text, the values, and the controls with what each would do. */
function scene(document: FlowDocument, trial: Trial, choices: Event[]): string {
  const { state, flow } = trial;
  const place = document.places[active(state).place]!;
  const lines = ['', `== ${place.name} (${placeKinds[place.kind].hint})`];
  const message = messageIn(flow, state);
  if (message) lines.push(message);
  const level = bottom(state).place;
  const left = Object.entries(leftIn(trial)).map(([piece, n]) => `${pieceName(document, { place: level }, piece)}: ${n}`);
  const values = Object.keys(document.variables).map(
    (id) => `${variableName(document, id)} ${valueNamed(document.variables[id], valueOf(flow, state, id))}`
  );
  if (values.length > 0) lines.push(values.join(', '));
  if (left.length > 0 && place.kind === 'level') lines.push(`left: ${left.join(', ')}`);
  choices.forEach((event, index) =>
    lines.push(
      `${String(index + 1).padStart(3)}  ${capital(eventWords(document, event, level, walkedTo(trial.flow, state, event)))}: ${outcomeWords(document, lineOf(trial, event))}`
    )
  );
  return lines.join('\n');
}

async function byHand(document: FlowDocument, begun: Trial, output: Output): Promise<0> {
  const lines = output.lines();
  let trial = begun;
  for (;;) {
    const choices = choicesOf(trial);
    output.out(scene(document, trial, choices));
    output.out('a number does it, "back" takes one back, "tape" shows what was done, "quit" ends');
    const { value, done } = await lines.next();
    const said = value?.trim().toLowerCase() ?? '';
    if (done || said === 'quit' || said === 'q') return 0;
    const chosen = choices[Number(said) - 1];
    if (said === 'back') trial = rewind(trial, Math.max(0, trial.lines.length - 2));
    else if (said === 'tape')
      trial.lines.forEach((line, index) => output.out(`${String(index).padStart(4)}  ${lineWords(document, line)}`));
    else if (chosen) trial = act(trial, chosen);
    else if (said !== '') output.out(`There is no "${said}" here.`);
  }
}

function parse(args: string[]): Options | string {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        script: { type: 'string' },
        runs: { type: 'boolean', default: false },
        random: { type: 'string' },
        most: { type: 'string', default: '1000' },
        seed: { type: 'string', default: '1' },
        weight: { type: 'string', multiple: true, default: [] }
      }
    });
    const [file, more] = positionals;
    if (file === undefined) return 'Name the file to play.';
    if (more !== undefined) return 'One file is played at a time.';
    const whole = (text: string, least: number) => (/^\d{1,9}$/.test(text) && Number(text) >= least ? Number(text) : undefined);
    const random = values.random === undefined ? undefined : whole(values.random, 1);
    if (values.random !== undefined && random === undefined) return `--random takes how many games, not "${values.random}".`;
    const most = whole(values.most, 1);
    if (most === undefined) return `--most takes a number of events, not "${values.most}".`;
    const seed = whole(values.seed, 0);
    if (seed === undefined) return `--seed takes a whole number, not "${values.seed}".`;
    const weights: Weights = {};
    for (const text of values.weight) {
      const [, kind, weight] = /^(.+)=(\d{1,6}(?:\.\d{1,6})?)$/.exec(text) ?? [];
      if (kind === undefined) return `--weight takes an event and how likely it is, as "touch water=0.5", not "${text}".`;
      weights[kind] = Number(weight);
    }
    return { file, script: values.script, runs: values.runs, random, most, seed, weights };
  } catch (error) {
    return (error as Error).message;
  }
}

/** The lines that somebody types, one after another. */
export async function* typedLines(input: NodeJS.ReadableStream): AsyncGenerator<string, undefined> {
  yield* createInterface({ input });
  return undefined;
}
