<script lang="ts">
  import type { PageMap } from '@crow-lane/core/formats/page';
  import type { Id } from '@crow-lane/core/document/types';

  /** The whole flow as a picture, with where the player is. */
  let { map, here, name }: { map: PageMap; here: Id; name: string } = $props();
  const tile = $derived(map.tiles[here]);
  let frame: HTMLElement;

  $effect(() => {
    if (!tile) return;
    const [x, y, width, height] = tile;
    frame.scrollTo({ left: x + width / 2 - frame.clientWidth / 2, top: y + height / 2 - frame.clientHeight / 2 });
  });
</script>

<!-- it is larger than its frame: by keys it is scrolled where it has the focus -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="map" bind:this={frame} tabindex="0" role="region" aria-label="Map of {name}">
  <div style:width="{map.width}px" style:height="{map.height}px">
    <img
      alt="The places of {name} and the moves between them"
      width={map.width}
      height={map.height}
      src="data:image/svg+xml,{encodeURIComponent(map.svg)}"
    />
    {#if tile}<i style:left="{tile[0]}px" style:top="{tile[1]}px" style:width="{tile[2]}px" style:height="{tile[3]}px"></i>{/if}
  </div>
</div>

<style>
  .map {
    overflow: auto;
    height: 260px;
    margin-top: 12px;
    border: 1px solid var(--color-base-300);
  }
  .map div {
    position: relative;
  }
  img {
    display: block;
  }
  i {
    position: absolute;
    outline: 4px solid #e39a12;
    box-shadow: 0 0 0 7px #161c26;
  }
</style>
