/** The plan of a level: drawn by keys and by pointer, read from a grid, with its mistakes told; and walked in the trial. */
import type { Page } from '@playwright/test';
import { Acts } from './support/acts.ts';
import { axeFindsNothing, demoFile, expect, open, put, settled, small, tile, test } from './support/page.ts';

/** Lamps and an exit in Quay Street, by which it is won once they are lit. */
const street = () => {
  const flow = structuredClone(small) as unknown as { places: { quay: { pieces: object; rules: object[] } } };
  flow.places.quay.pieces = {
    lamp: { name: 'Lamp', kind: 'pickup' },
    stairs: { name: 'Stairs', kind: 'exit' }
  };
  flow.places.quay.rules = [
    { id: 'lit', when: { touch: 'stairs' }, if: 'all(lamp)', go: { move: 'next', else: { place: 'aglow' } }, result: 'won' }
  ];
  return flow;
};

const canvas = (page: Page) => page.locator('.plan canvas[tabindex]');
const truth = (page: Page) => page.locator('.truth');
const text = (page: Page) => page.getByLabel('The plan as text');
const drawn = async (page: Page) => {
  await page.getByRole('tab', { name: 'Text' }).click();
  return text(page);
};

async function begin(page: Page, view: 'side' | 'above', columns: number, rows: number): Promise<void> {
  await open(page, await put(page, street()));
  await tile(page, 'quay').locator('.face').click();
  await page.keyboard.press('g');
  await page.getByLabel('Columns').fill(String(columns));
  await page.getByLabel('Rows').fill(String(rows));
  await page.getByRole('button', { name: `Seen from ${view === 'side' ? 'the side' : 'above'}` }).click();
  await expect(canvas(page)).toBeVisible();
}

/** Moves the cursor of the plan to a cell, from where it is. */
async function to(page: Page, x: number, y: number): Promise<void> {
  const [fromX, fromY] = (await canvas(page).getAttribute('data-cell'))!.split(',').map(Number) as [number, number];
  for (let n = 0; n < Math.abs(x - fromX); n++) await page.keyboard.press(x > fromX ? 'ArrowRight' : 'ArrowLeft');
  for (let n = 0; n < Math.abs(y - fromY); n++) await page.keyboard.press(y > fromY ? 'ArrowDown' : 'ArrowUp');
  await expect(canvas(page)).toHaveAttribute('data-cell', `${x},${y}`);
}

async function stampAt(page: Page, key: string, x: number, y: number): Promise<void> {
  await to(page, x, y);
  await page.keyboard.press(key);
  await page.keyboard.press('Enter');
}

test('a plan is drawn by keys alone, its mistake is told and fixed, and it is walked to the win by keys', async ({ page }) => {
  test.setTimeout(120_000);
  await begin(page, 'side', 9, 6);
  await canvas(page).focus();
  // 5 is the first piece: the lamp; 6 the stairs
  await stampAt(page, '5', 3, 4);
  await stampAt(page, '5', 5, 1);
  await stampAt(page, '6', 7, 4);
  await expect(page.locator('#plan-cell')).toHaveText(/^7, 4: open, Stairs/);
  await expect(page.getByRole('radio', { name: 'Lamp 2' })).toBeVisible();
  // a lamp hangs higher than the player jumps
  await expect(truth(page)).toContainText('1 of 2 Lamp out of reach');
  await settled(page);
  // told at its cause, which is known once fixes have been tried
  const fix = page.locator('[data-finding]').getByRole('button', { name: 'Move 1 Lamp to where the player gets' }).first();
  await expect(fix).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('.answers')).toContainText('0 of 2 levels can be completed');
  await fix.click();
  await expect(truth(page)).toContainText('all pieces in reach (3)');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  await axeFindsNothing(page, 'the plan');

  await page.getByRole('button', { name: 'Walk it' }).click();
  await expect(page.locator('.walk')).toHaveAttribute('data-cell', '1,4');
  // the lamp that was moved stands on the ground, on the way
  await page.keyboard.down('ArrowRight');
  await expect(page.locator('.scene h2')).toContainText('Net Loft');
  await page.keyboard.up('ArrowRight');
  await expect(page.locator('.tape')).toContainText('Lamp left 1 → 0');
  await expect(page.locator('.tape')).toContainText('touch Stairs');
});

test('strokes run as lines, rectangles and fills, parts are mirrored and moved; each is one act to take back', async ({
  page
}) => {
  await begin(page, 'above', 12, 7);
  await canvas(page).focus();
  const rows = async (...wanted: string[]) => expect(await drawn(page)).toHaveValue(wanted.join('\n'));
  const empty = ['############', ...Array.from({ length: 5 }, () => '#..........#'), '############'];
  await rows(...empty);
  await canvas(page).focus();
  await page.keyboard.press('1');
  await page.keyboard.press('r');
  await to(page, 2, 2);
  await page.keyboard.press('Enter');
  await to(page, 4, 3);
  await page.keyboard.press('Enter');
  await rows(empty[0]!, empty[1]!, '#.###......#', '#.###......#', empty[4]!, empty[5]!, empty[6]!);
  await canvas(page).focus();
  await page.keyboard.press('m');
  await rows(empty[0]!, empty[1]!, '#......###.#', '#......###.#', empty[4]!, empty[5]!, empty[6]!);
  await canvas(page).focus();
  // a part is moved with its things by Ctrl and an arrow
  await page.keyboard.press('t');
  await to(page, 7, 2);
  await page.keyboard.press('Enter');
  await to(page, 9, 3);
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+ArrowLeft');
  await rows(empty[0]!, empty[1]!, '#.....###..#', '#.....###..#', empty[4]!, empty[5]!, empty[6]!);
  for (let n = 0; n < 3; n++) await page.getByRole('button', { name: 'Undo' }).click();
  await rows(...empty);

  // by pointer: a line, then a fill of what it leaves
  const box = (await canvas(page).boundingBox())!;
  const size = Math.max(4, Math.min(34, Math.floor(Math.min((box.width - 40) / 12, (box.height - 40) / 7))));
  const left = box.x + Math.max(12, Math.round((box.width - 12 * size) / 2));
  const top = box.y + Math.max(12, Math.round((box.height - 7 * size) / 2));
  const at = (x: number, y: number): [number, number] => [left + (x + 0.5) * size, top + (y + 0.5) * size];
  await page.getByRole('radio', { name: 'solid' }).click();
  await page.getByRole('radio', { name: 'Line' }).click();
  await page.mouse.move(...at(5, 1));
  await page.mouse.down();
  await page.mouse.move(...at(5, 3), { steps: 3 });
  await page.mouse.move(...at(5, 5), { steps: 3 });
  await page.mouse.up();
  await page.getByRole('radio', { name: 'Fill' }).click();
  await page.mouse.click(...at(8, 3));
  await rows(empty[0]!, ...Array.from({ length: 5 }, () => '#....#######'), empty[6]!);
});

test('a grid from elsewhere asks once what it means; the plan goes out as text, CSV and pictures', async ({ page }) => {
  await begin(page, 'side', 8, 5);
  const field = await drawn(page);
  await field.fill('1;1;1;1;1;1\n1;0;0;0;9;1\n1;0;2;0;0;1\n1;1;1;1;1;1');
  await field.blur();
  const question = page.getByRole('dialog', { name: 'What do these mean?' });
  await question.getByLabel('What 2 means').selectOption({ label: 'Lamp' });
  await question.getByLabel('What 9 means').selectOption({ label: 'Stairs' });
  await question.getByRole('button', { name: 'Draw it' }).click();
  await expect(field).toHaveValue('######\n#...9#\n#.2..#\n######');
  // renewed, it asks no more
  await field.fill('1,1,1,1,1,1,1\n1,0,2,2,0,9,1\n1,0,2,0,0,0,1\n1,1,1,1,1,1,1');
  await field.blur();
  await expect(field).toHaveValue('#######\n#.22.9#\n#.2...#\n#######');
  await expect(page.getByRole('radio', { name: 'Lamp 3' })).toBeVisible();
  // what is too large is refused, and stays typed
  await field.fill(Array.from({ length: 170 }, () => '###').join('\n'));
  await field.blur();
  await expect(page.getByRole('alert')).toContainText('3 × 170 cells. A plan has at most 240 × 160.');
  await page.getByRole('button', { name: 'Leave it' }).click();

  for (const [name, sign] of [
    ['As text', '#.22.9#'],
    ['As CSV', '#,.,2,2,.,9,#'],
    ['As SVG', '<svg xmlns="http://www.w3.org/2000/svg" width="168"'],
    ['As PNG', 'PNG']
  ] as const) {
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name }).click();
    const stream = await (await download).createReadStream();
    const chunks: Buffer[] = [];
    for await (const chunk of stream) chunks.push(chunk as Buffer);
    expect(Buffer.concat(chunks).toString('latin1'), name).toContain(sign);
  }
});

test('two draw in one row of a plan: what each has drawn is there for both', async ({ page, context }) => {
  await begin(page, 'above', 12, 6);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(canvas(other)).toBeVisible();
  for (const [each, x] of [
    [page, 3],
    [other, 8]
  ] as const) {
    await each.bringToFront();
    await canvas(each).focus();
    await to(each, x, 2);
  }
  // both draw before either has heard of the other
  await Promise.all([page.keyboard.press('Enter'), other.keyboard.press('Enter')]);
  for (const each of [page, other]) {
    await each.bringToFront();
    await expect(await drawn(each)).toHaveValue(/\n#\.\.#\.\.\.\.#\.\.#\n/);
    await expect(each.getByText(/^kept, revision/)).toBeVisible();
  }
});

test('in the trial a gate opens when it does, a way is gone by itself, and a step back leads back', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/flows/demo-lamplighters-round/plan?level=sail');
  await settled(page);
  await page.getByRole('button', { name: 'Walk it' }).click();
  const walker = page.locator('.walk');
  await expect(walker).toHaveAttribute('data-cell', '1,10');
  const go = async (name: string, cell: string) => {
    await page.getByLabel('Walk to').selectOption({ label: name });
    await expect(walker).toHaveAttribute('data-cell', cell);
    await expect(walker).not.toHaveAttribute('data-moving');
  };
  // behind the gate nothing can be walked to yet
  await page.getByLabel('Walk to').selectOption({ label: 'Lamp at 25, 10' });
  await expect(page.getByText('No route leads to 25, 10 now.')).toBeVisible();
  for (const cell of ['4, 10', '8, 10', '3, 5', '7, 3']) await go(`Lamp at ${cell}`, cell.replace(', ', ','));
  await expect(page.locator('.tape')).toContainText('Lamp left 6 → 5');
  await go('Lamp at 25, 10', '25,10');
  await expect(page.locator('.tape')).toContainText('walk to');
  await expect(page.locator('.tape')).toContainText('Lamp left 5 → 4');
  // what has happened is gone through again, cell by cell, and comes to the same
  const events = await page.locator('.tape').innerText();
  await page.getByRole('button', { name: 'Watch the route' }).click();
  await expect(walker).toHaveAttribute('data-moving');
  await expect(page.getByRole('button', { name: 'Watch the route' })).toBeHidden();
  await expect(walker).not.toHaveAttribute('data-moving');
  expect(await page.locator('.tape').innerText()).toBe(events);
  await expect(walker).toHaveAttribute('data-cell', '25,10');
  await page.getByRole('button', { name: 'Restart the level' }).click();
  await expect(page.locator('.tape')).toContainText('0 events');
  await expect(walker).toHaveAttribute('data-cell', '1,10');
  await axeFindsNothing(page, 'the trial on a plan');
});

test('the route of a finding is watched on the plan, from the arrival to its end', async ({ page }) => {
  test.setTimeout(120_000);
  await open(page, 'demo-lamplighters-round');
  await page.getByRole('link', { name: 'Checks' }).click();
  await page
    .getByRole('row', { name: /Sail Row/ })
    .getByRole('button')
    .nth(2)
    .click();
  await page.getByText(/^Sail Row can be won, \d+ steps/).click();
  await page.getByRole('button', { name: /^the route, / }).click();
  await page.locator('li li').filter({ hasText: 'Sail Row' }).getByRole('button', { name: 'watch on the plan' }).click();
  const walker = page.locator('.walk');
  await expect(walker).toHaveAttribute('data-moving');
  // the last lamp wins: the plan is left
  await expect(walker).toBeHidden();
  await expect(page.locator('.tape')).toContainText('53 events');
});

test('the best time stands beside the limit: its route is drawn and walked, a limit too short is told and raised', async ({
  page
}) => {
  test.setTimeout(120_000);
  await page.goto('/flows/demo-lamplighters-round-with-faults/plan?level=night1');
  await settled(page);
  const best = page.locator('[data-best]');
  await expect(best).toContainText('4.75 s; given 4 s');
  const wrong = page.locator('[data-finding="time-enough night1"]');
  await expect(wrong).toContainText('Night 1 cannot be won in 4 s: the shortest route takes 4.75 s.');
  await expect(wrong.locator('[data-fix]')).toContainText('Give 7 s instead of 4 s');
  await best.getByRole('button', { name: 'Draw the route' }).click();
  await expect(best.getByRole('button', { name: 'Hide the route' })).toHaveAttribute('aria-pressed', 'true');

  await page.goto('/flows/demo-lamplighters-round/plan?level=rope');
  await expect(best).toContainText('20.25 s; given 35 s, 42 % to spare');
  await best.getByRole('button', { name: 'Watch the route' }).click();
  // the last lamp wins: the plan is left
  await expect(page.locator('.walk')).toHaveAttribute('data-moving');
  await expect(page.locator('.walk')).toBeHidden();
  await expect(page.locator('.tape')).toContainText('wins, to Level complete');
});

test('times of all levels stand side by side, and become what levels are expected to take', async ({ page }) => {
  const id = await put(page, demoFile('lamplighters-round').replace("Lamplighter's Round", 'Timed round'));
  await page.goto(`/flows/${id}/levels`);
  await settled(page);
  await expect(page.locator('[data-level=rope] [data-best]')).toHaveText('20.25');
  await page.getByRole('tab', { name: 'Times' }).click();
  await expect(page.locator('[data-times=rope]')).toContainText('42 %');
  await expect(page.locator('[data-times=rope] [data-recorded]')).toHaveText('23');
  await page.getByRole('button', { name: 'Fill “Takes (s)” with the best times' }).click();
  await settled(page);
  await expect(page.locator('[data-times=rope] td').nth(3)).toHaveText('21');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-times=rope] td').nth(3)).toHaveText('');
  await axeFindsNothing(page, 'times');
});

test('a level gets its ground from a grid, with its lamps, its exit and its best time: nine acts', async ({ page }) => {
  const acts = new Acts(page);
  await open(page, await put(page, street()));
  await acts.click(tile(page, 'quay').locator('.face'));
  await acts.key('g');
  await acts.click(page.getByRole('button', { name: 'Seen from the side' }));
  await acts.click(page.getByRole('tab', { name: 'Text' }));
  await acts.write(text(page), '##########\n#....L..X#\n#.##LL.###\n##########');
  await text(page).blur();
  await acts.choose(page.getByLabel('What L means'), 'Lamp');
  await acts.choose(page.getByLabel('What X means'), 'Stairs');
  await acts.click(page.getByRole('button', { name: 'Draw it' }));
  await acts.click(page.getByRole('tab', { name: 'Answer' }));
  await expect(page.locator('[data-best]')).toContainText('From the first ground:');
  await expect(page.getByText('Nothing is wrong here.')).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Lamp 3' })).toBeVisible();
  expect(acts.count).toBe(9);
});
