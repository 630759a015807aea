/** The example of a game on a canvas, which takes in the runtime package: opened from disk, played by keys. */
import { gameOf } from '@crow-lane/core/formats/game';
import { read } from '@crow-lane/core/document/read';
import type { Cell, Level, Plan } from '@crow-lane/core/document/types';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { gzipSync } from 'node:zlib';
import { axeFindsNothing, demoFile, expect, test } from './support/page.ts';

const built = pathToFileURL('examples/canvas/dist/index.html').href;
const { document: flow } = read(readFileSync('examples/canvas/streets.crow.json', 'utf8'));
const levels = flow!.places as Record<string, Level>;
const keys: [string, Cell][] = [
  ['ArrowRight', [1, 0]],
  ['ArrowLeft', [-1, 0]],
  ['ArrowDown', [0, 1]],
  ['ArrowUp', [0, -1]]
];

/** The keys of a shortest way over open ground to a cell, past all that would be touched on it. */
function wayTo({ rows, things = {} }: Plan, from: Cell, to: Cell): string[] {
  const acting = new Set(
    Object.values(things).flatMap((thing) => ('piece' in thing && thing.piece !== 'lamp' ? thing.cells.map(String) : []))
  );
  const seen = new Map<string, string[]>([[String(from), []]]);
  const waiting: Cell[] = [from];
  for (let at = waiting.shift(); at; at = waiting.shift()) {
    const so = seen.get(String(at))!;
    if (String(at) === String(to)) return so;
    for (const [key, [x, y]] of keys) {
      const next: Cell = [at[0] + x, at[1] + y];
      const ground = rows[next[1]]?.[next[0]];
      const isOpen = ground === '.' || (ground === '>' && x === 1);
      if (!isOpen || seen.has(String(next)) || (acting.has(String(next)) && String(next) !== String(to))) continue;
      seen.set(String(next), [...so, key]);
      waiting.push(next);
    }
  }
  throw new Error(`no way leads to ${String(to)}`);
}

/** Opens it with deadlines that last longer: on a busy machine a second is soon over. */
async function opened(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const later = setTimeout;
    Object.assign(window, { setTimeout: (then: () => void, ms = 0) => later(then, ms * 5) });
  });
  await page.goto(built);
}

const canvas = (page: Page) => page.locator('canvas');
const here = async (page: Page): Promise<Cell> => (await canvas(page).getAttribute('data-at'))!.split(',').map(Number) as Cell;

async function walk(page: Page, level: string, to: Cell): Promise<void> {
  for (const key of wayTo(levels[level]!.plan!, await here(page), to)) await page.keyboard.press(key);
}
const lampsOf = (level: string): Cell[] => {
  const lamps = levels[level]!.plan!.things!.lamp as { cells: Cell[] };
  return lamps.cells;
};

test('the example is lost in the water, begun again, and played to its win', async ({ page }) => {
  await opened(page);
  const place = page.getByRole('heading');
  await expect(place).toHaveText('Title');
  await axeFindsNothing(page, 'the example');
  await page.keyboard.press('Enter');
  await expect(place).toHaveText('Quay Street');
  const first = await here(page);
  await walk(page, 'quay', [2, 3]);
  await expect(canvas(page)).toHaveAttribute('aria-label', /lamps left: 4$/);
  await walk(page, 'quay', [2, 8]);
  await expect(place).toHaveText('Overboard');
  await expect(page.getByText('Splash! Lives left: 2')).toBeVisible();
  // the deadline of the interlude leads back, and the lamp is there again
  await expect(place).toHaveText('Quay Street');
  expect(await here(page)).toEqual(first);
  await expect(canvas(page)).toHaveAttribute('aria-label', /lamps left: 5$/);

  for (const lamp of lampsOf('quay')) await walk(page, 'quay', lamp);
  await expect(place).toHaveText('Ferry Steps');
  // the trapdoors lead one way: from west to east, a lamp in each yard
  for (const cell of [
    [2, 2],
    [15, 2],
    [17, 6],
    [18, 7]
  ] as Cell[])
    await walk(page, 'ferry', cell);
  await expect(place).toHaveText('Both streets aglow');
  await page.getByRole('button', { name: 'Title' }).click();
  await expect(place).toHaveText('Title');
});

test('three falls end the game of the example', async ({ page }) => {
  await opened(page);
  await page.getByRole('button', { name: 'Begin' }).click();
  for (let lives = 2; lives >= 0; lives--) {
    await expect(page.getByRole('heading')).toHaveText('Quay Street');
    await walk(page, 'quay', [1, 8]);
    await expect(page.getByRole('heading')).toHaveText(lives > 0 ? 'Overboard' : 'Lights out');
  }
});

test('the streets of the example are those of the demo, and the package for play needs nothing else and is small', () => {
  const { document: demo } = read(demoFile('lamplighters-round'));
  for (const id of ['quay', 'ferry']) expect(levels[id]!.plan).toEqual((demo!.places[id] as Level).plan);
  expect(JSON.parse(readFileSync('examples/canvas/dist/streets.game.json', 'utf8'))).toEqual(
    JSON.parse(JSON.stringify(gameOf(flow!)))
  );
  const text = readFileSync('runtime/dist/play.js', 'utf8');
  expect(text).not.toMatch(/\bimport\b\s*[\w{*('"]/);
  expect(gzipSync(text).length).toBeLessThan(25_000);
  for (const name of ['play', 'document', 'check'])
    expect(readFileSync(`runtime/dist/${name}.d.ts`, 'utf8')).not.toMatch(/^import/m);
});
