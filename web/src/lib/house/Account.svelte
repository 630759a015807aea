<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { changePassword, endOtherSignIns, makeToken, takeBackToken, type SignIn, type Token } from '$lib/house-api.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Bar from '$lib/parts/Bar.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import Listing from '$lib/parts/Listing.svelte';
  import LinkOnce from '$lib/parts/LinkOnce.svelte';
  import Password from '$lib/parts/Password.svelte';
  import { ago, until } from '$lib/parts/shelf-words.ts';
  import type { Me, TokenRight } from '$lib/rights.ts';

  let { me, signIns, tokens }: { me: Me; signIns: SignIn[]; tokens: Token[] } = $props();
  const acts = new Attempts(invalidateAll);
  let making = $state(false);
  let token = $state('');

  function sendPassword(event: SubmitEvent) {
    event.preventDefault();
    const form = event.currentTarget as HTMLFormElement;
    const given = new FormData(form);
    void acts.run(async () => {
      await changePassword(String(given.get('old')), String(given.get('password')));
      form.reset();
    }, 'The password is changed. Everywhere else you have to sign in again.');
  }

  function sendToken(event: SubmitEvent) {
    event.preventDefault();
    const given = new FormData(event.currentTarget as HTMLFormElement);
    const flow = String(given.get('flow'))
      .trim()
      .replace(/^.*\/flows\//, '')
      .replace(/\/.*$/, '');
    making = false;
    void acts.run(async () => {
      const made = await makeToken({
        name: String(given.get('name')).trim(),
        may: String(given.get('may')) as TokenRight,
        days: Number(given.get('days')),
        ...(flow ? { flow } : {})
      });
      token = made.token;
    });
  }
  /** The browser and the system, as far as what a browser says of itself tells. */
  const agentWords = (agent: string) => {
    const browser = /(Firefox|Edg|OPR|Chrome|Safari)\//.exec(agent)?.[1];
    const system = /(Windows|Macintosh|Android|iPhone|iPad|Linux)/.exec(agent)?.[1];
    return [browser, system].filter(Boolean).join(', ') || agent.slice(0, 60) || 'unknown';
  };
</script>

<Bar {me} shows="account" />
<Listing>
  <h1>Your account: {me.person?.name}</h1>
  <div aria-live="polite">
    {#if acts.failed}<p class="box bad">{acts.failed}</p>{/if}
    {#if acts.told}<p class="box">{acts.told}</p>{/if}
  </div>
  <section>
    <h2>Password</h2>
    <form class="password" method="post" onsubmit={sendPassword}>
      <Password label="Present password" autocomplete="current-password" />
      <Password label="New password" />
      <button class="btn btn-sm bordered">Change the password</button>
    </form>
  </section>
  <section>
    <h2>Signed in</h2>
    <table>
      <thead><tr><th>With</th><th>Since</th><th>Last used</th></tr></thead>
      <tbody>
        {#each signIns as each, index (index)}
          <tr
            ><td>{agentWords(each.agent)}{each.here ? ' (here)' : ''}</td><td>{ago(each.createdAt)}</td><td>{ago(each.usedAt)}</td
            ></tr
          >
        {/each}
      </tbody>
    </table>
    {#if signIns.length > 1}
      <button type="button" class="btn btn-sm bordered" onclick={() => acts.run(endOtherSignIns, 'You are signed in only here.')}
        >Sign out everywhere else</button
      >
    {/if}
  </section>
  <section>
    <div class="top">
      <h2>Tokens for programs</h2>
      <button type="button" class="btn btn-sm bordered" onclick={() => (making = true)}>New token…</button>
    </div>
    {#if token}
      <LinkOnce text={token} what="token" />
      <button type="button" class="btn btn-xs bordered" onclick={() => (token = '')}>Done</button>
    {/if}
    {#if tokens.length > 0}
      <table>
        <thead
          ><tr
            ><th>Name</th><th>May</th><th>Flow</th><th>Last used</th><th>Valid</th><th><span class="hidden-text">Acts</span></th
            ></tr
          ></thead
        >
        <tbody>
          {#each tokens as each (each.id)}
            <tr>
              <td class="display">{each.name}</td>
              <td>{each.may}</td>
              <td
                >{#if each.flow}<code>{each.flow}</code>{:else}all of yours{/if}</td
              >
              <td>{each.usedAt ? ago(each.usedAt) : 'never'}</td>
              <td class="dim">{until(each.endsAt)}</td>
              <td class="acts">
                <button
                  type="button"
                  class="link"
                  aria-label="Take back the token {each.name}"
                  onclick={() => acts.run(() => takeBackToken(each.id))}>take back</button
                >
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {:else}
      <p class="dim">None. A pipeline that checks a flow, or writes into one, shows a token instead of signing in.</p>
    {/if}
  </section>
</Listing>

{#if making}
  <Dialog title="A new token" onclose={() => (making = false)}>
    <form class="asked" onsubmit={sendToken}>
      <label>Name <input class="input input-sm" name="name" data-first required maxlength="80" autocomplete="off" /></label>
      <label
        >It may
        <select class="select select-sm" name="may">
          <option value="read">read, check and export</option>
          <option value="edit">edit too</option>
        </select></label
      >
      <label
        >Only this flow <input
          class="input input-sm"
          name="flow"
          placeholder="address or id; all of yours if empty"
          autocomplete="off"
        /></label
      >
      <label
        >Days it is valid <input class="input input-sm" name="days" type="number" min="1" max="366" value="90" required /></label
      >
      <div class="acts"><button class="btn btn-sm btn-primary">Make the token</button></div>
    </form>
  </Dialog>
{/if}

<style>
  section {
    margin-bottom: 26px;
  }
  .password {
    display: grid;
    gap: 6px;
    max-width: 400px;
  }
  .password .btn {
    justify-self: start;
    margin-top: 6px;
  }
</style>
