/** What a sheet of levels shows and what is selected in it; nothing of it is kept with the flow. */
import { levelsOf, type FlowDocument, type Id } from '@crow-lane/core/document/types';
import { readBlock, writeBlock } from '@crow-lane/core/formats/levels-csv';
import { columnsOf, writeCells, type Column, type CellEntry } from '@crow-lane/core/sheet/columns';
import { moveAlong } from '$lib/flow/move.ts';
import type { OpenFlow } from '$lib/flow/open-flow.svelte.ts';

export interface Cell {
  row: number;
  column: number;
}

export interface Row {
  level: Id;
  /** The first order it is in, and its number there. */
  order: Id | undefined;
  number: number | undefined;
}

export class Sheet {
  /** Only levels of this order, of this group, with this text; everything when empty. */
  order = $state('');
  group = $state('');
  text = $state('');
  /** By which column the rows are shown; the order of play itself is not changed by it. */
  sort: { column: string; down: boolean } | undefined = $state.raw(undefined);
  active: Cell = $state.raw({ row: 0, column: 0 });
  /** The other corner of the selected block. */
  anchor: Cell = $state.raw({ row: 0, column: 0 });
  /** What is being typed into the active cell. */
  typing: string | undefined = $state(undefined);

  readonly columns: Column[] = $derived.by(() => columnsOf(this.flow.document));
  readonly rows: Row[] = $derived.by(() => this.sorted(this.filtered(rowsOf(this.flow.document))));
  readonly block = $derived.by(() => ({
    top: Math.min(this.active.row, this.anchor.row),
    bottom: Math.min(Math.max(this.active.row, this.anchor.row), this.rows.length - 1),
    left: Math.min(this.active.column, this.anchor.column),
    right: Math.max(this.active.column, this.anchor.column)
  }));
  /** The levels with a selected cell. */
  readonly levels: Id[] = $derived.by(() => this.rows.slice(this.block.top, this.block.bottom + 1).map(({ level }) => level));

  constructor(private readonly flow: OpenFlow) {}

  private filtered(rows: Row[]): Row[] {
    const { document } = this.flow;
    const text = this.text.trim().toLowerCase();
    return rows.filter(({ level }) => {
      const place = document.places[level]!;
      if (this.order && !document.orders[this.order]?.levels.includes(level)) return false;
      if (this.group && (place.kind !== 'level' || (place.group ?? '-') !== this.group)) return false;
      return text === '' || place.name.toLowerCase().includes(text);
    });
  }

  private sorted(rows: Row[]): Row[] {
    const { sort } = this;
    const column = this.columns.find(({ key }) => key === sort?.column);
    if (!sort || !column) return rows;
    const words = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });
    const keyed = rows.map((row) => ({ row, text: column.read(this.flow.document, row.level) }));
    // what says nothing comes last either way
    keyed.sort((a, b) =>
      a.text === '' || b.text === ''
        ? Number(a.text === '') - Number(b.text === '')
        : words.compare(a.text, b.text) * (sort.down ? -1 : 1)
    );
    return keyed.map(({ row }) => row);
  }

  sortBy(column: string): void {
    const { sort } = this;
    this.sort = sort?.column !== column ? { column, down: false } : sort.down ? undefined : { column, down: true };
  }

  goTo({ row, column }: Cell, extend = false): void {
    this.active = {
      row: Math.min(Math.max(0, row), Math.max(0, this.rows.length - 1)),
      column: Math.min(Math.max(0, column), this.columns.length - 1)
    };
    if (!extend) this.anchor = this.active;
    this.typing = undefined;
  }

  read({ row, column }: Cell): string {
    const at = this.rows[row];
    return at ? this.columns[column]!.read(this.flow.document, at.level) : '';
  }

  /** Writes cells as one edit; tells what could not be. */
  private write(cells: CellEntry[]): boolean {
    const { change, refused } = writeCells(this.flow.document, cells);
    this.flow.edit(change);
    const [first] = refused;
    if (!first) return true;
    const where = `${this.flow.document.places[first.level]!.name}, ${this.columns.find(({ key }) => key === first.column)!.title}`;
    const more = refused.length > 1 ? ` ${refused.length - 1} more cells were not taken either.` : '';
    this.flow.notice = { bad: true, text: `${where}: ${first.reason}${more}` };
    return false;
  }

  /** Keeps what is typed in the active cell, or with `all` in every selected one. Tells whether it could be. */
  keep(all = false): boolean {
    const { typing, active } = this;
    if (typing === undefined) return true;
    const cells = all ? this.cells() : [active];
    const written = this.write(cells.flatMap((cell) => this.entry(cell, typing)));
    if (written) this.typing = undefined;
    return written;
  }

  clear(): void {
    // a cell that cannot be empty, and one that is worked out, is left alone
    const cells = this.cells().filter(({ column }) => this.columns[column]!.write && this.columns[column]!.key !== 'name');
    this.write(cells.flatMap((cell) => this.entry(cell, '')));
  }

  fillDown(): void {
    const { top } = this.block;
    const below = this.cells().filter(({ row, column }) => row > top && this.columns[column]!.write);
    this.write(below.flatMap((cell) => this.entry(cell, this.read({ row: top, column: cell.column }))));
  }

  copy(): string {
    const { top, bottom, left, right } = this.block;
    const rows = Array.from({ length: bottom - top + 1 }, (_, n) => top + n);
    const columns = Array.from({ length: right - left + 1 }, (_, n) => left + n);
    return writeBlock(rows.map((row) => columns.map((column) => this.read({ row, column }))));
  }

  paste(text: string): void {
    const cells = readBlock(text);
    const { top, bottom, left, right } = this.block;
    const [first] = cells;
    if (!first) return;
    const single = cells.length === 1 && first.length === 1;
    if (single) {
      this.write(this.cells().flatMap((cell) => this.entry(cell, first[0]!)));
      return;
    }
    const entries = cells.flatMap((row, n) => row.flatMap((each, m) => this.entry({ row: top + n, column: left + m }, each)));
    const over = top + cells.length - this.rows.length;
    const written = this.write(entries);
    this.anchor = { row: top, column: left };
    this.active = {
      row: Math.max(bottom, Math.min(top + cells.length, this.rows.length) - 1),
      column: Math.max(right, Math.min(left + first.length, this.columns.length) - 1)
    };
    if (over > 0 && written)
      this.flow.notice = {
        bad: true,
        text: `${over} ${over === 1 ? 'row is' : 'rows are'} left over: there are no more levels. Add some, and paste again.`
      };
  }

  private cells(): Cell[] {
    const { top, bottom, left, right } = this.block;
    const found: Cell[] = [];
    for (let row = top; row <= bottom; row++) for (let column = left; column <= right; column++) found.push({ row, column });
    return found;
  }

  private entry({ row, column }: Cell, text: string): CellEntry[] {
    const [at, of] = [this.rows[row], this.columns[column]];
    return at && of ? [{ level: at.level, column: of.key, text }] : [];
  }

  /** Moves the selected levels along the order they stand in. */
  move(by: 1 | -1): void {
    const order = this.rows[this.block.top]?.order;
    if (order === undefined || this.sort) return;
    const { levels } = this.flow.document.orders[order]!;
    const moved = this.levels.filter((id) => levels.includes(id));
    const first = levels.indexOf(moved[0]!);
    const rest = levels.filter((id) => !moved.includes(id)).length;
    if (first + by < 0 || first + by > rest) return;
    this.moveTo(order, moved, first + by);
    this.active = { ...this.active, row: this.active.row + by };
    this.anchor = { ...this.anchor, row: this.anchor.row + by };
  }

  moveTo(order: Id, levels: Id[], index: number): void {
    moveAlong(this.flow, order, levels, index);
  }
}

/** The levels as they are played: order by order, each once, those in none last. */
function rowsOf(document: FlowDocument): Row[] {
  const rows: Row[] = [];
  const seen = new Set<Id>();
  const levels = new Set(levelsOf(document).map(([id]) => id));
  for (const [order, { levels: listed }] of Object.entries(document.orders)) {
    listed.forEach((level, index) => {
      if (!levels.has(level) || seen.has(level)) return;
      seen.add(level);
      rows.push({ level, order, number: index + 1 });
    });
  }
  for (const level of levels) if (!seen.has(level)) rows.push({ level, order: undefined, number: undefined });
  return rows;
}
