/** Recorded runs: trials that are kept in the document, and played again after every change of it. */
import { change, type Change } from '../document/patch.ts';
import { same } from '../document/same.ts';
import { idFrom } from '../document/edits/ids.ts';
import type { FlowDocument, Id, Run, RunOutcome } from '../document/types.ts';
import { evaluate } from '../language/evaluate.ts';
import { conditionAt } from '../play/scope.ts';
import type { Flow } from '../play/flow.ts';
import { bottom, type State } from '../play/state.ts';
import { readingOf } from '../play/turn.ts';
import { outcomeOf, runOf, stepOfRun, stepsWithOutcomes } from './recorded.ts';
import { playSteps, type Trial } from './trial.ts';

/**
 * Keeps a trial as a run, with the conditions that are expected after some of its lines. What was made up, or begun
 * elsewhere than at the start, is none: it could not be played again.
 */
export function keepRun(
  document: FlowDocument,
  trial: Trial,
  name: string,
  expects: ReadonlyMap<number, string[]> = new Map()
): (Change & { id: Id }) | undefined {
  const run = runOf(trial, name, expects);
  return run && addRun(document, run);
}

/** Adds a run that was recorded elsewhere, as by a player: where the flow is another now, it goes differently. */
export function addRun(document: FlowDocument, run: Run): Change & { id: Id } {
  const id = idFrom(run.name, document.runs, 'run');
  return { ...change(document, `Keep the run ${run.name}`, [{ op: 'add', path: `/runs/${id}`, value: run }]), id };
}

/** How a run goes now. */
export type Replayed =
  | { goes: 'as recorded' }
  /** The first step that goes another way, counted from 0 for the start; `now` is undefined where it cannot happen. */
  | { goes: 'differently'; at: number; before: RunOutcome; now: RunOutcome | undefined }
  /** As recorded up to a step after which a condition does not hold; `readable` is false where it cannot be read. */
  | { goes: 'against'; at: number; expected: string; readable: boolean };

/** Plays a run again on what the flow now is. */
export function replayRun(document: FlowDocument, run: Run): Replayed {
  const again = playSteps(document, run.steps.map(stepOfRun));
  for (const [at, { then, expects = [] }] of run.steps.entries()) {
    const line = again?.trial.lines[at];
    const now = line && outcomeOf(line);
    if (!now || !same(now, then)) return { goes: 'differently', at, before: then, now };
    for (const expected of expects) {
      const holds = holdsAfter(again!.trial.flow, line.state!, expected);
      if (!holds) return { goes: 'against', at, expected, readable: holds !== undefined };
    }
  }
  return { goes: 'as recorded' };
}

/** Whether a condition holds in a state; undefined where it cannot be read there. */
export function holdsAfter(flow: Flow, state: State, text: string): boolean | undefined {
  const condition = conditionAt(flow.document, { place: bottom(state).place }, text);
  return condition && (evaluate(condition, readingOf(flow, state)) as boolean);
}

/** The trial that a run gives now, as far as it goes. */
export function trialOf(document: FlowDocument, run: Run): Trial | undefined {
  return playSteps(document, run.steps.map(stepOfRun))?.trial;
}

/** Records a run anew as it goes now, up to where its steps can still be done: that is then how it is meant. */
export function recordAnew(document: FlowDocument, id: Id): Change {
  const run = document.runs[id]!;
  const trial = trialOf(document, run);
  const steps = trial && stepsWithOutcomes(trial, (line) => run.steps[line]?.expects);
  if (!steps) return change(document, `${run.name} cannot be played`, []);
  return change(document, `Record ${run.name} again`, [
    { op: 'replace', path: `/runs/${id}/steps`, value: steps },
    ...(run.bug === undefined ? [] : [{ op: 'remove' as const, path: `/runs/${id}/bug` }])
  ]);
}

/** Says that a run which goes another way is right and the flow is wrong, and why; or takes that back. */
export function setBug(document: FlowDocument, id: Id, bug: string | undefined): Change {
  const { name, bug: known } = document.runs[id]!;
  const path = `/runs/${id}/bug`;
  if (bug === undefined)
    return change(document, `${name} shows no longer a bug`, known === undefined ? [] : [{ op: 'remove', path }]);
  return change(document, `${name} shows a bug`, [{ op: known === undefined ? 'add' : 'replace', path, value: bug }]);
}

/** Sets the conditions that have to hold after a step of a run. */
export function setRunExpects(document: FlowDocument, id: Id, at: number, expects: string[]): Change {
  const { name, steps } = document.runs[id]!;
  const path = `/runs/${id}/steps/${at}/expects`;
  const known = steps[at]!.expects !== undefined;
  const words = `Expect of ${name} after event ${at}: ${expects.join(', ') || 'nothing'}`;
  if (expects.length === 0) return change(document, words, known ? [{ op: 'remove', path }] : []);
  return change(document, words, [{ op: known ? 'replace' : 'add', path, value: expects }]);
}

export function renameRun(document: FlowDocument, id: Id, name: string): Change {
  return change(document, `Rename the run ${document.runs[id]!.name} to ${name}`, [
    { op: 'replace', path: `/runs/${id}/name`, value: name }
  ]);
}

export function removeRun(document: FlowDocument, id: Id): Change {
  return change(document, `Delete the run ${document.runs[id]!.name}`, [{ op: 'remove', path: `/runs/${id}` }]);
}
