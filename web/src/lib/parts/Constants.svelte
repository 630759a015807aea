<script lang="ts" generics="T extends string | true">
  /** The values that a part of a rule can have, each a button; one that is the only one stands out. */
  let { values, words, onpick }: { values: readonly T[]; words: (value: T) => string; onpick: (value: T) => void } = $props();
</script>

{#each values as value, index (value)}
  <button
    type="button"
    class="btn btn-sm"
    class:btn-primary={values.length === 1}
    data-first={index === 0 || undefined}
    onclick={() => onpick(value)}>{words(value)}</button
  >
{/each}
