/** Recorded runs: trials that are kept in the document, and played again after every change of it. */
import { change, same, type Change } from '../document/patch.ts';
import { idFrom } from '../document/edits/ids.ts';
import type { FlowDocument, Id, Run, RunOutcome, RunStep } from '../document/types.ts';
import { active } from '../play/state.ts';
import { playSteps, type Line, type Trial } from './trial.ts';
import type { Step } from '../check/report.ts';

/** What a line came to, as a run remembers it; undefined where it never settled. */
function outcomeOf({ state, fired, values }: Line): RunOutcome | undefined {
  if (!state) return undefined;
  return {
    in: active(state).place,
    ...(fired.length > 0 ? { rules: fired } : {}),
    ...(values.length > 0 ? { values: Object.fromEntries(values.map(({ variable, to }) => [variable, to])) } : {})
  };
}

/** Keeps a trial as a run. What was made up, or begun elsewhere than at the start, is none: it could not be played again. */
export function keepRun(document: FlowDocument, trial: Trial, name: string): (Change & { id: Id }) | undefined {
  const steps = stepsWithOutcomes(trial);
  if (trial.madeUp !== undefined || !steps) return undefined;
  const id = idFrom(name, document.runs, 'run');
  const value: Run = { name, steps };
  return { ...change(document, `Keep the run ${name}`, [{ op: 'add', path: `/runs/${id}`, value }]), id };
}

function stepsWithOutcomes({ lines }: Trial): RunStep[] | undefined {
  const steps: RunStep[] = [];
  for (const line of lines) {
    const then = outcomeOf(line);
    if (!then) return undefined;
    steps.push({ ...line.step, then } as RunStep);
  }
  return steps;
}

/** How a run goes now. */
export type Replayed =
  | { goes: 'as recorded' }
  /** The first step that goes another way, counted from 0 for the start; `now` is undefined where it cannot happen. */
  | { goes: 'differently'; at: number; before: RunOutcome; now: RunOutcome | undefined };

/** Plays a run again on what the flow now is. */
export function replayRun(document: FlowDocument, run: Run): Replayed {
  const again = playSteps(document, run.steps.map(stepOf));
  for (const [at, { then }] of run.steps.entries()) {
    const line = again?.trial.lines[at];
    const now = line && outcomeOf(line);
    if (!now || !same(now, then)) return { goes: 'differently', at, before: then, now };
  }
  return { goes: 'as recorded' };
}

/** The trial that a run gives now, as far as it goes. */
export function trialOf(document: FlowDocument, run: Run): Trial | undefined {
  return playSteps(document, run.steps.map(stepOf))?.trial;
}

const stepOf = ({ then: _then, ...step }: RunStep): Step => step as Step;

/** Records a run anew as it goes now, up to where its steps can still be done: that is then how it is meant. */
export function recordAnew(document: FlowDocument, id: Id): Change {
  const run = document.runs[id]!;
  const trial = trialOf(document, run);
  const steps = trial && stepsWithOutcomes(trial);
  if (!steps) return change(document, `${run.name} cannot be played`, []);
  return change(document, `Record ${run.name} anew`, [{ op: 'replace', path: `/runs/${id}/steps`, value: steps }]);
}

export function renameRun(document: FlowDocument, id: Id, name: string): Change {
  return change(document, `Rename the run ${document.runs[id]!.name} to ${name}`, [
    { op: 'replace', path: `/runs/${id}/name`, value: name }
  ]);
}

export function removeRun(document: FlowDocument, id: Id): Change {
  return change(document, `Delete the run ${document.runs[id]!.name}`, [{ op: 'remove', path: `/runs/${id}` }]);
}

/** What no run of a document uses, as far as its runs go now. */
export interface Uncovered {
  places: Id[];
  rules: Id[];
}

export function uncovered(document: FlowDocument): Uncovered {
  const [places, rules] = [new Set<Id>(), new Set<Id>()];
  for (const run of Object.values(document.runs)) {
    for (const { entered, fired } of trialOf(document, run)?.lines ?? []) {
      for (const place of entered) places.add(place);
      for (const rule of fired) rules.add(rule);
    }
  }
  const lists = [...Object.values(document.places), ...Object.values(document.groups), document].map((owner) => owner.rules);
  return {
    places: Object.keys(document.places).filter((id) => !places.has(id)),
    rules: lists.flat().flatMap(({ id }) => (rules.has(id) ? [] : [id]))
  };
}
