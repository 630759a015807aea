<script lang="ts">
  import { tick, type Snippet } from 'svelte';

  /** A word in a sentence that opens a small panel. Escape and a click elsewhere close it. */
  let {
    label,
    title,
    look = 'word',
    wide = false,
    children,
    content
  }: {
    label?: string;
    title: string;
    look?: string;
    wide?: boolean;
    children?: Snippet;
    content: Snippet<[() => void]>;
  } = $props();

  const id = $props.id();
  let open = $state(false);
  let button: HTMLButtonElement;
  let panel: HTMLDivElement;

  function close() {
    panel.hidePopover();
  }

  async function toggled(event: ToggleEvent) {
    open = event.newState === 'open';
    if (!open) return;
    await tick();
    const at = button.getBoundingClientRect();
    const { offsetWidth: width, offsetHeight: height } = panel;
    // what is said while something is typed makes a panel higher
    const slack = 70;
    const below = at.bottom + 4 + height + slack <= innerHeight || at.top < innerHeight - at.bottom;
    panel.style.left = `${Math.max(8, Math.min(at.left, innerWidth - width - 8))}px`;
    // a panel above its word grows upwards, and none leaves the window
    panel.style.top = below ? `${at.bottom + 4}px` : 'auto';
    panel.style.bottom = below ? 'auto' : `${innerHeight - at.top + 4}px`;
    panel.style.maxHeight = `${Math.min(420, (below ? innerHeight - at.bottom : at.top) - 12)}px`;
    (
      panel.querySelector<HTMLElement>('[data-first]') ?? panel.querySelector<HTMLElement>('input, select, textarea, button')
    )?.focus();
  }
</script>

<button bind:this={button} type="button" class={look} popovertarget={id} aria-haspopup="dialog" aria-expanded={open} {title}>
  {#if children}{@render children()}{:else}{label}{/if}
</button><div bind:this={panel} {id} popover="auto" role="dialog" aria-label={title} class="panel" class:wide ontoggle={toggled}>
  {#if open}{@render content(close)}{/if}
</div>

<style>
  .panel {
    visibility: visible;
    inset: auto;
    margin: 0;
    padding: 10px;
    width: max-content;
    min-width: 200px;
    max-width: 360px;
    overflow: auto;
    background: var(--color-base-100);
    color: var(--color-base-content);
    border: 1px solid var(--color-base-content);
    box-shadow: 4px 4px 0 #0002;
    font-weight: 400;
  }
  .wide {
    max-width: 92vw;
  }
</style>
