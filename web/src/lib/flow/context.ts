import { createContext } from 'svelte';
import type { LiveCauses } from './live-causes.svelte.ts';
import type { LiveRuns } from './live-runs.svelte.ts';
import type { Session } from './session.svelte.ts';
import type { LiveChecks } from './live-checks.svelte.ts';
import type { OpenFlow } from './open-flow.svelte.ts';
import type { View } from './view.svelte.ts';

export interface FlowContext {
  flow: OpenFlow;
  checks: LiveChecks;
  /** What explains the findings. */
  causes: LiveCauses;
  view: View;
  /** The trial that is going on. */
  session: Session;
  /** The recorded runs, and how they go now. */
  runs: LiveRuns;
}

/** The open flow, its verdicts and what is being looked at, for every part of its page. */
export const [flowContext, setFlowContext] = createContext<FlowContext>();
