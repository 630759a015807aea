import type { Page } from '@playwright/test';
import { expect, face, faults, axeFindsNothing, open, put, settled, small, test } from './support/page.ts';

const finding = (page: Page, key: string) => page.locator(`[data-finding="${key}"]`);

test('three answers lead to their findings, each with why, the route, and repairs that were tried', async ({ page }) => {
  test.setTimeout(180_000);
  const id = await put(page, faults());
  await open(page, id);
  // the status in the head leads here from every view
  await page.locator('.answers').click();
  await expect(page).toHaveURL(/\/checks$/);
  const completed = page.locator('.three button').first();
  await expect(completed).toContainText('12 of 16 levels can be completed');
  await completed.click();
  await expect(page.locator('[data-finding]')).toHaveCount(3);
  await finding(page, 'level-completable chapel').locator('.message').click();
  await expect(finding(page, 'level-completable chapel')).toContainText('Candle collected: 0 to 3');
  const repair = finding(page, 'level-completable chapel').locator('[data-fix]');
  // each has to be tried, and others before it
  await expect(repair).toHaveCount(2, { timeout: 90_000 });
  await expect(finding(page, 'level-completable chapel')).toContainText('fixes this and');
  await repair.filter({ hasText: 'Ask for 3 instead of 4' }).click();
  await settled(page);
  await expect(completed).toContainText('14 of 16 levels can be completed');
  await expect(finding(page, 'level-completable chapel')).toHaveCount(0);

  // it is one edit, taken back like any other
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  await expect(completed).toContainText('12 of 16');

  await page.getByRole('button', { name: 'show all' }).click();
  const stranded = finding(page, 'never-stranded continue');
  await stranded.locator('.message').click();
  await stranded.getByRole('button', { name: 'the route, 2 steps' }).click();
  await expect(stranded).toContainText('press Continue');
  await stranded.getByRole('button', { name: 'be there' }).first().click();
  await expect(page.getByRole('region', { name: 'What the player sees' }).locator('h2')).toContainText('Title');
  await page.getByRole('link', { name: 'Checks' }).click();
  await finding(page, 'never-stranded continue').locator('.message').click();
  await finding(page, 'never-stranded continue').getByRole('button', { name: 'Show on the lane' }).click();
  const way = page.getByRole('region', { name: 'The route, step by step' });
  await expect(way).toContainText('2 of 2');
  await way.getByRole('button', { name: 'One step back' }).click();
  await expect(way).toContainText('1 of 2');
});

test('a row shows all that is known of a place; cells are walked by keys; groups and failing places are filtered', async ({
  page
}) => {
  test.setTimeout(120_000);
  await page.goto(`/flows/${await put(page, faults())}/checks`);
  // a report that comes while somebody walks the table by keys draws it again
  await settled(page);
  const row = (place: string) => page.locator(`[data-row="${place}"]`);
  // each row is one line, whatever there is to check
  const [head, last] = [page.getByRole('columnheader').first(), page.getByRole('columnheader').last()];
  expect((await last.boundingBox())!.x).toBeGreaterThan((await head.boundingBox())!.x + 300);
  await row('quay').getByRole('button').first().click();
  await expect(page.getByText('About Quay Street')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'In order' })).toBeVisible();
  await expect(finding(page, 'level-completable chapel')).toHaveCount(0);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'Net Lofts, reached' })).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(page.getByText('About Net Lofts: all in reach')).toBeVisible();
  await expect(finding(page, 'spot-reached nets/attic')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(page.getByText('About Net Lofts: never stuck')).toBeVisible();
  await expect(finding(page, 'way-back nets')).toBeVisible();

  await page.getByRole('button', { name: 'show all' }).click();
  await page.getByLabel('only places where something fails').check();
  await expect(row('sail')).toHaveCount(0);
  await expect(row('chapel')).toHaveCount(1);
  await page.getByLabel('Only of this group').selectOption('Harbour');
  await expect(row('chapel')).toHaveCount(0);
  await expect(finding(page, 'level-completable chapel')).toHaveCount(0);
});

test('an accepted finding comes back when what it rests on changes', async ({ page }) => {
  test.setTimeout(120_000);
  const id = await put(page, faults());
  await page.goto(`/flows/${id}/checks`);
  const wait = finding(page, 'wait-too-short retry');
  await wait.locator('.message').click();
  await wait.getByLabel('It is meant, because').fill('a blink is enough');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(wait).toHaveCount(0);
  await page.getByRole('tab', { name: /accepted/ }).click();
  await expect(wait).toContainText('Meant: a blink is enough');

  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as {
    document: { places: { overboard: { rules: { id: string }[] } } };
  };
  const index = document.places.overboard.rules.findIndex((rule) => rule.id === 'retry');
  const sent = await page.request.patch(`/api/flows/${id}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': '"2"',
      'idempotency-key': 'shorter',
      'edit-label': 'Wait less',
      'edit-author': 'Ada',
      origin: new URL(page.url()).origin
    },
    data: [{ op: 'replace', path: `/places/overboard/rules/${index}/when/after`, value: 0.1 }]
  });
  expect(sent.status()).toBe(200);
  await page.getByRole('tab', { name: /failing/ }).click();
  await expect(wait).toBeVisible({ timeout: 20_000 });
  await page.getByRole('tab', { name: /worth knowing/ }).click();
  await expect(finding(page, 'accepted-unused wait-too-short retry')).toContainText('has changed.');
});

test('what changed since an earlier revision is told with the edit that did it', async ({ page }) => {
  test.setTimeout(120_000);
  const id = await put(page, small);
  await open(page, id);
  await face(page, 'quay').click();
  await page.getByLabel('How many: Lamp').fill('9');
  await page.getByLabel('How many: Lamp').press('Enter');
  await settled(page);
  await page.goto(`/flows/${id}/checks`);
  await settled(page);
  await page.getByLabel('Compare with the revision').selectOption({ index: 1 });
  await expect(page.locator('.changes')).toContainText('No verdict has changed.', { timeout: 20_000 });

  const sent = await page.request.patch(`/api/flows/${id}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': '"2"',
      'idempotency-key': 'nowhere',
      'edit-label': 'Forget the way out',
      'edit-author': 'Ada',
      origin: new URL(page.url()).origin
    },
    data: [{ op: 'replace', path: '/places/quay/rules', value: [] }]
  });
  expect(sent.status()).toBe(200);
  await settled(page);
  await page.getByLabel('Compare with the revision').selectOption({ label: '1, before: Quay Street: Lamp 3 → 9' });
  await expect(page.locator('.changes .broken').filter({ hasText: 'Quay Street cannot be won' })).toContainText(
    'by “Forget the way out”, revision 3, Ada',
    { timeout: 30_000 }
  );
});

test('the checks have nothing that axe finds, in daylight and at night', async ({ page }) => {
  test.setTimeout(240_000);
  await page.goto(`/flows/${await put(page, faults())}/checks`);
  await settled(page);
  for (const night of [false, true]) {
    if (night) await page.getByRole('button', { name: 'Night', exact: true }).click();
    const message = finding(page, 'goal-count w_chapel').locator('> .message');
    await message.click();
    await expect(page.locator('[data-fix]').first()).toBeVisible({ timeout: 90_000 });
    await axeFindsNothing(page, 'checks', night ? 'night' : 'daylight');
    await message.click();
  }
});
