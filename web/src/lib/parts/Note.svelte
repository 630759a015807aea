<script lang="ts">
  import Popup from './Popup.svelte';

  /** A note on something, opened to be read and written. */
  let { value, of, onkeep }: { value: string | undefined; of: string; onkeep: (note: string | undefined) => void } = $props();
</script>

<Popup label={value ? 'note' : '+ note'} look="link" title={value ? value : `A note on ${of}`}>
  {#snippet content(close)}
    <form
      onsubmit={(event) => {
        event.preventDefault();
        const note = String(new FormData(event.currentTarget).get('note')).trim();
        close();
        if (note !== (value ?? '')) onkeep(note || undefined);
      }}
    >
      <textarea class="textarea textarea-sm" name="note" rows="3" maxlength="4000" aria-label="Note" data-first
        >{value ?? ''}</textarea
      >
      <button class="btn btn-sm btn-primary">Keep</button>
    </form>
  {/snippet}
</Popup>
