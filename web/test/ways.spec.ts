import { baseOf, expect, face, open, pull, put, settled, small, test, tile } from './support/page.ts';

const documentOf = async (page: import('@playwright/test').Page, id: string) =>
  ((await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any }).document;

test('a place is pulled onto a way and stands in it, or a new one is made there', async ({ page }) => {
  const id = await put(page, {
    ...small,
    places: { ...small.places, shop: { name: 'Oil shop', kind: 'interlude', rules: [] } }
  });
  await open(page, id);
  // between the two levels, which stand side by side
  const [quay, loft] = [await tile(page, 'quay').boundingBox(), await tile(page, 'loft').boundingBox()];
  const between = { x: (quay!.x + quay!.width + loft!.x) / 2, y: quay!.y + quay!.height / 2 };
  await pull(page, 'shop', between);
  await settled(page);
  let { places } = await documentOf(page, id);
  expect(places.quay.rules[0]).toMatchObject({ go: { place: 'shop' }, result: 'won' });
  expect(places.shop.rules[0].go).toEqual({ move: 'next', else: { place: 'aglow' } });
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  await page.locator('body').press('Control+z');
  await settled(page);

  // by the desk, for those who do not pull
  await face(page, 'loft').click();
  const rule = page.locator('[data-rule=lit2]');
  await rule.hover();
  await rule.getByRole('button', { name: '+ place before' }).click();
  await page.getByRole('dialog').getByLabel('Name', { exact: true }).fill('Credits');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await settled(page);
  ({ places } = await documentOf(page, id));
  expect(places.loft.rules[0].go).toEqual({ place: 'credits' });
  expect(places.credits.rules[0]).toMatchObject({ when: { after: 2 }, go: { move: 'next', else: { place: 'aglow' } } });
});

test('a door with one side offers the other, and is then one pair', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await pull(page, 'loft', 'quay');
  await settled(page);
  // a way back that exists already would not be offered: from the quay nothing but the order leads to the loft
  await page.getByRole('button', { name: 'make the other side?' }).click();
  await settled(page);
  const { places } = await documentOf(page, id);
  expect(places.quay.rules.at(-1)).toMatchObject({ when: { press: 'Net Loft' }, go: { place: 'loft' } });
  await expect(page.getByRole('button', { name: 'make the other side?' })).toHaveCount(0);
});

test('several places are put into a group, duplicated and deleted at once', async ({ page }) => {
  const id = await put(page, { ...small, groups: { harbour: { name: 'Harbour' } } });
  await open(page, id);
  await face(page, 'quay').click();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.locator('#desk')).toContainText('2 places');
  await page.getByLabel('Group of 2 levels').selectOption('Harbour');
  await settled(page);
  let { places } = await documentOf(page, id);
  expect([places.quay.group, places.loft.group]).toEqual(['harbour', 'harbour']);
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await settled(page);
  await expect(page.locator('#desk')).toContainText('2 places');
  await page.getByRole('button', { name: 'Delete…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete', exact: true }).click();
  await settled(page);
  ({ places } = await documentOf(page, id));
  expect(Object.keys(places)).toEqual(Object.keys(small.places));
});

test('the lane is read as a list, and a place chosen there is on the desk', async ({ page }) => {
  await open(page, await put(page, small));
  await face(page, 'title').click();
  await page.keyboard.press('l');
  const levels = page.getByRole('list', { name: 'Levels, Round' });
  await expect(levels.locator('> li')).toHaveCount(2);
  await expect(page.getByRole('list', { name: 'Ways out of Net Loft' })).toContainText('Won: to The town aglow');
  await levels.getByRole('button', { name: '2 Net Loft' }).click();
  await expect(page.getByLabel('Name of this place')).toHaveValue('Net Loft');
  await page.getByRole('button', { name: 'Back to the picture' }).click();
  await expect(tile(page, 'loft')).toHaveClass(/selected/);
});

test('who else has the flow open is seen on the lane, and gone when they leave', async ({ page, context }) => {
  const id = await put(page, small);
  await open(page, id);
  await expect(page.getByTitle('Who is here')).toHaveText('Only you');
  const other = await context.newPage();
  await other.addInitScript(() => localStorage.setItem('author', 'Robin Vale'));
  await open(other, id);
  await face(other, 'loft').click();
  await expect(page.getByTitle('Who is here')).toHaveText('Robin Vale is here');
  await expect(tile(page, 'loft').locator('.here')).toHaveText('RV');
  await page.getByTitle('Who is here').click();
  await page.getByRole('dialog').getByRole('button', { name: 'Net Loft' }).click();
  await expect(page.getByLabel('Name of this place')).toHaveValue('Net Loft');
  await other.close();
  await expect(page.getByTitle('Who is here')).toHaveText('Only you', { timeout: 30_000 });
  await expect(tile(page, 'loft').locator('.here')).toHaveCount(0);
});

test('edits made while the server is away outlive the page, and can be taken back afterwards', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  const path = `**/api/flows/${id}`;
  await page.route(path, (route) => (route.request().method() === 'PATCH' ? route.abort() : route.continue()));
  await face(page, 'quay').click();
  await page.getByLabel('How many: Lamp').fill('6');
  await page.getByLabel('How many: Lamp').press('Enter');
  await expect(page.getByText('not kept yet')).toBeVisible();
  // closed without a question, since nothing would be lost
  await page.goto('about:blank');
  await page.unroute(path);
  await open(page, id);
  await expect(page.getByText('kept, revision 2')).toBeVisible();
  expect((await documentOf(page, id)).places.quay.pieces.lamp.count).toBe(6);
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  expect((await documentOf(page, id)).places.quay.pieces.lamp.count).toBe(3);

  // what no longer fits is said, and not sent again and again
  await page.route(path, (route) => (route.request().method() === 'PATCH' ? route.abort() : route.continue()));
  await face(page, 'quay').click();
  await page.getByLabel('Name of this place').fill('Pier');
  await page.getByLabel('Name of this place').press('Enter');
  await expect(page.getByText('not kept yet')).toBeVisible();
  await page.goto('about:blank');
  await page.unroute(path);
  const sent = await page.request.patch(`/api/flows/${id}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': '"3"',
      'idempotency-key': 'elsewhere',
      'edit-label': 'Elsewhere',
      'edit-author': 'Ada',
      origin: new URL(baseOf()).origin
    },
    data: [{ op: 'replace', path: '/places/quay/name', value: 'Mole' }]
  });
  expect(sent.status()).toBe(200);
  await open(page, id);
  await expect(page.getByRole('status').filter({ hasText: 'Someone else has changed the same part' })).toBeVisible();
  await expect(face(page, 'quay')).toContainText('Mole');
  expect(await page.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('unsent')))).toEqual([]);
});

test('notes stand on the flow, its values and its orders; a value can be one of some', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  const note = async (title: string, text: string) => {
    await page.getByTitle(title).click();
    await page.getByLabel('Note', { exact: true }).fill(text);
    await page.getByRole('button', { name: 'Keep' }).click();
  };
  await note('A note on the whole flow', 'Two streets at dusk.');
  await note('A note on Round', 'Walked every evening.');
  await page.getByLabel('Name of a new value').fill('Weather');
  await page.getByLabel('Type of the new value').selectOption('one of some');
  await page.getByLabel('Name of a new value').press('Enter');
  await page.getByTitle('What Weather can be').click();
  for (const choice of ['Fog', 'Rain']) {
    await page.getByLabel('Another choice of Weather').fill(choice);
    await page.getByLabel('Another choice of Weather').press('Enter');
  }
  const first = page.getByRole('listitem').filter({ has: page.getByLabel('Name of the choice first') });
  await first.getByRole('button', { name: 'remove' }).click();
  await page.keyboard.press('Escape');
  await settled(page);
  const { brief, orders, variables } = await documentOf(page, id);
  expect(brief).toBe('Two streets at dusk.');
  expect(orders.main.brief).toBe('Walked every evening.');
  const labels = { fog: 'Fog', rain: 'Rain' };
  expect(variables.weather).toMatchObject({ type: 'choice', choices: ['second', 'fog', 'rain'], labels, initial: 'second' });
});
