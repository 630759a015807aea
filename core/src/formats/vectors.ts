/**
 * Routes and runs as test vectors (JSON Lines): what is done, and after each event where play is, with which values, and which
 * rules have fired. A game's own tests replay them, in any language.
 */
import type { FlowDocument, Id, Step } from '../document/types.ts';
import type { Value } from '../language/evaluate.ts';
import type { Flow } from '../play/flow.ts';
import { active } from '../play/state.ts';
import { valueOf } from '../play/turn.ts';
import type { Report } from '../report/report.ts';
import { stepOfRun } from '../trial/recorded.ts';
import { leftIn, playSteps, type Line } from '../trial/trial.ts';

/** What is done, and what has to be so after it. */
export interface VectorStep {
  /** A step as routes have it; the first is the start. */
  do: Step;
  /** The place that is active then, those that it was opened over, the lowest first, and where in the level the player is. */
  in: Id;
  over?: Id[];
  spot?: Id;
  /** All values, and how many are left of the level's pieces that are used up. */
  values: Record<Id, Value>;
  left?: Record<Id, number>;
  /** The rules that fired, in order. */
  rules: Id[];
}

export interface Vector {
  flow: string;
  /** "place-reached aglow", as the report has it, or "run fall". */
  vector: string;
  steps: VectorStep[];
}

/** The checks whose routes show something that the flow can do. */
const shown: readonly string[] = ['place-reached', 'level-completable', 'rule-fires'];

/** The recorded runs as they go now, and the shortest routes of a report but those that others begin with. */
export function vectorsOf(document: FlowDocument, report: Report): Vector[] {
  const routes = report.checks.flatMap(({ check, subject, outcome, route }) =>
    outcome === 'holds' && route && shown.includes(check) ? [{ vector: `${check} ${subject}`, steps: route }] : []
  );
  const runs = Object.entries(document.runs).map(([id, { steps }]) => ({ vector: `run ${id}`, steps: steps.map(stepOfRun) }));
  return [...runs, ...withoutBeginnings(routes)].flatMap(({ vector, steps }) => {
    const played = playSteps(document, steps)?.trial;
    if (!played) return [];
    // as routes and runs name it: no more than is needed to tell it from others
    const given = [played.lines[0]!.step, ...steps.filter((step) => !('start' in step))];
    return [
      { flow: document.name, vector, steps: played.lines.flatMap((line, n) => stepOf(played.flow, given[n]!, line) ?? []) }
    ];
  });
}

/** A vector a line, each a JSON object. */
export const vectorsJsonl = (document: FlowDocument, report: Report): string =>
  vectorsOf(document, report)
    .map((vector) => JSON.stringify(vector))
    .join('\n');

function stepOf(flow: Flow, step: Step, { state, fired, step: { draws } }: Line): VectorStep | undefined {
  if (!state) return undefined;
  const under = state.stack.slice(0, -1).map(({ place }) => place);
  const left = leftIn({ flow, state });
  return {
    do: { ...step, ...(draws && { draws }) },
    in: active(state).place,
    ...(under.length > 0 && { over: under }),
    ...(state.spot !== null && { spot: state.spot }),
    values: Object.fromEntries(Object.keys(flow.document.variables).map((id) => [id, valueOf(flow, state, id)])),
    ...(Object.keys(left).length > 0 && { left }),
    rules: fired
  };
}

/** Of routes that begin alike only the longest: each of the others is walked with it. */
function withoutBeginnings<T extends { steps: Step[] }>(routes: T[]): T[] {
  const keys = new Map(routes.map((route) => [route, route.steps.map((step) => JSON.stringify(step))]));
  const walked = new Set<string>();
  const kept = [...routes]
    .sort((a, b) => b.steps.length - a.steps.length)
    .filter((route) => {
      const steps = keys.get(route)!;
      const whole = steps.join('\n');
      if (walked.has(whole)) return false;
      for (let n = 0; n <= steps.length; n++) walked.add(steps.slice(0, n).join('\n'));
      return true;
    });
  return routes.filter((route) => kept.includes(route));
}
