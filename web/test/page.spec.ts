/** A page to play: one file, opened from disk, played by keys, touch and gamepad; what was done leads back to the designer. */
import { check } from '@crow-lane/core/check/check';
import { read } from '@crow-lane/core/document/read';
import { levelsOf, type FlowDocument, type Step } from '@crow-lane/core/document/types';
import type { Page } from '@playwright/test';
import { readFile, writeFile } from 'node:fs/promises';
import { pathToFileURL } from 'node:url';
import { axeFindsNothing, baseOf, demoFile, expect, open, put, settled, small, test } from './support/page.ts';

/** Two streets: one walked on its plan, one by its passages; with a save on the way. */
const streets = () => ({
  ...structuredClone(small),
  rules: [{ id: 'hold', when: { press: 'Pause', key: 'p' }, go: { place: 'pause', over: true } }],
  variables: { steps: { name: 'Lamps lit', type: 'number', scope: 'run', initial: 0, min: 0, max: 9 } },
  places: {
    ...structuredClone(small.places),
    pause: { name: 'Pause', kind: 'menu', rules: [{ id: 'on', when: { press: 'Go on' }, go: { move: 'back' } }] },
    quay: {
      name: 'Quay Street',
      brief: 'Not for players: the designer notes here.',
      kind: 'level',
      pieces: { lamp: { name: 'Lamp', kind: 'pickup' }, stairs: { name: 'Stairs', kind: 'exit' } },
      plan: {
        view: 'above',
        rows: ['######', '#....#', '######'],
        things: { l: { piece: 'lamp', cells: [[2, 1]] }, s: { piece: 'stairs', cells: [[4, 1]] } }
      },
      rules: [
        { id: 'got', when: { collect: 'lamp' }, do: [{ set: 'steps', to: 'steps + 1' }] },
        {
          id: 'up',
          when: { touch: 'stairs' },
          if: 'all(lamp)',
          do: [{ save: 'always' }],
          go: { place: 'loft' },
          result: 'won',
          by: { style: 'fade', out: 0.1, in: 0.1 }
        }
      ]
    },
    loft: {
      name: 'Net Loft',
      kind: 'level',
      message: 'Lit: {steps}',
      spots: { floor: { name: 'Floor' }, beam: { name: 'Beam' } },
      passages: { rope: { from: 'floor', to: 'beam', both: true } },
      pieces: { lamp: { name: 'Lamp', kind: 'pickup', at: { beam: 1 } } },
      rules: [
        { id: 'lit', when: { holds: 'all(lamp)' }, go: { place: 'aglow' }, result: 'won' },
        { id: 'stop', when: { press: 'Stop', key: 's' }, go: { place: 'title' } }
      ]
    }
  }
});

const says = (page: Page) => page.locator('.scene h2');

/** Saves the page of a flow from Export, and opens the file. */
async function fromExport(page: Page, id: string, file: string, parts: string[] = []): Promise<void> {
  await open(page, id);
  await page.getByRole('button', { name: 'Export' }).click();
  for (const part of parts) await page.getByRole('checkbox', { name: part }).check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'A page to play', exact: true }).click()
  ]);
  await download.saveAs(file);
  await page.goto(pathToFileURL(file).href);
}

test('the page is saved from Export, played from disk by keys, gone on with after a visit, and leads back as a run', async ({
  page
}, info) => {
  const file = info.outputPath('streets.html');
  const id = await put(page, streets());
  await fromExport(page, id, file, ['values']);
  await expect(says(page)).toHaveText('Title');
  await expect(page.getByText('Not for players')).toHaveCount(0);
  expect(await readFile(file, 'utf8')).not.toContain('Not for players');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Begin' }).press('Enter');

  // the plan, by arrow keys: the lamp first, then the stairs
  await expect(says(page)).toHaveText('Quay Street');
  for (const cell of ['2,1', '3,1', '4,1']) {
    await expect(page.locator('.scene .place:not([inert])')).toBeVisible();
    await page.keyboard.press('ArrowRight');
    if (cell !== '4,1') await expect(page.locator('.walk')).toHaveAttribute('data-cell', cell);
    if (cell !== '3,1') continue;
    // whoever pauses goes on where it was
    await page.keyboard.press('p');
    await expect(says(page)).toHaveText('Pause');
    await page.getByRole('button', { name: 'Go on' }).click();
    await expect(page.locator('.walk')).toHaveAttribute('data-cell', cell);
  }
  await expect(says(page)).toHaveText('Net Loft');
  await expect(page.getByText('Lit: 1')).toBeVisible();
  await expect(page.getByLabel('Values')).toContainText('Lamps lit 1');
  // the map of its spots, by an arrow key, and back
  await expect(page.getByRole('button', { name: 'Collect' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Walk to Beam' }).click();
  await expect(page.getByRole('button', { name: 'Collect' })).toBeVisible();
  await axeFindsNothing(page, 'a page to play');
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'night');
  await axeFindsNothing(page, 'a page to play, at night', 'night');

  // another visit: the browser has kept it
  await page.reload();
  await expect(says(page)).toHaveText('Net Loft');
  await expect(page.getByRole('button', { name: 'Collect' })).toBeVisible();

  // what was done is saved, and comes back to the designer as a run
  await page.getByRole('button', { name: 'Save what I did…' }).click();
  await page.getByLabel('What happened').fill('Stuck on the beam');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click()
  ]);
  const run = info.outputPath('run.json');
  await download.saveAs(run);

  await page.getByRole('button', { name: 'Collect' }).click();
  await expect(says(page)).toHaveText('The town aglow');
  await page.getByRole('button', { name: 'Start over…' }).click();
  await page.getByRole('button', { name: 'Start over', exact: true }).click();
  await expect(says(page)).toHaveText('Title');

  await page.goto(`${baseOf()}/flows/${id}/trial`);
  await settled(page);
  const input = page.getByLabel('What a player did on a page to play');
  await input.setInputFiles(run);
  await expect(page.locator('[data-run]')).toContainText('as recorded');
  await expect(page.getByLabel('Name of the run Stuck on the beam')).toBeVisible();
  await expect(says(page)).toContainText('Net Loft');
  await expect(page.locator('.tape')).toContainText('collect Lamp');

  // on a later version it goes as far as it can, and says so
  await page.locator('[data-run]').getByRole('button', { name: 'delete' }).click();
  await settled(page);
  const response = await page.request.patch(`/api/flows/${id}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      origin: baseOf(),
      'if-match': `"${(await (await page.request.get(`/api/flows/${id}`)).json()).revision}"`,
      'idempotency-key': 'later-version',
      'edit-label': 'Loft%20first',
      'edit-author': 'Ada'
    },
    data: JSON.stringify([{ op: 'replace', path: '/places/title/rules/0/go', value: { place: 'loft' } }])
  });
  expect(response.status(), await response.text()).toBeLessThan(300);
  await page.reload();
  await settled(page);
  await input.setInputFiles(run);
  await expect(page.getByText('Stuck on the beam: only the first 1 of')).toBeVisible();
  await expect(page.locator('[data-run]')).toContainText('goes differently at event 1');
  await writeFile(run, '{"format": "crow-lane-run", "version": 1, "flow": "x", "run": {"name": "y", "steps": [{"jump": 1}]}}');
  await input.setInputFiles(run);
  await expect(page.getByRole('alert')).toContainText('line 1');
});

test('nothing in a flow runs as code on its page, or ends what it stands in', async ({ page }, info) => {
  const evil = `</script><script>document.title='run'</script><img src=x onerror="document.title='run'">%game%%title%$&`;
  const flow = structuredClone(small);
  flow.name = evil.slice(0, 80);
  flow.places.title.name = evil.slice(0, 80);
  Object.assign(flow.places.title, { message: `${evil}<!--<script>` });
  flow.places.title.rules[0]!.when.press = '<b onclick="alert(1)">Begin</b>';
  const file = info.outputPath('evil.html');
  await page.goto('/');
  await fromExport(page, await put(page, flow), file, ['a map of the flow']);
  await expect(says(page)).toHaveText(evil.slice(0, 80));
  await expect(page.locator('.message')).toHaveText(`${evil}<!--<script>`);
  await expect(page).toHaveTitle(evil.slice(0, 80));
  expect(await page.locator('script').count()).toBe(2);
  await page.getByRole('button', { name: '<b onclick' }).click();
  await expect(says(page)).toHaveText('Quay Street');
  await expect(page.locator('.map img')).toBeVisible();
});

/** Does a step of a route on the page, as a player would. */
async function perform(page: Page, flow: FlowDocument, step: Step): Promise<void> {
  await expect(page.locator('.scene .place:not([inert])')).toBeVisible();
  const walked = (await page.locator('.walk').count()) > 0;
  const name = (await says(page).textContent())!.trim();
  const level = levelsOf(flow).find(([, each]) => each.name === name)?.[1];
  const send = async (name: string) => {
    const targets = page.getByLabel('Walk to');
    // there is none where the last one lay on the way to another; some lie behind what is still closed
    for (const label of (await targets.locator('option').allTextContents()).filter((text) => text.startsWith(`${name} at`))) {
      await targets.selectOption({ label });
      await expect(page.locator('.walk[data-moving]')).toHaveCount(0);
      if (!(await page.getByText('No route leads to').isVisible())) return;
    }
  };
  if ('press' in step) await page.getByRole('button', { name: new RegExp(`^${step.press}`) }).click();
  else if ('time' in step || 'every' in step) await page.getByRole('button', { name: 'Let the time pass' }).click();
  else if ('walk' in step) {
    // on a plan the player comes to other spots by walking
    if (!walked) await page.locator(`[data-walk="${step.walk}"] button`).click();
  } else if ('collect' in step || 'touch' in step) {
    const piece = 'collect' in step ? step.collect : step.touch;
    // so has the last one, and with it the level is won
    if (!level) return;
    if (walked && level.pieces[piece]!.at) await send(level.pieces[piece]!.name);
    else await page.locator(`[data-piece="${piece}"] button`).first().click();
  } else throw new Error(`no hand does ${JSON.stringify(step)}`);
}

test('the whole round is played from disk to its win, by the shortest route that the check knows', async ({ page }, info) => {
  test.setTimeout(300_000);
  // walks and transitions take an eighth of their time
  await page.addInitScript(() => {
    const [frame, later, quick] = [requestAnimationFrame, setTimeout, 8];
    window.requestAnimationFrame = (then) => frame((at) => then(at * quick));
    Object.assign(window, { setTimeout: (then: () => void, ms = 0) => later(then, ms / quick) });
  });
  const { document: flow } = read(demoFile('lamplighters-round'));
  const { route } = check(flow!).checks.find((each) => each.check === 'place-reached' && each.subject === 'aglow')!;
  const file = info.outputPath('round.html');
  await fromExport(page, 'demo-lamplighters-round', file);
  expect((await readFile(file)).length).toBeLessThan(300_000);
  await page.getByLabel('Time').selectOption('stopped');
  for (const step of route!) await perform(page, flow!, step);
  await expect(says(page)).toHaveText('The town aglow');
  expect(route!.length).toBeGreaterThan(60);
});

test('a page is played by touch alone, on a small screen', async ({ browser }, info) => {
  const file = info.outputPath('touch.html');
  const context = await browser.newContext({
    hasTouch: true,
    isMobile: true,
    viewport: { width: 390, height: 844 },
    baseURL: baseOf()
  });
  const page = await context.newPage();
  await page.goto('/');
  const { id } = (await (
    await page.request.post('/api/flows', {
      headers: { 'content-type': 'application/json', origin: baseOf() },
      data: JSON.stringify(streets())
    })
  ).json()) as { id: string };
  await writeFile(file, await (await page.request.get(`/api/flows/${id}/file?as=html`)).body());
  await page.goto(pathToFileURL(file).href);
  await page.getByRole('button', { name: 'Begin' }).tap();
  await expect(says(page)).toHaveText('Quay Street');
  // a step by the buttons, which are as large as a thumb; then to the stairs by a tap on them
  const right = page.getByRole('button', { name: 'right' });
  expect((await right.boundingBox())!.height).toBeGreaterThanOrEqual(44);
  await right.tap();
  // on a busy machine the button is held for longer than one step takes
  await expect(page.locator('.walk')).toHaveAttribute('data-cell', /^[23],1$/);
  const box = (await page.locator('canvas').boundingBox())!;
  const size = Math.min(30, (box.width - 4) / 6);
  await page.touchscreen.tap(box.x + box.width / 2 + 1.5 * size, box.y + box.height / 2);
  await expect(says(page)).toHaveText('Net Loft');
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await context.close();
});

test('a gamepad walks the plan and uses the controls of a page', async ({ page }, info) => {
  await page.addInitScript(() => {
    const pad = { index: 0, axes: [0, 0], buttons: Array.from({ length: 16 }, () => ({ pressed: false })) };
    Object.assign(window, { pad });
    navigator.getGamepads = () => [pad as unknown as Gamepad];
  });
  const file = info.outputPath('pad.html');
  await fromExport(page, await put(page, streets()), file);
  const hold = (button: number, pressed: boolean) =>
    page.evaluate(
      ([at, down]) => {
        const { pad } = window as unknown as { pad: { buttons: { pressed: boolean }[] } };
        pad.buttons[at as number]!.pressed = down as boolean;
      },
      [button, pressed] as const
    );
  await expect(says(page)).toHaveText('Title');
  await hold(0, true);
  await expect(says(page)).toHaveText('Quay Street');
  await hold(0, false);
  // the cross, held to the right
  await hold(15, true);
  await expect(says(page)).toHaveText('Net Loft');
});
