<script lang="ts">
  import { addRule, likelyRule, type NewRule } from '@crow-lane/core/document/edits/rules';
  import { own, type Id, type Owner, type Rule } from '@crow-lane/core/document/types';
  import { flowContext } from '$lib/flow/context.ts';
  import Sentence from './Sentence.svelte';

  let { id }: { id: Id } = $props();
  const { flow, checks, view } = flowContext();
  const completable = $derived(
    checks.report?.checks.find(({ check, subject }) => check === 'level-completable' && subject === id)
  );
  const place = $derived(flow.document.places[id]!);
  interface Line {
    owner: Owner;
    rule: Rule;
    index: number;
    count: number;
    shared: boolean;
  }
  /** The rules with a target that are read here, in reading order: own, the group's, those of all levels. */
  const lines = $derived.by<Line[]>(() => {
    const of = (owner: Owner, rules: Rule[], shared: boolean) =>
      rules.map((rule, index) => ({ owner, rule, index, count: rules.length, shared })).filter(({ rule }) => rule.go);
    const group = place.kind === 'level' && place.group ? own(flow.document.groups, place.group) : undefined;
    return [
      ...of({ place: id }, place.rules, false),
      ...(group && place.kind === 'level' ? of({ group: place.group! }, group.rules, true) : []),
      ...(place.kind === 'level' ? of({ flow: true }, flow.document.rules, true) : [])
    ].filter(({ rule, shared }) => !shared || namesOnlyPiecesHere(rule));
  });
  const sections = $derived(
    place.kind === 'level'
      ? ([
          { result: 'won', title: 'Won', none: 'No way to win.' },
          { result: 'lost', title: 'Lost', none: 'No way to lose.' },
          { result: undefined, title: 'Otherwise', none: '' }
        ] as const)
      : ([{ result: undefined, title: '', none: 'Nothing leads on from here.' }] as const)
  );

  /** A shared rule about a piece that this level lacks is not there for it. */
  function namesOnlyPiecesHere({ when }: Rule): boolean {
    const piece = 'touch' in when ? when.touch : 'collect' in when ? when.collect : 'defeat' in when ? when.defeat : undefined;
    return piece === undefined || (place.kind === 'level' && Object.hasOwn(place.pieces, piece));
  }

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
      {#if found.length === 0}<span class="dim">{none}</span>{/if}
      <button type="button" class="link" onclick={() => add(likelyRule(flow.document, id, result))}
        >{found.length === 0 ? 'Add one?' : result === 'won' ? '+ another way to win' : '+ another way to lose'}</button
      >
    </p>
  {:else}
    <p>
      {#if found.length === 0 && none}<span class="dim">{none}</span>{/if}
      <button type="button" class="link" onclick={() => (view.dialog = { is: 'move', from: id })}
        >+ another way out <kbd>m</kbd></button
      >
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
