/** The keys that rules name. */
import { active, bottom } from '@crow-lane/core/play/state';
import type { Session } from '$lib/flow/session.svelte.ts';

/** As what rules may name the key of an event; none where something is typed, or a control takes Enter for itself. */
export function keysOf(event: KeyboardEvent): string[] {
  const at = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey || at.matches('input, select, textarea')) return [];
  if (at.matches('button, a') && (event.key === 'Enter' || event.key === ' ')) return [];
  return [event.key.toLowerCase(), ...(event.key === 'Escape' ? ['esc'] : event.key === ' ' ? ['space'] : [])];
}

/** Uses the control whose rule names one of these keys; false where none does. */
export function pressKey(session: Session, names: string[]): boolean {
  if (!session.trial) return false;
  const { state, flow } = session.trial;
  const found = flow
    .applying(active(state).place, bottom(state).place)
    .by.press.find(({ rule: { when } }) => when.key !== undefined && names.includes(when.key.toLowerCase()));
  if (!found) return false;
  session.do({ press: found.rule.when.press });
  return true;
}
