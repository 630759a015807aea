import { restsOn } from '@crow-lane/core/check/rests';
import { accept } from '@crow-lane/core/document/edits/lists';
import type { Verdict } from '@crow-lane/core/report/report';
import type { LiveChecks } from './live-checks.svelte.ts';
import type { OpenFlow } from './open-flow.svelte.ts';

/** Accepts a finding; not while the checks are of an older document, where it may rest on something else. */
export function acceptFinding(flow: OpenFlow, checks: LiveChecks, verdict: Verdict, reason: string): void {
  const { document } = flow;
  if (checks.of !== document)
    flow.notice = { bad: true, text: 'The flow is being checked. Accept the finding again in a moment.' };
  else flow.edit(accept(document, verdict.check, verdict.subject, reason, restsOn(document, verdict)));
}
