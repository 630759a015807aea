/** Inside a level: a map of spots made by mouse and by keys alone, the usual mistakes told with their fix, and walked in a trial. */
import type { Page } from '@playwright/test';
import { axeFindsNothing, demoFile, expect, face, open, put, settled, test } from './support/page.ts';
import { Wiring } from './support/acts.ts';
import { tabTo } from './support/hands.ts';

/** A flow of five levels, of which the first is selected. */
async function begin(acts: Wiring, page: Page, name: string): Promise<void> {
  await page.goto('/');
  await acts.click(acts.button('New flow'));
  await acts.typed(name);
  await acts.click(page.getByText('One after another', { exact: true }));
  await acts.click(acts.button('Make the flow'));
  await settled(page);
  await acts.select('Level 1');
}

const spot = (name: string) => `[data-spot="${name}"]`;

test('a locked door and its key, made by mouse; the key behind its own door is told and put on this side', async ({ page }) => {
  const acts = new Wiring(page);
  await begin(acts, page, 'Doors');
  const desk = page.locator('#desk');
  await acts.click(desk.getByRole('button', { name: /A locked door and its key/ }));
  // the lamps stand behind the door
  await acts.choose(desk.getByLabel('Where Lamp stands'), 'at Behind the door');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('5 of 5 levels can be completed');
  await expect(desk.locator(spot('behind'))).toContainText('Lamp × 3');

  // the mistake: the key stands there too
  await acts.click(desk.locator(`${spot('side')} .room`));
  await acts.choose(desk.getByLabel('Move Key to'), 'Behind the door');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('0 of 5 levels can be completed');
  await expect(desk.locator(`${spot('behind')}.never`)).toHaveCount(1);
  await expect(desk.locator('[data-passage="door"].never')).toHaveCount(1);
  await expect(desk.getByText('1 Key stands out of reach: Behind the door').first()).toBeVisible();
  await acts.click(desk.getByRole('button', { name: 'Move 1 Key to Hall' }).first());
  await settled(page);
  await expect(page.locator('.answers')).toContainText('5 of 5 levels can be completed');
  await expect(page.locator('.answers')).not.toContainText('finding');
  expect(acts.count).toBeLessThanOrEqual(12);

  // a pull is a passage; one way is one act
  const from = (await desk.locator(spot('side')).boundingBox())!;
  const to = (await desk.locator(spot('behind')).boundingBox())!;
  await desk.locator(spot('side')).hover();
  await page.mouse.move(from.x + from.width - 6, from.y + from.height - 7);
  await page.mouse.down();
  await page.mouse.move(to.x + 20, to.y + 20, { steps: 5 });
  await page.mouse.up();
  await expect(desk.locator('[data-passage="side_behind"]')).toHaveCount(1);
  await desk.getByLabel('Direction').selectOption({ label: 'one way' });
  await expect(desk.locator('[data-passage="side_behind"]')).toHaveAttribute('aria-label', 'Side room → Behind the door');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(desk.locator('[data-passage="side_behind"]')).toHaveCount(0);
});

test('by keys alone: spots, a passage one way into a pit, and its way back', async ({ page }) => {
  const acts = new Wiring(page);
  await begin(acts, page, 'Pits');
  const desk = page.locator('#desk');
  await tabTo(page, desk.getByRole('button', { name: /A line of rooms/ }));
  await page.keyboard.press('Enter');
  await tabTo(page, desk.getByLabel('Name of a new spot'));
  await page.keyboard.type('Pit');
  await page.keyboard.press('Enter');
  await expect(desk.locator(spot('pit'))).toBeVisible();
  await tabTo(page, desk.getByLabel('Add a passage from Pit to'));
  await page.keyboard.press('M');
  await expect(desk.getByLabel('Direction')).toBeVisible();
  await tabTo(page, desk.getByLabel('Direction'));
  await page.keyboard.press('o');
  // it leads out of the pit, so that nothing leads there
  await settled(page);
  await expect(desk.locator(`${spot('pit')}.never`)).toHaveCount(1);
  const fix = desk.getByRole('button', { name: /both ways/ }).first();
  await tabTo(page, fix);
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.locator('.answers')).not.toContainText('finding');
  // from room to room with the arrow keys
  await desk.locator(`${spot('first')} .room`).focus();
  await page.keyboard.press('ArrowRight');
  await expect(desk.locator(`${spot('middle')} .room`)).toBeFocused();
});

test('a trial walks: on the map, by its buttons, with arrow keys; what is elsewhere says where', async ({ page }) => {
  const id = await put(page, demoFile('lamplighters-round').replace("Lamplighter's Round", 'A round to walk'));
  await open(page, id);
  await face(page, 'battery').click();
  await page.getByRole('button', { name: 'Be there' }).click();
  const scene = page.locator('.scene');
  await expect(scene.locator(`${spot('wall')}.here`)).toBeVisible();
  await expect(scene.locator('[data-piece="rope"]')).toContainText('at Guardroom');
  await expect(scene.locator('[data-piece="rope"]').getByRole('button')).toHaveCount(0);
  // the climb asks for the rope
  await scene.locator(`${spot('pit')} .room`).click();
  await expect(scene.locator(`${spot('wall')}.here`)).toBeVisible();
  await scene.getByRole('button', { name: /Walk to Guardroom/ }).click();
  await scene.locator('[data-piece="rope"]').getByRole('button', { name: 'Collect' }).click();
  await expect(page.locator('.tape')).toContainText('walk to Guardroom');
  await page.keyboard.press('ArrowLeft');
  await expect(scene.locator(`${spot('wall')}.here`)).toBeVisible();
  await scene.locator(`${spot('pit')} .room`).click();
  await expect(scene.locator(`${spot('pit')}.here`)).toBeVisible();
  await expect(page.locator('.tape')).toContainText('walk to Powder pit by Climb');
  await scene.locator('[data-piece="lamp"]').getByRole('button', { name: 'All', exact: true }).click();
  await expect(scene.locator('[data-piece="lamp"] .count')).toHaveAttribute('title', '4 of 8 left');
  await axeFindsNothing(page, 'in a trial inside a level');
});

test('as many spots and passages as there can be are shown, and a map of its own is kept by each of two people', async ({
  page,
  context
}) => {
  test.slow();
  const spots = Object.fromEntries(Array.from({ length: 256 }, (_, n) => [`s${n}`, { name: `Spot ${n}` }]));
  const passages = Object.fromEntries(
    Array.from({ length: 2000 }, (_, n) => [
      `p${n}`,
      { from: `s${n % 256}`, to: `s${(n * 7 + 1 + n) % 256 === n % 256 ? (n + 1) % 256 : (n * 7 + 1 + n) % 256}` }
    ])
  );
  const level = (more: object) => ({
    name: 'Maze',
    kind: 'level',
    rules: [{ id: 'out', when: { press: 'Out' }, go: { place: 'end' }, result: 'won' }],
    ...more
  });
  const flow = (more: object) => ({
    format: 'crow-lane',
    version: 2,
    name: 'Large',
    start: 'maze',
    places: {
      maze: level(more),
      end: { name: 'End', kind: 'ending', outcome: 'won', rules: [{ id: 'b', when: { press: 'Again' }, go: { place: 'maze' } }] }
    }
  });
  await open(page, await put(page, flow({ spots, passages })));
  await face(page, 'maze').click();
  await expect(page.locator('#desk [data-spot]')).toHaveCount(256);
  await settled(page);
  await expect(page.locator('.answers')).toContainText('1 of 1 level can be completed');

  // two people in one map
  const id = await put(
    page,
    flow({ spots: { a: { name: 'Yard' }, b: { name: 'Loft' } }, passages: { up: { from: 'a', to: 'b', both: true } } })
  );
  await open(page, id);
  const other = await context.newPage();
  await open(other, id);
  for (const each of [page, other]) await face(each, 'maze').click();
  await page.getByLabel('Name of a new spot').fill('Cellar');
  await other.getByLabel('Name of a new spot').fill('Roof');
  await page.keyboard.press('Enter');
  await other.keyboard.press('Enter');
  for (const each of [page, other])
    for (const name of ['Cellar', 'Roof']) await expect(each.locator('#desk .map')).toContainText(name);
});
