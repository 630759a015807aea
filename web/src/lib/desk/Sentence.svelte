<script lang="ts">
  import { changeRule, moveRule, ownerName, removeRule, type NewRule } from '@crow-lane/core/document/edits/rules';
  import { doorOf } from '@crow-lane/core/document/doors';
  import { addOtherSide, arriveAtDoor, removeDoor } from '@crow-lane/core/document/edits/doors';
  import { hidingRules } from '@crow-lane/core/check/rule-checks';
  import { alikeRules, giveRule } from '@crow-lane/core/document/edits/share';
  import { prepare } from '@crow-lane/core/play/flow';
  import { same } from '@crow-lane/core/document/same';
  import { levelsOf, type Effect, type Id, type Level, type Owner, type Rule, type Target } from '@crow-lane/core/document/types';
  import { readBefore } from '@crow-lane/core/play/reading';
  import { conditionWords, ownerWords, placeName, ruleWords } from '@crow-lane/core/words/words';
  import { flowContext } from '$lib/flow/context.ts';
  import { failures, remarks } from '$lib/flow/live-checks.svelte.ts';
  import Note from '$lib/parts/Note.svelte';
  import Popup from '$lib/parts/Popup.svelte';
  import ConditionField from '$lib/parts/ConditionField.svelte';
  import EffectPart from './EffectPart.svelte';
  import TargetPart from './TargetPart.svelte';
  import TransitionPart from './TransitionPart.svelte';
  import TriggerPart from './TriggerPart.svelte';

  /** A rule as a sentence, each part edited where it stands. `shared` names the owner of a rule that is not this place's. */
  let {
    owner,
    rule,
    index,
    count,
    shared = false
  }: { owner: Owner; rule: Rule; index: number; count: number; shared?: boolean } = $props();
  interface Home {
    to: Owner;
    words: string;
    /** Rules like it there, which it takes the place of. */
    instead?: Id[];
  }
  const { flow, checks, causes, view } = flowContext();
  const listOf = (of: Owner) =>
    'place' in of ? flow.document.places[of.place]! : 'group' in of ? flow.document.groups[of.group]! : flow.document;
  const level = $derived(!('place' in owner) || flow.document.places[owner.place]?.kind === 'level');
  /** What the checks say of this rule: its own verdicts, and why a level cannot be completed where that is its doing. */
  const findings = $derived.by(() => {
    const ofRule = [
      'condition',
      'never-stranded',
      'rule-fires',
      'fresh-start',
      'goal-count',
      'overtaken-deadline',
      'won-by-removal',
      'fresh-save',
      'slot-picked'
    ];
    const own = failures(checks.report).filter(({ check, subject }) =>
      check === 'reference' ? subject === `rule/${rule.id}` : ofRule.includes(check) && subject === rule.id
    );
    // what follows from another finding on this rule is told with that one
    const follows = causes.causes.flatMap((cause) => (own.includes(cause.verdict) ? cause.follows : []));
    const said = own
      .filter((verdict) => !follows.includes(verdict))
      .map(({ message, why, column }) => `${why?.[0]?.text ?? message}${column ? ` (column ${column})` : ''}`);
    if (said.length > 0) return [...new Set(said)];
    const reasons = failures(checks.report).flatMap(({ check, why = [] }) => (check === 'level-completable' ? why : []));
    return [...new Set(reasons.filter((reason) => reason.rule === rule.id).map(({ text }) => text))];
  });
  /** What is only worth knowing of it: that fewer are asked for than there are. */
  const partial = $derived(
    remarks(checks.report)
      .filter(({ check, subject }) => check === 'goal-partial' && subject === rule.id)
      .flatMap(({ why = [] }) => why.map(({ text }) => text))
  );
  /** The next rule on the same trigger: which of the two is read first then matters. */
  const before = $derived.by(() => {
    const next = readBefore(listOf(owner).rules, index);
    return next && ruleWords(flow.document, owner, next);
  });
  /** Whose rule it can be, each with in how many levels it then works. */
  const homes = $derived.by<Home[]>(() => {
    if (!level) return [];
    const here = view.selected === undefined ? undefined : flow.document.places[view.selected];
    const group = here?.kind === 'level' ? here.group : undefined;
    const levels = levelsOf(flow.document);
    const count = (n: number) => `${n} ${n === 1 ? 'level' : 'levels'}`;
    const found: Home[] = [];
    if (here?.kind === 'level') found.push({ to: { place: view.selected! }, words: `of ${here.name} alone` });
    if (group !== undefined && flow.document.groups[group])
      found.push({
        to: { group },
        words: `of ${flow.document.groups[group].name} (${count(levels.filter(([, each]) => each.group === group).length)})`
      });
    found.push({ to: { flow: true }, words: `of all levels (${levels.length})` });
    if (!found.some(({ to }) => same(to, owner))) return [];
    return found.flatMap((home) => {
      const alike = same(home.to, owner) ? [] : alikeRules(flow.document, rule, home.to);
      if (alike.length === 0) return [home];
      return [home, { ...home, words: `${home.words}, in place of ${alike.length} like it`, instead: alike }];
    });
  });

  /** Gives the rule to others; who hides it there is named, as nothing else would tell. */
  function give({ to, instead = [] }: Home) {
    flow.edit(giveRule(flow.document, rule.id, to, instead));
    const hiding = (hidingRules(prepare(flow.document)).get(rule.id) ?? []).flatMap(({ by }) => by ?? []);
    if (hiding.length === 0) return;
    const where = [...new Set(hiding.map((each) => ownerName(flow.document, each.owner)))];
    const named = where.length > 4 ? `${where.slice(0, 4).join(', ')} and ${where.length - 4} more` : where.join(', ');
    const text = `It is not read in ${named}: a rule there waits for the same and leads away first.`;
    flow.notice = { bad: true, text };
  }
  /** Where it is a side of a door: that, and the other side. */
  const door = $derived('place' in owner && !shared ? doorOf(flow.document, owner.place, rule.id) : undefined);
  const twoWay = $derived(door?.side.exit !== undefined && door.other?.exit !== undefined && !door.other.shared);
  const nameOf = (level: Id, exit: Id) => (flow.document.places[level] as Level).pieces[exit]!.name;
  const effects = $derived(rule.do ?? []);
  const otherwise = $derived(rule.go && 'move' in rule.go ? rule.go.else : undefined);

  function change(parts: Partial<NewRule>) {
    const { id, ...rest } = rule;
    flow.edit(changeRule(flow.document, id, { ...rest, ...parts }));
  }

  function setEffect(at: number, effect: Effect | undefined) {
    const next = effect ? effects.toSpliced(at, 1, effect) : effects.toSpliced(at, 1);
    change({ do: next.length > 0 ? next : undefined });
  }

  /** Going nowhere, or back, neither wins nor loses. */
  function setTarget(go: Target | undefined) {
    const back = go && 'move' in go && go.move === 'back';
    change({ go, result: go && !back ? rule.result : undefined, by: go ? rule.by : undefined });
  }

  function setOtherwise(target: Target | undefined) {
    if (!rule.go || !('move' in rule.go)) return;
    const { else: _else, ...go } = rule.go;
    change({ go: target ? { ...go, else: target } : go });
  }

  const over = $derived(rule.go && 'place' in rule.go && rule.go.over);
  const canInsert = $derived(rule.go && !('move' in rule.go && ['back', 'chosen'].includes(rule.go.move)));

  function insert() {
    const to = rule.go && 'place' in rule.go ? rule.go.place : undefined;
    const from = 'place' in owner ? [owner.place] : [];
    view.dialog = { is: 'place', kind: 'interlude', into: { rules: [rule.id], from, to } };
  }
  const canFail = $derived(rule.go && 'move' in rule.go && rule.go.move !== 'chosen');
</script>

{#snippet condition(label: string, look: string)}
  <Popup {label} {look} title="Only if …">
    {#snippet content(close)}
      <ConditionField
        {owner}
        use="if"
        choosing={'choose' in rule.when}
        label="Only if"
        value={rule.if ?? ''}
        onkeep={(text) => {
          close();
          change({ if: text || undefined });
        }}
      />
    {/snippet}
  </Popup>
{/snippet}

<div class="sentence" data-result={rule.result} class:bad={findings.length > 0} data-rule={rule.id}>
  <div class="says">
    <TriggerPart {owner} {rule} onchange={(when) => change({ when })} />{#if rule.if !== undefined}{', if '}{@render condition(
        conditionWords(flow.document, owner, rule.if),
        'word'
      )}{/if}{#each effects as effect, at (at)}{', '}<EffectPart
        {owner}
        {effect}
        onchange={(next) => setEffect(at, next)}
        onremove={() => setEffect(at, undefined)}
      />{/each}{#if rule.go}{over ? ', open ' : ', go to '}<TargetPart
        {rule}
        target={rule.go}
        onchange={setTarget}
        onremove={() => setTarget(undefined)}
      />{over ? ' over it' : ''}{#if otherwise}{', or else to '}<TargetPart
          {rule}
          target={otherwise}
          otherwise
          onchange={setOtherwise}
          onremove={() => setOtherwise(undefined)}
        />{/if}{#if rule.by}{', '}<TransitionPart {owner} by={rule.by} {effects} onchange={(by) => change({ by })} />{/if}{/if}.
    {#if shared}<span class="dim">{ownerWords(flow.document, owner)}</span>{/if}
    {#if before !== undefined}<span class="order">read before “{before}”</span>{/if}
    {#if door}
      {@const { side, other, wrong } = door}
      {@const room = placeName(flow.document, side.to)}
      <span class="order">
        {#if side.through.length > 0}through {side.through.map((id) => placeName(flow.document, id)).join(', ')} to {room};{/if}
        {#if !other}
          one way; <button type="button" class="link" onclick={() => flow.edit(addOtherSide(flow.document, rule.id))}
            >make the other side?</button
          >
        {:else if wrong !== undefined}
          <span class="lost">the way back arrives at {nameOf(side.level, wrong)};</span>
          <button type="button" class="link" onclick={() => flow.edit(arriveAtDoor(flow.document, rule.id))}
            >arrive at this door?</button
          >
        {:else if twoWay}
          both ways: back by {nameOf(other.level, other.exit!)} in {room};
          <button type="button" class="link" onclick={() => flow.edit(removeDoor(flow.document, other.rule.id, 'this side'))}
            >make it one-way</button
          >
        {/if}
      </span>
    {/if}
    {#if rule.note}<p class="note">{rule.note}</p>{/if}
    {#each partial as text, at (at)}<p class="order">{text}</p>{/each}
    {#each findings as finding, at (at)}<p class="why">{finding}</p>{/each}
  </div>
  <div class="acts">
    {#if rule.if === undefined}{@render condition('+ if', 'link')}{/if}
    <EffectPart {owner} onchange={(effect) => change({ do: [...effects, effect] })} />
    {#if canFail && !otherwise}<TargetPart {rule} target={undefined} otherwise onchange={setOtherwise} />{/if}
    {#if canInsert}
      <button type="button" class="link" title="Insert a place into this move" onclick={insert}>+ place before</button>
    {/if}
    {#if rule.go && !rule.by}<TransitionPart {owner} by={undefined} {effects} onchange={(by) => change({ by })} />{/if}
    <Note value={rule.note} of="this rule" onkeep={(note) => change({ note })} />
    {#if homes.length > 1}
      <select
        class="select select-xs home"
        aria-label="Whose rule it is"
        title="Whose rule it is"
        value={homes.findIndex(({ to }) => same(to, owner))}
        onchange={(event) => give(homes[Number(event.currentTarget.value)]!)}
      >
        {#each homes as { words }, at (at)}<option value={at}>{words}</option>{/each}
      </select>
    {/if}
    {#if !rule.go}<TargetPart {rule} target={undefined} onchange={setTarget} />{/if}
    {#if rule.go && level}
      <select
        class="select select-xs"
        aria-label="Result"
        value={rule.result ?? ''}
        onchange={(event) => change({ result: (event.currentTarget.value || undefined) as Rule['result'] })}
        disabled={'move' in rule.go && rule.go.move === 'back'}
      >
        <option value="">neither</option>
        <option value="won">wins</option>
        <option value="lost">loses</option>
      </select>
    {/if}
    {#if count > 1}
      <button
        type="button"
        class="btn btn-xs btn-square"
        title="Read earlier"
        aria-label="Read earlier"
        disabled={index === 0}
        onclick={() => flow.edit(moveRule(flow.document, rule.id, index - 1))}>↑</button
      >
      <button
        type="button"
        class="btn btn-xs btn-square"
        title="Read later"
        aria-label="Read later"
        disabled={index >= count - 1}
        onclick={() => flow.edit(moveRule(flow.document, rule.id, index + 1))}>↓</button
      >
    {/if}
    <button
      type="button"
      class="btn btn-xs btn-square"
      title={twoWay ? 'Delete this door, both sides' : 'Delete this rule'}
      aria-label={twoWay ? 'Delete this door, both sides' : 'Delete this rule'}
      onclick={() => flow.edit(twoWay ? removeDoor(flow.document, rule.id) : removeRule(flow.document, rule.id))}>×</button
    >
  </div>
</div>

<style>
  .sentence {
    position: relative;
    padding: 6px 8px 4px;
    margin-bottom: 12px;
    background: var(--tile);
    border-left: 4px solid var(--plain);
  }
  .sentence[data-result='won'] {
    border-left-color: var(--won);
  }
  .sentence[data-result='lost'] {
    border-left: 4px dashed var(--lost);
  }
  .bad {
    background: var(--lost-wash);
  }
  .says {
    line-height: 1.55;
  }
  .order,
  .note {
    color: var(--dim);
    font-size: 12px;
    line-height: 1.35;
  }
  .note {
    font-style: italic;
  }
  .why {
    color: var(--lost);
    font-size: 12px;
    line-height: 1.35;
  }
  /*
   * Stands in the gap above the sentence, over the words of neither, so that nothing moves when it comes. Hidden it must not
   * hide the panel opened from it.
   */
  .acts {
    position: absolute;
    right: 0;
    bottom: calc(100% - 10px);
    max-width: 100%;
    display: flex;
    flex-wrap: wrap;
    visibility: hidden;
    align-items: center;
    gap: 2px;
    padding: 1px 4px;
    font-size: 12px;
    white-space: nowrap;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-content);
    z-index: 3;
  }
  .acts > :global(.link) {
    padding: 0 4px;
  }
  .sentence:hover .acts,
  .sentence:focus-within .acts {
    visibility: visible;
  }
  .acts select {
    width: 68px;
  }
  .acts .home {
    width: 104px;
  }
</style>
