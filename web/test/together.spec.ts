import type { Browser, Page } from '@playwright/test';
import { axeFindsNothing, comesLate, demoFile, expect, test } from './support/page.ts';

// a product of its own, with accounts, which the tests of this file share in order
const [house, secret] = (process.env.CROW_LANE_HOUSE ?? 'http://127.0.0.1:4170 none').split(' ') as [string, string];
const password = 'lantern otter copper';
test.describe.configure({ mode: 'serial' });

/** A browser of somebody else. */
async function somebody(browser: Browser): Promise<Page> {
  const context = await browser.newContext({ baseURL: house, viewport: { width: 1280, height: 800 } });
  return await context.newPage();
}
async function makeAccount(page: Page, link: string, name: string): Promise<void> {
  await page.goto(link);
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Make the account' }).click();
  await expect(page.getByRole('button', { name, exact: true })).toBeVisible();
}
async function signIn(page: Page, name: string): Promise<void> {
  await page.goto(`${house}/sign-in`);
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Flows' })).toBeVisible();
}
const invite = async (page: Page, role: RegExp, note: string) => {
  await page.goto(`${house}/people`);
  await page.getByRole('button', { name: 'Invite a person…' }).click();
  await page.getByLabel('For whom?').fill(note);
  const field = page.locator('select[name=role]');
  const option = await field.locator('option').filter({ hasText: role }).getAttribute('value');
  await field.selectOption(option!);
  await page.getByRole('button', { name: 'Make the link' }).click();
  return await page.getByRole('textbox', { name: 'The link' }).inputValue();
};

test('the first account, an invitation, and a name that is taken', async ({ page, browser }) => {
  // whoever is not signed in is asked to, and goes on from there
  await page.goto(`${house}/flows/demo-ferry-rooms/checks`);
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await axeFindsNothing(page, 'sign in');
  await makeAccount(page, `${house}/open#${secret}`, 'Mira Holt');
  // the link is used up, and no longer in the address
  await expect(page).toHaveURL(`${house}/`);
  await page.goto(`${house}/open#${secret}`);
  await expect(page.getByRole('alert')).toContainText('not valid');

  const link = await invite(page, /^designer/, 'Tomas');
  await axeFindsNothing(page, 'people');
  const other = await somebody(browser);
  await other.goto(link);
  await other.getByLabel('Name').fill('mira  HOLT');
  await other.getByLabel('Password', { exact: true }).fill(password);
  await other.getByRole('button', { name: 'Make the account' }).click();
  await expect(other.getByRole('alert')).toContainText('is taken');
  await other.getByLabel('Name').fill('Tomas Ek');
  await other.getByRole('button', { name: 'Make the account' }).click();
  await expect(other.getByRole('button', { name: 'Tomas Ek' })).toBeVisible();
  // people are the admin's: neither shown nor reached
  await expect(other.getByRole('link', { name: 'People' })).toHaveCount(0);
  await other.goto('/people');
  await expect(other.getByText('Only an admin may do this.')).toBeVisible();
});

test('a sign-in sent before the page listens is made once it does, and stands in no address', async ({ page }) => {
  const asked: string[] = [];
  page.on('request', (request) => asked.push(request.url()));
  const comes = await comesLate(page);
  await page.goto(`${house}/sign-in`, { waitUntil: 'domcontentloaded' });
  await page.getByLabel('Name').fill('Mira Holt');
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.keyboard.press('Enter');
  comes();
  await expect(page.getByRole('heading', { name: 'Flows' })).toBeVisible();
  expect(asked.filter((url) => url.includes('lantern'))).toEqual([]);
});

test('a reader reads, and is told so; an editor edits under the own name', async ({ page, browser }) => {
  await signIn(page, 'Mira Holt');
  const other = await somebody(browser);
  await signIn(other, 'Tomas Ek');
  // the demo may be read by everybody
  await other.getByRole('link', { name: 'Ferry Rooms', exact: true }).click();
  await expect(other.getByText('only to read')).toBeVisible();
  await other.getByRole('textbox', { name: 'Name of the flow' }).fill('Mine');
  await other.keyboard.press('Enter');
  await expect(other.getByText('you may read this flow, not edit it')).toBeVisible();
  await expect(other.getByRole('textbox', { name: 'Name of the flow' })).toHaveValue('Ferry Rooms');

  await page.getByRole('button', { name: 'Share Ferry Rooms' }).click();
  await axeFindsNothing(page, 'sharing');
  await page.getByLabel('Share with one more person').selectOption({ label: 'Tomas Ek' });
  await page.getByLabel('What Tomas Ek may do').selectOption('edit');
  await expect(page.getByLabel('What Tomas Ek may do')).toHaveValue('edit');
  await other.reload();
  await other.getByRole('textbox', { name: 'Name of the flow' }).fill('Ferry Rooms, again');
  await other.keyboard.press('Enter');
  await expect(other.locator('.kept')).toContainText('kept, revision 2');
  await other.getByRole('button', { name: 'History' }).click();
  await expect(other.getByText('Tomas Ek, just now')).toBeVisible();
  // who is there is told by the name of the account
  await page.goto(`${house}/flows/demo-ferry-rooms`);
  await expect(page.getByRole('button', { name: 'Tomas Ek is here' })).toBeVisible();

  // taken away again, the page is told, and what it does not keep is not lost unsaid
  await page.getByRole('button', { name: 'Share…' }).click();
  await page.getByLabel('What Tomas Ek may do').selectOption('');
  await expect(page.getByLabel('What Tomas Ek may do')).toHaveCount(0);
  await other.getByRole('textbox', { name: 'Name of the flow' }).fill('Not mine');
  await other.keyboard.press('Enter');
  await expect(other.getByText('You may read this flow. For more, ask its owner.')).toBeVisible();
});

test('a link opens a flow without an account: to read it, or only to play it', async ({ page, browser }) => {
  await signIn(page, 'Mira Holt');
  await page.getByRole('button', { name: 'Share Night Market' }).click();
  const make = async (what: string, note: string) => {
    await page.getByLabel('What the link opens').selectOption({ label: what });
    await page.getByLabel('For whom, as a note').fill(note);
    const field = page.getByRole('textbox', { name: 'The link' });
    const before = (await field.count()) > 0 ? await field.inputValue() : '';
    await page.getByRole('button', { name: 'Make a link' }).click();
    await expect(field).not.toHaveValue(before);
    return await field.inputValue();
  };
  const [play, read] = [await make('only to play', 'the fair'), await make('to read', 'the teacher')];
  const player = await somebody(browser);
  await player.goto(play);
  await expect(player).toHaveTitle(/Night Market/);
  await expect(player.getByRole('button').first()).toBeVisible();
  const flow = /play\/([^/?]+)/.exec(player.url())![1]!;
  expect((await player.request.get(`/api/flows/${flow}`)).status()).toBe(401);

  const reader = await somebody(browser);
  await reader.goto(read);
  await expect(reader.getByText('only to read')).toBeVisible();
  await page.getByRole('button', { name: 'Take back the link the teacher' }).click();
  await expect(page.getByText('the teacher')).toHaveCount(0);
  await reader.reload();
  await expect(reader.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('put on show, found, played, compared, taken and withdrawn', async ({ page, browser }) => {
  await signIn(page, 'Mira Holt');
  const id = await (
    await page.request.post(`${house}/api/flows`, {
      headers: { origin: house, 'content-type': 'application/json' },
      data: demoFile('ferry-rooms').replace('"Ferry Rooms"', '"The long ferry"')
    })
  ).json();
  await page.goto(`${house}/`);
  const show = async (summary: string) => {
    await page.getByRole('button', { name: 'Share The long ferry' }).click();
    await page.getByLabel('What it is').fill(summary);
    await page.getByLabel('Tags').fill('Doors, boats');
    await page.getByRole('button', { name: /on show$/ }).click();
    await expect(page.getByText('It is on show.')).toBeVisible();
    await page.keyboard.press('Escape');
  };
  await show('Rooms of a ferry, joined by doors.');
  // later edits are not shown until they are put on show
  const flow = (id as { id: string }).id;
  const edited = await page.request.patch(`${house}/api/flows/${flow}`, {
    headers: {
      'content-type': 'application/json-patch+json',
      'if-match': '"1"',
      'idempotency-key': 'deck',
      'edit-label': 'Rename Deck',
      origin: house
    },
    data: JSON.stringify([{ op: 'replace', path: '/places/deck/name', value: 'Upper deck' }])
  });
  expect(edited.status()).toBe(200);

  const other = await somebody(browser);
  await signIn(other, 'Tomas Ek');
  await other.getByRole('link', { name: 'Shared shelf' }).click();
  await other.getByRole('searchbox').fill('joined by');
  await expect(other.getByRole('heading', { name: 'The long ferry' })).toBeVisible();
  await other.getByRole('searchbox').fill('nothing like it');
  await expect(other.getByText('Nothing on show matches.')).toBeVisible();
  await other.goto('/shared');
  await other.getByRole('link', { name: 'boats', exact: true }).click();
  await axeFindsNothing(other, 'shared shelf');
  await other.getByRole('heading', { name: 'The long ferry' }).click();
  await expect(other.getByRole('heading', { name: 'The long ferry', level: 1 })).toBeVisible();
  await expect(other.getByText('by Mira Holt')).toBeVisible();
  // its verdict comes as soon as it is checked
  await expect(async () => {
    await other.reload();
    await expect(other.getByText('all levels can be completed')).toBeVisible({ timeout: 1000 });
  }).toPass();
  await axeFindsNothing(other, 'on show');
  const [game] = await Promise.all([other.waitForEvent('popup'), other.getByRole('link', { name: 'Play it' }).click()]);
  await expect(game).toHaveTitle(/The long ferry/);
  await expect(game.getByRole('button').first()).toBeVisible();
  await game.close();
  await other.reload();
  await expect(other.getByText('once')).toBeVisible();

  await show('Rooms of a ferry, joined by doors.');
  await other.reload();
  await other.getByRole('link', { name: 'revision 2', exact: true }).click();
  await expect(other.locator('dd').filter({ hasText: 'revision 2' })).toBeVisible();
  await other.getByRole('button', { name: 'what changed' }).click();
  await expect(other.locator('.changes')).toContainText('Upper deck');
  await other.getByRole('button', { name: 'Take a copy' }).click();
  await expect(other.getByRole('textbox', { name: 'Name of the flow' })).toHaveValue('The long ferry');
  await expect(other.locator('.kept')).toContainText('kept, revision 1');
  await other.goto('/');
  await expect(other.locator('tr').filter({ hasText: 'taken from' })).toContainText('The long ferry, revision 2, by Mira Holt');

  await page.goto(`${house}/shared`);
  await page.getByRole('heading', { name: 'The long ferry' }).click();
  await page.getByRole('button', { name: 'withdraw it' }).click();
  await expect(page.getByRole('heading', { name: 'Shared shelf' })).toBeVisible();
  // the revision before stands there again
  await page.getByRole('heading', { name: 'The long ferry' }).click();
  await expect(page.locator('dd').filter({ hasText: 'revision 1' })).toBeVisible();
});

test('a guest of the house looks on, and an ended account is shut out', async ({ page, browser }) => {
  await signIn(page, 'Mira Holt');
  const link = await invite(page, /^guest/, 'a visitor');
  const guest = await somebody(browser);
  await makeAccount(guest, link, 'Gus');
  await expect(guest.getByRole('button', { name: 'New flow' })).toHaveCount(0);
  await expect(guest.getByRole('button', { name: /^Duplicate/ })).toHaveCount(0);
  await page.goto(`${house}/people`);
  await page.getByRole('button', { name: 'End the access of Gus' }).click();
  await page.getByRole('button', { name: 'End access', exact: true }).click();
  await expect(page.getByText('access ended').first()).toBeVisible();
  await guest.goto('/');
  await expect(guest.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  // the last admin stays
  const role = page.getByLabel('Role of Mira Holt');
  await role.selectOption('guest');
  await expect(page.getByText('Mira Holt is the last admin.')).toBeVisible();
  await expect(role).toHaveValue('admin');
});

test('signing in elsewhere makes an account the first time, and finds it the next', async ({ browser }) => {
  const enter = async (name: string) => {
    const page = await somebody(browser);
    await page.goto('/flows/demo-night-market');
    await page.getByRole('link', { name: 'Sign in with the studio' }).click();
    await page.locator('input[name=login]').fill(name);
    await page.locator('input[name=password]').fill('any');
    await page.getByRole('button', { name: 'Sign-in' }).click();
    await page.getByRole('button', { name: 'Continue' }).click();
    return page;
  };
  const page = await enter('Ines');
  // it goes on where it was stopped
  await expect(page).toHaveURL(/flows\/demo-night-market/);
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Ines' })).toBeVisible();
  const again = await enter('Ines');
  await again.goto('/');
  await expect(again.getByRole('button', { name: 'Ines', exact: true })).toBeVisible();
  // a name that another has is told apart
  const double = await enter('Tomas Ek');
  await double.goto('/');
  await expect(double.getByRole('button', { name: 'Tomas Ek 2' })).toBeVisible();
  // an answer to a question that was never asked leads nowhere
  const forged = await somebody(browser);
  await forged.goto('/sign-in/elsewhere/back?code=x&state=y');
  await expect(forged.getByRole('alert')).toContainText('did not work');
});

test('a token opens one flow to a program, until it is taken back', async ({ page, request }) => {
  await signIn(page, 'Tomas Ek');
  await page.getByRole('button', { name: 'Tomas Ek' }).click();
  await page.getByRole('link', { name: 'Password, sign-ins, tokens' }).click();
  await page.getByRole('button', { name: 'New token…' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Pipeline');
  await page.getByLabel('Only this flow').fill(`${house}/flows/demo-night-market/checks`);
  await page.getByRole('button', { name: 'Make the token' }).click();
  const token = await page.getByRole('textbox', { name: 'The token' }).inputValue();
  await axeFindsNothing(page, 'account');
  const ask = (flow: string) => request.get(`${house}/api/flows/${flow}`, { headers: { authorization: `Bearer ${token}` } });
  expect((await ask('demo-night-market')).status()).toBe(200);
  expect((await ask('demo-ferry-rooms')).status()).toBe(404);
  await page.reload();
  await expect(page.locator('tr').filter({ hasText: 'Pipeline' })).toContainText('just now');
  await page.getByRole('button', { name: 'Take back the token Pipeline' }).click();
  await expect(page.locator('tr').filter({ hasText: 'Pipeline' })).toHaveCount(0);
  expect((await ask('demo-night-market')).status()).toBe(401);
});
