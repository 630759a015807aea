import { comesLate, expect, put, small, test } from './support/page.ts';
import { readFileSync } from 'node:fs';

const row = (page: import('@playwright/test').Page, name: string) =>
  page.getByRole('row').filter({ has: page.getByRole('link', { name, exact: true }) });

test('shows the demo flows with their verdicts', async ({ page }) => {
  await page.goto('/');
  await expect(row(page, "Lamplighter's Round")).toContainText('all levels can be completed, all places reached', {
    timeout: 30_000
  });
  await expect(row(page, "Lamplighter's Round, with faults")).toContainText('findings');
});

test('what is clicked before the page listens is done once it does', async ({ page }) => {
  const comes = await comesLate(page);
  await page.goto('/', { waitUntil: 'domcontentloaded' });
  await page.getByRole('button', { name: 'New flow' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  comes();
  await expect(page.getByRole('dialog').getByLabel('Name')).toBeFocused();
});

test('makes, renames, duplicates, deletes and brings back a flow', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New flow' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Harbour walk');
  await page.getByRole('button', { name: 'Make the flow' }).click();
  await expect(page).toHaveURL(/\/flows\//);
  await expect(page.getByLabel('Name of the flow')).toHaveValue('Harbour walk');
  await page.getByRole('link', { name: 'All flows' }).click();

  await page.getByRole('button', { name: 'Rename Harbour walk', exact: true }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Harbour round');
  await page.getByRole('dialog').getByRole('button', { name: 'Rename', exact: true }).click();
  await expect(row(page, 'Harbour round')).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Harbour round', exact: true }).click();
  await expect(row(page, 'Harbour round (copy)')).toBeVisible();
  await page.getByRole('button', { name: 'Delete Harbour round (copy)' }).click();
  await expect(row(page, 'Harbour round (copy)')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(page, 'Harbour round (copy)')).toBeVisible();
});

test('exports a file that imports again, and refuses a bad one with its errors', async ({ page }) => {
  await put(page, { ...small, name: 'For export' });
  await page.goto('/');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    row(page, 'For export').getByRole('link', { name: 'Export For export' }).click()
  ]);
  expect(download.suggestedFilename()).toBe('For export.crow.json');
  const text = readFileSync(await download.path(), 'utf8');
  const file = (name: string, content: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(content) });
  const input = page.locator('input[type=file]');
  await input.setInputFiles(file('again.crow.json', text.replace('For export', 'Imported again')));
  await expect(row(page, 'Imported again')).toBeVisible();

  await input.setInputFiles(
    file(
      'bad.crow.json',
      text.replace('For export', 'Never here').replace('"Net Loft"', '""').replace('"count": 3', '"count": 0')
    )
  );
  await expect(page.getByText('bad.crow.json was not imported.')).toBeVisible();
  await expect(page.getByText('/places/loft/name')).toBeVisible();
  await expect(page.getByText('/places/quay/pieces/lamp/count')).toBeVisible();
  await expect(row(page, 'Never here')).toHaveCount(0);

  // a table of levels is a flow too
  await input.setInputFiles({
    name: 'Harbour levels.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Level,World,Lamps\nPier,Harbour,3\nMole,Harbour,4\n,Hill,1\n')
  });
  await expect(row(page, 'Harbour levels')).toBeVisible();
  await expect(page.getByText('Harbour levels.csv was imported, but not whole.')).toBeVisible();
  await expect(page.getByText('Line 4: It has no name.')).toBeVisible();

  // so is a graph
  const graph = (name: string, text: string) => ({ name, mimeType: 'text/vnd.graphviz', buffer: Buffer.from(text) });
  await input.setInputFiles(graph('Sketch.dot', 'digraph {\n rankdir=LR\n title -> quay -> aglow\n}'));
  await expect(row(page, 'Sketch')).toBeVisible();
  await expect(page.getByText('Sketch.dot was imported, but not whole.')).toBeVisible();
  await expect(page.getByText('Line 2: rankdir=LR')).toBeVisible();
  await input.setInputFiles(graph('Broken.dot', 'digraph {\n title -> \n}'));
  await expect(page.getByText('Broken.dot was not imported.')).toBeVisible();
  await expect(page.getByText(/line 3, column 1:\s+this is not DOT/)).toBeVisible();
});

test('says so when there is no such flow', async ({ page }) => {
  await page.goto('/flows/none');
  await expect(page.getByText('There is no such flow')).toBeVisible();
});
