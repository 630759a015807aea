/** What takes a designer many acts elsewhere takes few here, counted. */
import { Acts, Wiring } from './support/acts.ts';
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
  await acts.typed('Thirty streets');
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
  const acts = new Wiring(page);
  const doors: [string, string[]][] = [
    ['hall', ['Loft', 'Cellar', 'Loft']],
    ['loft', ['Cellar', 'Cellar']]
  ];
  for (const [from, rooms] of doors) {
    await acts.click(face(page, from));
    for (const to of rooms) {
      await acts.key('o');
      await acts.typed(to);
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

test('a second level out of the first, whose goal follows what it has: nineteen acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Gems');
  await acts.lead('Title', 'Yard');
  await acts.piece('Gem', 8);
  await acts.add('won');
  await acts.click(acts.button('Duplicate'));
  await expect(page.getByLabel('Name of this place')).toHaveValue('Yard 2');
  await acts.lead('Yard 2', 'The end');
  await acts.completable(2);
  expect(acts.count).toBeLessThanOrEqual(20);

  // the copy is its own: fewer there change nothing in the first, and its goal goes along
  await acts.select('Yard 2');
  await page.getByLabel('How many: Gem').fill('5');
  await page.keyboard.press('Enter');
  await expect(acts.sentence('won')).toContainText('Once Gem × 5 are all collected');
  await acts.select('Yard');
  await expect(acts.sentence('won')).toContainText('Once Gem × 8 are all collected, go to the next level.');
  // a number typed instead is told at the rule
  await acts.once('won', 'taken(gem) >= 5');
  await expect(acts.sentence('won')).toContainText('Yard has Gem × 8.');
});

test('all points lead on with a fade and the score, after the last to the end: thirty acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Points');
  await acts.lead('Title', 'Room 1');
  await acts.piece('Point', 6);
  await acts.add('won');
  await acts.sentence('won').hover();
  await acts.click(acts.sentence('won').getByRole('button', { name: '+ transition' }));
  await acts.scores('Point');
  await acts.click(acts.button('Duplicate'));
  await settled(page);
  // the usual mistake: no next after the last one
  await expect(acts.sentence('won')).toContainText('After Room 2 there is no next level.');
  await expect(page.locator('#desk').getByRole('button', { name: 'Add an ending, after the last level' })).toBeVisible();
  await acts.lead('Room 2', 'The end');
  await acts.completable(2);
  expect(acts.count).toBeLessThanOrEqual(32);
  // what is carried on purpose arrives
  await expect(page.getByRole('region', { name: 'Ways in' })).toContainText('Score 12');
});

test('lost only when both players are down, won with three of five robots: thirty acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Two players');
  await acts.lead('Title', 'Arena');
  await acts.piece('Player', 2);
  await acts.piece('Robot', 5);
  await acts.add('won');
  await expect(acts.sentence('won')).toContainText('Once Robot × 5 are all defeated');
  await acts.once('won', 'taken(robot) >= 3');
  await acts.add('lost');
  await expect(acts.sentence('lost')).toContainText('Once Player × 2 are all defeated');
  await acts.lead('Arena', 'Victory');
  await acts.completable(1);
  expect(acts.count).toBeLessThanOrEqual(30);
  // the usual mistake is told at the rule
  await acts.select('Arena');
  await expect(acts.sentence('won')).toContainText('Arena has Robot × 5.');
  await acts.once('lost', 'taken(player) >= 1');
  await expect(acts.sentence('lost')).toContainText('Arena has Player × 2.');
});

test('a maze: a wall begins it again, the goal leads on, and every game begins at the first: twenty-two acts', async ({
  page
}) => {
  const acts = new Wiring(page);
  await acts.begin('Mazes');
  await acts.lead('Title', 'Maze 1');
  await acts.piece('Wall');
  await acts.piece('Goal');
  await acts.add('won');
  await acts.add('lost');
  await expect(acts.sentence('won')).toContainText('When Goal is touched');
  await expect(acts.sentence('lost')).toContainText('When Wall is touched, go to the same level again.');
  await acts.click(acts.button('Duplicate'));
  await acts.lead('Maze 2', 'The end');
  await acts.key('m');
  await acts.typed('Title');
  await acts.key('Enter');
  await acts.completable(2);
  expect(acts.count).toBeLessThanOrEqual(26);
  // the second game begins where the first did
  await page.getByRole('link', { name: 'Trial' }).click();
  const scene = page.getByRole('region', { name: 'What the player sees' });
  const press = (name: RegExp) => scene.getByRole('button', { name }).first().click();
  for (const name of [/^Maze 1/, /^Touch wins/, /^Touch wins/, /^Title/, /^Maze 1/]) await press(name);
  await expect(scene.locator('h2')).toContainText('Maze 1');
});

test('a win screen, the score fresh in each level, fifteen to win within fifty seconds: forty-five acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Fifteen');
  await acts.lead('Title', 'Field 1');
  await acts.piece('Coin', 20);
  await acts.scores('Coin');
  await acts.add('won');
  await acts.once('won', 'Score >= 15');
  await acts.sentence('won').hover();
  await acts.click(acts.button('+ place before'));
  await acts.typed('Level complete');
  await acts.key('Enter');
  await acts.select('Field 1');
  await acts.add('lost');
  await acts.click(acts.sentence('lost').getByRole('button').first());
  await acts.choose(page.getByLabel('Kind of trigger'), 'time has passed');
  await acts.write(page.getByLabel('Seconds'), '50');
  await acts.key('Enter');
  await acts.click(acts.button('Duplicate'));
  await settled(page);
  // the usual mistake, told with what fixes it
  await expect(page.locator('#desk')).toContainText('Score is 15 on arrival.');
  await acts.click(page.locator('#desk').getByRole('button', { name: 'Begin Score with each attempt' }));
  await acts.lead('Level complete', 'The end');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  expect(acts.count).toBeLessThanOrEqual(45);
});

test('levels chosen by number, back from each, five more later: fifteen acts, and the lock goes along', async ({ page }) => {
  const acts = new Wiring(page);
  await page.goto('/');
  await acts.click(acts.button('New flow'));
  await acts.typed('By number');
  await acts.click(page.getByText('Choose a level'));
  await acts.click(acts.button('Make the flow'));
  await settled(page);
  await acts.click(page.getByRole('link', { name: 'Levels' }));
  await acts.click(acts.button('+ levels…'));
  await acts.write(page.getByLabel('How many'), '5');
  await acts.key('Enter');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('10 of 10 levels can be completed');
  await acts.click(page.getByRole('tab', { name: 'Level selects' }));
  await acts.choose(page.getByLabel(/^How the levels of/), 'one after another');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('10 of 10 levels can be completed');
  expect(acts.count).toBeLessThanOrEqual(15);
});

test('a shuffled run: twenty rows at once, a sixth level not last in each, drawn anew each game: fifteen acts', async ({
  page
}) => {
  const acts = new Wiring(page);
  await page.goto('/');
  await acts.click(acts.button('New flow'));
  await acts.typed('Shuffled');
  await acts.click(page.getByText('A shuffled run'));
  await acts.click(acts.button('Make the flow'));
  await settled(page);
  await acts.click(page.getByRole('link', { name: 'Levels' }));
  await acts.click(page.getByRole('tab', { name: 'Orders' }));
  await acts.choose(page.getByLabel(/^How Bag of levels is played/), 'by a drawn row');
  await acts.write(page.getByLabel('How many rows'), '20');
  await acts.click(acts.button('Replace rows'));
  await settled(page);
  await acts.click(page.getByRole('tab', { name: 'Sheet' }));
  await acts.click(acts.button('+ levels…'));
  await acts.write(page.getByLabel('How many'), '1');
  await acts.key('Enter');
  await settled(page);
  // told, and the rows take it in at different places
  await acts.click(page.getByRole('tab', { name: 'Orders' }));
  await acts.click(acts.button('Complete all rows'));
  await settled(page);
  const { orders } = (await documentOf(page)) as unknown as { orders: Record<string, { levels: string[]; rows: string[][] }> };
  const { levels, rows } = Object.values(orders)[0]!;
  expect(rows).toHaveLength(20);
  const added = levels.at(-1)!;
  expect(new Set(rows.map((row) => row.indexOf(added))).size).toBeGreaterThan(3);
  await expect(page.locator('.answers')).toContainText('6 of 6 levels can be completed');
  expect(acts.count).toBeLessThanOrEqual(16);
});

test('a splash, a menu, credits, and a fall with sound and a fade to black, the score set back unseen: sixty-five acts', async ({
  page
}) => {
  const acts = new Wiring(page);
  await acts.begin('Falls');
  await acts.key('n');
  await acts.typed('Splash');
  await expect(page.getByLabel('It is')).toHaveValue('interlude');
  await acts.key('Enter');
  await acts.key('m');
  await acts.typed('Title');
  await acts.key('Enter');
  await settled(page);
  await acts.click(acts.button('Let play begin at Splash').first());
  await acts.lead('Title', 'Credits');
  await acts.key('m');
  await acts.typed('Title');
  await acts.key('Enter');
  await acts.lead('Title', 'Cliff 1');
  await acts.piece('Coin', 4);
  await acts.piece('Pit');
  await acts.piece('Goal');
  await acts.add('won');
  await acts.scores('Coin');
  await acts.add('lost');
  await expect(acts.sentence('lost')).toContainText('When Pit is touched, go to the same level again.');
  await acts.sentence('lost').hover();
  await acts.click(acts.sentence('lost').getByRole('button', { name: '+ transition' }));
  await acts.click(acts.sentence('lost').getByRole('button', { name: /fading/ }));
  await acts.write(page.getByLabel('Sound'), 'fall');
  await acts.key('Enter');
  await acts.lead('Cliff 1', 'The end');
  await acts.completable(1);
  // the usual mistake: the score stays after a fall
  await acts.click(page.locator('.answers'));
  await acts.click(page.getByRole('tab', { name: 'worth knowing' }));
  await expect(page.locator('[data-finding="gain-kept score"]')).toContainText('keeps what was gained');
  await acts.click(page.getByRole('link', { name: 'Lane' }));
  await acts.select('Cliff 1');
  await acts.sentence('lost').hover();
  await acts.click(acts.sentence('lost').getByRole('button', { name: '+ effect' }));
  await acts.typed('Score');
  await acts.key('Enter');
  await acts.click(acts.button('set Score to 0'));
  await acts.click(acts.sentence('lost').getByRole('button', { name: 'set Score to 0' }));
  await acts.choose(page.getByLabel('When it is seen'), 'while the screen is covered');
  await acts.key('Escape');
  await acts.click(acts.button('Duplicate'));
  await acts.completable(2);
  await expect(acts.sentence('lost')).toContainText('set Score to 0 (unseen)');
  expect(acts.count).toBeLessThanOrEqual(65);
  await page.locator('.answers').click();
  await page.getByRole('tab', { name: 'worth knowing' }).click();
  await expect(page.locator('[data-finding^="gain-kept"], [data-finding^="lost-elsewhere"]')).toHaveCount(0);
  // the other mistake: a fall in the second level leads to the first
  await page.getByRole('link', { name: 'Lane' }).click();
  await acts.select('Cliff 2');
  await page.locator('.sentence[data-result=lost]').getByRole('button', { name: 'the same level again' }).click();
  await page.getByRole('option', { name: 'Cliff 1' }).click();
  await settled(page);
  await page.locator('.answers').click();
  await page.getByRole('tab', { name: 'worth knowing' }).click();
  const elsewhere = page.locator('[data-finding^="lost-elsewhere"]');
  await expect(elsewhere).toContainText('leads to Cliff 1, not back');
  await elsewhere.locator('.message').click();
  await page.getByRole('button', { name: 'Start the lost level again instead' }).click();
  await expect(elsewhere).toHaveCount(0);
});

test('a game over in which nothing else acts, five seconds, and again: fifty-one acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Serve');
  await acts.lead('Title', 'Court');
  await acts.piece('Goal');
  await acts.piece('Pit');
  await acts.add('won');
  await acts.add('lost');
  await acts.sentence('lost').hover();
  await acts.click(acts.sentence('lost').getByRole('button', { name: '+ effect' }));
  await acts.typed('Lives');
  await acts.key('Enter');
  await acts.click(acts.button('take 1 from Lives'));
  await acts.click(acts.button('Whole flow'));
  await acts.write(page.locator('[data-value=lives]').getByLabel('begins at', { exact: true }), '3');
  await acts.key('Enter');
  // what it is called says that it is lost there
  await acts.lead('Court', 'Game over');
  await acts.select('Court');
  const over = page.locator('.sentence[data-result=lost]').filter({ hasText: 'go to Game over' });
  await acts.click(over.getByRole('button').first());
  await acts.choose(page.getByLabel('Kind of trigger'), 'a condition becomes true');
  await acts.write(page.getByLabel('Condition'), 'Lives = 0');
  await acts.key('Enter');
  await acts.select('Game over');
  await acts.key('m');
  await acts.typed('Title');
  await acts.key('Enter');
  await acts.click(page.locator('.sentence').getByRole('button', { name: 'After 2 s' }));
  await acts.write(page.getByLabel('Seconds'), '5');
  await acts.key('Enter');
  await acts.lead('Court', 'Victory');
  await settled(page);
  // the usual mistake: the next game begins with what the last one ended with
  await acts.click(page.locator('.answers'));
  await acts.click(page.getByRole('button', { name: 'Begin a new run on Court' }).first());
  await settled(page);
  // with the last life the court is over as it is entered again: that is meant
  await acts.click(page.locator('[data-finding="over-at-once court"] .message'));
  await acts.write(page.getByLabel('It is meant, because'), 'The last life.');
  await acts.click(acts.button('Accept'));
  await acts.click(page.getByRole('link', { name: 'Trial' }));
  await acts.completable(1);
  expect(acts.count).toBeLessThanOrEqual(51);
  const scene = page.getByRole('region', { name: 'What the player sees' });
  const press = (name: RegExp) => scene.getByRole('button', { name }).first().click();
  await press(/^Court/);
  for (let n = 0; n < 3; n++) await press(/^Touch loses/);
  await expect(scene.locator('h2')).toContainText('Game over');
  await expect(scene.getByRole('button')).toHaveCount(1);
  await press(/^Let the time pass/);
  await expect(scene.locator('h2')).toContainText('Title');
});

test('one rule for all levels, the last flag to the victory, death back to the same level: thirty acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Flags');
  await acts.lead('Title', 'Hill 1');
  await acts.piece('Flag');
  await acts.piece('Pit');
  for (const result of ['won', 'lost'] as const) {
    await acts.add(result);
    await acts.sentence(result).hover();
    await acts.choose(acts.sentence(result).getByLabel('Whose rule it is'), 'of all levels (1)');
  }
  await acts.click(page.getByRole('link', { name: 'Levels' }));
  await acts.click(acts.button('+ levels…'));
  await acts.write(page.getByLabel('How many'), '4');
  await acts.write(page.getByLabel('Named'), 'Hill {n}');
  await acts.key('Enter');
  await acts.click(page.getByRole('link', { name: 'Lane' }));
  await acts.lead('Hill 5', 'Victory');
  await acts.completable(5);
  expect(acts.count).toBeLessThanOrEqual(30);
  const { places, rules } = (await documentOf(page)) as unknown as { places: Kept['places']; rules: object[] };
  expect(Object.values(places).filter(({ kind, rules: own }) => kind === 'level' && own.length > 0)).toEqual([]);
  expect(rules).toMatchObject([
    { when: { touch: 'flag' }, go: { move: 'next', else: { place: 'victory' } }, result: 'won' },
    { when: { touch: 'pit' }, go: { move: 'again' }, result: 'lost' }
  ]);
});

test('zones in an endless round, accepted once: twenty acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Zones');
  await acts.lead('Title', 'Zone 1');
  await acts.add('won');
  for (const name of ['Zone 2', 'Zone 3']) {
    await acts.click(acts.button('Duplicate'));
    await expect(page.getByLabel('Name of this place')).toHaveValue(name);
  }
  await acts.select('Zone 3');
  await acts.key('m');
  await acts.typed('Zone 1');
  await acts.key('Enter');
  await expect(acts.sentence('won')).toContainText('go to the next level, or else to Zone 1');
  await settled(page);
  // that it never ends is told, and accepted in one act
  await expect(page.locator('.answers')).toContainText('finding');
  await acts.click(acts.button('Whole flow'));
  await acts.click(page.locator('#desk').getByRole('button', { name: 'it is meant' }).first());
  await acts.typed('It goes on for as long as the player likes.');
  await acts.key('Enter');
  await acts.completable(3);
  expect(acts.count).toBeLessThanOrEqual(22);
});

test('won and lost as signals, each heard by the first offer: forty-five acts', async ({ page }) => {
  const acts = new Wiring(page);
  await acts.begin('Signals');
  await acts.lead('Title', 'Hall');
  for (const [piece, signal, fix] of [
    ['Goal', 'Won', 'Win when Won is raised'],
    ['Pit', 'Lost', 'Lose when Lost is raised']
  ] as const) {
    await acts.piece(piece);
    await acts.click(acts.button('+ rule without a move'));
    const made = page.locator('.sentence').filter({ hasText: new RegExp(`On arrival|When ${piece}`) });
    await acts.click(made.getByRole('button').first());
    await acts.choose(page.getByLabel('Kind of trigger'), 'a piece is touched');
    await acts.click(page.getByRole('option', { name: new RegExp(`^${piece}`) }));
    await made.hover();
    await acts.click(made.getByRole('button', { name: '+ effect' }));
    await acts.choose(page.getByLabel('Kind of effect'), 'raise a signal');
    await acts.write(page.getByRole('combobox', { name: 'raise a signal' }), signal);
    await acts.key('Enter');
    await settled(page);
    // the usual mistake: nothing listens
    await acts.click(page.locator('#desk').getByRole('button', { name: fix }).first());
  }
  await acts.lead('Hall', 'Victory');
  await acts.completable(1);
  expect(acts.count).toBeLessThanOrEqual(45);
});
