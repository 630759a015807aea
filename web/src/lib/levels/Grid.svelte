<script lang="ts">
  import { tick } from 'svelte';
  import type { Column } from '@crow-lane/core/sheet/columns';
  import { flowContext } from '$lib/flow/context.ts';
  import { follow } from '$lib/parts/follow.ts';
  import { bestWords, figureWords } from '@crow-lane/core/words/times';
  import Mark from '$lib/parts/Mark.svelte';
  import { rowsInSight } from '$lib/parts/rows.ts';
  import type { Sheet } from './sheet.svelte.ts';
  import { shownVerdicts, verdictColumns } from './verdict-columns.ts';

  /** The sheet itself: one row a level, typed into like a spreadsheet. Only the rows in sight are there. */
  let { sheet }: { sheet: Sheet } = $props();
  const { flow, checks, view } = flowContext();
  const rowHeight = 26;
  /** Of levels with a plan: how long they take at the least. */
  const figures = $derived(checks.report?.times);
  /** So many columns stand between the name and what can be typed. */
  const lead = $derived(verdictColumns.length + (figures ? 1 : 0));
  const outcomes = $derived(shownVerdicts(checks.report, checks.marks));
  const widths = (column: Column) =>
    column.key === 'name'
      ? 150
      : column.key === 'group'
        ? 104
        : column.kind === 'number'
          ? 72
          : column.kind === 'text'
            ? 150
            : 168;
  const template = $derived(
    [
      '38px',
      `${widths(sheet.columns[0]!)}px`,
      ...verdictColumns.map(() => '50px'),
      ...(figures ? ['62px'] : []),
      ...sheet.columns.slice(1).map((each) => `${widths(each)}px`)
    ].join(' ')
  );

  let box: HTMLDivElement | undefined = $state();
  const { virtual, count } = rowsInSight(() => box, rowHeight);
  $effect(() => count(sheet.rows.length, sheet.active.row));

  /** Brings the active cell into sight and gives it the focus. */
  async function show() {
    $virtual.scrollToIndex(sheet.active.row, { align: 'auto' });
    // a row that was out of sight is there a frame or two later
    let cell: HTMLElement | null | undefined;
    for (let frames = 0; !cell && frames < 10; frames++) {
      await (frames === 0 ? tick() : new Promise((next) => requestAnimationFrame(next)));
      cell = box?.querySelector<HTMLElement>('[data-active]');
    }
    cell?.focus({ preventScroll: true });
    cell?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    const level = sheet.rows[sheet.active.row]?.level;
    if (level !== undefined) view.select(level, false);
  }

  function go(row: number, column: number, extend = false) {
    sheet.goTo({ row, column }, extend);
    void show();
  }

  async function type(text: string) {
    if (!sheet.columns[sheet.active.column]!.write) {
      flow.notice = {
        bad: true,
        text: `${sheet.columns[sheet.active.column]!.title} is worked out from the rules: change them on the desk.`
      };
      return;
    }
    sheet.typing = text;
    await tick();
    const input = box?.querySelector<HTMLInputElement>('.editor');
    input?.focus();
    input?.setSelectionRange(text.length, text.length);
  }

  /** Keeps what is typed and goes on; where it cannot be kept one stays. */
  function keepAnd(row: number, column: number) {
    if (sheet.keep()) go(row, column);
  }

  function key(event: KeyboardEvent) {
    const { row, column } = sheet.active;
    const typing = sheet.typing !== undefined;
    const command = event.ctrlKey || event.metaKey;
    const page = Math.max(1, Math.floor((box?.clientHeight ?? 400) / rowHeight) - 2);
    if (typing) {
      if (event.key === 'Escape') {
        sheet.typing = undefined;
        void show();
      } else if (event.key === 'Enter' && command) {
        if (sheet.keep(true)) void show();
      } else if (event.key === 'Enter') keepAnd(row + (event.shiftKey ? -1 : 1), column);
      else if (event.key === 'Tab') keepAnd(row, column + (event.shiftKey ? -1 : 1));
      else return;
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      sheet.move(event.key === 'ArrowUp' ? -1 : 1);
      void show();
    } else if (event.altKey) return;
    else if (event.key === 'ArrowUp') go(command ? 0 : row - 1, column, event.shiftKey);
    else if (event.key === 'ArrowDown') go(command ? sheet.rows.length - 1 : row + 1, column, event.shiftKey);
    else if (event.key === 'ArrowLeft') go(row, command ? 0 : column - 1, event.shiftKey);
    else if (event.key === 'ArrowRight') go(row, command ? sheet.columns.length - 1 : column + 1, event.shiftKey);
    else if (event.key === 'PageUp') go(row - page, column, event.shiftKey);
    else if (event.key === 'PageDown') go(row + page, column, event.shiftKey);
    else if (event.key === 'Home') go(command ? 0 : row, 0, event.shiftKey);
    else if (event.key === 'End') go(command ? sheet.rows.length - 1 : row, sheet.columns.length - 1, event.shiftKey);
    else if (command && event.key.toLowerCase() === 'a') {
      sheet.anchor = { row: 0, column: 0 };
      sheet.active = { row: sheet.rows.length - 1, column: sheet.columns.length - 1 };
    } else if (command && event.key.toLowerCase() === 'd') sheet.fillDown();
    else if (command) return;
    else if (event.key === 'Enter' || event.key === 'F2') void type(sheet.read(sheet.active));
    else if (event.key === 'Delete' || event.key === 'Backspace') sheet.clear();
    // a key that writes begins the cell anew
    else if (event.key.length === 1) void type(event.key);
    else return;
    event.preventDefault();
    // what is a key here is none of the page's
    if (!(event.key === '?' || event.key === '/')) return;
    event.stopPropagation();
  }

  function clip(event: ClipboardEvent) {
    if (sheet.typing !== undefined) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.type === 'paste') sheet.paste(event.clipboardData?.getData('text/plain') ?? '');
    else {
      event.clipboardData?.setData('text/plain', sheet.copy());
      if (event.type === 'cut') sheet.clear();
    }
  }

  /** A press selects, a drag from there a block. */
  function press(event: PointerEvent, row: number, column: number) {
    if (event.button !== 0 || (event.target as Element).closest('.editor')) return;
    if (sheet.typing !== undefined && !sheet.keep()) return;
    event.preventDefault();
    go(row, column, event.shiftKey);
    follow(
      (move) => {
        const over = document.elementFromPoint(move.clientX, move.clientY)?.closest<HTMLElement>('[data-row]')?.dataset;
        if (over?.row === undefined || over.column === undefined) return;
        sheet.goTo({ row: Number(over.row), column: Number(over.column) }, true);
      },
      () => {}
    );
  }

  /** A row dragged by its number, and before which row it would stand. */
  let dragged: { from: number; to: number } | undefined = $state.raw();

  function dragRow(event: PointerEvent, row: number) {
    const { order } = sheet.rows[row]!;
    if (event.button !== 0 || order === undefined) return;
    event.preventDefault();
    go(row, 0);
    if (sheet.sort) {
      flow.notice = {
        bad: true,
        text: 'The rows are sorted: select the head of the sorted column until they stand in the order of play.'
      };
      return;
    }
    follow(
      (move) => {
        const over = document.elementFromPoint(move.clientX, move.clientY)?.closest<HTMLElement>('[data-row]');
        if (!over) return;
        const { top, height } = over.getBoundingClientRect();
        const at = Number(over.dataset.row) + (move.clientY > top + height / 2 ? 1 : 0);
        dragged = { from: row, to: at };
      },
      (up) => {
        const done = dragged;
        dragged = undefined;
        if (!up || !done) return;
        const level = sheet.rows[done.from]!.level;
        const before = sheet.rows.slice(0, done.to).filter((each) => each.order === order && each.level !== level);
        sheet.moveTo(order, [level], before.length);
      }
    );
  }

  const inBlock = (row: number, column: number) =>
    row >= sheet.block.top && row <= sheet.block.bottom && column >= sheet.block.left && column <= sheet.block.right;
  const sorting = (key: string) =>
    sheet.sort?.column === key ? (sheet.sort.down ? ('descending' as const) : ('ascending' as const)) : undefined;
</script>

{#snippet cell(row: number, column: number)}
  {@const of = sheet.columns[column]!}
  {@const active = sheet.active.row === row && sheet.active.column === column}
  {@const text = sheet.read({ row, column })}
  <div
    class="cell {of.kind}"
    class:pinned={column === 0}
    class:in={inBlock(row, column)}
    class:active
    role="gridcell"
    tabindex={active ? 0 : -1}
    aria-colindex={column === 0 ? 2 : column + 2 + lead}
    aria-readonly={of.write ? undefined : 'true'}
    aria-selected={inBlock(row, column)}
    data-active={active ? '' : undefined}
    data-row={row}
    data-column={column}
    title={text.length > 18 ? text : undefined}
    onpointerdown={(event) => press(event, row, column)}
    ondblclick={() => type(text)}
  >
    {#if active && sheet.typing !== undefined}
      <input
        class="editor"
        aria-label="{of.title} of {flow.document.places[sheet.rows[row]!.level]!.name}"
        list={of.key === 'group' ? 'sheet-groups' : undefined}
        maxlength="4000"
        bind:value={sheet.typing}
        onblur={() => sheet.typing !== undefined && sheet.keep()}
      />
    {:else}{text}{/if}
  </div>
{/snippet}

<!-- the grid is one stop for Tab; its own keys move in it -->
<div
  class="sheet"
  bind:this={box}
  role="grid"
  tabindex="-1"
  aria-label="Levels"
  aria-rowcount={sheet.rows.length + 1}
  aria-colcount={sheet.columns.length + 1 + lead}
  aria-multiselectable="true"
  onkeydown={key}
  oncopy={clip}
  oncut={clip}
  onpaste={clip}
>
  <div class="head line" role="row" aria-rowindex="1" style:grid-template-columns={template}>
    <div class="cell no pinned" role="columnheader" aria-colindex="1">No.</div>
    {#each sheet.columns as column, index (column.key)}
      <div
        class="cell"
        class:pinned={index === 0}
        role="columnheader"
        aria-colindex={index === 0 ? 2 : index + 2 + lead}
        aria-sort={sorting(column.key)}
      >
        <button type="button" title="Show the levels by {column.title.toLowerCase()}" onclick={() => sheet.sortBy(column.key)}
          >{column.title}{sorting(column.key) ? (sheet.sort!.down ? ' ▼' : ' ▲') : ''}</button
        >
      </div>
      {#if index === 0}
        {#each verdictColumns as { check, title }, n (check)}
          <div class="cell mark" role="columnheader" aria-colindex={3 + n}>{title}</div>
        {/each}
        {#if figures}<div class="cell mark" role="columnheader" aria-colindex={2 + lead}>best (s)</div>{/if}
      {/if}
    {/each}
  </div>
  <div class="rows" role="presentation" style:height="{$virtual.getTotalSize()}px">
    {#each $virtual.getVirtualItems() as item (sheet.rows[item.index]?.level ?? item.index)}
      <!-- each on its own, so that a row that stays where it is is not drawn anew while one scrolls -->
      {@const row = item.index}
      {@const start = item.start}
      {@const at = sheet.rows[row]}
      {#if at}
        <div
          class="line"
          class:before={dragged?.to === row}
          role="row"
          aria-rowindex={row + 2}
          data-level={at.level}
          style:grid-template-columns={template}
          style:transform="translateY({start}px)"
        >
          <div
            class="cell no pinned"
            role="gridcell"
            tabindex="-1"
            aria-colindex="1"
            data-row={row}
            title={at.order === undefined
              ? 'In no order'
              : `In ${flow.document.orders[at.order]!.name}: drag it to another place`}
            onpointerdown={(event) => dragRow(event, row)}
          >
            {at.number ?? '–'}
          </div>
          {#each sheet.columns as column, index (column.key)}
            {@render cell(row, index)}
            {#if index === 0}
              {#each verdictColumns as { check }, n (check)}
                {@const found = outcomes.get(`${check} ${at.level}`)}
                <div class="cell mark" role="gridcell" aria-colindex={3 + n} title={found?.message}>
                  <Mark mark={found?.mark} />
                </div>
              {/each}
              {#if figures}
                {@const figure = figures[at.level]}
                <div class="cell mark" role="gridcell" aria-colindex={2 + lead} title={figure && figureWords(figure)} data-best>
                  {figure ? bestWords(figure) : ''}
                </div>
              {/if}
            {/if}
          {/each}
        </div>
      {/if}
    {/each}
  </div>
  {#if sheet.rows.length === 0}<p class="none">No level here.</p>{/if}
</div>
<datalist id="sheet-groups">
  {#each Object.entries(flow.document.groups) as [id, { name }] (id)}<option value={name}></option>{/each}
</datalist>

<style>
  .sheet {
    position: relative;
    overflow: auto;
    min-height: 0;
    background: var(--color-base-100);
    font-size: 12px;
  }
  .line {
    display: grid;
    width: max-content;
  }
  .head {
    position: sticky;
    top: 0;
    height: 44px;
    z-index: 3;
    background: var(--color-base-200);
  }
  .head .cell {
    height: 44px;
    display: flex;
    align-items: end;
    padding-bottom: 3px;
    font-weight: 700;
    line-height: 1.15;
    background: var(--color-base-200);
    border-bottom: 2px solid var(--color-base-content);
    white-space: normal;
  }
  .head button {
    text-align: left;
    cursor: pointer;
  }
  .rows {
    position: relative;
  }
  .rows .line {
    position: absolute;
    top: 0;
    left: 0;
  }
  .before::before {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    top: -2px;
    height: 4px;
    background: var(--color-accent);
    z-index: 2;
  }
  .cell {
    height: 26px;
    padding: 4px 6px;
    overflow: hidden;
    white-space: nowrap;
    text-overflow: ellipsis;
    border-right: 1px solid var(--color-base-300);
    border-bottom: 1px solid var(--color-base-300);
    background: var(--color-base-100);
    cursor: cell;
  }
  .pinned {
    position: sticky;
    left: 38px;
    z-index: 1;
    font-weight: 700;
    border-right: 2px solid var(--color-base-content);
  }
  .no {
    left: 0;
    text-align: right;
    border-right-width: 1px;
    cursor: grab;
  }
  .head .pinned {
    z-index: 4;
  }
  .number {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .words,
  .mark {
    color: var(--dim);
    background: var(--color-base-200);
  }
  .mark {
    display: grid;
    place-items: center;
    padding: 0 2px;
  }
  .head .mark {
    font-size: 10px;
    font-weight: 400;
    text-align: center;
    padding-bottom: 3px;
    place-items: end center;
  }
  .in {
    background: var(--pick-wash);
  }
  .active {
    outline: 2px solid var(--color-accent);
    outline-offset: -2px;
    z-index: 1;
  }
  .cell:focus-visible {
    outline: 3px solid var(--color-base-content);
    outline-offset: -3px;
  }
  .editor {
    width: 100%;
    height: 100%;
    background: transparent;
    outline: none;
  }
  .cell:has(.editor) {
    overflow: visible;
  }
  .none {
    padding: 20px;
    color: var(--dim);
  }
</style>
