<script lang="ts">
  import { untrack } from 'svelte';
  import { addPiece, addPieceToAll, likelyPieceKind } from '@crow-lane/core/document/edits/parts';
  import { addNumber, addSignal } from '@crow-lane/core/document/edits/lists';
  import { usualButton } from '@crow-lane/core/document/edits/rules';
  import {
    levelsOfOwner,
    type DeedKind,
    type Id,
    type Owner,
    type Piece,
    type Rule,
    type Seconds,
    type Side,
    type Trigger,
    type TriggerKind
  } from '@crow-lane/core/document/types';
  import { groundAtHand, piecesAtHand } from '@crow-lane/core/play/scope';
  import { allTakenWords, capital, passageName, triggerWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import Choices from '$lib/parts/Choices.svelte';
  import Constants from '$lib/parts/Constants.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import SecondsField from '$lib/parts/SecondsField.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import { canHappenTo, deeds, isDeed, sides, triggerKind, triggerKinds, triggers } from '@crow-lane/core/vocabulary/triggers';
  import { usedUp } from '@crow-lane/core/vocabulary/pieces';

  let { owner, rule, onchange }: { owner: Owner; rule: Rule; onchange: (when: Trigger) => void } = $props();
  const { flow } = flowContext();
  const inLevel = $derived(!('place' in owner) || flow.document.places[owner.place]?.kind === 'level');
  const inMenu = $derived('place' in owner && flow.document.places[owner.place]?.kind === 'menu');
  /** What rules here can name of the insides of levels: walking is only offered where there is somewhere to walk. */
  const ground = $derived(groundAtHand(flow.document, owner));
  const walks = $derived(inLevel && ground.passages.length > 0);
  const isOffered = (kind: TriggerKind) =>
    kind === 'walk' || kind === 'reach' ? walks || kind in rule.when : (inLevel || !isDeed(kind)) && (inMenu || kind !== 'slot');
  const offered = $derived(triggerKinds.filter(isOffered));
  let chosen: TriggerKind | undefined = $state();
  const kind = $derived(chosen ?? triggerKind(rule.when));
  /** The levels in which it is read: a piece it names has to be there. */
  const levels = $derived(levelsOfOwner(flow.document, owner) ?? []);
  const pieces = $derived(piecesAtHand(flow.document, owner));
  const { value: field, may } = $derived(triggers[kind]);
  const current = $derived((rule.when as Record<string, unknown>)[kind]);
  /** From which side something is touched. */
  let side: Side | undefined = $state(untrack(() => ('side' in rule.when ? rule.when.side : undefined)));
  const sided = () => (may?.side && side !== undefined ? { side } : {});
  const of = (value: unknown, more: object = {}) => ({ [kind]: value, ...more }) as unknown as Trigger;

  /** The seconds that are being said, of what is chosen now. */
  let seconds: Seconds = $state(
    untrack(() => ('after' in rule.when ? rule.when.after : 'every' in rule.when ? rule.when.every : 2))
  );

  /** Keeps the seconds that are said; under a name they are a number from then on, which others can keep to. */
  function keepSeconds(name: string, close: () => void) {
    if (!name || typeof seconds !== 'number') return set(of(seconds), close);
    const { id, ...change } = addNumber(flow.document, { name, value: seconds });
    flow.edit(change);
    set(of(id), close);
  }

  const fitting = (what: DeedKind) =>
    pieces
      .filter(([, piece]) => canHappenTo(what, piece.kind))
      .map(([value, { name, kind: is }]) => ({ value, label: name, hint: is }));

  function set(when: Trigger, close: () => void) {
    chosen = undefined;
    close();
    onchange(when);
  }

  function makeSignal(name: string, close: () => void) {
    const { id, ...change } = addSignal(flow.document, name);
    flow.edit(change);
    set(of(id), close);
  }

  /** A piece named in the picker that is not there yet is made on the spot, of a kind to which the trigger can happen. */
  function makePiece(what: DeedKind, name: string, close: () => void) {
    const likely = likelyPieceKind(flow.document, name);
    const piece: Piece = { name, kind: canHappenTo(what, likely) ? likely : deeds[what].makes };
    const [first] = levels;
    const { id, ...change } =
      levels.length === 1 ? addPiece(flow.document, first!, piece) : addPieceToAll(flow.document, levels, piece);
    flow.edit(change);
    set(of(id, sided()), close);
  }

  /** "all lamps", "all but some": the conditions that most levels are won by, one click each. */
  const shortcuts = $derived(
    pieces
      .filter(([, piece]) => usedUp(piece))
      .map(([id, piece]: [Id, Piece]) => ({
        text: `left(${id}) = 0`,
        label: allTakenWords(piece)
      }))
  );
</script>

<Popup label={capital(triggerWords(flow.document, owner, rule))} title="When does it happen?">
  {#snippet content(close)}
    <label class="kind">
      <span>When</span>
      <select
        class="select select-sm"
        value={kind}
        onchange={(event) => (chosen = event.currentTarget.value as TriggerKind)}
        aria-label="Kind of trigger"
      >
        {#each offered as each (each)}<option value={each}>{triggers[each].label}</option>{/each}
      </select>
    </label>
    {#key kind}
      {#if field.is === 'name'}
        <form
          onsubmit={(event) => {
            event.preventDefault();
            const data = new FormData(event.currentTarget);
            const [label, key, idle] = ['label', 'key', 'idle'].map((name) => String(data.get(name) ?? '').trim());
            if (label) set(of(label, { ...(key && { key }), ...(idle && { idle }) }), close);
          }}
        >
          <label class="called"
            >called
            <input
              class="input input-sm"
              name="label"
              data-first
              aria-label="Name of the button or key"
              maxlength="80"
              required
              value={typeof current === 'string' ? current : (usualButton(flow.document, rule.go) ?? '')}
            /></label
          >
          {#if may?.key}
            <label class="key"
              >shown as the key
              <input
                class="input input-sm"
                name="key"
                maxlength="80"
                placeholder="none"
                value={'press' in rule.when ? (rule.when.key ?? '') : ''}
              /></label
            >
          {/if}
          {#if may?.idle}
            <label class="key"
              >while it does nothing
              <select class="select select-sm" name="idle" value={'press' in rule.when ? (rule.when.idle ?? '') : ''}>
                <option value="">dimmed</option>
                <option value="hidden">hidden</option>
              </select></label
            >
          {/if}
          <button class="btn btn-sm btn-primary">Keep</button>
        </form>
      {:else if field.is === 'seconds'}
        <form
          onsubmit={(event) => {
            event.preventDefault();
            const name = String(new FormData(event.currentTarget).get('number') ?? '').trim();
            keepSeconds(name, close);
          }}
        >
          <SecondsField first label="Seconds" least={0.001} most={86_400} value={seconds} onchange={(to) => (seconds = to)} />
          {#if typeof seconds === 'number'}
            <input
              class="input input-xs"
              name="number"
              maxlength="80"
              placeholder="as a number: Pace"
              aria-label="Named, so that others can keep to it"
            />
          {/if}
          <button class="btn btn-sm btn-primary">Keep</button>
        </form>
      {:else if isDeed(kind)}
        {@const what = kind}
        {#if may?.side}
          <label class="kind">
            <span>from</span>
            <select
              class="select select-sm"
              bind:value={side}
              onchange={() => what === triggerKind(rule.when) && onchange(of(current, sided()))}
              aria-label="From which side"
            >
              <option value={undefined}>any side</option>
              {#each sides as each (each)}<option value={each}>{each === 'beside' ? 'its side' : each}</option>{/each}
            </select>
          </label>
        {/if}
        <Choices
          name="Piece"
          choices={fitting(what)}
          value={current as string}
          onpick={(piece) => set(of(piece, sided()), close)}
          make={levels.length > 0
            ? {
                label: (name) => `make the piece ${name}${levels.length > 1 ? ` in ${levels.length} levels` : ''}`,
                run: (name) => makePiece(what, name, close)
              }
            : undefined}
        />
      {:else if field.is === 'condition'}
        {#each shortcuts as { text, label } (text)}
          <button type="button" class="shortcut" onclick={() => set(of(text), close)}>{label}</button>
        {/each}
        <ConditionField
          {owner}
          use="holds"
          label="Condition"
          value={typeof current === 'string' ? current : ''}
          onkeep={(text) => text && set(of(text), close)}
        />
      {:else if field.is === 'id' && field.of === 'signal'}
        <Choices
          name="Signal"
          choices={Object.entries(flow.document.signals).map(([value, { name }]) => ({ value, label: name }))}
          value={current as string}
          onpick={(signal) => set(of(signal), close)}
          make={{ label: (name) => `make the signal ${name}`, run: (name) => makeSignal(name, close) }}
        />
      {:else if field.is === 'id' && field.of === 'order'}
        <Choices
          name="Order"
          choices={Object.entries(flow.document.orders).map(([value, { name }]) => ({ value, label: name }))}
          value={current as string}
          onpick={(order) => set(of(order), close)}
        />
      {:else if field.is === 'id' && field.of === 'spot'}
        <Choices
          name="Spot"
          choices={ground.spots.map(([value, { name }]) => ({ value, label: name }))}
          value={current as string}
          onpick={(spot) => set(of(spot), close)}
        />
      {:else if field.is === 'id' && field.of === 'passage'}
        <Choices
          name="Passage"
          choices={ground.passages.map(([value]) => ({ value, label: passageName(flow.document, owner, value) }))}
          value={current as string}
          onpick={(passage) => set(of(passage), close)}
        />
      {:else if field.is === 'constant'}
        <Constants
          values={field.values}
          words={(value) =>
            field.values.length === 1 ? triggers[kind].label : triggerWords(flow.document, owner, { ...rule, when: of(value) })}
          onpick={(value) => set(of(value), close)}
        />
      {/if}
    {/key}
  {/snippet}
</Popup>

<style>
  .kind {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-bottom: 8px;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
  }
  .called {
    display: flex;
    flex: 1 0 100%;
    align-items: center;
    gap: 8px;
  }
  .called input {
    flex: 1;
  }
  .shortcut {
    display: block;
    width: 100%;
    text-align: left;
    padding: 3px 6px;
    cursor: pointer;
  }
  .shortcut:hover {
    background: var(--pick-wash);
  }
</style>
