/** A text field of the flow that two people may write in at once. */
import { untrack } from 'svelte';
import type { Attachment } from 'svelte/attachments';
import { cut } from '@crow-lane/core/document/cut';
import type { OpenFlow } from '$lib/flow/open-flow.svelte.ts';

/**
 * Shows `value` and keeps what is typed when the designer leaves the field or presses Enter. Another designer's change never
 * replaces what is being typed: the other text is offered afterwards. A refused or trimmed text is shown as the document has it.
 */
export function typed(
  flow: OpenFlow,
  value: () => string,
  keep: (text: string) => void
): Attachment<HTMLInputElement | HTMLTextAreaElement> {
  return (field) => {
    /** What stood there when typing began. */
    let before: string | undefined;
    $effect(() => {
      const now = value();
      if (before === undefined) field.value = now;
    });
    const begin = () => {
      before ??= untrack(value);
    };
    const done = () => {
      const [mine, theirs] = [field.value, untrack(value)];
      const meanwhile = before !== undefined && theirs !== before && theirs !== mine;
      before = undefined;
      keep(mine);
      field.value = untrack(value);
      if (meanwhile)
        flow.notice = {
          bad: false,
          text: `While you typed, this was changed to “${cut(theirs, 120)}”. Your text is kept.`,
          act: { label: 'Take the other text', run: () => keep(theirs) }
        };
    };
    const left = () => {
      if (before === undefined) return;
      before = undefined;
      field.value = untrack(value);
    };
    field.addEventListener('input', begin);
    field.addEventListener('change', done);
    field.addEventListener('blur', left);
    return () => {
      field.removeEventListener('input', begin);
      field.removeEventListener('change', done);
      field.removeEventListener('blur', left);
    };
  };
}
