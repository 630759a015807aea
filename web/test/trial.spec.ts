import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, face, open, put, settled, small, test } from './support/page.ts';

const scene = (page: Page) => page.getByRole('region', { name: 'What the player sees' });
const tape = (page: Page) => page.getByRole('region', { name: 'Tape' });
/** Uses a control by Tab and Enter alone. */
async function use(page: Page, name: RegExp) {
  const control = scene(page).getByRole('button', { name }).first();
  await expect(control).toBeVisible();
  for (const key of ['Tab', 'Shift+Tab'])
    for (let n = 0; n < 60; n++) {
      if (await control.evaluate((element) => element === document.activeElement)) {
        await page.keyboard.press('Enter');
        return;
      }
      await page.keyboard.press(key);
    }
  throw new Error(`${name} is not reached by Tab`);
}

test('a full round is won by keyboard alone, every control saying beforehand what it does', async ({ page }) => {
  test.setTimeout(180_000);
  const id = await put(page, small);
  await page.goto(`/flows/${id}/trial`);
  await expect(scene(page)).toContainText('Title');
  await expect(scene(page).getByRole('button', { name: /^Begin/ })).toContainText('to Quay Street');
  await use(page, /^Begin/);
  await expect(scene(page).locator('h2')).toContainText('Quay Street');
  await use(page, /^All but one/);
  await expect(scene(page).getByRole('button', { name: /^Collect/ })).toContainText('wins, to Net Loft');
  await use(page, /^Collect/);
  await use(page, /^Collect/);
  await use(page, /^Collect/);
  await expect(scene(page).locator('h2')).toContainText('The town aglow');
  await expect(tape(page)).toContainText('6 events');
  await use(page, /^Title/);
  await expect(scene(page).locator('h2')).toContainText('Title');

  // back to a line, and another way from there
  await tape(page).getByRole('button', { name: /^2 / }).click();
  await expect(tape(page)).toContainText('2 events');
  await expect(scene(page).locator('[data-piece=lamp] .count')).toHaveText('●●○');
});

test('the demo is lost, paused and resumed; pausing keeps everything', async ({ page }) => {
  await page.goto('/flows/demo-lamplighters-round/trial');
  await scene(page)
    .getByRole('button', { name: /^Let the time pass/ })
    .click();
  await scene(page)
    .getByRole('button', { name: /^Begin the round/ })
    .click();
  await expect(scene(page).locator('h2')).toContainText('Quay Street');
  await scene(page)
    .locator('[data-piece=lamp]')
    .getByRole('button', { name: /^Collect/ })
    .click();
  const left = await scene(page).locator('[data-piece=lamp] .count').textContent();
  await scene(page)
    .getByRole('button', { name: /^Pause/ })
    .click();
  await expect(scene(page)).toContainText('Quay Street paused under it');
  await page.keyboard.press('Escape');
  await expect(scene(page).locator('[data-piece=lamp] .count')).toHaveText(left!);
  for (let n = 0; n < 3; n++) {
    await scene(page)
      .getByRole('button', { name: /^Touch loses/ })
      .first()
      .click();
    if (n < 2)
      await scene(page)
        .getByRole('button', { name: /^Let the time pass/ })
        .click();
  }
  await expect(page.locator('[data-now=lives] input')).toHaveValue('0');
});

test('a trial begins anywhere, with values made up, and goes on after a change of the flow', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await face(page, 'loft').click();
  await page.getByRole('button', { name: 'Be there' }).click();
  await expect(scene(page).locator('h2')).toContainText('Net Loft');
  await scene(page)
    .getByRole('button', { name: /^Collect/ })
    .click();
  await expect(scene(page).getByRole('button', { name: /^Collect/ })).toContainText('wins, to The town aglow');

  await page.getByLabel('Begin at').selectOption('The town aglow');
  await page.getByRole('button', { name: 'after the shortest way' }).click();
  await expect(tape(page)).toContainText('6 events');

  // what was played is played again on what the flow now is
  await page.getByRole('link', { name: 'Lane' }).click();
  await face(page, 'quay').click();
  await page.getByLabel('How many: Lamp').fill('9');
  await page.getByLabel('How many: Lamp').press('Enter');
  await settled(page);
  await page.getByRole('link', { name: 'Trial' }).click();
  await expect(scene(page).locator('h2')).toContainText('Quay Street');
  // all five lamps were taken, now of nine in the first street
  await expect(scene(page).locator('[data-piece=lamp] .count')).toHaveText('●●●●○○○○○');
});

test('made-up values are marked, transitions close the controls, clocks run', async ({ page }) => {
  const lives = { name: 'Lives', type: 'number', initial: 2, min: 0, max: 9, scope: 'run' };
  const places = {
    ...small.places,
    quay: {
      ...small.places.quay,
      rules: [
        ...small.places.quay.rules,
        { id: 'late', when: { after: 3 }, if: 'lives > 5', go: { place: 'aglow' }, result: 'lost' }
      ]
    },
    title: {
      ...small.places.title,
      rules: [{ id: 'begin', when: { press: 'Begin', key: 'b' }, go: { move: 'first' }, by: { style: 'fade', out: 2 } }]
    }
  };
  const id = await put(page, { ...small, variables: { lives }, places });
  await page.goto(`/flows/${id}/trial`);
  await page.getByLabel('Transitions').selectOption('true length');
  await page.keyboard.press('b');
  await expect(scene(page).getByRole('status')).toContainText('fading over 2 s');
  await expect(scene(page).locator('.place')).toHaveAttribute('inert', '');
  await expect(scene(page).getByRole('status')).toHaveCount(0, { timeout: 8000 });
  await expect(scene(page).getByRole('button', { name: /^Let the time pass/ })).toContainText(
    'nothing: only if Lives is more than 5'
  );
  await page.getByLabel('Lives', { exact: true }).fill('6');
  await page.getByLabel('Lives', { exact: true }).press('Tab');
  await expect(tape(page)).toContainText('After line 1 values were made up.');
  await page.getByLabel('Clock').selectOption('5 times');
  await expect(scene(page).locator('h2')).toContainText('The town aglow', { timeout: 8000 });
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(
    violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id: rule, nodes }) => `${rule} ${nodes[0]!.html.slice(0, 120)}`)
  ).toEqual([]);
});

test('a trial is kept as a run, which notices a change; random games are counted', async ({ page }) => {
  const id = await put(page, small);
  await page.goto(`/flows/${id}/trial`);
  await settled(page);
  await scene(page)
    .getByRole('button', { name: /^Begin/ })
    .click();
  await scene(page)
    .getByRole('button', { name: /^All but one/ })
    .click();
  await scene(page)
    .getByRole('button', { name: /^Collect/ })
    .click();
  await page.getByLabel('Name of a new run').fill('The first street');
  await page.getByLabel('Name of a new run').press('Enter');
  const run = page.locator('[data-run=the_first_street]');
  await expect(run).toContainText('✓ as recorded');
  await settled(page);

  // one lamp more, and the third lamp does not win any more
  const sent = await page.request.patch(`/api/flows/${id}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': '"2"',
      'idempotency-key': 'one-more',
      'edit-label': 'One more lamp',
      'edit-author': 'Ada',
      origin: new URL(page.url()).origin
    },
    data: [{ op: 'replace', path: '/places/quay/pieces/lamp/count', value: 4 }]
  });
  expect(sent.status()).toBe(200);
  await expect(run).toContainText('goes another way at event 4');
  await expect(run).toContainText('in Net Loft');
  await run.getByRole('button', { name: 'record anew' }).click();
  await expect(run).toContainText('✓ as recorded');
  await run.getByRole('button', { name: 'play it' }).click();
  await expect(scene(page).locator('h2')).toContainText('Quay Street');

  await page.getByRole('button', { name: 'Many at random…' }).click();
  await page.getByRole('button', { name: 'Play them' }).click();
  await expect(page.getByRole('dialog')).toContainText('The town aglow100.0 %');
  await expect(page.getByRole('img', { name: 'How many events games have' })).toBeVisible();
});
