import { validate } from '@crow-lane/core/document/read';
import type { Page } from '@playwright/test';
import { expect, put, settled, test } from './support/page.ts';
import { oddDocuments } from './support/odd.ts';

/** More of them, of another seed, by hand. */
const all = oddDocuments(Number(process.env.CROW_LANE_ODD ?? 50), Number(process.env.CROW_LANE_SEED ?? 7));
const some = 10;
const views = ['Levels', 'Values', 'Trial', 'Checks', 'Lane'];

/** Opens every view and every tab of it, on the page itself: asking for each click from outside takes most of the time. */
async function lookAround(page: Page): Promise<string[]> {
  return page.evaluate(async (views) => {
    const soon = () => new Promise((next) => requestAnimationFrame(() => setTimeout(next)));
    const shown = () => document.querySelector('.shown')?.firstElementChild;
    const seen: string[] = [];
    document.querySelector<HTMLElement>('.lane .tile .face')?.click();
    for (const view of views) {
      const link = [...document.querySelectorAll<HTMLElement>('nav[aria-label="Views"] a')].find((a) => a.textContent === view)!;
      const before = shown();
      link.click();
      // what is fetched and drawn in turns has to come
      for (let n = 0; n < 300 && (shown() === before || !shown() || !link.matches('[aria-current]')); n++) await soon();
      if (shown() !== before && link.matches('[aria-current]')) seen.push(view);
      for (const tab of document.querySelectorAll<HTMLElement>('.shown [role=tab]')) {
        tab.click();
        await soon();
      }
      await soon();
    }
    return seen;
  }, views);
}

for (let first = 0; first < all.length; first += some)
  test(`odd documents ${first + 1} to ${first + some} are shown in every view`, async ({ page, errors }) => {
    test.setTimeout(180_000);
    for (const document of all.slice(first, first + some)) {
      expect(validate(JSON.parse(JSON.stringify(document))).errors ?? []).toEqual([]);
      await page.goto(`/flows/${await put(page, document)}`);
      await settled(page);
      expect(await lookAround(page), document.name).toEqual(views);
      expect(errors, document.name).toEqual([]);
    }
  });
