/** What takes a designer many acts elsewhere takes few here, counted. */
import { Acts } from './support/acts.ts';
import { expect, face, open, put, settled, test } from './support/page.ts';

interface Kept {
  places: Record<string, { name: string; kind: string; group?: string; outcome?: string; rules: { when: object; go: object }[] }>;
  groups: Record<string, { name: string }>;
}
const documentOf = async (page: import('@playwright/test').Page) => {
  const id = new URL(page.url()).pathname.split('/')[2]!;
  return ((await (await page.request.get(`/api/flows/${id}`)).json()) as { document: Kept }).document;
};

test('thirty levels with a select, groups, victory, game over, pause, options and credits: sixty acts', async ({ page }) => {
  const acts = new Acts(page);
  await page.goto('/');
  await acts.click(page.getByRole('button', { name: 'New flow' }));
  await acts.type('Thirty streets');
  await acts.click(page.getByText('Choose a level'));
  await acts.write(page.getByLabel('How many levels?'), '30');
  await acts.write(page.getByLabel(/In how many groups/), '3');
  for (const screen of [/a pause menu/, /options, opened/, /credits/]) await acts.click(page.getByLabel(screen));
  await acts.click(page.getByRole('button', { name: 'Make the flow' }));
  await settled(page);
  await expect(page.locator('.answers')).toContainText('30 of 30 levels can be completed');

  // named as the designer names them, and opened group by group
  await acts.click(page.getByRole('link', { name: 'Levels' }));
  await acts.click(page.getByRole('tab', { name: 'Level selects' }));
  await acts.choose(page.getByLabel(/^How the levels of/), 'group by group');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('30 of 30 levels can be completed');

  const { places, groups } = await documentOf(page);
  const kinds = Object.values(places).map(({ kind, outcome }) => outcome ?? kind);
  expect(kinds.filter((kind) => kind === 'level')).toHaveLength(30);
  expect(kinds).toEqual(expect.arrayContaining(['won', 'lost']));
  expect(Object.values(places).map(({ name }) => name)).toEqual(
    expect.arrayContaining(['Choose a level', 'Game over', 'The end', 'Pause', 'Options', 'Credits'])
  );
  expect(Object.keys(groups)).toHaveLength(3);
  expect(new Set(Object.values(places).map(({ group }) => group)).size).toBe(4);
  expect(acts.count).toBeLessThanOrEqual(60);
});

test('five doors both ways between three rooms: twenty acts', async ({ page }) => {
  const room = (name: string) => ({ name, kind: 'level', goal: 'leave', rules: [] });
  await open(
    page,
    await put(page, {
      format: 'crow-lane',
      version: 1,
      name: 'Three rooms',
      start: 'hall',
      places: { hall: room('Hall'), loft: room('Loft'), cellar: room('Cellar') }
    })
  );
  const acts = new Acts(page);
  const doors: [string, string[]][] = [
    ['hall', ['Loft', 'Cellar', 'Loft']],
    ['loft', ['Cellar', 'Cellar']]
  ];
  for (const [from, rooms] of doors) {
    await acts.click(face(page, from));
    for (const to of rooms) {
      await acts.key('o');
      await acts.type(to);
      await acts.key('Enter');
      await expect(page.getByRole('dialog')).toHaveCount(0);
    }
  }
  await settled(page);
  expect(acts.count).toBeLessThanOrEqual(20);

  const { places } = await documentOf(page);
  expect(Object.values(places).flatMap(({ rules }) => rules)).toHaveLength(10);
  // each is one door, and none is told to lack its other side
  await page.locator('.answers').click();
  await page.getByRole('tab', { name: 'worth knowing' }).click();
  await expect(page.locator('[data-finding^="way-back"]')).toHaveCount(0);

  // deleted as one, brought back as one
  await page.getByRole('link', { name: 'Lane' }).click();
  await face(page, 'hall').click();
  await page.locator('.sentence').first().hover();
  await page.getByRole('button', { name: 'Delete this door, both sides' }).first().click();
  await settled(page);
  expect(Object.values((await documentOf(page)).places).flatMap(({ rules }) => rules)).toHaveLength(8);
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  expect(Object.values((await documentOf(page)).places).flatMap(({ rules }) => rules)).toHaveLength(10);

  // one side taken away is missed, and comes back as the first offer
  await page.getByRole('button', { name: 'make it one-way' }).first().click();
  await page.getByRole('button', { name: 'make the other side?' }).click();
  await settled(page);
  expect(Object.values((await documentOf(page)).places).flatMap(({ rules }) => rules)).toHaveLength(10);
});

test('a rule of one level is given to all in place of those like it, in one act', async ({ page }) => {
  const won = (id: string, more: object = {}) => ({
    id,
    when: { holds: 'left(lamp) = 0' },
    go: { move: 'next' },
    result: 'won',
    ...more
  });
  const level = (name: string, rule: object) => ({
    name,
    kind: 'level',
    pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
    rules: [rule]
  });
  await open(
    page,
    await put(page, {
      format: 'crow-lane',
      version: 1,
      name: 'Alike',
      start: 'one',
      orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two', 'three'] } },
      places: {
        one: level('One', won('w1')),
        two: level('Two', won('w2')),
        three: level('Three', won('w3', { go: { place: 'end' } })),
        end: { name: 'The end', kind: 'ending', outcome: 'won', rules: [] }
      }
    })
  );
  await face(page, 'one').click();
  const rule = page.locator('[data-rule=w1]');
  await rule.hover();
  const acts = new Acts(page);
  await acts.choose(rule.getByLabel('Whose rule it is'), 'of all levels (3), in place of 1 like it');
  expect(acts.count).toBe(1);
  // one that hides it is named
  await expect(page.locator('.notice')).toContainText('It is not read in Three');
  await settled(page);
  const { places } = await documentOf(page);
  expect(Object.values(places).map(({ rules }) => rules.length)).toEqual([0, 0, 1, 0]);
});
