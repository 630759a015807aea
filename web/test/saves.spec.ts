/** Saved games: made in one act, asked about before one is lost, and played side by side. */
import { expect, demoFile, face, open, put, settled, test } from './support/page.ts';
import { Wiring } from './support/acts.ts';
import { tabTo } from './support/hands.ts';

test('saved games, gone on with at the checkpoint, credits at the end: twelve acts; the mistakes are told with their fix', async ({
  page
}) => {
  const acts = new Wiring(page);
  await page.goto('/');
  await acts.click(acts.button('New flow'));
  await acts.typed('Saved');
  await acts.click(page.getByText('One after another', { exact: true }));
  await acts.click(page.getByLabel(/a save on each arrival/));
  await acts.click(page.getByLabel(/credits/));
  await acts.click(acts.button('Make the flow'));
  await settled(page);
  await acts.click(page.getByRole('link', { name: 'Levels' }));
  await acts.click(page.getByRole('tab', { name: 'Saves' }));
  const panel = page.getByRole('region', { name: 'Saved games' });
  await acts.click(panel.getByRole('button', { name: 'Add the usual menus' }));
  await settled(page);
  await acts.click(page.getByRole('button', { name: 'Progress from the order' }).first());
  await settled(page);
  await expect(page.locator('.answers')).toContainText('5 of 5 levels can be completed');
  await expect(page.locator('.answers')).not.toContainText('finding');
  expect(acts.count).toBeLessThanOrEqual(12);
  await expect(panel.locator('figure')).toContainText('Level 1');

  await page.getByRole('link', { name: 'Lane' }).click();
  // progress that falls is a note, answered by the order
  await acts.select('Level 3');
  await page.getByLabel('Progress when saved').fill('10');
  await page.keyboard.press('Enter');
  await settled(page);
  await page.locator('.answers').click();
  await page.getByRole('tab', { name: 'worth knowing' }).click();
  const falls = page.locator('[data-finding="progress-falls main"]');
  await expect(falls).toContainText('Level 3 gives 10, after 20 before it.');
  await falls.locator('.message').click();
  await falls.locator('[data-fix]').filter({ hasText: 'Progress from the order' }).click();
  await expect(falls).toHaveCount(0);

  // a slot that would be lost at once is asked about in one act
  await page.getByRole('link', { name: 'Levels' }).click();
  await page.getByRole('tab', { name: 'Saves' }).click();
  await panel.getByRole('button', { name: 'Clear a used slot' }).click();
  await panel.getByRole('button', { name: 'Ask before overwriting' }).click();
  await settled(page);
  await expect(panel.getByRole('button', { name: 'Ask before overwriting' })).toHaveCount(0);
});

test('a new game that keeps the old save, and Continue without one: told, and fixed by the first offer', async ({ page }) => {
  const level = (name: string, rules: object[]) => ({
    name,
    kind: 'level',
    pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 }, shrine: { name: 'Shrine', kind: 'checkpoint' } },
    rules: [...rules, { id: `home_${name.toLowerCase()}`, when: { press: 'Title' }, go: { place: 'title' } }]
  });
  const won = { holds: 'left(lamp) = 0' };
  await open(
    page,
    await put(page, {
      format: 'crow-lane',
      version: 1,
      name: 'Old saves',
      start: 'title',
      orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] } },
      rules: [{ id: 'mark', when: { touch: 'shrine' }, do: [{ save: 'always' }] }],
      places: {
        title: {
          name: 'Title',
          kind: 'menu',
          rules: [
            { id: 'new', when: { press: 'New game' }, do: [{ begin: 'run' }], go: { move: 'first' } },
            { id: 'on', when: { press: 'Continue' }, go: { move: 'resume' } }
          ]
        },
        one: level('One', [{ id: 'w1', when: won, go: { move: 'next' }, result: 'won' }]),
        two: level('Two', [{ id: 'w2', when: won, go: { place: 'end' }, result: 'won' }]),
        end: { name: 'The end', kind: 'ending', outcome: 'won', rules: [] }
      }
    })
  );
  await face(page, 'title').click();
  const desk = page.locator('#desk');
  await expect(desk).toContainText('Nothing has been saved yet.');
  await desk.getByRole('button', { name: 'Only while there is a saved game' }).first().click();
  await settled(page);
  await expect(desk).toContainText('goes back to what an earlier run has saved');
  await desk.getByRole('button', { name: 'Forget the save when a new run begins' }).first().click();
  await settled(page);
  await expect(page.locator('.answers')).not.toContainText('finding');
  await expect(page.locator('.sentence').first()).toContainText('begin a new run, forget the save, go to the first level');

  // hidden as long as there is none
  await page.locator('.sentence').filter({ hasText: 'Continue' }).getByRole('button').first().click();
  await page.getByLabel('while it does nothing').selectOption('hidden');
  await page.locator(':popover-open').getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  await page.getByRole('link', { name: 'Trial' }).click();
  await expect(page.getByRole('button', { name: /^Continue/ })).toHaveAttribute('title', 'hidden from the player now');
});

test('the round is played by keys alone in two slots: each keeps its own, and what would be lost is asked about', async ({
  page
}) => {
  await open(page, await put(page, demoFile('lamplighters-round').replace("Lamplighter's Round", 'Two lamplighters')));
  await page.getByRole('link', { name: 'Trial' }).click();
  const scene = page.getByRole('region', { name: 'What the player sees' });
  const use = async (name: RegExp | string) => {
    const control = scene.getByRole('button', { name }).first();
    await expect(control).toBeVisible();
    await tabTo(page, control);
    await page.keyboard.press('Enter');
  };
  const held = page.getByRole('region', { name: 'Values now' });
  await use(/^Let the time pass/);
  await use(/^Saved games/);
  await use(/^Slot 1/);
  await use(/^All$/);
  await expect(scene.locator('h2')).toContainText('Level complete');
  await use(/^Round map/);
  await use(/^Title/);
  await use(/^Saved games/);
  await use(/^Slot 2/);
  await expect(scene.locator('h2')).toContainText('Quay Street');
  await expect(held).toContainText('Slot 2 played now');
  await use(/^Pause/);
  await use(/^Title/);
  await use(/^Saved games/);
  // the first one goes on with what was won in it
  await use(/^Slot 1/);
  await expect(scene.locator('h2')).toContainText('Go on?');
  await use(/^Go on/);
  await expect(scene.locator('h2')).toContainText('Round map');
  await expect(scene.locator('.open')).toContainText('Net Lofts');
  await expect(scene.locator('.open .locked').filter({ hasText: 'Net Lofts' })).toHaveCount(0);
  await use(/^Title/);
  await use(/^Saved games/);
  await use(/^Slot 2/);
  await use(/^New game/);
  await expect(scene).toContainText('What is saved in this slot will be lost.');
  await use(/^Keep it/);
  await use(/^New game/);
  await use(/^Overwrite/);
  await expect(scene.locator('h2')).toContainText('Quay Street');
  await expect(page.getByRole('region', { name: 'Tape' })).toContainText('plays on in slot 2');
  // it is kept as a run with its slots, and goes as recorded
  await page.getByLabel('Name of a new run').fill('Two slots');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-run=two_slots]')).toContainText('as recorded');
});
