<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { resolve } from '$app/paths';
  import {
    changePerson,
    fetchAudit,
    invite,
    resetLink,
    takeBackInvitation,
    type AuditLine,
    type Link,
    type Person
  } from '$lib/house-api.ts';
  import { Attempts } from '$lib/parts/attempts.svelte.ts';
  import Bar from '$lib/parts/Bar.svelte';
  import Dialog from '$lib/parts/Dialog.svelte';
  import Listing from '$lib/parts/Listing.svelte';
  import LinkOnce from '$lib/parts/LinkOnce.svelte';
  import { ago, until } from '$lib/parts/shelf-words.ts';
  import { roles, roleWords, type Me, type Role } from '$lib/rights.ts';

  /** Who is in the house, who is invited, and what was done. */
  let { me, people, invited, lines }: { me: Me; people: Person[]; invited: Link[]; lines: AuditLine[] } = $props();
  let inviting = $state(false);
  let ending: Person | undefined = $state.raw();
  /** A link that was just made, and for what. */
  let made: { text: string; what: string } | undefined = $state.raw();
  const acts = new Attempts(invalidateAll);
  let earlier: AuditLine[] = $state.raw([]);
  const all = $derived([...lines, ...earlier]);
  const here = $derived(people.filter(({ endedAt }) => endedAt === null));
  const gone = $derived(people.filter(({ endedAt }) => endedAt !== null));

  function sendInvitation(event: SubmitEvent) {
    event.preventDefault();
    const form = new FormData(event.currentTarget as HTMLFormElement);
    const note = String(form.get('note')).trim();
    inviting = false;
    void acts.run(async () => {
      const { path } = await invite(String(form.get('role')) as Role, note, Number(form.get('days')));
      made = { text: location.origin + path, what: note ? `An invitation for ${note}` : 'An invitation' };
    });
  }
  const newPassword = (person: Person) =>
    acts.run(async () => {
      const { path } = await resetLink(person.id);
      made = { text: location.origin + path, what: `A link by which ${person.name} sets a new password, valid for a day` };
    });
  const more = () => acts.run(async () => (earlier = [...earlier, ...(await fetchAudit(all.at(-1)?.id))]));
</script>

<Bar {me} shows="people" />
<Listing>
  <div class="top">
    <h1>People</h1>
    <button type="button" class="btn btn-sm btn-primary" onclick={() => (inviting = true)}>Invite a person…</button>
  </div>
  <div aria-live="polite">
    {#if acts.failed}<p class="box bad">{acts.failed}</p>{/if}
    {#if made}
      <div class="box">
        <b>{made.what}</b>
        <LinkOnce text={made.text} />
        <button type="button" class="btn btn-xs" onclick={() => (made = undefined)}>Done</button>
      </div>
    {/if}
  </div>
  <table>
    <thead><tr><th>Name</th><th>Role</th><th>Last here</th><th><span class="hidden-text">Acts</span></th></tr></thead>
    <tbody>
      {#each here as person (person.id)}
        <tr data-person={person.name}>
          <td class="display"
            >{person.name}{#if person.id === me.person?.id}<span class="dim">{' '}(you)</span>{/if}</td
          >
          <td>
            <select
              class="select select-xs"
              aria-label="Role of {person.name}"
              value={person.role}
              onchange={(event) => {
                const field = event.currentTarget;
                void acts
                  .run(() => changePerson(person.id, { role: field.value as Role }))
                  .then(() => (field.value = person.role));
              }}
            >
              {#each roles as role (role)}<option value={role}>{role}</option>{/each}
            </select>
          </td>
          <td class="dim">{person.seenAt ? ago(person.seenAt) : 'never'}{person.elsewhere ? ', signs in elsewhere' : ''}</td>
          <td class="acts">
            <button type="button" class="link" aria-label="New password for {person.name}" onclick={() => newPassword(person)}
              >new password</button
            >
            <button type="button" class="link" aria-label="End the access of {person.name}" onclick={() => (ending = person)}
              >end access…</button
            >
          </td>
        </tr>
      {/each}
      {#each gone as person (person.id)}
        <tr class="dim">
          <td>{person.name}</td>
          <td>access ended</td>
          <td>{ago(person.endedAt!)}</td>
          <td class="acts">
            <button
              type="button"
              class="link"
              aria-label="Give {person.name} access again"
              onclick={() => acts.run(() => changePerson(person.id, { ended: false }))}>give access again</button
            >
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if invited.length > 0}
    <h2>Invited</h2>
    <table>
      <thead><tr><th>For</th><th>Role</th><th>Valid</th><th><span class="hidden-text">Acts</span></th></tr></thead>
      <tbody>
        {#each invited as link (link.id)}
          <tr>
            <td>{link.note || 'no note'}</td>
            <td>{link.role}</td>
            <td class="dim">{until(link.endsAt)}</td>
            <td class="acts">
              <button
                type="button"
                class="link"
                aria-label="Take back the invitation {link.note ? `for ${link.note}` : `as ${link.role}`}"
                onclick={() => acts.run(() => takeBackInvitation(link.id))}>take back</button
              >
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  <div class="top">
    <h2>What was done</h2>
    <a class="link" href="{resolve('/api/audit')}?as=jsonl" download>All of it, as JSON Lines</a>
  </div>
  <table class="audit">
    <thead><tr><th>When</th><th>Who</th><th>What</th><th>Flow</th><th>From</th></tr></thead>
    <tbody>
      {#each all as line (line.id)}
        <tr>
          <td class="dim"><time datetime={line.at}>{new Date(line.at).toLocaleString('en-GB')}</time></td>
          <td>{line.name}</td>
          <td
            >{line.act}{#if line.detail}<span class="dim">{` · ${line.detail}`}</span>{/if}</td
          >
          <td
            >{#if line.flow}<code>{line.flow}</code>{/if}</td
          >
          <td class="dim">{line.address}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if all.length % 100 === 0 && all.length > 0}<button type="button" class="btn btn-sm bordered" onclick={more}
      >Show earlier</button
    >{/if}
</Listing>

{#if inviting}
  <Dialog title="Invite a person" onclose={() => (inviting = false)}>
    <form class="asked" onsubmit={sendInvitation}>
      <label>For whom? (a note) <input class="input input-sm" name="note" data-first maxlength="80" autocomplete="off" /></label>
      <label
        >As
        <select class="select select-sm" name="role" value="designer">
          {#each roles as role (role)}<option value={role}>{roleWords[role]}</option>{/each}
        </select></label
      >
      <label
        >Days it is valid <input class="input input-sm" name="days" type="number" min="1" max="366" value="7" required /></label
      >
      <p class="dim">You get a link to send. The person who opens it makes an account; the link works once.</p>
      <div class="acts"><button class="btn btn-sm btn-primary">Make the link</button></div>
    </form>
  </Dialog>
{/if}
{#if ending}
  {@const person = ending}
  <Dialog title="End the access of {person.name}" onclose={() => (ending = undefined)}>
    <p>
      {person.name} is signed out everywhere, and the links and tokens that {person.name} made stop working. The flows stay, for admins
      to share or give away. Access can be given again.
    </p>
    <div class="acts">
      <button
        type="button"
        class="btn btn-sm btn-primary"
        data-first
        onclick={() => {
          const { id } = person;
          ending = undefined;
          void acts.run(() => changePerson(id, { ended: true }));
        }}>End access</button
      >
    </div>
  </Dialog>
{/if}

<style>
  .audit {
    font-size: 12px;
  }
  .audit td {
    padding-block: 4px;
  }
</style>
