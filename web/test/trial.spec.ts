import type { Locator, Page } from '@playwright/test';
import { demoFile, expect, face, axeFindsNothing, open, put, settled, small, test } from './support/page.ts';
import { tabTo } from './support/hands.ts';

const scene = (page: Page) => page.getByRole('region', { name: 'What the player sees' });
const tape = (page: Page) => page.getByRole('region', { name: 'Tape' });
/** Uses a control by Tab and Enter alone. */
async function useControl(page: Page, control: Locator) {
  await expect(control).toBeVisible();
  await tabTo(page, control);
  await page.keyboard.press('Enter');
}
const use = (page: Page, name: RegExp) => useControl(page, scene(page).getByRole('button', { name }).first());

interface Step {
  start?: true;
  press?: string;
  touch?: string;
  collect?: string;
  defeat?: string;
  walk?: string;
  time?: true;
}
/** Does what a step of a route says, by keys. */
async function perform(page: Page, step: Step) {
  const piece = step.touch ?? step.collect ?? step.defeat;
  if (piece !== undefined) {
    const word = step.touch !== undefined ? 'Touch' : step.collect !== undefined ? 'Collect' : 'Defeat';
    await useControl(
      page,
      scene(page)
        .locator(`[data-piece=${piece}]`)
        .getByRole('button', { name: new RegExp(`^${word}`) })
        .first()
    );
  } else if (step.walk !== undefined) await useControl(page, scene(page).locator(`[data-walk=${step.walk}]`).getByRole('button'));
  else await use(page, step.press !== undefined ? new RegExp(`^${step.press}`) : /^Let the time pass/);
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

  await page.getByRole('button', { name: 'Begin elsewhere…' }).click();
  await page.getByRole('dialog').locator('[aria-expanded]').first().click();
  await page.getByRole('combobox', { name: 'Begin at' }).fill('aglow');
  await page.keyboard.press('Enter');
  await page.locator('[data-arrival]').click();
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
  // until all is covered the player still sees what is left, without a word of what its controls would do
  await expect(scene(page).locator('h2')).toContainText('Title');
  await expect(scene(page).getByText('to Quay Street')).toHaveCount(0);
  await expect(scene(page).getByRole('status')).toHaveCount(0, { timeout: 8000 });
  await expect(scene(page).getByRole('button', { name: /^Let the time pass/ })).toContainText(
    'nothing: only if Lives is more than 5'
  );
  await page.getByLabel('Lives', { exact: true }).fill('6');
  await page.getByLabel('Lives', { exact: true }).press('Tab');
  await expect(tape(page)).toContainText('After line 1 values were made up.');
  await page.getByLabel('Clock').selectOption('5 times');
  await expect(scene(page).locator('h2')).toContainText('The town aglow', { timeout: 8000 });
  await axeFindsNothing(page);
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
  await expect(run).toContainText('goes differently at event 4');
  await expect(run).toContainText('in Net Loft');
  await run.getByRole('button', { name: 'record again' }).click();
  await expect(run).toContainText('✓ as recorded');
  await run.getByRole('button', { name: 'play it' }).click();
  await expect(scene(page).locator('h2')).toContainText('Quay Street');

  await page.getByRole('button', { name: 'Many at random…' }).click();
  await page.getByRole('button', { name: 'Play them' }).click();
  await expect(page.getByRole('dialog')).toContainText('The town aglow100.0 %');
  await expect(page.getByRole('img', { name: 'How many events games have' })).toBeVisible();
});

const round = 'lamplighters-round';
interface Kept {
  runs: Record<string, { steps: Step[] }>;
}

test("Lamplighter's Round is won by keyboard alone, and lost by keyboard alone", async ({ page }) => {
  test.setTimeout(300_000);
  await page.goto(`/flows/demo-${round}/trial`);
  const { steps } = (JSON.parse(demoFile(round)) as Kept).runs.the_whole_round!;
  for (const step of steps) if (!step.start) await perform(page, step);
  await expect(scene(page).locator('h2')).toContainText('The town aglow');
  await expect(tape(page)).toContainText('87 events');

  await useControl(page, page.getByRole('button', { name: 'From the start' }));
  await perform(page, { time: true });
  // the key that the rule names, from wherever the focus is
  await scene(page).locator('h2').click();
  await page.keyboard.press('Enter');
  for (let fall = 0; fall < 3; fall++) {
    await perform(page, { touch: 'water' });
    if (fall < 2) await perform(page, { time: true });
  }
  await expect(scene(page).locator('h2')).toContainText('Lanterns out');
  await perform(page, { press: 'Give up' });
  await expect(scene(page).locator('h2')).toContainText('Lights out');
});

test('a trial begins as players arrive, on the last life, at a checkpoint, and as a returning player', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto(`/flows/demo-${round}/trial`);
  const dialog = page.getByRole('dialog', { name: 'Begin the trial' });
  const beginAt = async (name: string) => {
    await page.getByRole('button', { name: 'Begin elsewhere…' }).click();
    await dialog.locator('[aria-expanded]').first().click();
    await page.getByRole('combobox', { name: 'Begin at' }).fill(name);
    await page.keyboard.press('Enter');
  };
  const now = (id: string) => page.locator(`[data-now=${id}] input, [data-now=${id}] select`);

  await beginAt('Net Lofts');
  await expect(dialog.locator('[data-arrival]')).toHaveCount(6, { timeout: 30_000 });
  await page.getByLabel('Only arrivals with').fill('a loss leads to Lanterns out');
  await dialog.locator('[data-arrival]').filter({ hasText: 'first game' }).click();
  await expect(scene(page).locator('h2')).toContainText('Net Lofts');
  await expect(now('lives')).toHaveValue('1');
  await perform(page, { touch: 'water' });
  await expect(scene(page).locator('h2')).toContainText('Lanterns out');

  // the shrine is where one goes on after a fall, with what had been lit
  await beginAt('Signal Hill');
  await dialog.getByRole('button', { name: /^Just saved at Shrine/ }).click();
  await expect(now('shrine')).toHaveValue('true', { timeout: 30_000 });
  await perform(page, { touch: 'gust' });
  await perform(page, { time: true });
  await expect(scene(page).locator('h2')).toContainText('Signal Hill');
  await expect(now('shrine')).toHaveValue('true');
  await expect(tape(page).locator('li').last()).toContainText('to Signal Hill');

  await page.getByRole('button', { name: 'Begin elsewhere…' }).click();
  await dialog.locator('summary').click();
  await dialog.getByLabel('Round made').selectOption('yes');
  await dialog.getByLabel('Quay Street').check();
  await dialog.getByRole('button', { name: 'Begin as a returning player' }).click();
  await expect(page.getByText('Begun as a returning player: Round made yes; won before: Quay Street.')).toBeVisible();
  await perform(page, { time: true });
  await perform(page, { press: 'Round map' });
  // what was won opens the next street
  await expect(scene(page).getByRole('button', { name: /^Net Lofts/ })).toBeVisible();
  await expect(scene(page).locator('.locked').first()).toContainText('Ferry Steps');
});

test('runs hold what is expected of them, may show a bug, and are written for what none uses', async ({ page }) => {
  test.setTimeout(120_000);
  const id = await put(page, small);
  await page.goto(`/flows/${id}/trial`);
  await settled(page);
  await perform(page, { press: 'Begin' });
  await perform(page, { collect: 'lamp' });
  await tape(page).locator('li').last().getByRole('button', { name: 'expect…' }).click();
  await page.getByLabel('Expected after this line').fill('left(lamp) = 2');
  await page.keyboard.press('Enter');
  await expect(tape(page)).toContainText('✓ here Lamp left is 2');
  await page.getByLabel('Name of a new run').fill('One lamp');
  await page.getByLabel('Name of a new run').press('Enter');
  const run = page.locator('[data-run=one_lamp]');
  await expect(run).toContainText('✓ as recorded');

  await page.getByRole('link', { name: 'Lane' }).click();
  await face(page, 'quay').click();
  await page.getByLabel('How many: Lamp').fill('9');
  await page.getByLabel('How many: Lamp').press('Enter');
  await page.getByRole('link', { name: 'Trial' }).click();
  await expect(run).toContainText('not as expected after event 2');
  await run.getByRole('button', { name: 'it shows a bug' }).click();
  await page.getByLabel('What is wrong with the flow').fill('nine lamps are too many');
  await page.getByRole('button', { name: 'Mark' }).click();
  await expect(run).toContainText('Known bug: nine lamps are too many');

  const unused = page.locator('.runs details').filter({ hasText: 'endings' });
  await expect(unused).toContainText('1 of 1 endings');
  await unused.locator('summary').click();
  await unused.getByRole('button', { name: 'write a run' }).click();
  await expect(unused).toContainText('0 of 1 endings', { timeout: 20_000 });
  await settled(page);

  // the lane marks what is left
  await page.getByRole('link', { name: 'Lane' }).click();
  await page.getByRole('button', { name: 'Not in runs' }).click();
  await expect(page.locator('.tile.unused')).toHaveCount(0);
  await page.getByRole('link', { name: 'Trial' }).click();
  await page.locator('[data-run^=uses]').getByRole('button', { name: 'delete' }).click();
  await page.getByRole('link', { name: 'Lane' }).click();
  await expect(page.locator('.tile.unused')).toHaveCount(2);
});

test('a draw is made as it is wanted; a gamepad plays; the way of a check is kept as a run', async ({ page }) => {
  await page.addInitScript(() => {
    const pad = { index: 0, axes: [0, 0], buttons: Array.from({ length: 16 }, () => ({ pressed: false })) };
    Object.assign(window, { pad });
    navigator.getGamepads = () => [pad as unknown as Gamepad];
  });
  await page.goto('/flows/demo-night-market/trial');
  const draw = page.getByLabel('Draw instead').first();
  await draw.selectOption({ label: (await draw.locator('option').nth(3).textContent())! });
  const drawn = await tape(page).locator('li').last().textContent();
  await tape(page).locator('li > button').first().click();
  await draw.selectOption({ label: (await draw.locator('option').nth(4).textContent())! });
  expect(await tape(page).locator('li').last().textContent()).not.toBe(drawn);

  const press = async (button: number) => {
    for (const pressed of [true, false]) {
      await page.evaluate(
        ([index, down]) => {
          const { pad } = window as unknown as { pad: { buttons: { pressed: boolean }[] } };
          pad.buttons[index as number]!.pressed = down as boolean;
        },
        [button, pressed] as const
      );
      await page.waitForTimeout(80);
    }
  };
  await tape(page).locator('li > button').first().click();
  await scene(page).locator('h2').click();
  await press(13);
  await expect(scene(page).locator('.control').first()).toBeFocused();
  await press(0);
  await expect(tape(page)).toContainText('1 event;');

  const id = await put(page, small);
  await open(page, id);
  await face(page, 'loft').click();
  await page.getByRole('button', { name: 'show', exact: true }).click();
  await page.getByRole('button', { name: 'Keep as a run' }).click();
  await expect(page.getByText(/^Kept as a run/)).toBeVisible();
});
