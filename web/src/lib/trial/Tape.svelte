<script lang="ts">
  import { findRule } from '@crow-lane/core/document/types';
  import { doneWords, firedWords, lineWords, outcomeWords } from '@crow-lane/core/trial/words';
  import { bottom } from '@crow-lane/core/play/state';
  import { holdsAfter, setRunExpects } from '@crow-lane/core/trial/runs';
  import type { Line } from '@crow-lane/core/trial/trial';
  import { conditionWords, placeName } from '@crow-lane/core/words/words';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import { timed } from '@crow-lane/core/document/numbers';
  import { transitionWords } from '$lib/parts/transition.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import Popup from '$lib/parts/Popup.svelte';

  /** Everything that was done, one line an event; a line is gone back to by pressing it. */
  const { flow, session } = flowContext();
  const lines = $derived(session.trial?.lines ?? []);
  let list: HTMLOListElement | undefined = $state();
  $effect(() => {
    if (lines.length > 0) list?.lastElementChild?.scrollIntoView({ block: 'nearest' });
  });

  /** How the move of a line looked. */
  const transition = ({ moves }: Line) => {
    const by = findRule(flow.document, moves.at(-1)?.rule ?? '')?.rule.by;
    return by ? transitionWords(timed(flow.document, by)) : '';
  };

  function expect(index: number, conditions: string[]) {
    session.expect(index, conditions);
    const { run } = session;
    if (run !== undefined && flow.document.runs[run]?.steps[index])
      flow.edit(setRunExpects(flow.document, run, index, conditions));
  }

  async function copy() {
    const text = lines.map((line, index) => `${index} ${lineWords(flow.document, line)}`).join('\n');
    try {
      await navigator.clipboard.writeText(text);
      flow.notice = { bad: false, text: 'The tape is copied.' };
    } catch {
      flow.notice = { bad: true, text: 'The browser does not let the tape be copied.' };
    }
  }
</script>

<section class="tape" aria-label="Tape">
  <h2>
    Tape
    <span class="dim">{lines.length - 1} {lines.length === 2 ? 'event' : 'events'}; select a line to go back to it</span>
    <button type="button" class="btn btn-xs" onclick={copy}>Copy as text</button>
  </h2>
  <ol bind:this={list}>
    {#each lines as line, index (index)}
      <li
        class:made={session.trial?.madeUp !== undefined && index > session.trial.madeUp}
        class:last={index === lines.length - 1}
      >
        <button
          type="button"
          aria-current={index === lines.length - 1 ? 'step' : undefined}
          onclick={() => session.rewind(index)}
        >
          <span class="no">{index}</span>
          <span class="dim where">{line.place ? placeName(flow.document, line.place) : ''}</span>
          <b>{doneWords(flow.document, line)}</b>
          <span class={line.state ? '' : 'lost'}>{outcomeWords(flow.document, line)}</span>
        </button>
        {#if line.fired.length > 0}
          <span class="rules"
            >{line.fired.map((id) => firedWords(flow.document, id)).join(' · ')}{transition(line)
              ? `; ${transition(line)}`
              : ''}</span
          >
        {/if}
        {#if line.state}
          {@const state = line.state}
          {@const owner = { place: bottom(state).place }}
          {@const expected = session.expects.get(index) ?? []}
          {#each expected as condition, which (which)}
            {@const holds = holdsAfter(session.trial!.flow, state, condition)}
            <span class="expected" class:lost={!holds}
              >{holds ? '✓' : '✗'} here {conditionWords(flow.document, owner, condition)}
              <button
                type="button"
                aria-label="Remove this expectation"
                title="Remove this expectation"
                onclick={() => expect(index, expected.toSpliced(which, 1))}>×</button
              ></span
            >
          {/each}
          <span class="more"
            ><Popup label="expect…" look="link" title="What must hold here every time the run is played">
              {#snippet content(close)}
                <ConditionField
                  {owner}
                  use="holds"
                  label="Expected after this line"
                  value=""
                  onkeep={(text) => {
                    close();
                    if (text && !expected.includes(text)) expect(index, [...expected, text]);
                  }}
                />
              {/snippet}
            </Popup></span
          >
        {/if}
      </li>
    {/each}
  </ol>
  {#if session.trial?.madeUp !== undefined}<p class="dim">After line {session.trial.madeUp} values were made up.</p>{/if}
</section>

<style>
  .tape {
    display: grid;
    grid-template-rows: auto 1fr auto;
    min-height: 0;
    padding: 6px 16px;
    background: var(--color-base-100);
    border-top: 2px solid var(--color-base-content);
  }
  h2 {
    display: flex;
    align-items: baseline;
    gap: 12px;
    padding-bottom: 2px;
    font-size: 14px;
  }
  h2 span {
    font-size: 12px;
    font-weight: 400;
    font-family: inherit;
  }
  ol {
    overflow: auto;
    font-size: 12px;
  }
  li {
    padding: 2px 0;
    border-bottom: 1px solid var(--color-base-300);
  }
  li > button {
    display: inline-flex;
    gap: 10px;
    cursor: pointer;
    text-align: left;
  }
  li > button:hover {
    background: var(--pick-wash);
  }
  .no {
    width: 26px;
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .where {
    width: 120px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .rules {
    margin-left: 12px;
    color: var(--dim);
    font-size: 11px;
  }
  .expected {
    margin-left: 10px;
    padding: 0 4px;
    font-weight: 700;
    background: var(--tile);
  }
  .more {
    margin-left: 10px;
    opacity: 0;
  }
  li:hover .more,
  .more:focus-within,
  .last .more {
    opacity: 1;
  }
  .made {
    border-left: 4px dotted var(--color-accent);
  }
  .last {
    background: var(--tile);
  }
</style>
