/** By keys alone something always has the focus, and the lane is near. */
import { expect, face, open, put, settled, small, test } from './support/page.ts';

test('dialogs give the focus back, keys work on a flow that was just opened, and the lane is one key away', async ({ page }) => {
  await open(page, await put(page, small));
  const nowhere = () => page.evaluate(() => document.activeElement === document.body);

  // nothing has the focus yet: the keys are the lane's
  await page.keyboard.press('n');
  await expect(page.getByRole('dialog', { name: 'A new place' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect.poll(nowhere).toBe(false);

  await page.reload();
  await settled(page);
  await page.keyboard.press('Tab');
  await expect(page.getByRole('button', { name: 'To the lane' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect.poll(nowhere).toBe(false);
  await page.keyboard.press('ArrowRight');
  const at = await page.evaluate(() => document.activeElement?.closest<HTMLElement>('[data-place]')?.dataset.place);
  expect(at).toBeTruthy();

  // to the desk and back
  await page.keyboard.press('Enter');
  await expect(page.locator('#desk :focus')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(face(page, at!)).toBeFocused();

  await page.keyboard.press('m');
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(face(page, at!)).toBeFocused();
});

test('where a rule leads is asked with all moves, and what was typed is kept for a new place', async ({ page }) => {
  await open(page, await put(page, small));
  await face(page, 'title').click();
  await page.keyboard.press('m');
  await page.keyboard.type('back');
  await expect(page.getByRole('dialog').getByRole('option').first()).toContainText('back to what is below');
  // at the speed of one who knows the keys: no key waits for what the one before it does
  await Promise.all([page.keyboard.press('Escape'), page.keyboard.press('m'), page.keyboard.type('next')]);
  await expect(page.getByRole('dialog').getByRole('option').first()).toContainText('the next level');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.getByRole('region', { name: 'Ways out' })).toContainText('the next level');
  await page.keyboard.press('m');
  await page.keyboard.type('Pause menu');
  await expect(page.getByRole('dialog').getByRole('option').first()).toContainText('make a menu Pause menu');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Pause menu');
  await expect(page.getByLabel('It is')).toHaveValue('menu');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.locator('.lane .tile').filter({ hasText: 'Pause menu' })).toBeVisible();
});
