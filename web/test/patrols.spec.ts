/** Patrols: drawn point by point, told where nobody gets past them, and met, waited for and passed in the trial. */
import type { Page } from '@playwright/test';
import { Acts } from './support/acts.ts';
import { axeFindsNothing, expect, open, put, settled, small, test, tile } from './support/page.ts';

/** A moth in Quay Street, whose touch begins it again; it is won at the stairs. */
const alley = (plan: object) => {
  const flow = structuredClone(small) as unknown as {
    version: number;
    places: { quay: { pieces: object; rules: object[]; plan: object } };
  };
  flow.version = 2;
  flow.places.quay.pieces = { stairs: { name: 'Stairs', kind: 'exit' }, moth: { name: 'Moth', kind: 'foe' } };
  flow.places.quay.rules = [
    { id: 'up', when: { touch: 'stairs' }, go: { move: 'next', else: { place: 'aglow' } }, result: 'won' },
    { id: 'bitten', when: { touch: 'moth' }, go: { move: 'again' }, result: 'lost' }
  ];
  flow.places.quay.plan = plan;
  return flow;
};
const corridor = {
  view: 'above',
  rows: ['###########', '#.........#', '###########', '###########'],
  things: { stairs: { piece: 'stairs', cells: [[9, 1]] } }
};
const run = {
  piece: 'moth',
  points: [
    [3, 1],
    [7, 1]
  ],
  turn: 'back',
  speed: 4
};

const canvas = (page: Page) => page.locator('.plan canvas[tabindex]');
const toPlan = async (page: Page, plan: object) => {
  await open(page, await put(page, alley(plan)));
  await tile(page, 'quay').locator('.face').click();
  await page.keyboard.press('g');
  await expect(canvas(page)).toBeVisible();
};
const steps = async (page: Page, key: string, times: number) => {
  for (let n = 0; n < times; n++) await page.keyboard.press(key);
};

test('a patrol is drawn by keys, a point that is skipped and a foe that nobody passes are told and mended', async ({ page }) => {
  test.setTimeout(120_000);
  await toPlan(page, corridor);
  const acts = new Acts(page);
  await acts.click(page.getByRole('radio', { name: /Moth patrol/ }));
  await canvas(page).focus();
  // from 1, 1: there and back, and the middle point twice
  await steps(page, 'ArrowRight', 2);
  await acts.key('Enter');
  await expect(page.locator('.truth')).toContainText('1 point.');
  await steps(page, 'ArrowRight', 4);
  await acts.key('Enter');
  await steps(page, 'ArrowRight', 1);
  await acts.key('Enter');
  await page.keyboard.press('Backspace');
  await expect(page.locator('.truth')).toContainText('2 points.');
  await steps(page, 'ArrowLeft', 1);
  await acts.key('Enter');
  expect(acts.count).toBeLessThanOrEqual(6);

  // drawn, the panel shows it, and what comes of it
  const moth = page.getByRole('region', { name: 'Moth', exact: true });
  await expect(moth).toContainText(/3, 1\s*×\s*7, 1/);
  await moth.getByLabel('Speed of Moth').fill('4');
  await page.keyboard.press('Tab');
  await expect(moth.locator('[data-crossing]')).toHaveAttribute('data-crossing', 'blocked');
  await settled(page);
  await expect(page.locator('.truth')).toContainText('Moth cannot be passed');
  await expect(page.locator('.truth')).toContainText('Stairs × 1, Moth × 1');

  // played in place
  await expect(moth.locator('h2')).toContainText('at 3, 1');
  await page.getByLabel('Seconds after arrival').fill('0.5');
  await expect(moth.locator('h2')).toContainText('at 5, 1');
  await page.getByRole('button', { name: 'Play' }).click();
  await expect(moth.locator('h2')).not.toContainText('at 5, 1');
  await page.getByRole('button', { name: 'Pause' }).click();

  // the first fix is a niche, and with it there is a route past
  await page.getByRole('tab', { name: 'Answer' }).click();
  const wrong = page.locator('[data-finding^="patrol-passable"]');
  await expect(wrong).toContainText('Moth cannot be passed in Quay Street without meeting it: 1 Stairs is out of reach.');
  await expect(wrong.locator('[data-fix]')).toContainText('for the player to wait in', { timeout: 90_000 });
  await wrong.locator('[data-fix]').click();
  await settled(page);
  await expect(wrong).toHaveCount(0);
  await page.getByRole('tab', { name: 'Patrols' }).click();
  await expect(moth.locator('[data-crossing]')).toHaveAttribute('data-crossing', 'passed');
  await moth.getByRole('button', { name: 'Show the route past' }).click();
  await expect(moth.getByRole('button', { name: 'Hide the route past' })).toBeVisible();
  await axeFindsNothing(page, 'patrols');

  // it goes back and forth; round over two points is the same, and a point too many is told
  await moth.getByLabel('How Moth turns').selectOption({ label: 'round' });
  await expect(moth.locator('[data-crossing]')).toHaveAttribute('data-crossing', 'passed');
  await page.keyboard.press('Control+z');
  await expect(moth.getByLabel('How Moth turns')).toHaveValue('back');
});

test('in the trial the player is caught by a patrol, waits for it, and gets past it', async ({ page }) => {
  test.setTimeout(120_000);
  const rows = ['###########', '#.........#', '#####.#####', '###########'];
  await toPlan(page, { ...corridor, rows, patrols: { p: run } });
  await page.getByRole('button', { name: 'Walk it' }).click();
  const walker = page.locator('.walk');
  const tape = page.locator('.tape');
  // one step, however long a slow machine takes to let go of a key
  const right = () => page.getByRole('button', { name: 'right', exact: true }).press('Enter');
  await expect(walker).toHaveAttribute('data-cell', '1,1');
  await expect(walker).toHaveAttribute('data-foes', '3,1');

  // while the clock stands the foe goes as the player does; waiting is a tick
  await page.keyboard.press('w');
  await expect(walker).toHaveAttribute('data-foes', '4,1');
  await steps(page, 'w', 6);
  await expect(walker).toHaveAttribute('data-foes', '4,1');
  // the moth comes back to 3, 1 as the player steps to 2, 1
  await right();
  await expect(walker).toHaveAttribute('data-foes', '3,1');
  await expect(walker).toHaveAttribute('data-cell', '2,1');
  await page.getByRole('button', { name: 'Wait (w)' }).click();
  await expect(walker).toHaveAttribute('data-foes', '4,1');
  await right();
  await right();
  await expect(walker).toHaveAttribute('data-cell', '4,1');
  await steps(page, 'w', 4);
  await expect(tape).toContainText('touch Moth');
  await expect(tape).toContainText('loses');
  await expect(walker).toHaveAttribute('data-cell', '1,1');
  await expect(walker).toHaveAttribute('data-foes', '3,1');

  // a step back is back in time
  await page.keyboard.press('w');
  await expect(walker).toHaveAttribute('data-foes', '4,1');
  await page.getByRole('button', { name: 'Restart the level' }).click();
  await expect(walker).toHaveAttribute('data-foes', '3,1');

  // sent to the stairs, it waits in the niche, passes and wins
  await page.getByLabel('Walk to').selectOption({ label: 'Stairs at 9, 1' });
  await expect(walker).toBeHidden();
  await expect(tape).toContainText('wins');
  await expect(tape.getByText('touch Moth')).toHaveCount(1);
});

test('a foe that comes down on the player is touched from below, and gone where a rule defeats it so', async ({ page }) => {
  const rows = ['#######', '#.....#', '#.....#', '#.....#', '#######'];
  const flow = alley({
    view: 'side',
    rows,
    things: { stairs: { piece: 'stairs', cells: [[5, 3]] } },
    patrols: {
      p: {
        piece: 'moth',
        points: [
          [3, 1],
          [3, 3]
        ],
        turn: 'back',
        speed: 4
      }
    }
  });
  flow.places.quay.rules.splice(
    1,
    1,
    { id: 'up_at', when: { touch: 'moth', side: 'below' }, do: [{ defeat: 'moth' }] },
    { id: 'bitten', when: { touch: 'moth', side: 'beside' }, go: { move: 'again' }, result: 'lost' }
  );
  await open(page, await put(page, flow));
  await tile(page, 'quay').locator('.face').click();
  await page.keyboard.press('g');
  await page.getByRole('button', { name: 'Walk it' }).click();
  const walker = page.locator('.walk');
  await expect(walker).toHaveAttribute('data-cell', '1,3');
  const right = () => page.getByRole('button', { name: 'right', exact: true }).press('Enter');
  await right();
  await steps(page, 'w', 1);
  await expect(walker).toHaveAttribute('data-foes', '3,3');
  // beneath it as it goes up again, and there as it comes down
  await right();
  await expect(walker).toHaveAttribute('data-foes', '3,2');
  await expect(walker).toHaveAttribute('data-cell', '3,3');
  await steps(page, 'w', 3);
  await expect(page.locator('.tape')).toContainText('touch Moth');
  await expect(page.locator('.tape')).toContainText('from below');
  await expect(walker).toHaveAttribute('data-foes', '');
  await expect(walker).toHaveAttribute('data-cell', '3,3');
});

test('by the clock a patrol goes on while the player stands, and touches it', async ({ page }) => {
  const rows = ['###########', '#.........#', '#.........#', '###########'];
  await toPlan(page, {
    ...corridor,
    rows,
    patrols: {
      p: {
        ...run,
        points: [
          [5, 1],
          [1, 1]
        ]
      }
    }
  });
  await page.getByRole('button', { name: 'Walk it' }).click();
  const walker = page.locator('.walk');
  await expect(walker).toHaveAttribute('data-foes', '5,1');
  await page.getByLabel('Clock').selectOption({ label: 'true speed' });
  await expect(page.locator('.tape')).toContainText('touch Moth');
  await page.getByLabel('Clock').selectOption({ label: 'stopped' });
  const at = await walker.getAttribute('data-foes');
  await page.waitForTimeout(600);
  await expect(walker).toHaveAttribute('data-foes', at!);
});

test('between spots a foe patrols too: told that nobody passes, and for how long one waits', async ({ page }) => {
  const flow = alley({ view: 'above', rows: ['.'] });
  const quay = flow.places.quay as { pieces: object; plan?: object; spots?: object; passages?: object };
  delete quay.plan;
  quay.spots = { yard: { name: 'Yard' }, west: { name: 'West walk' }, east: { name: 'East walk' }, top: { name: 'Landing' } };
  quay.passages = {
    a: { from: 'yard', to: 'west', both: true },
    b: { from: 'west', to: 'east', both: true },
    c: { from: 'east', to: 'top', both: true }
  };
  quay.pieces = {
    stairs: { name: 'Stairs', kind: 'exit', at: { top: 1 } },
    moth: { name: 'Moth', kind: 'foe', at: { west: 1 } }
  };
  await open(page, await put(page, flow));
  await tile(page, 'quay').locator('.face').click();
  const row = page.locator('[data-piece=moth]');
  await row.getByTitle('More about Moth').click();
  await page.getByRole('button', { name: 'Let it patrol between spots' }).click();
  await expect(page.getByLabel('Stop 2 of Moth', { exact: true })).toHaveValue('east');
  await settled(page);
  await expect(page.locator('[data-rounds]')).toHaveText(
    'Moth cannot be passed in Quay Street without meeting it: 1 Stairs is out of reach.'
  );
  await page.getByRole('button', { name: '+ stop' }).click();
  await expect(page.getByLabel('Stop 3 of Moth', { exact: true })).toHaveValue('top');
  await page.getByLabel('Seconds at stop 3 of Moth').fill('4');
  await page.keyboard.press('Tab');
  await page.getByLabel('How Moth turns').selectOption({ label: 'round' });
  await settled(page);
  await expect(page.locator('[data-rounds]')).toHaveText(
    'Moth can be passed in Quay Street: 8 s after arrival, having waited 2 s at Yard, then 2 s at West walk, then 4 s at East walk.'
  );
});
