<script lang="ts">
  import { addRule, freeControl } from '@crow-lane/core/document/edits/rules';
  import { addGroup, addNumber, addOrder, addSignal, setBrief, setNumber, unaccept } from '@crow-lane/core/document/edits/lists';
  import { levelsOf, type Id, type Owner, type Rule } from '@crow-lane/core/document/types';
  import { levelsInOrder } from '@crow-lane/core/document/edits/levels';
  import { moveAlong } from '$lib/flow/move.ts';
  import { flowContext } from '$lib/flow/context.ts';
  import DrawSelect from '$lib/parts/DrawSelect.svelte';
  import { decides } from '@crow-lane/core/report/report';
  import { failures, remarks } from '$lib/flow/live-checks.svelte.ts';
  import Note from '$lib/parts/Note.svelte';
  import AddValue from '$lib/parts/AddValue.svelte';
  import CauseList from './CauseList.svelte';
  import Evidence from './Evidence.svelte';
  import Listed from './Listed.svelte';
  import Sentence from './Sentence.svelte';
  import ValueRow from '$lib/parts/ValueRow.svelte';

  /** The desk while no place is selected: what fails, the values, and the rules that many levels share. */
  const { flow, checks, causes } = flowContext();
  const failing = $derived(failures(checks.report));
  /** Causes with as many errors and warnings as follow from each. */
  const explaining = $derived(
    causes.causes
      .filter(({ verdict }) => decides(verdict))
      .map(({ verdict, follows }) => ({ verdict, follows: follows.filter(decides) }))
  );
  const notes = $derived(remarks(checks.report));
  const open = $derived(checks.report?.checks.filter(({ outcome }) => outcome === 'open').length ?? 0);
  const largest = $derived(
    (checks.report?.large ?? []).map(({ what, times }) => `${what} (${Math.round(times)} times as many)`).join(', ')
  );
  const lists = $derived<{ owner: Owner; title: string; rules: Rule[] }[]>([
    { owner: { flow: true }, title: 'In every level', rules: flow.document.rules },
    ...Object.entries(flow.document.groups).map(([group, { name, rules }]) => ({
      owner: { group },
      title: `In every level of ${name}`,
      rules
    }))
  ]);
  const levels = $derived(levelsOf(flow.document));
  /** The first order that lists levels of a group: these, and where they begin in it. */
  function rowOf(group: Id) {
    for (const [id, order] of Object.entries(flow.document.orders)) {
      const members = levelsInOrder(flow.document, id, group);
      if (members.length > 0) return { id, order, members, at: order.levels.indexOf(members[0]!) };
    }
    return undefined;
  }

  /** An order has at least one level: the first that is in none, else the first. */
  function addAnOrder(text: string) {
    const listed = Object.values(flow.document.orders).flatMap((order) => order.levels);
    const first = levels.find(([id]) => !listed.includes(id)) ?? levels[0];
    if (first) flow.edit(addOrder(flow.document, text, first[0]));
    else flow.notice = { bad: true, text: 'An order lists levels: add a level first.' };
  }

  function add(owner: Owner) {
    const { id: _id, ...change } = addRule(flow.document, owner, { when: { press: freeControl(flow.document) } });
    flow.edit(change);
  }
</script>

<section aria-label="What fails">
  <h2>
    {failing.length === 0
      ? 'Nothing fails'
      : explaining.length < failing.length
        ? `${explaining.length} ${explaining.length === 1 ? 'cause' : 'causes'}, ${failing.length} findings`
        : `${failing.length} ${failing.length === 1 ? 'finding' : 'findings'}`}
  </h2>
  <p class="about">
    {#if flow.document.brief}<span class="dim">{flow.document.brief}</span>{/if}
    <Note
      value={flow.document.brief}
      of="the whole flow"
      onkeep={(note) => flow.edit(setBrief(flow.document, undefined, note))}
    />
  </p>
  {#if checks.failed}<p class="lost">The check could not be run: {checks.failed}</p>{/if}
  <CauseList causes={explaining} where="from this" />
  {#if failing.length === 0 && checks.report && open === 0}<p class="dim">
      {levels.length === 0 ? 'There are no levels yet.' : 'Every level can be completed and every place is reached.'} Select a place
      on the lane to see and change its rules.
    </p>{/if}
  {#if notes.length > 0}
    <h3>Worth knowing</h3>
    {#each notes as verdict, index (index)}<Evidence {verdict} />{/each}
  {/if}
  {#if open > 0}<p class="dim">
      {open} questions are not settled: the flow has more states than are looked at here.{#if largest}{' '}What makes it so large:
        {largest}.{/if}
    </p>{/if}
</section>
<section aria-label="Values">
  <h2>Values</h2>
  <table>
    <tbody>
      {#each Object.entries(flow.document.variables) as [id, variable] (id)}<ValueRow {id} {variable} compact />{/each}
    </tbody>
  </table>
  {#if Object.keys(flow.document.variables).length === 0}<p class="dim">
      Lives, score, keys, flags: what the player carries. None yet.
    </p>{/if}
  <AddValue />
  <h2 title="Several things keep to one: seconds, and whole ones in conditions">Numbers</h2>
  <Listed list="numbers" one="number" hint="Gust pause" onadd={(name) => flow.edit(addNumber(flow.document, { name, value: 1 }))}>
    {#snippet more(id)}
      {@const { name, value } = flow.document.numbers[id]!}
      <input
        class="number"
        type="number"
        step="any"
        min="-1000000000"
        max="1000000000"
        aria-label="How much {name} is"
        {value}
        onchange={(event) => {
          const to = event.currentTarget.valueAsNumber;
          if (Number.isFinite(to) && Math.abs(to) <= 1e9) flow.edit(setNumber(flow.document, id, to));
          else event.currentTarget.value = String(value);
        }}
      />
    {/snippet}
  </Listed>
  <h2>Orders</h2>
  <Listed list="orders" one="order" hint="Night round" onadd={addAnOrder}>
    {#snippet more(id)}
      {@const order = flow.document.orders[id]!}
      <DrawSelect order={id} />
      <span class="dim">{order.levels.length}</span>
    {/snippet}
  </Listed>
  <h2>Groups</h2>
  <Listed list="groups" one="group" hint="Harbour" onadd={(text) => flow.edit(addGroup(flow.document, text))}>
    {#snippet more(id)}
      {@const { name } = flow.document.groups[id]!}
      {@const row = rowOf(id)}
      <span class="dim">{levels.filter(([, { group }]) => group === id).length} levels</span>
      {#if row}
        <label class="dim"
          >from place <input
            class="at"
            type="number"
            min="1"
            max={row.order.levels.length}
            aria-label="Place of the first level of {name}"
            value={row.at + 1}
            onchange={(event) => {
              const to = Math.round(Number(event.currentTarget.value));
              if (to >= 1) moveAlong(flow, row.id, row.members, to - 1);
              event.currentTarget.value = String((rowOf(id)?.at ?? row.at) + 1);
            }}
          /></label
        >
      {/if}
    {/snippet}
  </Listed>
  <h2>Signals</h2>
  <Listed list="signals" one="signal" hint="Alarm" onadd={(text) => flow.edit(addSignal(flow.document, text))} />
  {#if flow.document.accepted.length > 0}
    <h2>Accepted findings</h2>
    {#each flow.document.accepted as { check, subject, reason }, index (index)}
      <p class="accepted">
        <span
          ><b
            >{checks.report?.checks.find((each) => each.check === check && each.subject === subject)?.message ??
              `${check} ${subject}`}</b
          >
          {reason}</span
        >
        <button type="button" class="link" onclick={() => flow.edit(unaccept(flow.document, index))}>take back</button>
      </p>
    {/each}
  {/if}
</section>
<section aria-label="Shared rules">
  <h2>Rules that levels share</h2>
  {#each lists.filter(({ rules }) => rules.length > 0) as { owner, title, rules } (JSON.stringify(owner))}
    <h3>{title}</h3>
    {#each rules as rule, index (rule.id)}<Sentence {owner} {rule} {index} count={rules.length} />{/each}
  {/each}
  <p class="dim">
    Add a rule
    {#each lists as { owner, title } (JSON.stringify(owner))}
      <button type="button" class="link" onclick={() => add(owner)}>{title.replace('In', 'in')}</button>{' '}
    {/each}
  </p>
</section>

<style>
  .at {
    width: 40px;
    background: transparent;
    text-align: right;
    appearance: textfield;
  }
  table {
    width: 100%;
  }
  h2:not(:first-child) {
    margin-top: 12px;
  }
  .accepted {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    font-size: 12px;
    margin-bottom: 4px;
  }
</style>
