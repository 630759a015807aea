<script lang="ts">
  import type { Id } from '@crow-lane/core/document/types';
  import { conditionWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import Popup from '$lib/parts/Popup.svelte';

  /** A condition in words, which opens what it is typed in. */
  let {
    id,
    value,
    before,
    title,
    onkeep
  }: {
    id: Id;
    /** Empty: always. */
    value: string;
    before: string;
    title: string;
    onkeep: (text: string) => void;
  } = $props();
  const { flow } = flowContext();
</script>

<span
  >{before}
  <Popup label={value === '' ? 'always' : `if ${conditionWords(flow.document, { place: id }, value)}`} {title}>
    {#snippet content(close)}
      <ConditionField
        owner={{ place: id }}
        use="if"
        label={title}
        {value}
        onkeep={(text) => {
          close();
          if (text !== value) onkeep(text);
        }}
      />
    {/snippet}
  </Popup></span
>
