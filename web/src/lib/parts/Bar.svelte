<script lang="ts">
  import { resolve } from '$app/paths';
  import { signOut } from '$lib/house-api.ts';
  import type { Me } from '$lib/rights.ts';
  import Crow from './Crow.svelte';
  import Popup from './Popup.svelte';
  import ThemeSwitch from './ThemeSwitch.svelte';

  /** The head of every page that is not of one flow. What accounts bring stands here only where there are some. */
  let { me, shows = '' }: { me: Me; shows?: 'flows' | 'shared' | 'people' | 'account' | '' } = $props();
  const current = (name: string) => (name === shows ? 'page' : undefined);

  async function leave() {
    await signOut();
    // what the pages hold goes with whoever held it
    location.assign(resolve('/sign-in'));
  }
</script>

<header>
  <a href={resolve('/')} aria-label="All flows"><Crow /></a>
  <span class="display name">Crow Lane</span>
  {#if me.person}
    <nav class="views" aria-label="Crow Lane">
      <a href={resolve('/')} aria-current={current('flows')}>Flows</a>
      <a href={resolve('/shared')} aria-current={current('shared')}>Shared shelf</a>
      {#if me.person.role === 'admin'}<a href={resolve('/people')} aria-current={current('people')}>People</a>{/if}
    </nav>
  {:else}
    <span class="dim">Wire the flow of a game on one picture, and prove that it can be completed.</span>
  {/if}
  <span class="right">
    <a class="link" href={resolve('/help/[[page]]', {})}>Manual</a>
    {#if me.person}
      <Popup label={me.person.name} look="btn btn-xs" title="Your account">
        {#snippet content()}
          <ul>
            <li class="dim">{me.person!.role}</li>
            <li><a class="link" href={resolve('/account')}>Password, sign-ins, tokens</a></li>
            <li><button type="button" class="link" onclick={leave}>Sign out</button></li>
          </ul>
        {/snippet}
      </Popup>
    {/if}
    <ThemeSwitch />
  </span>
</header>

<style>
  header {
    height: 46px;
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 0 16px;
    background: var(--color-base-100);
    border-bottom: 1px solid var(--color-base-300);
    white-space: nowrap;
  }
  .dim {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .name {
    font-size: 16px;
  }
  .right {
    margin-left: auto;
    display: flex;
    align-items: center;
    gap: 10px;
  }
  ul {
    line-height: 2;
  }
</style>
