import { validate } from '@crow-lane/core/document/read';
import { expect, put, test } from './support/page.ts';
import { oddDocuments } from './support/odd.ts';

/** More of them, of another seed, by hand. */
const all = oddDocuments(Number(process.env.CROW_LANE_ODD ?? 24), Number(process.env.CROW_LANE_SEED ?? 7));
const some = 6;
const views = ['Levels', 'Values', 'Trial', 'Checks', 'Lane'];

for (let first = 0; first < all.length; first += some)
  test(`odd documents ${first + 1} to ${first + some} are shown in every view`, async ({ page, errors }) => {
    test.setTimeout(180_000);
    for (const document of all.slice(first, first + some)) {
      expect(validate(JSON.parse(JSON.stringify(document))).errors ?? []).toEqual([]);
      const id = await put(page, document);
      await page.goto(`/flows/${id}`);
      await expect(page.locator('.answers:not(.renewing)')).toContainText(/levels? can be completed|no levels yet/, {
        timeout: 30_000
      });
      const place = page.locator('.lane .tile .face').first();
      if ((await place.count()) > 0) await place.click();
      for (const view of views) {
        await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: view }).click();
        await expect(page.getByRole('link', { name: view, exact: true })).toHaveAttribute('aria-current', 'page');
        // what is fetched and drawn in turns has come
        await page.locator('main > *').first().waitFor({ state: 'attached' });
        await page.waitForTimeout(120);
        for (const tab of view === 'Levels' ? await page.getByRole('tab').all() : []) await tab.click();
      }
      expect(errors, document.name).toEqual([]);
    }
  });
