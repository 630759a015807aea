import { demoFile, expect, face, axeFindsNothing, open, pull, put, settled, small, test, tile } from './support/page.ts';

test('adds a level by pulling, gives it a win, sees it completable, breaks it, undoes, reloads', async ({ page }) => {
  // each of its edits is checked on the whole demo
  test.slow();
  const id = await put(page, demoFile('lamplighters-round').replace('"Lamplighter\'s Round"', '"A round to change"'));
  await open(page, id);
  await expect(page.locator('.answers')).toContainText('12 of 12 levels can be completed');

  // the order is longer than the window: what is pulled to is brought into sight first
  await face(page, 'light').click();
  const lane = await page.locator('.lane').boundingBox();
  const last = await tile(page, 'light').boundingBox();
  await pull(page, 'light', { x: lane!.x + lane!.width - 8, y: last!.y + last!.height / 2 });
  await page.getByRole('dialog').getByLabel('Name').fill('Breakwater');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await settled(page);
  await expect(face(page, 'breakwater')).toContainText('13');
  await expect(page.locator('.answers')).toContainText('12 of 13 levels can be completed');
  await expect(page.locator('#desk')).toContainText('Breakwater cannot be won: no rule wins it.');

  await page.getByRole('button', { name: 'Add one?' }).first().click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('13 of 13 levels can be completed');
  await expect(page.locator('.answers')).toContainText('29 of 29 places reached');

  // a win that wants more lamps than there are
  await page.getByLabel('Name of a new piece').fill('Lamp');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByLabel('How many: Lamp').fill('5');
  await page.getByLabel('How many: Lamp').press('Enter');
  const won = page.locator('#desk [data-result=won]');
  await won.getByRole('button', { name: 'When Win is pressed' }).click();
  await page.getByLabel('Kind of trigger').selectOption('holds');
  await page.getByLabel('Condition').fill('taken(lamp) >= 6');
  await expect(page.getByText('Lamp × 6 are collected')).toBeVisible();
  await page.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('12 of 13 levels can be completed');
  await expect(won).toContainText('Breakwater has Lamp × 5');

  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('13 of 13 levels can be completed');

  await page.reload();
  await settled(page);
  await face(page, 'breakwater').click();
  await expect(page.getByLabel('How many: Lamp')).toHaveValue('5');
  await expect(page.locator('.answers')).toContainText('13 of 13 levels can be completed');
  // what was done before the reload can still be undone and redone
  await page.getByRole('button', { name: 'Redo' }).click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('12 of 13 levels can be completed');
});

test('a condition says where it is wrong while it is typed, and is not kept', async ({ page }) => {
  await open(page, await put(page, small));
  await face(page, 'quay').click();
  await page.locator('[data-rule=lit] .word').first().click();
  const field = page.getByLabel('Condition');
  await field.fill('left(lamp) == 0');
  await expect(page.getByText('Column 13')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep' })).toBeDisabled();
  // what is begun is completed, by its id or by its name
  await field.fill('tak');
  await expect(page.getByRole('option', { name: /taken\(Lamp\)/ })).toBeVisible();
  await field.press('ArrowDown');
  await field.press('Enter');
  await expect(field).toHaveValue('taken(Lamp)');
  await field.pressSequentially(' >= 2');
  await expect(page.getByText('Lamp × 2 are collected')).toBeVisible();
  await field.fill('left(moth) = 0');
  await expect(page.getByText('There is no piece "moth" here.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('kept, revision 1')).toBeVisible();
});

test('shows the shortest way to a place on the lane and as steps', async ({ page }) => {
  await open(page, await put(page, small));
  await face(page, 'aglow').click();
  await expect(page.getByText('Shortest route here: 6 steps')).toBeVisible();
  await page.getByRole('button', { name: 'show', exact: true }).click();
  const steps = page.getByRole('region', { name: 'The route, step by step' });
  await expect(steps).toContainText('2–4 collect Lamp, 3 times');
  await expect(page.locator('.lane svg circle[r="8.5"]')).toHaveCount(3);
  await steps.getByRole('button', { name: 'Close' }).click();
});

test('deleting a place says what pointed there, and undo brings all back', async ({ page }) => {
  await open(page, await put(page, small));
  await face(page, 'aglow').click();
  await page.keyboard.press('Delete');
  const dialog = page.getByRole('dialog', { name: 'Delete The town aglow?' });
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await dialog.getByRole('button', { name: 'Delete', exact: true }).click();
  await settled(page);
  await expect(tile(page, 'aglow')).toHaveCount(0);
  await expect(page.locator('#desk')).toContainText('The game has no ending.');
  await page.locator('body').press('Control+z');
  await settled(page);
  await expect(tile(page, 'aglow')).toHaveCount(1);
});

test('wires two places by a pull, and the rule can be said more exactly', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await pull(page, 'loft', 'title');
  await settled(page);
  const rule = page.locator('#desk .sentence').filter({ hasText: 'Title' });
  await expect(rule).toContainText('When Title is pressed, open Title over it.');
  await rule.getByRole('button', { name: 'When Title is pressed' }).click();
  await page.getByLabel('Name of the button or key').fill('Give up');
  await page.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  const kept = (await (await page.request.get(`/api/flows/${id}`)).json()) as {
    document: { places: { loft: { rules: object[] } } };
  };
  expect(kept.document.places.loft.rules.at(-1)).toMatchObject({
    when: { press: 'Give up' },
    go: { place: 'title', over: true }
  });
});

test('is walked, wired and undone by keyboard alone', async ({ page }) => {
  await open(page, await put(page, small));
  await page.keyboard.press('Tab');
  for (let tries = 0; tries < 20 && !(await page.evaluate(() => document.activeElement?.closest('.lane') !== null)); tries++)
    await page.keyboard.press('Tab');
  await page.keyboard.press('ArrowRight');
  const name = () => page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? '');
  const first = await name();
  await page.keyboard.press('ArrowDown');
  expect(await name()).not.toBe(first);
  await page.keyboard.press('End');
  expect(await name()).toContain('2, Net Loft');
  await page.keyboard.press('m');
  await page.keyboard.type('quay');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.locator('#desk')).toContainText('When Quay Street is pressed, go to Quay Street');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('#desk')).not.toContainText('When Quay Street is pressed');
  await face(page, 'loft').focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(face(page, 'loft')).toContainText('1');
  await settled(page);
});

test('a second tab sees a change, edits of different parts both stay, of the same part one is refused', async ({
  page,
  context
}) => {
  const id = await put(page, small);
  await open(page, id);
  const other = await context.newPage();
  await other.addInitScript(() => localStorage.setItem('author', 'Robin'));
  await open(other, id);
  await face(other, 'quay').click();
  await other.getByLabel('Name of this place').fill('Pier');
  await other.getByLabel('Name of this place').press('Enter');
  await expect(face(page, 'quay')).toContainText('Pier');

  // a stale edit, as it would come from a page that was offline
  const patch = (path: string, from: unknown, to: unknown) => [
    { op: 'test', path, value: from },
    { op: 'replace', path, value: to }
  ];
  const send = (data: object, editId: string) =>
    page.request.patch(`/api/flows/${id}`, {
      headers: {
        'content-type': 'application/json-patch+json',
        'if-match': '"1"',
        'idempotency-key': editId,
        'edit-label': 'Stale',
        'edit-author': 'Ada',
        origin: new URL(page.url()).origin
      },
      data
    });
  const fits = await send(patch('/places/loft/name', 'Net Loft', 'Sail Loft'), 'stale-1');
  expect(fits.status()).toBe(200);
  expect(fits.headers().etag).toBe('"3"');
  await expect(face(page, 'loft')).toContainText('Sail Loft');
  const again = await send(patch('/places/loft/name', 'Net Loft', 'Sail Loft'), 'stale-1');
  expect(again.headers().etag).toBe('"3"');
  const clash = await send(patch('/places/quay/name', 'Quay Street', 'Mole'), 'stale-2');
  expect(clash.status()).toBe(409);
  expect(clash.headers()['content-type']).toContain('application/problem+json');
  expect(await clash.json()).toMatchObject({
    pointer: '/places/quay/name',
    by: { author: 'Robin', label: 'Rename Quay Street to Pier' }
  });
  await other.close();
});

test('has nothing that axe finds, in daylight and at night', async ({ page }) => {
  // it looks at every part of every view, twice
  test.setTimeout(240_000);
  for (const theme of ['daylight', 'night']) {
    await page.addInitScript((chosen) => localStorage.setItem('theme', chosen), theme);
    await page.goto('/');
    const check = (where: string) => axeFindsNothing(page, `${where}, ${theme}`, theme);
    await check('shelf');
    await open(page, 'demo-lamplighters-round-with-faults');
    await check('lane');
    await face(page, 'chapel').click();
    await page.waitForTimeout(400);
    await check('desk');
    await page.getByRole('button', { name: 'As a list' }).click();
    await check('list');
  }
});
