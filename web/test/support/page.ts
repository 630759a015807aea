import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where the product of this worker is: each has one of its own, with its own database. */
export const baseOf = (): string => {
  const products = (process.env.CROW_LANE_URL ?? 'http://127.0.0.1:4170').split(' ');
  return products[Number(process.env.TEST_PARALLEL_INDEX ?? 0) % products.length]!;
};

/** Every test fails when the page logs an error: a blocked style or script would otherwise go unseen. */
export const test = base.extend<{ errors: string[] }>({
  // what a fixture gives is asked for by a pattern, even where it needs nothing
  // eslint-disable-next-line no-empty-pattern
  baseURL: async ({}, use) => use(baseOf()),
  errors: [
    async ({ page }, use) => {
      const errors: string[] = [];
      // a page so many times slower shows what a test, or the product, takes for granted of a quick machine
      const rate = Number(process.env.CROW_LANE_SLOW ?? 1);
      if (rate > 1) await (await page.context().newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate });
      page.on('pageerror', (error) => errors.push(error.message));
      page.on('console', (message) => {
        if (message.type() === 'error' && !/Failed to load resource|ERR_CONNECTION/.test(message.text()))
          errors.push(message.text());
      });
      await use(errors);
      expect(errors, 'errors on the page').toEqual([]);
    },
    { auto: true }
  ]
});
export { expect };

/** The tests run in the repository's root. */
export const demoFile = (name: string) => readFileSync(join('demo', `${name}.crow.json`), 'utf8');

/** The demo with faults, under another name than the one on the shelf. */
export const faults = () =>
  demoFile('lamplighters-round-with-faults').replace("Lamplighter's Round, with faults", 'A round to mend');

/** Puts a flow on the shelf by the server's own door and gives its id. */
export async function put(page: Page, document: string | object): Promise<string> {
  const response = await page.request.post('/api/flows', {
    headers: { 'content-type': 'application/json', origin: new URL(page.url() === 'about:blank' ? baseOf() : page.url()).origin },
    data: typeof document === 'string' ? document : JSON.stringify(document)
  });
  expect(response.status()).toBe(201);
  return ((await response.json()) as { id: string }).id;
}

export { small } from './small.ts';

export const tile = (page: Page, place: string) => page.locator(`[data-place="${place}"]`);
export const face = (page: Page, place: string) => tile(page, place).locator('.face');

/** The code of pages comes only once what is given back is called: until then a page is seen and does not listen. */
export async function comesLate(page: Page): Promise<() => void> {
  let comes = () => {};
  const late = new Promise<void>((done) => (comes = done));
  await page.route('**/bundle.*.js', async (route) => {
    await late;
    await route.continue();
  });
  return comes;
}

/** Opens a flow and waits until its checks are there. */
export async function open(page: Page, id: string): Promise<void> {
  await page.goto(`/flows/${id}`);
  await settled(page);
}

/** The checks are those of the flow as it now is, and the server has kept it. Looked at in each frame: it is waited for often. */
export async function settled(page: Page): Promise<void> {
  const there = () => {
    const says = (where: string, what: RegExp) => what.test(document.querySelector(where)?.textContent ?? '');
    return says('.answers:not(.renewing)', /levels? can be completed|no levels yet/) && says('.kept', /^\s*kept, revision/);
  };
  await page.waitForFunction(there, undefined, { timeout: 90_000 });
}

/** Pulls from a place's edge to a point or onto another place. */
export async function pull(page: Page, from: string, to: { x: number; y: number } | string): Promise<void> {
  await tile(page, from).hover();
  const grip = await tile(page, from).locator('.pull').boundingBox();
  const target = typeof to === 'string' ? await tile(page, to).boundingBox() : undefined;
  const end = target ? { x: target.x + target.width / 2, y: target.y + target.height / 2 } : (to as { x: number; y: number });
  await page.mouse.move(grip!.x + grip!.width / 2, grip!.y + grip!.height / 2);
  await page.mouse.down();
  await page.mouse.move(end.x - 20, end.y - 4, { steps: 4 });
  await page.mouse.move(end.x, end.y, { steps: 3 });
  await page.mouse.up();
}

/** WCAG 2.2 at AA, and what is good practice besides. */
const rules = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** Axe finds nothing on the page; at night only colours are another than in daylight. */
export async function axeFindsNothing(page: Page, where = 'here', theme = 'daylight'): Promise<void> {
  const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'], preload: false }).setLegacyMode();
  const { violations } = await (theme === 'night' ? axe.withRules('color-contrast') : axe.withTags(rules)).analyze();
  const found = violations.map(({ id, nodes }) => {
    const some = nodes.slice(0, 3).map(({ html }) => html.slice(0, 160));
    return `${where}: ${id} ${some.join(' | ')}`;
  });
  expect(found).toEqual([]);
}
