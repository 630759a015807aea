<script lang="ts">
  import { onMount } from 'svelte';
  import { resolve } from '$app/paths';
  import {
    fetchLinks,
    fetchRights,
    fetchShowsOf,
    makeFlowLink,
    putOnShow,
    setRight,
    takeBackFlowLink,
    withdraw,
    type Link,
    type Rights
  } from '$lib/house-api.ts';
  import { house, rightWords, type LinkRight, type Me, type SharedRight } from '$lib/rights.ts';
  import type { Show } from '$lib/show.ts';
  import { Attempts } from './attempts.svelte.ts';
  import Dialog from './Dialog.svelte';
  import LinkOnce from './LinkOnce.svelte';
  import { ago, until } from './shelf-words.ts';

  /** Who may do what with a flow, links to it for those without an account, and whether it is on show. */
  let { id, name, me, onclose }: { id: string; name: string; me: Me; onclose: () => void } = $props();
  let rights: (Rights & { everybody: { id: string; name: string }[] }) | undefined = $state.raw();
  let links: Link[] = $state.raw([]);
  let shows: Show[] = $state.raw([]);
  /** Levels whose plan can be the picture on the shelf. */
  let plans: { id: string; name: string }[] = $state.raw([]);
  let made = $state('');
  /** A person who is to become the owner, once that is confirmed. */
  let heir = $state('');
  const others = $derived(
    rights?.everybody.filter(
      (person) => person.id !== rights!.owner?.id && !rights!.people.some((each) => each.id === person.id)
    ) ?? []
  );
  const rightNames = Object.keys(rightWords) as SharedRight[];
  const on = $derived(shows[0]);

  const acts = new Attempts(async () => {
    [rights, links, { shows, plans }] = await Promise.all([fetchRights(id), fetchLinks(id), fetchShowsOf(id)]);
  });
  onMount(() => void acts.run(() => Promise.resolve()));

  function sendLink(event: SubmitEvent) {
    event.preventDefault();
    const form = event.currentTarget as HTMLFormElement;
    const given = new FormData(form);
    void acts.run(async () => {
      const note = String(given.get('note')).trim();
      const { path } = await makeFlowLink(id, String(given.get('may')) as LinkRight, note, Number(given.get('days')));
      made = location.origin + path;
      form.reset();
    });
  }

  function sendShow(event: SubmitEvent) {
    event.preventDefault();
    const given = new FormData(event.currentTarget as HTMLFormElement);
    const tags = String(given.get('tags'))
      .split(',')
      .map((tag) => tag.trim().toLowerCase())
      .filter(Boolean);
    void acts.run(
      () => putOnShow(id, String(given.get('summary')).trim(), [...new Set(tags)], String(given.get('picture') ?? '')),
      'It is on show.'
    );
  }
</script>

<Dialog title="Share {name}" wide {onclose}>
  <div aria-live="polite">
    {#if acts.failed}<p class="bad">{acts.failed}</p>{/if}
    {#if acts.told}<p class="told">{acts.told}</p>{/if}
  </div>
  {#if rights}
    <section>
      <h3>In the house</h3>
      <ul>
        <li><span>{rights.owner?.name ?? 'No owner'}{rights.owner?.id === me.person?.id ? ' (you)' : ''}</span> owns it</li>
        <li>
          <span>Everybody who has an account</span>
          <select
            class="select select-xs"
            aria-label="What everybody may do"
            value={rights.house ?? ''}
            onchange={(event) => {
              const may = (event.currentTarget.value || null) as SharedRight | null;
              void acts.run(() => setRight(id, house, may));
            }}
          >
            <option value="">may not see it</option>
            {#each rightNames as right (right)}<option value={right}>{rightWords[right]}</option>{/each}
          </select>
        </li>
        {#each rights.people as person (person.id)}
          <li>
            <span>{person.name}</span>
            <select
              class="select select-xs"
              aria-label="What {person.name} may do"
              value={person.may}
              onchange={(event) => {
                const may = event.currentTarget.value;
                if (may === 'own') heir = person.id;
                else void acts.run(() => setRight(id, person.id, (may || null) as SharedRight | null));
              }}
            >
              {#each rightNames as right (right)}<option value={right}>{rightWords[right]}</option>{/each}
              <option value="own">owns it</option>
              <option value="">may no longer see it</option>
            </select>
            {#if heir === person.id}
              <button
                type="button"
                class="btn btn-xs"
                onclick={() => {
                  heir = '';
                  void acts.run(() => setRight(id, person.id, 'own'));
                }}>Give the flow to {person.name}</button
              >
            {/if}
          </li>
        {/each}
        {#if others.length > 0}
          <li>
            <select
              class="select select-xs"
              aria-label="Share with one more person"
              data-first
              value=""
              onchange={(event) => {
                const person = event.currentTarget.value;
                event.currentTarget.value = '';
                if (person) void acts.run(() => setRight(id, person, 'read'));
              }}
            >
              <option value="">Share with…</option>
              {#each others as person (person.id)}<option value={person.id}>{person.name}</option>{/each}
            </select>
          </li>
        {/if}
      </ul>
    </section>
    <section>
      <h3>By a link, without an account</h3>
      {#each links as link (link.id)}
        <p>
          {link.kind === 'play' ? 'To play it' : 'To read it'}{link.note ? `: ${link.note}` : ''}
          <span class="dim">{until(link.endsAt)}, made {ago(link.createdAt)}</span>
          <button
            type="button"
            class="link"
            aria-label="Take back the link {link.note}"
            onclick={() => acts.run(() => takeBackFlowLink(id, link.id))}>take back</button
          >
        </p>
      {/each}
      {#if made}<LinkOnce text={made} />{/if}
      <form class="line" onsubmit={sendLink}>
        <select class="select select-sm" name="may" aria-label="What the link opens">
          <option value="play">only to play</option>
          <option value="read">to read</option>
        </select>
        <input
          class="input input-sm"
          name="note"
          aria-label="For whom, as a note"
          placeholder="for whom (a note)"
          maxlength="80"
        />
        <label
          >for <input class="input input-sm days" name="days" type="number" min="1" max="366" value="30" required /> days</label
        >
        <button class="btn btn-sm">Make a link</button>
      </form>
    </section>
    <section>
      <h3>On the shared shelf</h3>
      {#if on}
        <p>
          Revision {on.revision} is <a class="link" href={resolve('/shared/[show]', { show: on.id })}>on show</a>, since
          {ago(on.shownAt)}.
          <button type="button" class="link" onclick={() => acts.run(() => withdraw(on.id), 'It is no longer on show.')}
            >withdraw</button
          >
        </p>
      {/if}
      {#key on?.id}
        <form class="show" onsubmit={sendShow}>
          <label for="summary">What it is, in a sentence or two</label>
          <textarea id="summary" class="textarea" name="summary" rows="2" maxlength="600">{on?.summary ?? ''}</textarea>
          <label for="tags">Tags, with commas between them</label>
          <input id="tags" class="input input-sm" name="tags" value={on?.tags.join(', ') ?? ''} autocomplete="off" />
          {#if plans.length > 0}
            <label for="picture">Picture</label>
            <select id="picture" class="select select-sm" name="picture" value={on?.pictureOf ?? ''}>
              <option value="">the lane</option>
              {#each plans as plan (plan.id)}<option value={plan.id}>the plan of {plan.name}</option>{/each}
            </select>
          {/if}
          <p class="dim">
            Everybody who has an account sees this revision whole, with its notes, plays it and can take a copy. Later edits are
            not shown until you put them on show.
          </p>
          <button class="btn btn-sm">{on ? 'Put the present revision on show' : 'Put on show'}</button>
        </form>
      {/key}
    </section>
  {:else if acts.trying}
    <p class="dim">One moment…</p>
  {/if}
</Dialog>

<style>
  section {
    margin-bottom: 18px;
  }
  h3 {
    margin-bottom: 6px;
  }
  li {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 3px 0;
  }
  li span {
    min-width: 220px;
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    margin-top: 6px;
  }
  .line .select {
    width: 150px;
  }
  .line .input:not(.days) {
    flex: 1;
    min-width: 140px;
  }
  .days {
    width: 70px;
  }
  .show {
    display: grid;
    gap: 5px;
  }
  .show :is(textarea, .input) {
    width: 100%;
  }
  .show .btn {
    justify-self: start;
  }
  .bad,
  .told {
    padding: 6px 10px;
    margin-bottom: 8px;
    border-left: 4px solid var(--plain);
    background: var(--color-base-200);
  }
  .bad {
    background: var(--lost-wash);
    border-left-color: var(--lost);
  }
  .select {
    width: auto;
  }
</style>
