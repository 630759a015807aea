import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { expect, axeFindsNothing, put, settled, small, test } from './support/page.ts';

const documentOf = async (page: Page, id: string) =>
  ((await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any }).document;
const sheet = (page: Page) => page.getByRole('grid', { name: 'Levels' });
/** A cell by its level and the title of its column. */
async function cell(page: Page, level: string, title: string): Promise<Locator> {
  const head = sheet(page).getByRole('columnheader', { name: title, exact: true });
  const column = await head.getAttribute('aria-colindex');
  return sheet(page).locator(`[data-level=${level}] [aria-colindex="${column}"]`);
}

async function openSheet(page: Page, document: string | object): Promise<string> {
  const id = await put(page, document);
  await page.goto(`/flows/${id}/levels`);
  await settled(page);
  return id;
}

/** Puts a text on the clipboard's way to what has the focus. */
const paste = (page: Page, text: string) =>
  page.evaluate((value) => {
    const data = new DataTransfer();
    data.setData('text/plain', value);
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('levels are typed into like a spreadsheet, by keys alone', async ({ page }) => {
  const id = await openSheet(page, small);
  await (await cell(page, 'quay', 'Lamp')).click();
  await page.keyboard.type('7');
  await page.keyboard.press('Enter');
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await settled(page);
  let { places } = await documentOf(page, id);
  expect([places.quay.pieces.lamp.count, places.loft.pieces.lamp.count]).toEqual([7, 4]);
  await expect(await cell(page, 'quay', 'Won by')).toHaveText('Lamp × 7');

  // F2 goes on with what is there, Escape leaves it
  await page.keyboard.press('F2');
  await expect(sheet(page).locator('.editor')).toHaveValue('4');
  await page.keyboard.type('0');
  await page.keyboard.press('Escape');
  await expect(await cell(page, 'loft', 'Lamp')).toHaveText('4');

  // what cannot be is said, and stays to be corrected
  await page.keyboard.type('many');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').filter({ hasText: 'Net Loft, Lamp: Enter a whole number' })).toBeVisible();
  await page.keyboard.press('Escape');

  // a block is filled down and taken back as one
  await (await cell(page, 'quay', 'Progress')).click();
  await page.keyboard.type('20');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await settled(page);
  ({ places } = await documentOf(page, id));
  expect([places.quay.progress, places.loft.progress]).toEqual([20, 20]);
  await page.keyboard.press('Control+z');
  await settled(page);
  ({ places } = await documentOf(page, id));
  expect([places.quay.progress, places.loft.progress]).toEqual([20, undefined]);

  // the order is changed by keys, and by dragging a number
  await (await cell(page, 'loft', 'Name')).click();
  await page.keyboard.press('Alt+ArrowUp');
  await settled(page);
  expect((await documentOf(page, id)).orders.main.levels).toEqual(['loft', 'quay']);
  const number = sheet(page).locator('[data-level=loft] .no');
  const last = (await sheet(page).locator('[data-level=quay] .no').boundingBox())!;
  await number.hover();
  await page.mouse.down();
  await page.mouse.move(last.x + 8, last.y + 5, { steps: 3 });
  await page.mouse.move(last.x + 8, last.y + last.height - 3, { steps: 3 });
  await page.mouse.up();
  await settled(page);
  expect((await documentOf(page, id)).orders.main.levels).toEqual(['quay', 'loft']);
});

test('blocks go in and out as spreadsheets have them, files as CSV', async ({ page }) => {
  const id = await openSheet(page, small);
  await (await cell(page, 'quay', 'Name')).click();
  await paste(page, 'Pier\tHarbour\nSail Loft\tHarbour\nToo many\tx\n');
  await settled(page);
  let document = await documentOf(page, id);
  expect([document.places.quay.name, document.places.loft.name]).toEqual(['Pier', 'Sail Loft']);
  expect(document.groups[document.places.loft.group].name).toBe('Harbour');
  await expect(page.getByRole('status').filter({ hasText: '1 row is left over' })).toBeVisible();
  const copied = await page.evaluate(() => {
    const data = new DataTransfer();
    document.activeElement!.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
    return data.getData('text/plain');
  });
  expect(copied).toBe('Pier\tHarbour\nSail Loft\tHarbour');

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as CSV' }).click()
  ]);
  const text = readFileSync(await download.path(), 'utf8');
  expect(text).toContain('\r\nPier,Harbour,');
  const file = {
    name: 'levels.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Name,Lamp,Mood,Crates\r\nPier,9,wet,2\r\nMole,3,calm,\r\n,1,,\r\nQuay,many,,\r\n')
  };
  await page.locator('input[type=file]').setInputFiles(file);
  const dialog = page.getByRole('dialog', { name: 'Levels from levels.csv' });
  await expect(dialog).toContainText('1 level is added, 1 changed.');
  await expect(dialog).toContainText('Line 4: It has no name.');
  await expect(dialog).toContainText('Line 5, Lamp “many”');
  // what a column is was guessed, and can be said otherwise
  await expect(dialog.getByLabel('Read Crates as')).toHaveValue('piece');
  await expect(dialog.getByLabel('Read Mood as')).toHaveValue('note');
  await dialog.getByLabel('Read Mood as').selectOption('left out');
  await dialog.getByLabel('Read Name as').selectOption('left out');
  await expect(dialog).toContainText('One of the columns has to be the name');
  await dialog.getByLabel('Read Name as').selectOption('Name');
  await dialog.getByRole('button', { name: 'Take the levels' }).click();
  await settled(page);
  document = await documentOf(page, id);
  expect(document.orders.main.levels).toEqual(['quay', 'loft', 'mole']);
  expect(document.places.quay.pieces.lamp.count).toBe(9);
  expect(document.places.quay.pieces.crates.count).toBe(2);
  expect(document.places.mole.brief).toBeUndefined();
});

test('ten levels are added at once, won in one stroke, and numbered as they stand', async ({ page }) => {
  const id = await openSheet(page, small);
  await page.getByRole('button', { name: '+ levels…' }).click();
  await page.getByLabel('Named').fill('Street {n}');
  await page.getByRole('button', { name: 'Add 10 levels' }).click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('12 of 12 levels can be completed');
  await expect(await cell(page, 'street_12', 'Name')).toHaveText('Street 12');

  // all ten: from the first to the last
  await (await cell(page, 'street_3', 'Name')).click();
  await page.keyboard.press('Control+Shift+ArrowDown');
  await page.getByRole('button', { name: 'Won by…' }).click();
  await page.getByLabel('How', { exact: true }).selectOption('at least some of');
  await page.getByLabel('How many').fill('5');
  // half a name means the piece that there is; Enter is as good as the button
  await page.getByLabel('Piece', { exact: true }).fill('Lam');
  await expect(page.getByRole('dialog')).toContainText('Lamp: none has Lamp: each gets it.');
  await page.getByLabel('Then to').selectOption('the next level');
  await page.getByLabel('Or else to').selectOption('The town aglow');
  await page.getByLabel('Piece', { exact: true }).press('Enter');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('12 of 12 levels can be completed');
  const { places } = await documentOf(page, id);
  expect(places.street_7.rules).toHaveLength(1);
  expect(places.street_7).toMatchObject({ pieces: { lamp: { count: 5 } }, rules: [{ when: { holds: 'taken(lamp) >= 5' } }] });
  expect(places.street_7.rules[0].go).toEqual({ move: 'next', else: { place: 'aglow' } });

  // a number out of place is put right
  await (await cell(page, 'street_12', 'Name')).click();
  await page.keyboard.press('Alt+ArrowUp');
  await page.getByRole('button', { name: 'Number Round in order' }).click();
  await settled(page);
  await expect(await cell(page, 'street_12', 'Name')).toHaveText('Street 11');
  await expect(page.getByRole('button', { name: 'Number Round in order' })).toHaveCount(0);

  // what is shown can be sorted and filtered; the order stays
  await sheet(page).getByRole('button', { name: 'Lamp', exact: true }).click();
  await sheet(page).getByRole('button', { name: /^Lamp/ }).click();
  await expect(sheet(page).locator('[data-row="0"].no')).not.toHaveText('1');
  await page.getByLabel('Only levels with this in their name').fill('quay');
  await expect(sheet(page)).toHaveAttribute('aria-rowcount', '2');
});

test('a thousand levels scroll and are typed into; only those in sight are there', async ({ page }) => {
  test.setTimeout(120_000);
  const levels = Array.from({ length: 1000 }, (_, n) => `l${n}`);
  const places: Record<string, object> = {
    title: { name: 'Title', kind: 'menu', rules: [{ id: 'b', when: { press: 'Begin' }, go: { move: 'first' } }] }
  };
  levels.forEach((level, n) => {
    const rules = [{ id: `w${n}`, when: { press: 'Light' }, go: { move: 'next', else: { place: 'end' } }, result: 'won' }];
    places[level] = { name: `Street ${n + 1}`, kind: 'level', rules };
  });
  places.end = { name: 'The end', kind: 'ending', outcome: 'won' };
  const id = await put(page, {
    ...small,
    name: 'A thousand',
    orders: { main: { name: 'Round', draw: 'fixed', levels } },
    places
  });
  await page.goto(`/flows/${id}/levels`);
  await expect(sheet(page).locator('[data-level=l0]')).toBeVisible({ timeout: 30_000 });
  await (await cell(page, 'l0', 'Progress')).click();
  await page.keyboard.press('Control+ArrowDown');
  await expect(sheet(page).locator('[data-level=l999]')).toBeInViewport();
  expect(await sheet(page).locator('[data-level]').count()).toBeLessThan(80);
  const times = await page.evaluate(async () => {
    const box = document.querySelector('[role=grid]')!;
    const found: number[] = [];
    let last = await new Promise<number>((next) => requestAnimationFrame(next));
    for (let n = 0; n < 60; n++) {
      box.scrollTop -= 90;
      const now = await new Promise<number>((next) => requestAnimationFrame(next));
      found.push(now - last);
      last = now;
    }
    return found.sort((a, b) => a - b);
  });
  console.log(`1,000 levels, scrolling: frames of ${times[30]!.toFixed(1)} ms (median), ${times[59]!.toFixed(1)} ms (worst)`);
  // the cell with the focus is still there to be typed into
  await page.keyboard.press('Control+ArrowDown');
  await page.keyboard.type('100');
  await page.keyboard.press('Enter');
  await expect(page.getByText('kept, revision 2')).toBeVisible({ timeout: 30_000 });
  expect((await documentOf(page, id)).places.l999.progress).toBe(100);
});

test('a drawn order marks what is wrong in its rows, completes and shuffles them', async ({ page }) => {
  const id = await openSheet(page, small);
  await page.getByRole('tab', { name: 'Orders' }).click();
  await expect(page.locator('.sheetpart')).toContainText('After the last: The town aglow');
  await page.locator('.sheetpart').getByLabel('How Round is played').selectOption('by a drawn row');
  await page.getByRole('button', { name: '+ row' }).click();
  await page.getByLabel('Row 2, place 1').selectOption('Net Loft');
  await expect(page.locator('.sheetpart')).toContainText('without Quay Street');
  await expect(page.locator('td.bad')).toHaveCount(1);
  await page.getByRole('button', { name: 'Complete', exact: true }).click();
  await settled(page);
  expect((await documentOf(page, id)).orders.main.rows).toEqual([
    ['quay', 'loft'],
    ['loft', 'quay']
  ]);
  await expect(page.locator('.sheetpart')).toContainText('Same order in two runs: 1 in 2.');
  await page.getByLabel('How many rows').fill('5');
  await page.getByRole('button', { name: 'Replace rows' }).click();
  await settled(page);
  expect((await documentOf(page, id)).orders.main.rows).toHaveLength(5);
  await page.getByText('Ten example runs').click();
  await expect(page.locator('details li')).toHaveCount(10);
});

test('a level select opens in turn, and shows what winning opens; blanks are answered', async ({ page }) => {
  const water = { water: { name: 'Harbour water', kind: 'hazard' } };
  const places = {
    ...small.places,
    quay: {
      ...small.places.quay,
      pieces: { ...small.places.quay.pieces, ...water },
      rules: [...small.places.quay.rules, { id: 'slip', when: { touch: 'water' }, go: { move: 'again' }, result: 'lost' }]
    },
    loft: { ...small.places.loft, pieces: { ...small.places.loft.pieces, ...water } }
  };
  const id = await openSheet(page, { ...small, places });
  await page.getByRole('tab', { name: 'Level selects' }).click();
  await page.getByRole('button', { name: 'Add the level select' }).click();
  await expect(page.locator('.sheetpart')).toContainText('1 of 2 open');
  await page.getByRole('button', { name: /1 Quay Street/ }).click();
  await expect(page.locator('.sheetpart')).toContainText('2 of 2 open');
  await page.getByLabel('How the levels of Round open').selectOption('all at once');
  await page.getByRole('button', { name: 'None won' }).click();
  await expect(page.locator('.sheetpart')).toContainText('2 of 2 open');

  await page.getByRole('tab', { name: 'What answers what' }).click();
  await page.getByRole('button', { name: 'Answer Harbour water in Net Loft' }).click();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Answer Harbour water in Net Loft' })).toHaveCount(0);
  const { places: now } = await documentOf(page, id);
  expect(now.loft.rules.at(-1)).toMatchObject({ when: { touch: 'water' }, go: { move: 'again' }, result: 'lost' });
  expect(now.title.rules.at(-1)).toMatchObject({ when: { choose: 'main' }, go: { move: 'chosen' } });
});

test('what is carried is seen for the first game and later ones, with the way to it', async ({ page }) => {
  // nothing begins a run, so lives are carried into the next game
  const lives = { name: 'Lives', type: 'number', initial: 2, min: 0, max: 2, scope: 'run' };
  const places = {
    ...small.places,
    quay: {
      ...small.places.quay,
      rules: [
        ...small.places.quay.rules,
        { id: 'slip', when: { press: 'Slip' }, do: [{ set: 'lives', to: 'lives - 1' }], go: { place: 'aglow' }, result: 'lost' }
      ]
    }
  };
  const id = await put(page, { ...small, variables: { lives }, places });
  await page.goto(`/flows/${id}/values`);
  await settled(page);
  const quay = page.locator('[data-carry=quay]');
  await expect(quay.locator('.later')).toHaveText('2 · later 0 to 2');
  await page.getByLabel('only where a later game differs').check();
  await expect(page.locator('[data-carry=title]')).toBeVisible();
  await quay.getByRole('button', { name: '2 · later 0 to 2' }).click();
  await page
    .getByRole('row', { name: /Lives is 2/ })
    .getByRole('button', { name: 'always expect this' })
    .click();
  await settled(page);
  expect((await documentOf(page, id)).places.quay.expects).toEqual(['lives = 2']);
  await quay.getByRole('button', { name: '2 · later 0 to 2' }).click();
  await page
    .getByRole('row', { name: /Lives is 0/ })
    .getByRole('button', { name: 'show the route' })
    .click();
  const steps = page.getByRole('region', { name: 'The route, step by step' });
  await expect(steps).toContainText('Slip');

  await page.getByRole('link', { name: 'Values' }).click();
  await page.getByRole('button', { name: 'Delete Lives' }).click();
  await expect(page.getByRole('dialog', { name: 'Delete Lives?' }).getByRole('listitem')).not.toHaveCount(0);
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  await expect(page.locator('[data-value=lives]')).toBeVisible();
});

test('levels and values have nothing that axe finds, in daylight and at night', async ({ page }) => {
  test.setTimeout(240_000);
  const id = 'demo-lamplighters-round-with-faults';
  for (const theme of ['daylight', 'night']) {
    await page.addInitScript((chosen) => localStorage.setItem('theme', chosen), theme);
    await page.goto(`/flows/${id}/levels`);
    await settled(page);
    const check = (where: string) => axeFindsNothing(page, `${where}, ${theme}`, theme);
    await check('sheet');
    for (const tab of ['What answers what', 'Orders', 'Level selects', 'Saves', 'Loads']) {
      await page.getByRole('tab', { name: tab }).click();
      await check(tab);
    }
    await page.getByRole('link', { name: 'Values' }).click();
    await expect(page.locator('[data-carry]').first()).toBeVisible();
    await check('values');
  }
});
