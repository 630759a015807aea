/** A trial as what is kept of it: what was done, and after each step what came of it. */
import type { Run, RunOutcome, RunStep, Step } from '../document/types.ts';
import { active } from '../play/state.ts';
import type { Line, Trial } from './trial.ts';

/** What a line came to, as a run remembers it; undefined where it never settled. */
export function outcomeOf({ state, fired, values }: Line): RunOutcome | undefined {
  if (!state) return undefined;
  return {
    in: active(state).place,
    ...(fired.length > 0 ? { rules: fired } : {}),
    ...(values.length > 0 ? { values: Object.fromEntries(values.map(({ variable, to }) => [variable, to])) } : {})
  };
}

/** A trial as a run; undefined where it could not be played again. */
export function runOf(trial: Trial, name: string, expects: ReadonlyMap<number, string[]> = new Map()): Run | undefined {
  const steps = stepsWithOutcomes(trial, (line) => expects.get(line));
  return trial.madeUp !== undefined || trial.from || !steps ? undefined : { name, steps };
}

export function stepsWithOutcomes({ lines }: Trial, expects: (line: number) => string[] | undefined): RunStep[] | undefined {
  const steps: RunStep[] = [];
  for (const [index, line] of lines.entries()) {
    const then = outcomeOf(line);
    if (!then) return undefined;
    const expected = expects(index);
    steps.push({ ...line.step, then, ...(expected?.length ? { expects: expected } : {}) } as RunStep);
  }
  return steps;
}

/** What was done in a step of a run, without what came of it. */
export const stepOfRun = ({ then: _then, expects: _expects, ...step }: RunStep): Step => step as Step;
