/** The mistakes of designers' jobs: told at their cause, fixed by the first offer, and then nothing fails. */
import { expect, open, put, settled, test } from './support/page.ts';
import { jobs } from '../../core/test/support/jobs.ts';

const told: { job: keyof typeof jobs; cause: string; says: string; fix: string }[] = [
  { job: 'undrawn', cause: 'never-stranded begin', says: 'leads nowhere', fix: 'Draw Rounds first' },
  { job: 'balls', cause: 'over-at-once court', says: 'is over on arrival', fix: 'Begin Balls with each attempt' },
  { job: 'score', cause: 'over-at-once two', says: 'is over on arrival', fix: 'Begin Score with each attempt' },
  { job: 'options', cause: 'never-stranded back', says: 'leads nowhere', fix: 'Open Options over the place before it' },
  { job: 'last', cause: 'place-reached end', says: 'is never reached', fix: 'Otherwise to The end' },
  { job: 'signal', cause: 'signal-heard victory', says: 'but no rule hears it', fix: 'Win when Won is raised' }
];

for (const { job, cause, says, fix } of told)
  test(`${jobs[job].name}: the mistake is told at its cause and fixed by the first offer, in one act`, async ({ page }) => {
    const id = await put(page, jobs[job]);
    await open(page, id);
    await expect(page.locator('.tile .fails, .tile [aria-label="something fails"]').first()).toBeVisible();
    await page.locator('.answers').click();
    const first = page.locator('[data-finding]').first();
    await expect(first).toHaveAttribute('data-finding', cause);
    await expect(first).toContainText(says);
    await expect(first.locator('[data-fix]')).toHaveText(fix, { timeout: 45_000 });
    await expect(page.getByRole('status').filter({ hasText: 'each with what follows' })).toContainText(/^1 cause,/);
    await first.locator('[data-fix]').click();
    await settled(page);
    await expect(page.getByText('Nothing fails here.')).toBeVisible();
  });

const noted: { job: keyof typeof jobs; note: string; says: string; fix: string }[] = [
  { job: 'fall', note: 'lost-elsewhere fall1', says: 'leads to One, not back', fix: 'Start the lost level again instead' },
  { job: 'fall', note: 'gain-kept score', says: 'keeps what was gained', fix: 'Begin Score with each attempt' },
  {
    job: 'kept',
    note: 'second-game score',
    says: 'One can begin with other values than in the first game',
    fix: 'Begin Score with each run'
  },
  { job: 'lock', note: 'goal-partial vault', says: 'is satisfied before all are done', fix: 'Ask for all: 3 levels' }
];

for (const { job, note, says, fix } of noted)
  test(`${jobs[job].name}: ${note} is a note, answered by its fix, or in one act`, async ({ page }) => {
    const id = await put(page, jobs[job]);
    await open(page, id);
    await page.locator('.answers').click();
    await page.getByRole('tab', { name: 'worth knowing' }).click();
    const row = page.locator(`[data-finding="${note}"]`);
    await expect(row).toContainText(says);
    await row.locator('.message').click();
    await expect(row.locator('[data-fix]').first()).toHaveText(fix, { timeout: 45_000 });
    if (note === 'lost-elsewhere fall1') {
      await row.getByRole('button', { name: 'Expect this' }).click();
      await settled(page);
      await page.getByRole('tab', { name: 'accepted' }).click();
      await expect(row).toBeVisible();
    } else {
      await row.locator('[data-fix]').first().click();
      await settled(page);
    }
    await page.getByRole('tab', { name: 'worth knowing' }).click();
    await expect(row).toHaveCount(0);
  });

test('a game without an end is accepted once: the head no longer counts it, and an edit elsewhere does not bring it back', async ({
  page
}) => {
  const id = await put(page, jobs.endless);
  await open(page, id);
  await expect(page.locator('.answers')).toContainText('1 finding');
  await page.locator('.answers').click();
  const row = page.locator('[data-finding="ending-in-reach flow"]');
  await row.locator('.message').click();
  await row.getByLabel('It is meant, because').fill('It goes on for as long as the player likes.');
  await row.getByRole('button', { name: 'Accept' }).click();
  await settled(page);
  await expect(page.locator('.answers')).not.toContainText('finding');
  await page.getByRole('link', { name: 'Lane' }).click();
  await page.locator('[data-place="one"] .face').click();
  await page.getByLabel('How many: Lamp').fill('2');
  await page.getByLabel('How many: Lamp').press('Enter');
  await settled(page);
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
  await expect(page.locator('.answers')).not.toContainText('finding');
});

test('a trail leads on the lane from the cause to what suffers, and the desk tells the cause with its fix', async ({ page }) => {
  const id = await put(page, jobs.score);
  await open(page, id);
  await page.locator('[data-place="two"] .face').click();
  const inside = page.getByRole('region', { name: 'Inside' });
  await expect(inside).toContainText('Score is 3 on arrival.');
  await expect(inside.locator('[data-fix]')).toHaveText('Begin Score with each attempt', { timeout: 45_000 });
  await inside.locator('[data-fix]').click();
  await settled(page);
  await expect(inside.locator('.finding')).toHaveCount(0);
  await expect(page.locator('.answers')).toContainText('2 of 2 levels can be completed');
});
