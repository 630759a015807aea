import { expect, face, open, put, settled, small, test, tile } from './support/page.ts';

test('edits wait while the server cannot be reached, and are kept when it is back', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await page.route('**/api/**', (route) => route.abort());
  await face(page, 'quay').click();
  await page.getByLabel('Name of this place').fill('Pier');
  await page.getByLabel('Name of this place').press('Enter');
  await page.getByLabel('How many: Lamp').fill('6');
  await page.getByLabel('How many: Lamp').press('Enter');
  await expect(
    page.getByText('The server cannot be reached. It is tried again by itself. 2 edits wait, kept in this browser.')
  ).toBeVisible();
  // the checks go on without the server
  await expect(page.locator('.answers:not(.renewing)')).toContainText('2 of 2 levels can be completed');
  await page.unrouteAll();
  await expect(page.getByText('kept, revision 3')).toBeVisible({ timeout: 20_000 });
  const kept = (await (await page.request.get(`/api/flows/${id}`)).json()) as {
    document: { places: { quay: { name: string; pieces: { lamp: { count: number } } } } };
  };
  expect(kept.document.places.quay).toMatchObject({ name: 'Pier', pieces: { lamp: { count: 6 } } });
});

test('an edit whose answer was lost is kept once', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  let lost = false;
  await page.route(`**/api/flows/${id}`, async (route) => {
    if (route.request().method() !== 'PATCH' || lost) return route.continue();
    lost = true;
    await route.fetch();
    return route.abort();
  });
  await page.getByLabel('Name of the flow').fill('Sent twice');
  await page.getByLabel('Name of the flow').press('Enter');
  await expect(page.getByText('kept, revision 2')).toBeVisible({ timeout: 20_000 });
  const { revisions } = (await (await page.request.get(`/api/flows/${id}/revisions`)).json()) as { revisions: unknown[] };
  expect(revisions).toHaveLength(1);
});

test('a rule is said part by part: trigger, condition, effects, target and otherwise', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await face(page, 'title').click();
  const rule = page.locator('[data-rule=begin]');

  // a value that is not there yet is made on the spot
  await rule.hover();
  await rule.getByRole('button', { name: '+ effect' }).click();
  await page.getByRole('combobox', { name: 'Value' }).fill('Lives');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'add 1 to Lives' }).click();
  await expect(rule).toContainText('When Begin is pressed, add 1 to Lives, go to the first level.');

  await rule.hover();
  await rule.getByRole('button', { name: '+ if' }).click();
  await page.getByLabel('Only if', { exact: true }).fill('lives < 3');
  await page.getByRole('button', { name: 'Keep' }).click();
  await rule.hover();
  await rule.getByRole('button', { name: '+ otherwise' }).click();
  await page.getByRole('combobox', { name: 'Target' }).fill('aglow');
  await page.keyboard.press('Enter');
  await expect(rule).toContainText(
    'When Begin is pressed, if Lives is less than 3, add 1 to Lives, go to the first level, or else to The town aglow.'
  );
  await settled(page);
  const flow = (await (await page.request.get(`/api/flows/${id}`)).json()) as {
    document: { places: { title: { rules: object[] } } };
  };
  expect(flow.document.places.title.rules[0]).toEqual({
    id: 'begin',
    when: { press: 'Begin' },
    if: 'lives < 3',
    do: [{ set: 'lives', to: 'lives + 1' }],
    go: { move: 'first', else: { place: 'aglow' } }
  });

  // each step back is one undo, and the sentence follows
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rule).not.toContainText('or else to');
  await rule.hover();
  await rule.getByRole('button', { name: 'Delete this rule' }).click();
  await expect(rule).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rule).toContainText('if Lives is less than 3');
});

test('a flow is wired from nothing', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New flow' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('From nothing');
  await page.getByRole('button', { name: 'Make the flow' }).click();
  await settled(page);
  const add = async (name: string, kind: string) => {
    await page.getByRole('button', { name: '+ place' }).click();
    await page.getByRole('dialog').getByLabel('Name').fill(name);
    await page.getByRole('dialog').getByLabel('It is').selectOption(kind);
    await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click();
    await expect(tile(page, name.toLowerCase())).toBeVisible();
  };
  await add('Quay', 'level');
  await add('Loft', 'level');
  await add('Aglow', 'ending');
  await expect(face(page, 'loft')).toContainText('2');
  const wire = async (from: string, to: string) => {
    await face(page, from).click();
    await page.keyboard.press('m');
    await page.keyboard.type(to);
    await page.keyboard.press('Enter');
  };
  await wire('title', 'Quay');
  await wire('quay', 'Loft');
  await wire('loft', 'Aglow');
  await wire('aglow', 'Title');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  await expect(page.locator('.answers')).toContainText('4 of 4 places reached');
  await expect(page.locator('.answers')).toContainText('an ending always in reach');
});

test('all views are there when the server is not', async ({ page }) => {
  await open(page, await put(page, small));
  const scripts = () =>
    page.evaluate(() => performance.getEntriesByType('resource').filter(({ name }) => name.endsWith('.js')).length);
  let before = -1;
  await expect
    .poll(
      async () => {
        const [last, now] = [before, await scripts()];
        before = now;
        return now - last;
      },
      { intervals: [600] }
    )
    .toBe(0);
  await page.context().setOffline(true);
  const views = page.getByRole('navigation', { name: 'Views' });
  const shown = { Levels: 'Quay', Values: 'what the player carries', Trial: 'Title', Checks: 'Quay', Lane: 'Quay' };
  for (const [name, words] of Object.entries(shown)) {
    await views.getByRole('link', { name }).click();
    await expect(views.getByRole('link', { name })).toHaveAttribute('aria-current', 'page');
    await expect(page.locator('main')).toContainText(words);
  }
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.context().setOffline(false);
});
