<script lang="ts">
  import { onMount } from 'svelte';
  import { resolve } from '$app/paths';
  import Narrow from '$lib/house/Narrow.svelte';
  import { lookAtLink, useLink, type Opened } from '$lib/house-api.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Password from '$lib/parts/Password.svelte';
  import { roleWords } from '$lib/rights.ts';

  /** Where links lead that were given out. What is secret in one stands behind the #, which no server and no log is told. */
  let link: Opened | undefined = $state.raw();
  const acts = new Attempts();
  let secret = '';

  onMount(async () => {
    secret = location.hash.slice(1);
    // gone from the address, so that it is not passed on by accident
    history.replaceState(history.state, '', location.pathname);
    await acts.run(async () => {
      const found = await lookAtLink(secret);
      if ('flow' in found)
        location.replace(
          found.kind === 'play' ? resolve('/play/[id]', { id: found.flow }) : resolve('/flows/[id]', { id: found.flow })
        );
      else link = found;
    });
  });

  function send(event: SubmitEvent) {
    event.preventDefault();
    const form = new FormData(event.currentTarget as HTMLFormElement);
    void acts.run(async () => {
      await useLink(secret, String(form.get('name') ?? ''), String(form.get('password')));
      location.assign(resolve('/'));
    });
  }
  const title = $derived(!link ? 'A link' : link.kind === 'reset' ? `A new password for ${link.name}` : 'Make your account');
</script>

<Narrow {title}>
  <div role="alert">
    {#if acts.failed}<p class="bad">{acts.failed}</p>{/if}
  </div>
  {#if link}
    <form onsubmit={send}>
      {#if link.kind === 'first' || link.kind === 'invitation'}
        <p class="dim">
          {link.kind === 'first'
            ? 'This is the first account: its owner manages people, and owns the flows that are here already.'
            : `Your account will be: ${roleWords[link.role]}.`}
        </p>
        <label for="name">Name</label>
        <!-- svelte-ignore a11y_autofocus -->
        <input id="name" class="input input-sm" name="name" required maxlength="80" autocomplete="username" autofocus />
        <span class="dim">You sign in by it, and it stands beside your edits.</span>
      {/if}
      <Password />
      <button class="btn btn-sm btn-primary" disabled={acts.trying}
        >{acts.trying ? 'One moment…' : link.kind === 'reset' ? 'Set the password' : 'Make the account'}</button
      >
    </form>
  {:else if acts.failed}
    <p><a class="link" href={resolve('/')}>To the flows</a></p>
  {:else}
    <p class="dim">One moment…</p>
  {/if}
</Narrow>
