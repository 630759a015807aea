<script lang="ts">
  import { resolve } from '$app/paths';
  import Narrow from '$lib/house/Narrow.svelte';
  import { signIn } from '$lib/house-api.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Password from '$lib/parts/Password.svelte';

  let { data } = $props();
  const acts = new Attempts();
  // svelte-ignore state_referenced_locally
  if (data.failed) acts.failed = 'That sign-in did not work. Try again, or ask an admin.';

  function send(event: SubmitEvent) {
    event.preventDefault();
    const form = new FormData(event.currentTarget as HTMLFormElement);
    void acts.run(async () => {
      await signIn(String(form.get('name')), String(form.get('old')));
      // a page of its own: nothing of who was here before is left in it
      location.assign(data.to);
    });
  }
</script>

<Narrow title="Sign in">
  <div role="alert">
    {#if acts.failed}<p class="bad">{acts.failed}</p>{/if}
  </div>
  {#if data.elsewhere}
    <p>
      <a
        class="btn btn-sm btn-primary"
        href="{resolve('/sign-in/elsewhere')}?to={encodeURIComponent(data.to)}"
        data-sveltekit-reload>Sign in with {data.elsewhere}</a
      >
    </p>
    <p class="dim or">or by name and password</p>
  {/if}
  <form method="post" onsubmit={send}>
    <label for="name">Name</label>
    <!-- svelte-ignore a11y_autofocus -->
    <input id="name" class="input input-sm" name="name" required maxlength="80" autocomplete="username" autofocus />
    <Password autocomplete="current-password" />
    <button class="btn btn-sm {data.elsewhere ? '' : 'btn-primary'}" disabled={acts.trying}
      >{acts.trying ? 'One moment…' : 'Sign in'}</button
    >
  </form>
  <p class="dim">No account yet, or the password forgotten? An admin can send you a link.</p>
</Narrow>

<style>
  .or {
    margin: 12px 0 6px;
  }
  p.dim {
    margin-top: 12px;
  }
</style>
