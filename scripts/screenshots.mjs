// Takes the pictures in docs/screenshots/ of a running server that has the demo flows: node scripts/screenshots.mjs [ADDRESS [NAME…]]
import { chromium } from '@playwright/test';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './lib/paths.mjs';

const [address = 'http://127.0.0.1:4170', ...names] = process.argv.slice(2);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: process.getuid?.() === 0 ? ['--no-sandbox'] : []
});

async function picture(name, path, prepare = async () => {}, theme = 'daylight') {
  if (names.length > 0 && !names.includes(name)) return;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript((chosen) => {
    localStorage.setItem('theme', chosen);
    localStorage.setItem('tour', 'left');
  }, theme);
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
await picture('night', faults, chapel, 'night');
await picture('route', round, async (page) => {
  await select('dark')(page);
  await page.getByRole('button', { name: 'show', exact: true }).click();
});
await picture('doors', '/flows/demo-ferry-rooms', select('deck'));
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
await browser.close();
