// Takes the pictures in docs/screenshots/ of a running server that has the demo flows: node scripts/screenshots.mjs [ADDRESS [NAME…]]
// Those of accounts are taken of a product of their own: people, shared, show.
import { chromium } from '@playwright/test';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ask, firstSecret, someFolder, startProduct } from './drill/product.mjs';
import { root } from './lib/paths.mjs';

const [address = 'http://127.0.0.1:4170', ...names] = process.argv.slice(2);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: process.getuid?.() === 0 ? ['--no-sandbox'] : []
});

async function picture(name, path, prepare = async () => {}) {
  if (names.length > 0 && !names.includes(name)) return;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => {
    localStorage.setItem('theme', 'daylight');
    localStorage.setItem('tour', 'left');
  });
  await page.goto(address + path);
  if (path !== '/') await page.locator('.answers:not(.renewing)').getByText('can be completed').waitFor();
  await prepare(page);
  // transitions come to rest and the pointer leaves what it pressed
  await page.mouse.move(640, 470);
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  await page.close();
}

const select = (place) => (page) => page.locator(`[data-place=${place}] .face`).click();
const round = '/flows/demo-lamplighters-round';
const faults = `${round}-with-faults`;

await picture('shelf', '/', (page) => page.getByText('not checked').first().waitFor({ state: 'detached', timeout: 30_000 }));
await picture('lane', round, select('customs'));
/** The fixes have been tried. */
const tried = (page) => page.locator('[data-fix]').first().waitFor({ timeout: 30_000 });
const chapel = async (page) => {
  await select('chapel')(page);
  await tried(page);
};
await picture('finding', faults, chapel);
await picture('inside', faults, async (page) => {
  await select('customs')(page);
  await tried(page);
  await page.locator('[data-passage=gate]').focus();
  await page.keyboard.press('Enter');
  await page.locator('#desk .map').evaluate((map) => map.scrollIntoView({ block: 'center' }));
});
await picture('levels', `${round}/levels`, async (page) => {
  await page.locator('[data-level=customs] [data-column="0"]').click();
});
const part = (name) => (page) => page.getByRole('tab', { name }).click();
await picture('answers', `${round}/levels`, part('What answers what'));
await picture('saves', `${round}/levels`, async (page) => {
  await part('Saves')(page);
  await page.getByText('shortest route to a save').waitFor();
});
await picture('times', `${round}/levels`, async (page) => {
  await part('Times')(page);
  await page.locator('[data-times=rope] [data-recorded]:not(:empty)').waitFor();
});
await picture('values', `${faults}/values`, (page) => page.locator('.later').first().waitFor());
await picture('trial', `${round}/trial`, async (page) => {
  const control = (name) => page.getByRole('button', { name }).first().click();
  for (const name of [/^Let the time pass/, /^Begin the round/, /^Touch loses/, /^Let the time pass/, /^All but one/])
    await control(name);
  await page.getByLabel('Name of a new run').fill('One fall, then all but one');
  await page.getByLabel('Name of a new run').press('Enter');
  await page.locator('[data-run=one_fall_then_all_but_one]').getByText('as recorded').waitFor();
});
await picture('checks', `${faults}/checks`, async (page) => {
  await tried(page);
  await page.waitForTimeout(12_000);
  await page.locator('[data-finding="goal-count w_chapel"] > .message').click();
  await page.locator('[data-fix]').nth(1).waitFor();
});
const pointed = async (page) => {
  await page.getByText('Nothing is wrong here.').waitFor({ timeout: 60_000 });
  const canvas = page.locator('.plan canvas[tabindex]');
  await canvas.focus();
  for (let n = 0; n < 9; n++) await page.keyboard.press('ArrowRight');
  for (let n = 0; n < 6; n++) await page.keyboard.press('ArrowDown');
  await page.locator('[data-reach]').waitFor();
};
await picture('plan', `${round}/plan?level=sail`, pointed);
await picture('patrol', `${round}/plan?level=rope`, async (page) => {
  await page.getByRole('tab', { name: 'Patrols' }).click();
  await page.getByRole('button', { name: 'Show the route past' }).click();
  await page.getByRole('button', { name: 'Pause' }).click();
  await page.getByLabel('Seconds after arrival').fill('2.5');
});
await picture('ground', `${round}/plan?level=rope`, async (page) => {
  await page.getByRole('button', { name: 'Walk it' }).click();
  await page.getByLabel('Walk to').selectOption({ label: 'Lamp at 13, 2' });
  await page.locator('.walk[data-cell="13,2"]').waitFor();
});

/** What leaves the application: a page that is opened from disk. */
async function paper(name, file, play) {
  if (names.length > 0 && !names.includes(name)) return;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(pathToFileURL(file).href);
  await play(page);
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  await page.close();
}

const folder = mkdtempSync(join(tmpdir(), 'crow-lane-'));
const file = join(folder, 'round.html');
const shown = await fetch(`${address}/api/flows/demo-lamplighters-round/file?as=html&show=values&show=map`);
writeFileSync(file, await shown.text());
await paper('page', file, async (page) => {
  await page.getByRole('button', { name: /^Begin the round/ }).click();
  await page.locator('.walk').waitFor();
  await page.getByLabel('Walk to').selectOption({ label: 'Lamp at 10, 4' });
  await page.locator('.walk[data-cell="10,4"]').waitFor();
});
rmSync(folder, { recursive: true });
await paper('example', join(root, 'examples/canvas/dist/index.html'), async (page) => {
  await page.keyboard.press('Enter');
  for (const key of ['ArrowRight', 'ArrowDown', 'ArrowDown', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key);
});
await house();
await browser.close();

/** What comes with accounts, of a product of its own: two people, and three flows on show. */
async function house() {
  if (names.length > 0 && !names.some((name) => ['people', 'shared', 'show'].includes(name))) return;
  const place = someFolder();
  try {
    const product = await startProduct(place.folder, { options: ['--accounts'] });
    const json = async (method, path, cookie, body) => {
      const response = await ask(product.url, path, {
        method,
        headers: { 'content-type': 'application/json', ...(cookie ? { cookie } : {}) },
        ...(body ? { body: JSON.stringify(body) } : {})
      });
      return { ...(response.text ? JSON.parse(response.text) : {}), cookie: response.headers['set-cookie']?.[0].split(';')[0] };
    };
    const account = (secret, name) =>
      json('POST', '/api/links/use', undefined, { secret, name, password: 'lantern otter copper' });
    const { cookie } = await account(firstSecret(product), 'Mira Holt');
    const invite = async (role, note) =>
      (await json('POST', '/api/invitations', cookie, { role, note })).path.replace(/^.*#/, '');
    const tomas = (await account(await invite('designer', 'Tomas, levels'), 'Tomas Ek')).cookie;
    await account(await invite('guest', 'a visitor from the school'), 'Ines Falk');
    await invite('designer', 'the new one, from December');
    const show = (flow, summary, ...tags) => json('POST', `/api/flows/${flow}/shows`, cookie, { summary, tags });
    await show(
      'demo-night-market',
      'Stalls in any order, one purse, and a way home before the lanterns go out.',
      'market',
      'open order'
    );
    await show('demo-ferry-rooms', 'The last ferry lies dark. Oil, a wick and a key are somewhere in its rooms.', 'doors', 'hub');
    const round = 'demo-lamplighters-round';
    await show(round, 'Twelve streets of the old town, lit before the night watch is through.', 'town', 'lives', 'patrols');
    await json('PUT', `/api/flows/${round}/rights`, cookie, {
      person: (await json('GET', '/api/account', tomas)).person.id,
      may: 'edit'
    });
    const edit = [{ op: 'replace', path: '/places/quay/name', value: 'Quay Row' }];
    await ask(product.url, `/api/flows/${round}`, {
      method: 'PATCH',
      headers: {
        ...{ cookie: tomas, 'content-type': 'application/json-patch+json', 'if-match': '"1"' },
        ...{ 'idempotency-key': 'quay', 'edit-label': 'Rename%20Quay%20Street' }
      },
      body: JSON.stringify(edit)
    });
    await show(round, 'Twelve streets of the old town, lit before the night watch is through.', 'town', 'lives', 'patrols');
    const { shows } = await json('GET', '/api/shows', cookie);
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: product.url });
    const [name, value] = cookie.split(/=(.*)/);
    await context.addCookies([{ name, value, url: product.url }]);
    const page = await context.newPage();
    const taken = async (name, path, prepare) => {
      if (names.length > 0 && !names.includes(name)) return;
      await page.goto(path);
      await prepare?.();
      await page.waitForTimeout(800);
      await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
    };
    const checked = async () => {
      for (let n = 0; n < 60 && (await page.getByText('not checked yet').count()) > 0; n++) {
        await page.waitForTimeout(1000);
        await page.reload();
      }
    };
    await taken('shared', '/shared', checked);
    const [shown] = shows.filter(({ flow }) => flow === round);
    for (let n = 0; n < 3; n++) await ask(product.url, `/shared/${shown.id}/play`, { headers: { cookie } });
    await taken('show', `/shared/${shown.id}`, async () => {
      await checked();
      await page.getByRole('button', { name: 'what changed' }).click();
      await page.locator('.changes').waitFor();
    });
    await taken('people', '/people');
    await product.stop();
  } finally {
    await place.drop();
  }
}
