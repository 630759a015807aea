/** What a drawn order gives: how likely runs are alike, what a row lacks, and some runs to look at. */
import { shuffled } from '../document/edits/orders.ts';
import { own, type FlowDocument, type Id, type Order, type Target } from '../document/types.ts';
import { rulesReadIn } from '../play/reading.ts';
import { placeName, targetWords } from '../words/words.ts';

/** How many times as likely each different run is, as chances that add up to 1; of a bag all are equal. */
function chancesOf(order: Order): { chance: number; kinds: number }[] {
  if (order.draw === 'fixed') return [{ chance: 1, kinds: 1 }];
  if (order.draw === 'table') {
    const counts = new Map<string, number>();
    for (const row of order.rows) counts.set(row.join(' '), (counts.get(row.join(' ')) ?? 0) + 1);
    return [...counts.values()].map((count) => ({ chance: count / order.rows.length, kinds: 1 }));
  }
  const kinds = order.levels.reduce((product, _, index) => product * (index + 1), 1);
  return [{ chance: 1 / kinds, kinds }];
}

/** The chance that two runs in succession have the same order. */
export function alikeTwice(order: Order): number {
  return chancesOf(order).reduce((sum, { chance, kinds }) => sum + kinds * chance * chance, 0);
}

/**
 * The chance that among `runs` runs at least `alike` have the same order: 1 less the chance that each order is drawn
 * fewer times, which is runs! times the coefficient of x^runs in the product of the truncated exponential series.
 */
export function alikeAmong(order: Order, alike: number, runs: number): number {
  if (alike > runs) return 0;
  if (alike <= 1) return 1;
  const times = (a: number[], b: number[]) => {
    const product = Array.from({ length: runs + 1 }, () => 0);
    a.forEach((x, i) => b.forEach((y, j) => i + j <= runs && (product[i + j]! += x * y)));
    return product;
  };
  let series = [1];
  for (const { chance, kinds } of chancesOf(order)) {
    let one: number[] = [];
    for (let n = 0, term = 1; n < alike && n <= runs; n++, term = (term * chance) / n) one.push(term);
    // the same factor for each of many equal orders: by repeated squaring
    for (let left = kinds; left >= 1; left = Math.floor(left / 2)) {
      if (left % 2 === 1) series = times(series, one);
      one = times(one, one);
    }
  }
  let factorial = 1;
  for (let n = 2; n <= runs; n++) factorial *= n;
  return Math.min(1, Math.max(0, 1 - (series[runs] ?? 0) * factorial));
}

/** What is wrong with each cell of a row, and what the row lacks. */
export function rowFaults(order: Order, row: Id[]): { cells: ('repeat' | 'stranger' | undefined)[]; missing: Id[] } {
  const cells = row.map((level, index) =>
    !order.levels.includes(level) ? ('stranger' as const) : row.indexOf(level) < index ? ('repeat' as const) : undefined
  );
  return { cells, missing: order.levels.filter((level) => !row.includes(level)) };
}

/** The levels of one run, in the order in which they are played. */
export function drawnRun(document: FlowDocument, order: Id, random: () => number): Id[] {
  const value = document.orders[order]!;
  if (value.draw === 'table') return value.rows[Math.floor(random() * value.rows.length)]!;
  return value.draw === 'bag' ? shuffled(value.levels, random) : value.levels;
}

/** What comes after an order's last level, in words: where winning it leads when there is no next level. */
export function afterLast(document: FlowDocument, order: Order): string {
  const last = order.draw === 'table' ? order.rows.map((row) => row.at(-1)!) : [order.levels.at(-1)!];
  const found = new Set<string>();
  for (const level of order.draw === 'bag' ? order.levels : last) {
    if (!Object.hasOwn(document.places, level)) continue;
    for (const { rule } of rulesReadIn(document, level))
      if (rule.result === 'won' && rule.go) found.add(whenNone(document, rule.go, new Set()));
  }
  return [...found].join(', ') || 'nothing wins it';
}

/** Where a target leads when there is no next level: its otherwise, also that of a screen on the way, each once. */
function whenNone(document: FlowDocument, go: Target, seen: Set<Id>): string {
  if ('move' in go) {
    if (go.move !== 'next') return targetWords(document, go);
    return go.else ? whenNone(document, go.else, seen) : 'nothing: say where to go';
  }
  const name = placeName(document, go.place);
  const screen = own(document.places, go.place);
  if (!screen || screen.kind === 'level' || seen.has(go.place)) return name;
  seen.add(go.place);
  const on = screen.rules.find((rule) => rule.go && 'move' in rule.go && rule.go.move === 'next');
  return on ? `${name}, then ${whenNone(document, on.go!, seen)}` : name;
}
