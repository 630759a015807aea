import type { Page } from '@playwright/test';
import { expect, face, open, put, settled, small, test } from './support/page.ts';

const rename = async (page: Page, to: string) => {
  await page.getByLabel('Name of the flow').fill(to);
  await page.getByLabel('Name of the flow').press('Enter');
};
const nameIn = (page: Page) => page.getByLabel('Name of the flow').inputValue();

test('twelve tabs of one browser: edits from each arrive in all', async ({ page, context }) => {
  test.setTimeout(180_000);
  const id = await put(page, small);
  const tabs = [page];
  while (tabs.length < 12) tabs.push(await context.newPage());
  // the last ones open only where the first leave them a connection
  for (const tab of tabs) await open(tab, id);
  for (const [n, tab] of tabs.entries()) {
    await rename(tab, `Named by ${n}`);
    await expect(tab.getByText(`kept, revision ${n + 2}`)).toBeVisible();
    for (const other of tabs) await expect.poll(() => nameIn(other)).toBe(`Named by ${n}`);
  }
});

test('where pages cannot share a stream, changes are asked for', async ({ page, context }) => {
  const id = await put(page, small);
  await page.addInitScript(() => delete (window as { SharedWorker?: unknown }).SharedWorker);
  await open(page, id);
  const other = await context.newPage();
  await open(other, id);
  await rename(other, 'From elsewhere');
  await expect.poll(() => nameIn(page), { timeout: 15_000 }).toBe('From elsewhere');
  await rename(page, 'And back');
  await expect.poll(() => nameIn(other), { timeout: 15_000 }).toBe('And back');
});

test('an edit that the server fails on is set aside; those behind it go on', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  let sent = 0;
  let broken = true;
  await page.route(`**/api/flows/${id}`, (route) => {
    const request = route.request();
    if (request.method() !== 'PATCH' || !broken || !request.postData()?.includes('Poison')) return route.continue();
    sent++;
    return route.fulfill({
      status: 500,
      contentType: 'application/problem+json',
      body: JSON.stringify({ type: 'about:blank', title: 'Something went wrong on the server.', status: 500 })
    });
  });
  await face(page, 'quay').click();
  await page.getByLabel('Name of this place').fill('Poison');
  await page.getByLabel('Name of this place').press('Enter');
  await rename(page, 'Goes on');
  const aside = page.getByRole('alert', { name: 'Edits that were not kept' });
  await expect(aside).toContainText('Quay Street', { timeout: 20_000 });
  await expect(aside).toContainText('Something went wrong on the server.');
  expect(sent).toBe(3);
  await expect(page.getByText('kept, revision 2')).toBeVisible();
  // the page shows what the server has, and the edit is still there after a reload
  await expect(page.getByLabel('Name of this place')).toHaveValue('Quay Street');
  await page.reload();
  await settled(page);
  await expect(aside).toContainText('One edit was not kept');
  broken = false;
  await aside.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText('kept, revision 3')).toBeVisible();
  await expect(aside).toHaveCount(0);
  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: typeof small };
  expect(document.places.quay.name).toBe('Poison');
  expect(document.name).toBe('Goes on');
});

test('a refused edit says why, can be copied and dropped, and takes no other undo with it', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const id = await put(page, small);
  await open(page, id);
  await rename(page, 'First');
  await expect(page.getByText('kept, revision 2')).toBeVisible();
  await page.route(`**/api/flows/${id}`, (route) =>
    route.request().method() === 'PATCH'
      ? route.fulfill({
          status: 422,
          contentType: 'application/problem+json',
          body: JSON.stringify({
            title: 'This edit cannot be kept.',
            status: 422,
            errors: [{ pointer: '/name', message: 'is odd' }]
          })
        })
      : route.continue()
  );
  await rename(page, 'Odd');
  const aside = page.getByRole('alert', { name: 'Edits that were not kept' });
  await expect(aside).toContainText('This edit cannot be kept. /name: is odd.');
  await aside.getByRole('button', { name: 'Copy as text' }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain('"value": "Odd"');
  await aside.getByRole('button', { name: 'Drop it' }).click();
  await expect(aside).toHaveCount(0);
  await page.unroute(`**/api/flows/${id}`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => nameIn(page)).toBe('Two lamps');
});

test('a name that ends in the middle of a character is never made', async ({ page }) => {
  const lantern = '\u{1f3ee}'.repeat(40);
  const id = await put(page, { ...small, name: lantern });
  await page.goto('/');
  const response = await page.request.post(`/api/flows/${id}/copy`, { headers: { origin: new URL(page.url()).origin } });
  expect(response.status()).toBe(201);
  const { id: copy } = (await response.json()) as { id: string };
  const { document } = (await (await page.request.get(`/api/flows/${copy}`)).json()) as { document: { name: string } };
  expect(document.name).toBe(`${'\u{1f3ee}'.repeat(36)} (copy)`);
});

test('what was done long before the page was opened can be undone', async ({ page }) => {
  const id = await put(page, small);
  const author = 'Ada';
  await page.addInitScript((name) => localStorage.setItem('author', name), author);
  const send = (n: number) =>
    page.request.patch(`/api/flows/${id}`, {
      headers: {
        'content-type': 'application/json-patch+json',
        'if-match': `"${n + 1}"`,
        'idempotency-key': `edit-${n}`,
        'edit-label': `Rename ${n}`,
        'edit-author': author,
        origin: new URL(page.url()).origin
      },
      data: JSON.stringify([{ op: 'replace', path: '/name', value: `Name ${n}` }])
    });
  await page.goto('/');
  for (let n = 0; n < 60; n++) expect((await send(n)).status()).toBe(200);
  await open(page, id);
  const undo = page.getByRole('button', { name: 'Undo' });
  // more than the page was opened with
  for (let n = 58; n >= 5; n--) {
    await undo.click();
    await expect.poll(() => nameIn(page)).toBe(`Name ${n}`);
  }
  await expect(page.getByText('kept, revision 115')).toBeVisible();
  await page.reload();
  await settled(page);
  await undo.click();
  await expect.poll(() => nameIn(page)).toBe('Name 4');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(() => nameIn(page)).toBe('Name 5');
});

test('while the database is away every page says the same, and comes back by itself', async ({ page }) => {
  const away = (await import('../src/lib/trouble.ts')).trouble.database;
  const id = await put(page, small);
  await open(page, id);
  const gone = { status: 503, contentType: 'application/problem+json', body: JSON.stringify({ title: away, status: 503 }) };
  await page.route('**/api/**', (route) => (route.request().url().includes('/api/live') ? route.abort() : route.fulfill(gone)));
  await rename(page, 'Kept here meanwhile');
  await expect(page.getByText(away)).toBeVisible();
  const other = await page.context().newPage();
  await other.route('**/api/**', (route) => route.fulfill(gone));
  await other.goto(`/flows/${id}`);
  await expect(other.getByText(away)).toBeVisible();
  await other.unrouteAll();
  // what waits is the browser's, whichever of its pages sends it
  await expect(other.getByLabel('Name of the flow')).toHaveValue('Kept here meanwhile', { timeout: 20_000 });
  await expect(other.getByText('kept, revision 2')).toBeVisible({ timeout: 20_000 });
  await page.unrouteAll();
  await expect(page.getByText('kept, revision 2')).toBeVisible({ timeout: 20_000 });
});

test('what is being typed is not replaced by a change from elsewhere, which is offered afterwards', async ({ page, context }) => {
  const id = await put(page, small);
  await open(page, id);
  const other = await context.newPage();
  await open(other, id);
  await face(page, 'quay').click();
  await face(other, 'quay').click();
  const message = (of: Page) => of.getByLabel('Text shown');
  await message(page).focus();
  await page.keyboard.type('Mine, half');
  await message(other).fill('Theirs');
  await message(other).press('Tab');
  await expect(page.getByText('kept, revision 2')).toBeVisible();
  await expect(message(page)).toHaveValue('Mine, half');
  await page.keyboard.type(' and whole');
  await page.keyboard.press('Tab');
  await expect(message(page)).toHaveValue('Mine, half and whole');
  await expect(page.locator('.notice')).toContainText('While you typed, this was changed to “Theirs”.');
  await expect.poll(() => message(other).inputValue()).toBe('Mine, half and whole');
  await page.getByRole('button', { name: 'Take the other text' }).click();
  await expect(message(page)).toHaveValue('Theirs');
  await expect.poll(() => message(other).inputValue()).toBe('Theirs');
});
