<script lang="ts">
  import { flowContext } from './context.ts';
  import type { Aside } from './unsent.ts';

  /** Edits that the server would not keep: what they were, why, and what can be done with them. */
  const { flow } = flowContext();
  /** An edit as text, where the browser lets no page write to the clipboard. */
  let shown: string | undefined = $state();

  async function copy({ edit: { label, patch } }: Aside) {
    const text = `${label}\n${JSON.stringify(patch, null, 2)}`;
    try {
      await navigator.clipboard.writeText(text);
      flow.notice = { bad: false, text: 'The edit is copied, as text.' };
    } catch {
      shown = text;
    }
  }
</script>

{#if flow.aside.length > 0}
  <section class="aside" aria-label="Edits that were not kept" role="alert">
    <h2>{flow.aside.length === 1 ? 'One edit was' : `${flow.aside.length} edits were`} not kept</h2>
    <ul>
      {#each flow.aside as each (each.edit.editId)}
        <li>
          <p><b>{each.edit.label}</b></p>
          <p class="why">{each.why}</p>
          <p class="acts">
            <button type="button" class="btn btn-xs" onclick={() => flow.tryAgain(each)}>Try again</button>
            <button type="button" class="btn btn-xs" onclick={() => copy(each)}>Copy as text</button>
            <button type="button" class="btn btn-xs" onclick={() => flow.dropAside(each.edit.editId)}>Drop it</button>
          </p>
        </li>
      {/each}
    </ul>
    {#if shown !== undefined}
      <textarea class="textarea" aria-label="The edit as text" readonly rows="6" value={shown}></textarea>
      <button type="button" class="btn btn-xs" onclick={() => (shown = undefined)}>Close</button>
    {/if}
  </section>
{/if}

<style>
  .aside {
    max-height: 30vh;
    overflow: auto;
    padding: 8px 12px;
    background: var(--lost-wash);
    border: 1px solid var(--lost);
    overflow-wrap: anywhere;
  }
  h2 {
    font-weight: 700;
  }
  li {
    padding: 6px 0;
    border-top: 1px solid var(--color-base-300);
  }
  .why {
    font-size: 12px;
  }
  .acts {
    display: flex;
    gap: 6px;
    margin-top: 4px;
  }
  textarea {
    width: 100%;
    font-size: 12px;
  }
</style>
