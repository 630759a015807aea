import { expect, axeFindsNothing, settled, test } from './support/page.ts';

test('every view leads to its page of the manual, and the manual through all of its pages', async ({ page, context }) => {
  test.setTimeout(120_000);
  for (const [view, title] of [
    ['', 'The lane'],
    ['/trial', 'Trial and runs'],
    ['/checks', 'Reading the checks'],
    ['/plan', 'The plan']
  ] as const) {
    await page.goto(`/flows/demo-ferry-rooms${view}`);
    const opened = context.waitForEvent('page');
    await page.getByRole('link', { name: 'Help' }).click();
    const help = await opened;
    await expect(help.getByRole('heading', { level: 1 })).toHaveText(title);
    await help.close();
  }
  await page.goto('/');
  await page.getByRole('link', { name: 'Manual' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('The first ten minutes');
  const names = await page.getByRole('navigation', { name: 'Manual' }).getByRole('link').allTextContents();
  expect(names.length).toBeGreaterThan(9);
  for (const name of names) {
    await page.getByRole('navigation', { name: 'Manual' }).getByRole('link', { name, exact: true }).click();
    await expect(page.getByRole('navigation', { name: 'Manual' }).locator('[aria-current=page]')).toHaveText(name);
    // no picture and no link leads nowhere
    const broken = await page.locator('main img').evaluateAll((pictures) =>
      Promise.all(
        pictures.map(async (picture) => {
          await (picture as HTMLImageElement).decode().catch(() => {});
          return (picture as HTMLImageElement).naturalWidth === 0;
        })
      )
    );
    expect(broken.filter(Boolean)).toEqual([]);
    for (const href of await page
      .locator('main a')
      .evaluateAll((links) => links.map((link) => (link as HTMLAnchorElement).pathname)))
      expect((await page.request.get(href)).status(), `${href} on ${name}`).toBe(200);
  }
  await axeFindsNothing(page);
  expect((await page.goto('/help/nothing'))?.status()).toBe(404);
});

test('the tour is offered once, tells what is done, is put aside, gone on with and left', async ({ page }) => {
  test.setTimeout(180_000);
  await page.goto('/flows/demo-lamplighters-round-with-faults');
  await settled(page);
  const tour = page.getByRole('complementary', { name: 'Tour' });
  const on = tour.getByRole('button', { name: /^(On|Skip)$/ });
  await tour.getByRole('button', { name: 'Take the tour' }).click();
  await expect(tour).toContainText('A whole game on one picture');
  await on.click();
  await expect(page).toHaveURL(/\/checks$/);
  await on.click();
  await expect(tour).toContainText('3 of 10');
  await expect(on).toHaveText('Skip');
  await page.locator('[data-finding="goal-count w_chapel"] [data-fix]').click({ timeout: 60_000 });
  // it is done once the flow is proved anew
  await settled(page);
  await expect(tour).toContainText('✓ done');
  await expect(on).toHaveText('On');
  // the demo stays as the others expect it
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);

  await tour.getByRole('button', { name: 'Aside' }).click();
  await expect(tour).toHaveCount(0);
  await page.reload();
  await page.getByRole('button', { name: 'Tour, step 3' }).click();
  await expect(tour).toContainText('A level that cannot be won');
  await tour.getByRole('button', { name: 'Leave the tour' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Tour', exact: true })).toBeVisible();
  await expect(tour).toHaveCount(0);
});
