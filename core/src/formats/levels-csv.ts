/** The sheet of levels as text: comma-separated as RFC 4180 has it for files, tab-separated for clipboards. */
import Papa from 'papaparse';
import { addLevels, begunOrder } from '../document/edits/levels.ts';
import { apply, type Change } from '../document/patch.ts';
import { levelsOf, type FlowDocument, type Id } from '../document/types.ts';
import { columnsOf, writeCells, type CellEntry } from '../sheet/columns.ts';

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
const formula = /^'*[=+\-@\t\r].*$/s;
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

/** A row that could not be taken, counted from 1 below the header, as spreadsheets with a header show it from 2. */
export interface BadRow {
  row: number;
  reason: string;
}

export interface Imported {
  change: Change;
  added: number;
  changed: number;
  refused: BadRow[];
}

const isBlank = (row: string[]) => row.every((cell) => cell.trim() === '');
const headerOf = (rows: string[][]) => rows.findIndex((row) => !isBlank(row));
const isName = (title: string) => unmarked(title).trim().toLowerCase() === 'name';

/** Cells stand apart by what makes the header name a column "Name"; what notes hold would mislead a guess. */
function parsed(text: string): Papa.ParseResult<string[]> {
  const read = [',', ';', '\t'].map((delimiter) => Papa.parse<string[]>(text, { delimiter }));
  return read.find(({ data }) => data[headerOf(data)]?.some(isName)) ?? read[0]!;
}

/**
 * Reads levels from CSV: a row whose name a level has changes that level, another adds one last in the order. Columns
 * are known by their titles; those that are worked out are passed over. A bad row is refused whole, the others are taken.
 */
export function readCsv(document: FlowDocument, text: string, order: Id | undefined): Imported | { error: string } {
  // blank lines are passed over but counted, so that a row is found where it is said to be
  const { data, errors } = parsed(text.replace(/^\uFEFF/, ''));
  const headerAt = headerOf(data);
  const [header, ...rows] = data.slice(Math.max(0, headerAt)).map((row) => row.map(unmarked));
  if (headerAt < 0 || !header) return { error: 'There is nothing in this file.' };
  const known = columnsOf(document);
  const columns = header.map((title) => known.find((column) => column.title.toLowerCase() === title.trim().toLowerCase()));
  const nameAt = columns.findIndex((column) => column?.key === 'name');
  if (nameAt < 0) return { error: 'The first row has to name the columns, and one of them has to be "Name".' };
  const unknown = header.filter((title, index) => !columns[index] && title.trim() !== '');
  if (unknown.length > 0) return { error: `There is no column ${unknown.map((title) => `"${title}"`).join(', ')}.` };

  const whole: Change = { label: '', patch: [], inverse: [] };
  const refused: BadRow[] = [];
  let now = document;
  let [added, changed] = [0, 0];
  const take = ({ patch, inverse }: Change) => {
    whole.patch.push(...patch);
    whole.inverse.unshift(...inverse);
    now = apply(now, patch);
  };
  const seen = new Set<string>();
  rows.forEach((cells, index) => {
    if (isBlank(cells)) return;
    const row = index + 1;
    const broken = errors.find((error) => error.row === headerAt + row);
    const given = cells[nameAt] ?? '';
    const name = levelsOf(now).some(([, each]) => each.name === given) ? given : given.trim();
    const refuse = (reason: string) => void refused.push({ row, reason });
    if (broken) return refuse(broken.message);
    if (cells.length > header.length) return refuse(`It has ${cells.length} cells, the header ${header.length}.`);
    if (name === '') return refuse('It has no name.');
    if (name.length > 80) return refuse('Its name has more than 80 letters.');
    if (seen.has(name)) return refuse(`The name ${name} is in an earlier row.`);
    seen.add(name);
    const level = levelsOf(now).find(([, each]) => each.name === name)?.[0];
    const trial = level === undefined ? addLevels(now, order ?? begunOrder(document, now), 1, name) : undefined;
    const base = trial ? apply(now, trial.patch) : now;
    const id = level ?? trial!.ids[0]!;
    const entries = columns.flatMap((column, at): CellEntry[] =>
      column?.write && column.key !== 'name' && cells[at] !== undefined
        ? [{ level: id, column: column.key, text: cells[at] }]
        : []
    );
    const written = writeCells(base, entries);
    if (written.refused.length > 0) {
      const { column, text: value, reason } = written.refused[0]!;
      return refuse(`${known.find(({ key }) => key === column)!.title} "${value}": ${reason}`);
    }
    if (trial) take(trial);
    if (written.change.patch.length > 0) take(written.change);
    if (trial) added++;
    else if (written.change.patch.length > 0) changed++;
  });
  whole.label = `Levels from a file: ${added} added, ${changed} changed`;
  return { change: whole, added, changed, refused };
}
