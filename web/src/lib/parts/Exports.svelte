<script lang="ts">
  import { resolve } from '$app/paths';
  import { flowFormatNames, flowFormats, pagePartNames, pageParts, type PagePart } from '@crow-lane/core/formats/flow-list';
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

<Popup label="Export" look="btn btn-xs" title="Export">
  {#snippet content(close)}
    <ul class="exports">
      {#each flowFormatNames as format (format)}
        <li>
          <a
            class="link"
            href="{resolve('/api/flows/[id]/file', { id: flow.id })}{format === 'json' ? '' : `?as=${format}`}{format === 'html'
              ? asked.join('')
              : ''}"
            download
            onclick={close}>{flowFormats[format].words}</a
          >
          {#if format === 'html'}
            <span class="shows">
              and on it
              {#each pagePartNames as part (part)}
                <label><input type="checkbox" class="checkbox checkbox-xs" bind:checked={shows[part]} /> {pageParts[part]}</label>
              {/each}
            </span>
          {/if}
        </li>
      {/each}
      <li>
        <button type="button" class="link" onclick={() => (close(), savePicture(flow.document, 'svg'))}>The lane, as SVG</button>
      </li>
      <li>
        <button type="button" class="link" onclick={() => (close(), savePicture(flow.document, 'png'))}>The lane, as PNG</button>
      </li>
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
  {/snippet}
</Popup>

<style>
  .exports {
    line-height: 1.9;
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
