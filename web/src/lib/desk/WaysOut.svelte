<script lang="ts">
  import { addRule, likelyRule, type NewRule } from '@crow-lane/core/document/edits/rules';
  import type { Id } from '@crow-lane/core/document/types';
  import { rulesReadIn } from '@crow-lane/core/play/reading';
  import { flowContext } from '$lib/flow/context.ts';
  import Sentence from './Sentence.svelte';

  let { id }: { id: Id } = $props();
  const { flow, checks, view } = flowContext();
  const completable = $derived(
    checks.report?.checks.find(({ check, subject }) => check === 'level-completable' && subject === id)
  );
  const place = $derived(flow.document.places[id]!);
  const lines = $derived(rulesReadIn(flow.document, id).filter(({ rule }) => rule.go));
  const sections = $derived(
    place.kind === 'level'
      ? ([
          { result: 'won', title: 'Won', none: place.goal === 'leave' ? '' : 'The level cannot be won.' },
          { result: 'lost', title: 'Lost', none: 'The level cannot be lost.' },
          { result: undefined, title: 'Otherwise', none: '' }
        ] as const)
      : ([{ result: undefined, title: '', none: 'No rule leads on from here.' }] as const)
  );

  function add(rule: NewRule) {
    const { id: _rule, ...change } = addRule(flow.document, { place: id }, rule);
    flow.edit(change);
  }
</script>

<h2>Ways out</h2>
{#if completable && completable.outcome !== 'holds'}<p class={completable.outcome === 'fails' ? 'lost' : 'dim'}>
    <b>{completable.message}</b>
  </p>{/if}
{#each sections as { result, title, none } (title)}
  {@const found = lines.filter(({ rule }) => rule.result === result)}
  {#if title}<h3 class={result ?? 'plain'}>{title}</h3>{/if}
  {#each found as line (line.rule.id)}<Sentence {...line} />{/each}
  {#if result}
    <p>
      {#if found.length === 0 && none}<span class="dim">{none}</span>{/if}
      <button type="button" class="link" onclick={() => add(likelyRule(flow.document, id, result))}
        >{found.length === 0 && none ? 'Add one?' : result === 'won' ? '+ another way to win' : '+ another way to lose'}</button
      >
    </p>
  {:else}
    <p>
      {#if found.length === 0 && none}<span class="dim">{none}</span>{/if}
      <button type="button" class="link" onclick={() => (view.dialog = { is: 'move', from: id })}
        >+ another way out <kbd>m</kbd></button
      >
      {#if place.kind === 'level'}
        <button type="button" class="link" onclick={() => (view.dialog = { is: 'door', from: id })}>+ door <kbd>o</kbd></button>
      {/if}
    </p>
  {/if}
{/each}

<style>
  p {
    margin-bottom: 6px;
  }
  kbd {
    color: var(--dim);
    margin-left: 4px;
  }
</style>
