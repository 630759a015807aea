import { expect, open, put, test, tile } from './support/page.ts';

// a trace takes pictures all the time, which is what would be measured
test.use({ trace: 'off' });

/** Levels in a row, each won and lost, with the screens they lead to. */
function row(levels: number) {
  const places: Record<string, object> = {
    title: { name: 'Title', kind: 'menu', rules: [{ id: 'begin', when: { press: 'Begin' }, go: { move: 'first' } }] },
    over: { name: 'Lights out', kind: 'ending', outcome: 'lost', rules: [] },
    done: { name: 'The town aglow', kind: 'ending', outcome: 'won', rules: [] }
  };
  for (let n = 1; n <= levels; n++)
    places[`l${n}`] = {
      name: `Street ${n}`,
      kind: 'level',
      rules: [
        { id: `w${n}`, when: { press: 'Light' }, go: { move: 'next', else: { place: 'done' } }, result: 'won' },
        { id: `x${n}`, when: { press: 'Fall' }, go: { place: 'over' }, result: 'lost' }
      ]
    };
  const order = { name: 'Round', draw: 'fixed', levels: Array.from({ length: levels }, (_, n) => `l${n + 1}`) };
  return { format: 'crow-lane', version: 1, name: `${levels} streets`, start: 'title', orders: { main: order }, places };
}

test('300 places are panned; only what is in sight is drawn', async ({ page }) => {
  await open(page, await put(page, row(300)));
  // the times are told, not judged: they are the machine's as much as ours
  const frames = await page.evaluate(async () => {
    const lane = document.querySelector('.lane')!;
    const times: number[] = [];
    let last = await new Promise<number>((next) => requestAnimationFrame(next));
    for (let n = 0; n < 120; n++) {
      lane.dispatchEvent(new WheelEvent('wheel', { deltaX: 60, bubbles: true, cancelable: true }));
      const now = await new Promise<number>((next) => requestAnimationFrame(next));
      times.push(now - last);
      last = now;
    }
    return times.sort((a, b) => a - b);
  });
  const at = (share: number) => frames[Math.floor((frames.length - 1) * share)]!.toFixed(1);
  console.log(`300 places, panning: frames of ${at(0.5)} ms (median), ${at(0.95)} ms (19 of 20), ${at(1)} ms (worst)`);
  await expect(tile(page, 'l75')).toBeVisible();
  expect(await page.locator('.tile').count()).toBeLessThan(120);
  // and back by name
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find' }).fill('Street 300');
  await page.keyboard.press('Enter');
  await expect(tile(page, 'l300')).toBeInViewport();
});

test('2,000 places open, are found and changed', async ({ page }) => {
  test.setTimeout(120_000);
  const id = await put(page, row(2000));
  const began = Date.now();
  await page.goto(`/flows/${id}`);
  await expect(tile(page, 'l1')).toBeVisible({ timeout: 30_000 });
  console.log(`2,000 places: drawn ${Date.now() - began} ms after they were asked for`);
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find' }).fill('Street 1999');
  await page.keyboard.press('Enter');
  await expect(tile(page, 'l1999')).toBeInViewport();
  await page.getByLabel('Name of this place').fill('Breakwater');
  await page.getByLabel('Name of this place').press('Enter');
  await expect(page.getByText('kept, revision 2')).toBeVisible({ timeout: 60_000 });
  await expect(tile(page, 'l1999')).toContainText('Breakwater');
  expect(await page.locator('.tile').count()).toBeLessThan(120);
});
