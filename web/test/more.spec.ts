/** Objectives, clocks, loads and states: made by hand, with their usual mistakes, and counted. */
import { Wiring } from './support/acts.ts';
import { expect, open, put, settled, test } from './support/page.ts';

const desk = '#desk';

test('a level with objectives, all foes gone and on: thirty-seven acts, and the one that can be left out is told', async ({
  page
}) => {
  const acts = new Wiring(page);
  await acts.begin('Patrol');
  await acts.lead('Title', 'Yard');
  await acts.piece('Guard', 3);
  await acts.piece('Star', 2);
  await acts.add('won');
  await acts.once('won', 'all(guard)');
  for (const text of ['Clear every Guard', 'Find every Star']) {
    await acts.click(page.getByLabel('A new objective'));
    await acts.type(text);
    await acts.key('Enter');
  }
  await acts.lead('Yard', 'The end');
  await acts.completable(1);
  await acts.select('Yard');
  const star = page.locator('[data-objective=find_every_star]');
  await expect(star).toContainText('met if Star × 2 are all collected');
  // the usual mistake: what is needed can be left out
  await acts.click(star.getByLabel('needed to win'));
  await settled(page);
  await expect(page.locator(desk)).toContainText('Yard can be won without “Find every Star”, which is needed.');
  await acts.click(page.locator(desk).getByRole('button', { name: 'Win Yard only with “Find every Star”' }));
  await acts.completable(1);
  expect(acts.count).toBeLessThanOrEqual(37);

  // and one that asks for what there is not is told, with what there is as the first fix
  await star.getByRole('button', { name: /Star × 2/ }).click();
  await page.getByLabel('Met if').fill('taken(Star) >= 3');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.locator(desk)).toContainText('“Find every Star” asks for a number that never occurs.');
  await page.locator(desk).getByRole('button', { name: 'Ask for all: Star × 2' }).first().click();
  await acts.completable(1);

  // ticked off while it is played
  await page.getByRole('button', { name: 'Be there' }).click();
  const scene = page.getByRole('region', { name: 'What the player sees' });
  await expect(scene.getByRole('listitem').filter({ hasText: 'Find every Star' })).toContainText('not met');
  await scene
    .locator('[data-piece=star]')
    .getByRole('button', { name: 'All', exact: true })
    .or(scene.locator('[data-piece=star] .control').first())
    .first()
    .click();
  await scene.locator('[data-piece=star] .control').first().click();
  await expect(scene.getByRole('listitem').filter({ hasText: 'Find every Star' })).toContainText(', met');
  await expect(page.getByRole('region', { name: 'Tape' })).toContainText('“Find every Star” met');
});

test('a gust every pause, by a number that a deadline keeps to as well: fourteen acts, and the trial ticks in true order', async ({
  page
}) => {
  await open(
    page,
    await put(page, {
      format: 'crow-lane',
      version: 1,
      name: 'Gusts',
      start: 'yard',
      places: {
        yard: {
          name: 'Yard',
          kind: 'level',
          pieces: { lamp: { name: 'Lamp', kind: 'pickup', count: 2 } },
          rules: [
            { id: 'lit', when: { holds: 'left(lamp) = 0' }, go: { place: 'end' }, result: 'won' },
            { id: 'late', when: { after: 3 }, go: { move: 'again' }, result: 'lost' }
          ]
        },
        end: { name: 'The end', kind: 'ending', outcome: 'won' }
      }
    })
  );
  const acts = new Wiring(page);
  await acts.select('Yard');
  await acts.click(acts.button('+ rule without a move'));
  const blows = page
    .locator('.sentence')
    .filter({ hasText: /On arrival|Every/ })
    .first();
  await acts.click(blows.getByRole('button').first());
  await acts.choose(page.getByLabel('Kind of trigger'), 'time again and again');
  await acts.write(page.getByLabel('Seconds', { exact: true }), '1.5');
  await acts.write(page.getByLabel('Named, so that others can keep to it'), 'Pause');
  await acts.key('Enter');
  await expect(blows).toContainText('Every Pause (1.5 s)');
  await blows.hover();
  await acts.click(blows.getByRole('button', { name: '+ effect' }));
  await acts.choose(page.getByLabel('Kind of effect'), 'put pieces back');
  await acts.click(page.getByRole('option', { name: /Lamp/ }));
  await settled(page);
  expect(acts.count).toBeLessThanOrEqual(14);

  await acts.button('Be there').click();
  const scene = page.getByRole('region', { name: 'What the player sees' });
  for (const at of ['1.5', '3', '3']) {
    await expect(scene.locator('.clock')).toContainText(`of ${at} s`);
    await scene.getByRole('button', { name: /^Let the time pass/ }).click();
  }
  // two ticks, then the deadline of the same moment
  await expect(page.getByRole('region', { name: 'Tape' }).getByRole('listitem')).toHaveCount(4);
  await expect(page.getByRole('region', { name: 'Tape' }).getByRole('listitem').last()).toContainText('loses');

  // one change changes both sentence and clock
  await page.getByRole('link', { name: 'Lane' }).click();
  await page.keyboard.press('Escape');
  await page.getByLabel('How much Pause is').fill('2');
  await page.keyboard.press('Enter');
  await acts.select('Yard');
  await expect(blows).toContainText('Every Pause (2 s)');
});

test('what is loaded is held against its limit, a shared asset once: too heavy is told with its numbers', async ({ page }) => {
  const id = await put(page, {
    format: 'crow-lane',
    version: 1,
    name: 'Weights',
    start: 'title',
    orders: { main: { name: 'Main', draw: 'fixed', levels: ['one', 'two'] } },
    groups: { harbour: { name: 'Harbour' } },
    places: {
      title: { name: 'Title', kind: 'menu', rules: [{ id: 'go', when: { press: 'Go' }, go: { move: 'first' } }] },
      one: {
        name: 'One',
        kind: 'level',
        group: 'harbour',
        goal: 'leave',
        rules: [{ id: 'on', when: { press: 'On' }, go: { move: 'next' } }]
      },
      two: {
        name: 'Two',
        kind: 'level',
        group: 'harbour',
        goal: 'leave',
        rules: [{ id: 'out', when: { press: 'Out' }, go: { place: 'end' } }]
      },
      end: { name: 'The end', kind: 'ending', outcome: 'won' }
    }
  });
  await page.goto(`/flows/${id}/levels`);
  await settled(page);
  await page.getByRole('tab', { name: 'Loads' }).click();
  const write = async (label: string, value: string) => {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.keyboard.press('Enter');
  };
  await write('One: MB by itself', '20');
  await write('Two: MB by itself', '25');
  await write('Name of a new shared asset', 'Map picture');
  await write('Megabytes of Map picture', '10');
  for (const row of ['one', 'two', 'title']) {
    await page.locator(`[data-load=${row}]`).getByRole('button', { name: 'none' }).click();
    await page.locator(':popover-open').getByLabel('Map picture').check();
    await page.keyboard.press('Escape');
  }
  await expect(page.locator('[data-load=harbour]')).toContainText('55');
  await expect(page.locator('[data-load=whole]')).toContainText('55');
  await expect(page.locator('[data-load=title]')).toContainText('10');
  await write('One group: at most MB', '50');
  await settled(page);
  await expect(page.locator('[data-load=harbour] .lost')).toContainText('55 of 50');
  await page.locator('.answers').click();
  await expect(page.locator('[data-finding="load-limit harbour"]')).toContainText(
    'The levels of Harbour load 55 MB of at most 50 MB.'
  );
  // a level made lighter is enough
  await page.getByRole('link', { name: 'Levels' }).click();
  await page.getByRole('tab', { name: 'Loads' }).click();
  await write('Two: MB by itself', '19');
  await expect(page.locator('[data-load=harbour] .lost')).toHaveCount(0);
});

test('a level in states shows which state answers what, and a blank is filled as another state does it', async ({ page }) => {
  const id = await put(page, {
    format: 'crow-lane',
    version: 1,
    name: 'Ball',
    start: 'court',
    variables: {
      ball: {
        name: 'Ball',
        type: 'choice',
        choices: ['rests', 'bounces', 'falls'],
        initial: 'rests',
        scope: 'attempt'
      }
    },
    places: {
      court: {
        name: 'Court',
        kind: 'level',
        pieces: { goal: { name: 'Goal', kind: 'exit' } },
        rules: [
          { id: 'serve', when: { press: 'Serve' }, if: "ball = 'rests'", do: [{ set: 'ball', to: "'bounces'" }] },
          { id: 'drop', when: { press: 'Drop' }, if: "ball = 'bounces'", do: [{ set: 'ball', to: "'falls'" }] },
          { id: 'hit', when: { touch: 'goal' }, if: "ball = 'bounces'", go: { place: 'end' }, result: 'won' },
          { id: 'again', when: { press: 'Again' }, go: { move: 'again' }, result: 'lost' }
        ]
      },
      end: { name: 'The end', kind: 'ending', outcome: 'won' }
    }
  });
  await page.goto(`/flows/${id}/levels`);
  await settled(page);
  await page.getByRole('tab', { name: 'What answers what' }).click();
  const states = page.locator('[data-states="court ball"]');
  const touched = states.getByRole('row', { name: /When Goal is touched/ });
  await expect(touched.getByRole('cell')).toHaveText(['nothing', 'won: The end', 'nothing']);
  await expect(states.getByRole('row', { name: /When Again is pressed/ }).getByRole('button')).toHaveCount(0);
  await page.getByRole('button', { name: 'Answer when Goal is touched while Ball is falls' }).click();
  await settled(page);
  await expect(touched.getByRole('cell')).toHaveText(['nothing', 'won: The end', 'won: The end']);
});
