<script lang="ts">
  import { planSvg } from '@crow-lane/core/formats/plan-svg';
  import { csvOf, drawnFrom, gridOf, textOf, TooLarge, unknownIn } from '@crow-lane/core/plan/text';
  import { flowContext } from '$lib/flow/context.ts';
  import { pngOf } from '$lib/parts/picture.ts';
  import Popup from '$lib/parts/Popup.svelte';
  import { fileName, save } from '$lib/parts/save.ts';
  import type { Drawing } from './drawing.svelte.ts';
  import Reads from './Reads.svelte';

  /** The plan as a file, out and in. */
  let { drawing }: { drawing: Drawing } = $props();
  const { flow } = flowContext();
  let asking: string[][] | undefined = $state.raw(undefined);

  async function out(as: 'svg' | 'png' | 'csv' | 'txt') {
    const [level, plan] = [drawing.level!, drawing.plan!];
    const name = `${fileName(`${flow.document.name} ${level.name}`)}.${as}`;
    const svg = () => planSvg(level, plan);
    const blob =
      as === 'png'
        ? await pngOf(svg())
        : as === 'svg'
          ? new Blob([svg()], { type: 'image/svg+xml' })
          : as === 'csv'
            ? new Blob(['\uFEFF', csvOf(level, plan)], { type: 'text/csv' })
            : new Blob([`${textOf(level, plan)}\n`], { type: 'text/plain' });
    save(blob, name);
  }

  async function read(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    const cells = gridOf((await file.text()).replace(/^\uFEFF/, ''));
    if (cells.flat().length === 0) {
      flow.notice = { bad: true, text: `There is nothing in ${file.name}.` };
      return;
    }
    if (unknownIn(cells, drawing.level!, drawing.plan!).size > 0) {
      asking = cells;
      return;
    }
    try {
      drawnFrom(cells, drawing.level!, drawing.plan!);
      drawing.draw(`from ${file.name}`, (now) => drawnFrom(cells, drawing.level!, now));
    } catch (problem) {
      if (!(problem instanceof TooLarge)) throw problem;
      flow.notice = { bad: true, text: problem.message };
    }
  }
</script>

<label class="btn btn-xs"
  >Read a grid…
  <input
    type="file"
    class="hidden-text"
    accept=".txt,.csv,.tsv,text/plain,text/csv"
    onchange={(event) => read(event.currentTarget)}
  /></label
>
<Popup label="Save" look="btn btn-xs" title="Save the plan">
  {#snippet content(close)}
    <ul>
      {#each [['svg', 'As SVG'], ['png', 'As PNG'], ['csv', 'As CSV'], ['txt', 'As text']] as const as [as, name] (as)}
        <li><button type="button" class="link" onclick={() => (close(), void out(as))}>{name}</button></li>
      {/each}
    </ul>
  {/snippet}
</Popup>
{#if asking}<Reads {drawing} cells={asking} onclose={() => (asking = undefined)} />{/if}
