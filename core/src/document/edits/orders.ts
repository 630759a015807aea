/** Edits of orders that are drawn: the rows of a table. */
import { change, together, type Change } from '../patch.ts';
import type { FlowDocument, Id, TableOrder } from '../types.ts';
import { randomFrom } from '../random.ts';

const tableOf = (document: FlowDocument, order: Id) => document.orders[order] as TableOrder;

/** Replaces one row of a table. */
export function setRow(document: FlowDocument, order: Id, row: number, levels: Id[]): Change {
  const { name } = tableOf(document, order);
  return change(document, `${name}: row ${row + 1}`, [{ op: 'replace', path: `/orders/${order}/rows/${row}`, value: levels }]);
}

/** Adds a row, at first as the levels are listed. */
export function addRow(document: FlowDocument, order: Id): Change {
  const { name, levels } = tableOf(document, order);
  return change(document, `${name}: one more row`, [{ op: 'add', path: `/orders/${order}/rows/-`, value: [...levels] }]);
}

/** Removes a row; the last one stays. */
export function removeRow(document: FlowDocument, order: Id, row: number): Change {
  const { name, rows } = tableOf(document, order);
  if (rows.length === 1) return change(document, `${name} keeps its row`, []);
  return change(document, `${name}: delete row ${row + 1}`, [{ op: 'remove', path: `/orders/${order}/rows/${row}` }]);
}

/** Makes a row hold each level of the order once: repeats and strangers go, what is missing is shuffled in. */
export function completeRow(document: FlowDocument, order: Id, row: number): Change {
  const { levels, rows } = tableOf(document, order);
  const kept = [...new Set(rows[row]!)].filter((level) => levels.includes(level));
  const missing = levels.filter((level) => !kept.includes(level));
  return setRow(
    document,
    order,
    row,
    missing.reduce((levels, level) => shuffledIn(levels, level, row), kept)
  );
}

/** A row with one more level at a random place, which is the same each time: were it last in every row, no draw would move it. */
export function shuffledIn(levels: Id[], level: Id, row: number): Id[] {
  const random = randomFrom(row * 977 + levels.length);
  return levels.toSpliced(Math.floor(random() * (levels.length + 1)), 0, level);
}

/** Makes every row hold each level once. */
export function completeRows(document: FlowDocument, order: Id): Change {
  const { name, rows } = tableOf(document, order);
  const edits = rows.map((_, row) => (now: FlowDocument) => completeRow(now, order, row));
  return together(document, `${name}: each row with each level once`, ...edits);
}

/** Replaces the rows by `count` shuffled ones; the same seed gives the same rows. */
export function shuffledRows(document: FlowDocument, order: Id, count: number, seed: number): Change {
  const { name, levels } = tableOf(document, order);
  const random = randomFrom(seed);
  const rows = Array.from({ length: count }, () => shuffled(levels, random));
  return change(document, `${name}: ${count} shuffled rows, seed ${seed}`, [
    { op: 'replace', path: `/orders/${order}/rows`, value: rows }
  ]);
}

/** Each arrangement equally likely (Fisher and Yates). */
export function shuffled<T>(list: readonly T[], random: () => number): T[] {
  const result = [...list];
  for (let last = result.length - 1; last > 0; last--) {
    const at = Math.floor(random() * (last + 1));
    [result[last], result[at]] = [result[at]!, result[last]!];
  }
  return result;
}
