import { tick } from 'svelte';
import { restsOn } from '@crow-lane/core/check/rests';
import { accept } from '@crow-lane/core/document/edits/lists';
import { verdictKey, type Verdict } from '@crow-lane/core/report/report';
import type { LiveChecks } from './live-checks.svelte.ts';
import type { OpenFlow } from './open-flow.svelte.ts';

/** So many checks are waited for, each overtaken by an edit, before the finding is not accepted. */
const mostChecks = 10;

/** Accepts a finding, once the checks are of the newest document: in an older one it may rest on something else. */
export async function acceptFinding(flow: OpenFlow, checks: LiveChecks, verdict: Verdict, reason: string): Promise<void> {
  for (let n = 0; checks.of !== flow.document && n < mostChecks; n++) {
    await tick();
    await checks.whenRenewed();
  }
  const { document } = flow;
  const found = checks.report?.checks.find((each) => verdictKey(each) === verdictKey(verdict) && each.outcome === 'fails');
  if (checks.of !== document)
    flow.notice = { bad: true, text: 'The flow is still being checked: the finding is not accepted yet.' };
  else if (!found) flow.notice = { bad: false, text: 'The finding no longer fails: there is nothing to accept.' };
  else flow.edit(accept(document, verdict.check, verdict.subject, reason, restsOn(document, found)));
}
