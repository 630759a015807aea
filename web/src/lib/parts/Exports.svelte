<script lang="ts">
  import { resolve } from '$app/paths';
  import {
    flowFormatGroups,
    flowFormatNames,
    flowFormats,
    pagePartNames,
    pageParts,
    type PagePart
  } from '@crow-lane/core/formats/flow-list';
  import { reportFormatNames, reportFormats } from '@crow-lane/core/formats/report-list';
  import { flowContext } from '$lib/flow/context.ts';
  import { savePicture } from './picture.ts';
  import Popup from './Popup.svelte';

  /** The flow in other forms, its page to play, and its findings. */
  const { flow } = flowContext();
  // the report itself is for programs, which ask for it
  const reports = reportFormatNames.filter((format) => format !== 'json');
  /** What the page to play shows besides the game. */
  let shows: Record<PagePart, boolean> = $state({ values: false, map: false });
  const asked = $derived(pagePartNames.filter((part) => shows[part]).map((part) => `&show=${part}`));
</script>

<Popup label="Export" look="btn btn-xs" title="Export" wide>
  {#snippet content(close)}
    <div class="exports">
      {#each Object.entries(flowFormatGroups) as [group, heading] (group)}
        <section>
          <h3>{heading}</h3>
          <ul>
            {#each flowFormatNames.filter((format) => flowFormats[format].group === group) as format (format)}
              <li>
                <a
                  class="link"
                  href="{resolve('/api/flows/[id]/file', { id: flow.id })}{format === 'json' ? '' : `?as=${format}`}{format ===
                  'html'
                    ? asked.join('')
                    : ''}"
                  download
                  onclick={close}>{flowFormats[format].words}</a
                >
                {#if format === 'html'}
                  <span class="shows">
                    Show on it:
                    {#each pagePartNames as part (part)}
                      <label
                        ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={shows[part]} />
                        {pageParts[part]}</label
                      >
                    {/each}
                  </span>
                {/if}
              </li>
            {/each}
            {#if group === 'picture'}
              {#each ['svg', 'png'] as const as format (format)}
                <li>
                  <button type="button" class="link" onclick={() => (close(), savePicture(flow.document, format))}
                    >The lane, as {format.toUpperCase()}</button
                  >
                </li>
              {/each}
            {/if}
          </ul>
        </section>
      {/each}
      <section>
        <h3>Findings</h3>
        <ul>
          {#each reports as format (format)}
            <li>
              <button
                type="button"
                class="link"
                onclick={() => (
                  close(),
                  window.open(`${resolve('/api/flows/[id]/report', { id: flow.id })}?format=${format}`, '_blank', 'noopener')
                )}>{reportFormats[format].words}</button
              >
            </li>
          {/each}
        </ul>
      </section>
    </div>
  {/snippet}
</Popup>

<style>
  .exports {
    columns: 2;
    column-gap: 26px;
    width: min(560px, 80vw);
    line-height: 1.9;
  }
  section {
    break-inside: avoid;
    margin-bottom: 8px;
  }
  h3 {
    font-size: 12px;
    color: var(--dim);
  }
  .shows {
    display: grid;
    padding-left: 14px;
    font-size: 12px;
    color: var(--dim);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    color: var(--color-base-content);
  }
</style>
