import { expect, settled, test } from './support/page.ts';
import { keyboard, mouse, type Hands } from './support/hands.ts';
import { inNames, threeLamps } from './support/three-lamps.ts';
import type { Page } from '@playwright/test';

/** Wires the whole of Three lamps from nothing, and gives what was kept. */
async function wire(page: Page, hands: Hands): Promise<unknown> {
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
  const field = (name: string) => page.getByLabel(name, { exact: true });
  const sentence = (text: string | RegExp) => page.locator('#desk .sentence').filter({ hasText: text }).last();
  const enter = () => page.keyboard.press('Enter');
  const place = async (from: string | undefined, row: 'Endings' | 'Interludes' | 'Levels', name: string, outcome?: string) => {
    await hands.newPlace(from, row);
    const dialog = page.getByRole('dialog');
    await hands.write(dialog.getByLabel('Name', { exact: true }), name);
    const kinds = { Endings: 'an ending', Interludes: 'an interlude', Levels: 'a level' };
    await hands.choose(dialog.locator('select[name=kind]'), kinds[row]);
    if (outcome) await hands.choose(dialog.locator('select[name=outcome]'), outcome);
    await hands.press(dialog.getByRole('button', { name: 'Add', exact: true }));
    await expect(field('Name of this place')).toHaveValue(name);
  };
  const write = async (name: string, text: string) => {
    await hands.write(field(name), text);
    await page.keyboard.press('Tab');
  };
  /** Opens a word of a rule's sentence. */
  const word = async (rule: string | RegExp, name: string | RegExp) => {
    await hands.toRule(sentence(rule));
    await hands.press(sentence(rule).getByRole('button', { name }).first());
  };
  const pick = async (list: string, name: string) => {
    await hands.write(page.getByRole('combobox', { name: list, exact: true }), name);
    await enter();
  };
  const piece = async (name: string) => {
    await hands.write(field('Name of a new piece'), name);
    await enter();
    await expect(field(`Name of ${name}`)).toBeVisible();
  };
  const count = async (name: string, n: number) => {
    await hands.write(field(`How many: ${name}`), String(n));
    await enter();
  };
  const trigger = async (rule: string | RegExp, kind: string) => {
    await word(rule, /^(When|On|After|Once|Whenever)/i);
    await hands.choose(field('Kind of trigger'), kind);
  };
  const pressed = async (rule: string | RegExp, label: string) => {
    await trigger(rule, 'a button or key is pressed');
    await hands.write(field('Name of the button or key'), label);
    await enter();
  };

  page.setDefaultTimeout(10_000);
  await page.goto('/');
  await hands.press(button(/^New/));
  await hands.write(field('Name'), 'Three lamps');
  await hands.press(button('Make the flow'));
  await settled(page);

  // the screens and the levels
  await place(undefined, 'Endings', 'The town aglow', 'won');
  await place(undefined, 'Endings', 'Lights out', 'lost');
  await hands.select('Title');
  await place('Title', 'Levels', 'Quay Street');
  await hands.select('Title');
  await pressed('Quay Street', 'Begin');
  await word('Begin', 'Quay Street');
  await pick('Target', 'the first level');
  await word('Begin', 'the first level');
  await hands.choose(page.locator(':popover-open label', { hasText: /^\s*in/ }).locator('select'), 'Main round');

  // the first level, and how it is won
  await hands.select('Quay Street');
  await piece('Lamp');
  await count('Lamp', 3);
  await piece('Harbour water');
  await hands.choose(field('Kind of Harbour water'), 'hazard');
  await hands.press(page.locator('#desk p', { hasText: 'The level cannot be won' }).getByRole('button', { name: 'Add one?' }));
  await expect(sentence('Once Lamp × 3 are all collected')).toContainText('go to the next level, or else to The town aglow');

  // the second, won when two are taken
  await place('Quay Street', 'Levels', 'Net Loft');
  await piece('Lamp');
  await count('Lamp', 2);
  await hands.press(page.locator('#desk p', { hasText: 'The level cannot be won' }).getByRole('button', { name: 'Add one?' }));
  await trigger('next level', 'a condition becomes true');
  await hands.write(field('Condition'), 'taken(lamp) >= 2');
  await enter();
  await expect(sentence('next level')).toContainText('Lamp × 2 are all collected');

  // falling, and what it costs
  await place(undefined, 'Interludes', 'Overboard');
  await hands.press(button(/another way out/));
  await pick('Target', 'Lights out');
  await trigger('Lights out', 'the player arrives');
  await hands.press(page.locator(':popover-open').getByRole('button', { name: 'the player arrives' }));
  await hands.press(button(/another way out/));
  await pick('Target', 'Title');
  await word('After 2 s', 'Title');
  await pick('Target', 'the same level again');

  // both endings lead home
  for (const ending of ['The town aglow', 'Lights out']) {
    await hands.select(ending);
    await hands.press(button(/another way out/));
    await pick('Target', 'Title');
    await expect(sentence('When Title is pressed')).toContainText('go to Title');
  }

  // what the whole flow has: the value, the order's name, the rule for all levels
  await hands.press(button('Whole flow'));
  await hands.write(field('Name of a new value'), 'Lives');
  await enter();
  const lives = page.locator('[data-value=lives]');
  for (const [label, value] of [
    ['to', '2'],
    ['begins at', '2']
  ] as const) {
    await hands.write(lives.getByLabel(label, { exact: true }), value);
    await page.keyboard.press('Tab');
  }
  await write('Name of the order Main round', 'Round');
  await hands.press(button('in every level'));
  await trigger('Pause', 'a piece is touched');
  await pick('Piece', 'Harbour');
  await hands.toRule(sentence('Harbour water'));
  await hands.press(sentence('Harbour water').getByRole('button', { name: '+ effect' }));
  await pick('Value', 'Lives');
  await hands.press(button('take 1 from Lives'));
  await hands.toRule(sentence('Harbour water'));
  await hands.press(sentence('Harbour water').getByRole('button', { name: '+ go to' }));
  await pick('Target', 'Overboard');
  await hands.toRule(sentence('Harbour water'));
  await hands.choose(sentence('Harbour water').getByLabel('Result'), 'loses');

  // only now there are lives to look at
  await hands.select('Overboard');
  await hands.toRule(sentence('Lights out'));
  await hands.press(sentence('Lights out').getByRole('button', { name: '+ if' }));
  await hands.write(field('Only if'), 'lives = 0');
  await enter();
  await settled(page);

  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  await expect(page.locator('.answers')).toContainText('6 of 6 places reached');
  const id = new URL(page.url()).pathname.split('/').at(-1)!;
  const { document } = (await (await page.request.get(`/api/flows/${id}`)).json()) as { document: unknown };
  return inNames(document);
}

test('the whole of Three lamps is wired by mouse', async ({ page }) => {
  test.setTimeout(180_000);
  expect(await wire(page, mouse(page))).toEqual(threeLamps);
});

test('the whole of Three lamps is wired by keyboard alone', async ({ page }) => {
  test.setTimeout(420_000);
  expect(await wire(page, keyboard(page))).toEqual(threeLamps);
});
