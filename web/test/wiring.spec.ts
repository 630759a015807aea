import { readFileSync } from 'node:fs';
import { expect, face, open, put, settled, small, test, tile } from './support/page.ts';

test('all that a rule and a level can say is said on the desk', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await face(page, 'quay').click();

  // entries with what one faces, progress, notes
  await page.getByLabel('Name of a new entry').fill('Ferry steps');
  await page.getByLabel('Name of a new entry').press('Enter');
  await page.getByLabel('Facing at Ferry steps').fill('the sea');
  await page.getByLabel('Facing at Ferry steps').press('Tab');
  await page.getByLabel('Progress when saved').fill('40');
  await page.getByLabel('Progress when saved').press('Tab');
  await page.getByLabel('Notes', { exact: true }).fill('The first street.');
  await page.getByLabel('Notes', { exact: true }).press('Tab');

  // a group made on the spot
  await page.getByLabel('Group', { exact: true }).selectOption('a new group');

  // when a piece is all there again
  await page.getByTitle('More about Lamp').click();
  await page.getByLabel('Comes back').selectOption('run');
  await page.keyboard.press('Escape');

  // how a move looks, and a note on the rule
  const rule = page.locator('[data-rule=lit]');
  await rule.hover();
  await rule.getByRole('button', { name: '+ transition' }).click();
  await rule.getByRole('button', { name: 'fading over 1 s' }).click();
  await page.getByLabel('Style').selectOption('iris');
  await page.getByLabel('uncover').fill('0.7');
  await page.getByLabel('uncover').press('Tab');
  await page.getByLabel('Covered in').fill('#7a1f2b');
  await page.keyboard.press('Escape');
  await expect(rule).toContainText('by a closing circle over 1.2 s, covered in #7a1f2b');
  await rule.hover();
  await rule.getByRole('button', { name: '+ note' }).click();
  await page.getByLabel('Note', { exact: true }).fill('The usual way.');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(rule).toContainText('The usual way.');

  // something expected on arrival that does not hold
  await page.getByRole('button', { name: '+ expectation on arrival' }).click();
  await page.getByLabel('Expected on arrival').fill('left(lamp) = 1');
  await page.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  await expect(page.locator('#desk').getByRole('button', { name: 'it is meant' }).first()).toBeVisible();

  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any };
  const { quay } = document.places;
  expect(quay.entries).toEqual({ ferry_steps: { name: 'Ferry steps', facing: 'the sea' } });
  expect(quay.progress).toBe(40);
  expect(quay.brief).toBe('The first street.');
  expect(document.groups[quay.group].name).toBe('Group 1');
  expect(quay.pieces.lamp.renew).toBe('run');
  expect(quay.expects).toEqual(['left(lamp) = 1']);
  const lit = quay.rules.find((each: { id: string }) => each.id === 'lit');
  expect(lit.by).toEqual({ style: 'iris', out: 0.5, in: 0.7, colour: '#7a1f2b' });
  expect(lit.note).toBe('The usual way.');

  // the finding is accepted with a reason, and taken back
  await page.getByRole('button', { name: 'it is meant' }).first().click();
  await page.getByLabel('It is meant, because').fill('Half of them will do.');
  await page.getByRole('button', { name: 'Accept' }).click();
  await settled(page);
  await page.getByRole('button', { name: 'Whole flow' }).click();
  await expect(page.locator('#desk')).toContainText('Half of them will do.');
  await page.getByRole('button', { name: 'take back' }).click();
  await settled(page);
  await expect(page.locator('#desk')).not.toContainText('Half of them will do.');
});

test('orders, groups and signals have names, and a rule can be given to all levels and back', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  await page.getByLabel('Name of a new signal').fill('Alarm');
  await page.getByLabel('Name of a new signal').press('Enter');
  await page.getByLabel('Name of the signal Alarm').fill('Bell');
  await page.getByLabel('Name of the signal Alarm').press('Enter');
  await page.getByLabel('Name of a new group').fill('Harbour');
  await page.getByLabel('Name of a new group').press('Enter');
  await face(page, 'quay').click();
  const rule = page.locator('[data-rule=lit]');
  await rule.hover();
  await rule.getByLabel('Whose rule it is').selectOption('of all levels (2)');
  await settled(page);
  await expect(rule).toContainText('every level');
  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any };
  expect(document.signals).toEqual({ alarm: { name: 'Bell' } });
  expect(document.groups.harbour.name).toBe('Harbour');
  expect(document.rules.map((each: { id: string }) => each.id)).toContain('lit');
});

test('places are found, duplicated, copied and pasted, and levels dragged along their order', async ({ page }) => {
  const id = await put(page, small);
  await open(page, id);
  const order = async () => {
    const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any };
    return Object.values(document.orders as Record<string, { levels: string[] }>)[0]!.levels;
  };
  const before = await order();

  await face(page, before[0]!).click();
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find' }).fill('lamp');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Find' })).toHaveCount(0);

  await face(page, before[0]!).click();
  await page.keyboard.press('d');
  await settled(page);
  expect(await order()).toHaveLength(before.length + 1);
  expect((await order())[1]).toBe(`${before[0]}_2`);

  // two at once
  await face(page, before[0]!).click();
  await face(page, `${before[0]}_2`).click({ modifiers: ['Shift'] });
  await page.evaluate(() => {
    const data = new DataTransfer();
    document.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true }));
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  // what reads the clipboard is fetched when it is first needed
  await expect.poll(order).toHaveLength(before.length + 3);
  await settled(page);

  // what is no place is refused and changes nothing
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', '{"format":"crow-lane-places","places":{"a":{"name":""}},"variables":{},"signals":{}}');
    document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await expect(page.getByRole('status').filter({ hasText: 'The clipboard holds no places.' })).toBeVisible();

  const levels = await order();
  const [first, third] = [await tile(page, levels[0]!).boundingBox(), await tile(page, levels[2]!).boundingBox()];
  await page.mouse.move(first!.x + 30, first!.y + 40);
  await page.mouse.down();
  await page.mouse.move(third!.x + 20, third!.y + 40, { steps: 5 });
  await page.mouse.move(third!.x + third!.width - 8, third!.y + 40, { steps: 3 });
  await page.mouse.up();
  await settled(page);
  expect(await order()).toEqual([levels[1], levels[2], levels[0], ...levels.slice(3)]);
});

test('a flow begins from a shape; its history compares, names and brings back', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: /^New/ }).click();
  await page.getByLabel('Name', { exact: true }).fill('Evening round');
  await page.getByRole('radio', { name: /^One after another/ }).check();
  await page.getByLabel('How many levels?').fill('4');
  await page.getByRole('button', { name: 'Make the flow' }).click();
  await settled(page);
  await expect(page.locator('.answers')).toContainText('4 of 4 levels can be completed');
  await expect(page.locator('#desk')).toContainText('Nothing fails');

  await face(page, 'level_2').click();
  await page.getByLabel('How many: Lamp').fill('9');
  await page.getByLabel('How many: Lamp').press('Enter');
  await settled(page);
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByLabel('Name of this revision').fill('first playable');
  await page.getByRole('button', { name: 'Name it' }).click();
  await settled(page);
  await expect(page.locator('#desk li.named')).toContainText('first playable');
  await page.locator('#desk li', { hasText: 'As it began' }).getByRole('button', { name: 'compare with now' }).click();
  await expect(page.locator('#desk')).toContainText('Level 2, Lamp: count 3 → 9.');
  await expect(tile(page, 'level_2')).toHaveAttribute('data-differs', 'changed');
  await page.locator('#desk li', { hasText: 'As it began' }).getByRole('button', { name: 'bring back' }).click();
  await settled(page);
  await expect(page.locator('#desk li').first()).toContainText('Back to revision');
  await face(page, 'level_2').click();
  await expect(page.getByLabel('How many: Lamp')).toHaveValue('3');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('How many: Lamp')).toHaveValue('9');

  // after a reload the name is nothing that could be undone
  await settled(page);
  await page.reload();
  await settled(page);
  await face(page, 'level_2').click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('How many: Lamp')).toHaveValue('3');

  // a level is taken out of its order, and put back behind the others
  await page.getByRole('checkbox', { name: 'In Main round' }).uncheck();
  await settled(page);
  await expect(face(page, 'level_3')).toContainText('2');
  await page.getByRole('checkbox', { name: 'In Main round' }).check();
  await settled(page);
  await expect(face(page, 'level_2')).toContainText('4');
});

test('the lane is saved as SVG and as PNG', async ({ page }) => {
  await open(page, await put(page, small));
  const saved = async (name: string) => {
    await page.getByRole('button', { name: 'Export' }).click();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
    return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
  };
  const svg = await saved('The lane, as SVG');
  expect(svg.name).toBe('Two-lamps.svg');
  expect(svg.bytes.toString('utf8')).toContain('Quay Street');
  const png = await saved('The lane, as PNG');
  expect(png.name).toBe('Two-lamps.png');
  expect([...png.bytes.subarray(1, 4)].map((byte) => String.fromCharCode(byte)).join('')).toBe('PNG');
  expect(png.bytes.length).toBeGreaterThan(5000);
});

test('a touch from above is another than one at the side, and a text is shown for each outcome', async ({ page }) => {
  const moth = { name: 'Moth', kind: 'foe' };
  const quay = { ...small.places.quay, pieces: { ...small.places.quay.pieces, moth } };
  const hit = { id: 'hit', when: { touch: 'moth' }, go: { place: 'title' }, result: 'lost' };
  const id = await put(page, { ...small, places: { ...small.places, quay: { ...quay, rules: [...quay.rules, hit] } } });
  await open(page, id);
  await face(page, 'quay').click();
  const rule = page.locator('[data-rule=hit]');
  await rule.getByRole('button', { name: 'When Moth is touched' }).click();
  await page.getByLabel('From which side').selectOption('its side');
  await page.keyboard.press('Escape');
  await expect(rule).toContainText('When Moth is touched at its side');
  await page.getByRole('button', { name: '+ rule without a move' }).click();
  const made = page.locator('.sentence').filter({ hasText: /On arrival|from above/ });
  await made.getByRole('button').first().click();
  await page.getByLabel('Kind of trigger').selectOption('a piece is touched');
  await page.getByLabel('From which side').selectOption('above');
  await page.getByRole('option', { name: /Moth/ }).click();
  await expect(made).toContainText('When Moth is touched from above');
  await made.hover();
  await made.getByRole('button', { name: '+ effect' }).click();
  await page.getByLabel('Kind of effect').selectOption('defeat a foe');
  await page.getByRole('option', { name: 'Moth' }).click();
  await expect(made).toContainText('defeat 1 Moth');

  // what the title says after a loss, completed while it is typed, and what players then read
  await face(page, 'title').click();
  await page.getByLabel('Text shown').fill('Three lamps');
  await page.getByRole('button', { name: '+ text for a case' }).click();
  await page.getByLabel('Shown if').fill('last(lost)');
  await page.keyboard.press('Enter');
  const text = page.getByLabel('Text shown, 1');
  await expect(text).toBeFocused();
  await page.keyboard.type('Out in {nam');
  await page.getByRole('button', { name: '{name(level)}' }).click();
  await page.keyboard.press('Tab');
  await expect(text).toHaveValue('Out in {name(level)}');
  await page.getByRole('button', { name: 'preview' }).click();
  const read = page.getByRole('list', { name: 'What players read on arrival' });
  await expect(read.getByRole('listitem')).toHaveText(['Out in Quay Street', 'Three lamps']);

  await settled(page);
  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: any };
  const file = (await (await page.request.get(`/api/flows/${id}/file`)).json()) as { version: number };
  expect(file.version).toBe(2);
  expect(document.places.title.message).toEqual([{ if: 'last(lost)', text: 'Out in {name(level)}' }, { text: 'Three lamps' }]);
  expect(document.places.quay.rules.slice(-2).map(({ when }: { when: object }) => when)).toEqual([
    { touch: 'moth', side: 'beside' },
    { touch: 'moth', side: 'above' }
  ]);
  await page.getByRole('button', { name: 'Be there' }).click();
  const scene = page.getByRole('region', { name: 'What the player sees' });
  await scene.getByRole('button', { name: /^Begin/ }).click();
  await scene.getByRole('button', { name: /^Touch above/ }).click();
  await expect(scene.locator('[data-piece=moth] .count')).toHaveText('○');
  await page.getByRole('button', { name: 'From the start' }).click();
  await scene.getByRole('button', { name: /^Begin/ }).click();
  await scene.getByRole('button', { name: /^Touch beside/ }).click();
  await expect(scene.locator('.message')).toHaveText('Out in Quay Street');
});
