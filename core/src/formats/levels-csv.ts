/** The sheet of levels as text: comma-separated as RFC 4180 has it for files, tab-separated for clipboards. */
import Papa from 'papaparse';
import { cut } from '../document/cut.ts';
import { addLevels, begunOrder } from '../document/edits/levels.ts';
import { apply, Series, type Change } from '../document/patch.ts';
import { levelsOf, type FlowDocument, type Id } from '../document/types.ts';
import { columnsOf, newPieceColumn, noteColumn, writeCells, type CellEntry } from '../sheet/columns.ts';

/** The levels with all their columns, a header above them. */
export function writeCsv(document: FlowDocument, levels: Id[] = levelsOf(document).map(([id]) => id)): string {
  const columns = columnsOf(document);
  const rows = levels.map((level) => columns.map((column) => column.read(document, level)));
  return Papa.unparse([columns.map(({ title }) => title), ...rows], { newline: '\r\n', escapeFormulae: formula }) + '\r\n';
}

/**
 * What a spreadsheet would take for a formula and run. Such a cell is written with an apostrophe before it, as people mark
 * text in spreadsheets; one that begins with apostrophes and then looks so gets one more, so that all read back as they were.
 */
export const formula = /^'*[=+\-@\t\r].*$/s;
const unmarked = (cell: string) => (cell.startsWith("'") && formula.test(cell) ? cell.slice(1) : cell);

/** A block of cells as spreadsheets put it on the clipboard. */
export function writeBlock(cells: string[][]): string {
  return Papa.unparse(cells, { delimiter: '\t', newline: '\n', escapeFormulae: formula });
}

export function readBlock(text: string): string[][] {
  // a spreadsheet ends its last row too
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' });
  return data.map((row) => row.map(unmarked));
}

/** What a column of a file is read as: a column of the sheet, pieces or notes of its title, or nothing. */
export type ReadAs = { column: string } | 'piece' | 'note' | 'nothing';

/** A file of levels before it is taken: its header, its rows, and what its columns most likely are. */
export interface LevelTable {
  titles: string[];
  guess: ReadAs[];
  rows: { cells: string[]; line: number; broken?: string }[];
}

/** A cell that could not be taken, or a row where no `title` is given. Lines are counted as in the file, the header's too. */
export interface BadCell {
  line: number;
  title?: string;
  text?: string;
  reason: string;
}

export interface Imported {
  change: Change;
  added: number;
  changed: number;
  refused: BadCell[];
}

const isBlank = (row: string[]) => row.every((cell) => cell.trim() === '');
const headerOf = (rows: string[][]) => rows.findIndex((row) => !isBlank(row));
/** What a sheet calls "Lamp", a file may call "Lamps". */
const singular = (text: string) => lower(text).replace(/s$/, '');
const lower = (text: string) => text.trim().toLowerCase();

/** What people call the columns of the sheet. */
const otherNames: Record<string, string[]> = {
  name: ['level', 'title', 'level name'],
  group: ['world', 'chapter', 'area', 'region'],
  brief: ['notes', 'note', 'description', 'comment', 'comments'],
  next: ['goes to', 'exit to'],
  deadline: ['deadline', 'time limit', 'seconds'],
  won: ['goal', 'win', 'win condition'],
  lost: ['lose', 'lose condition', 'fail']
};

/** Cells stand apart by what makes the header name a column that is known; what notes hold would mislead a guess. */
function parsed(text: string): Papa.ParseResult<string[]> {
  const read = [',', ';', '\t'].map((delimiter) => Papa.parse<string[]>(text, { delimiter }));
  const names = ['name', ...otherNames.name!];
  return (
    read.find(({ data }) => data[headerOf(data)]?.some((title) => names.includes(lower(unmarked(title))))) ??
    read.sort((a, b) => (b.data[headerOf(b.data)]?.length ?? 0) - (a.data[headerOf(a.data)]?.length ?? 0))[0]!
  );
}

/** Reads a file as a table; undefined where there is nothing in it. */
export function readTable(document: FlowDocument, text: string): LevelTable | undefined {
  // blank lines are passed over but counted, so that a row is found where it is said to be
  const { data, errors } = parsed(text.replace(/^\uFEFF/, ''));
  const headerAt = headerOf(data);
  if (headerAt < 0) return undefined;
  const titles = data[headerAt]!.map((title) => unmarked(title).trim());
  const rows = data.flatMap((row, index) => {
    if (index <= headerAt || isBlank(row)) return [];
    const broken = errors.find((error) => error.row === index)?.message;
    return [{ cells: row.map(unmarked), line: index + 1, ...(broken !== undefined && { broken }) }];
  });
  const known = columnsOf(document);
  const guess = titles.map((title, at): ReadAs => {
    if (title === '') return 'nothing';
    const column =
      known.find((each) => lower(each.title) === lower(title)) ??
      known.find(({ key, title: has }) => key.startsWith('piece ') && singular(has) === singular(title)) ??
      known.find(({ key }) => otherNames[key]?.includes(lower(title)) && !titles.some((other) => lower(other) === key));
    if (column) return { column: column.key };
    const cells = rows.flatMap((row) => row.cells[at]?.trim() || []);
    return cells.length > 0 && cells.every((cell) => /^\d{1,4}$/.test(cell)) ? 'piece' : 'note';
  });
  // without a name column the first of texts is the name
  if (!guess.some((each) => isColumn(each, 'name'))) {
    const at = guess.indexOf('note');
    if (at >= 0) guess[at] = { column: 'name' };
  }
  return { titles, guess, rows };
}

const isColumn = (as: ReadAs | undefined, key: string) => typeof as === 'object' && as.column === key;
/** Blank cells of these say nothing, as they are worked out from the rules where nothing is typed. */
const saidByRules = ['won', 'lost', 'next', 'deadline'];

/**
 * Takes levels from a table: a row whose name a level has changes that level, another adds one last in the order. `as` says
 * what each column is read as. A row with a bad cell is left out whole, and each of its bad cells is told.
 */
export function takeTable(
  document: FlowDocument,
  { titles, rows, guess }: LevelTable,
  order: Id | undefined,
  as: ReadAs[] = guess
): Imported | { error: string } {
  const nameAt = as.findIndex((each) => isColumn(each, 'name'));
  if (nameAt < 0) return { error: 'One of the columns has to be the name of the levels.' };
  const known = columnsOf(document);
  const columns = as.map((each, at) => {
    if (each === 'nothing') return undefined;
    if (each === 'piece') return newPieceColumn(document, cut(titles[at]!, 80));
    return each === 'note' ? noteColumn(titles[at]!) : known.find(({ key }) => key === each.column);
  });
  const twice = columns.find((column, at) => column && columns.findIndex((other) => other?.key === column.key) !== at);
  if (twice) return { error: `Two columns are read as ${twice.title}.` };
  const more = columns.flatMap((column) => (column && !known.includes(column) ? [column] : []));
  const writable = columns.map((column) => (column?.write && column.key !== 'name' ? column : undefined));

  const refused: BadCell[] = [];
  const series = new Series(document);
  let [added, changed] = [0, 0];
  const seen = new Set<string>();
  for (const { cells, line, broken } of rows) {
    const given = cells[nameAt] ?? '';
    const name = levelsOf(series.now).some(([, each]) => each.name === given) ? given : given.trim();
    const wrong = broken ?? wrongRow(cells, titles.length, name, seen);
    if (wrong !== undefined) {
      refused.push({ line, reason: wrong });
      continue;
    }
    seen.add(name);
    const level = levelsOf(series.now).find(([, each]) => each.name === name)?.[0];
    const trial = level === undefined ? addLevels(series.now, order ?? begunOrder(document, series.now), 1, name) : undefined;
    const base = trial ? apply(series.now, trial.patch) : series.now;
    const id = level ?? trial!.ids[0]!;
    const entries = writable.flatMap((column, at): CellEntry[] => {
      const text = cells[at];
      if (!column || text === undefined || (text.trim() === '' && (trial || saidByRules.includes(column.key)))) return [];
      return [{ level: id, column: column.key, text }];
    });
    const written = writeCells(base, entries, more);
    for (const { column, text, reason } of written.refused)
      refused.push({ line, title: titles[columns.findIndex((each) => each?.key === column)]!, text, reason });
    if (written.refused.length > 0) continue;
    if (trial) series.make(trial);
    if (written.change.patch.length > 0) series.make(written.change);
    if (trial) added++;
    else if (written.change.patch.length > 0) changed++;
  }
  const change = series.whole(`Levels from a file: ${added} added, ${changed} changed`);
  return { change, added, changed, refused };
}

function wrongRow(cells: string[], columns: number, name: string, seen: Set<string>): string | undefined {
  if (cells.length > columns) return `It has ${cells.length} cells, the header ${columns}.`;
  if (name === '') return 'It has no name.';
  if (name.length > 80) return 'Its name has more than 80 letters.';
  return seen.has(name) ? `The name ${name} is in an earlier row.` : undefined;
}

/** Reads levels from CSV, its columns as they are most likely meant. */
export function readCsv(document: FlowDocument, text: string, order: Id | undefined): Imported | { error: string } {
  const table = readTable(document, text);
  return table ? takeTable(document, table, order) : { error: 'There is nothing in this file.' };
}
