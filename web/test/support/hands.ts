import { expect, type Locator, type Page } from '@playwright/test';

/** What a person does at the product, by mouse or by keys alone: the same acts, so that one script serves both. */
export interface Hands {
  /** Uses a button, a link or a word of a sentence. */
  press(what: Locator): Promise<void>;
  /** Puts a text into a field and leaves it there, not yet sent. */
  write(what: Locator, text: string): Promise<void>;
  choose(what: Locator, label: string): Promise<void>;
  /** Selects a place on the lane. */
  select(name: string): Promise<void>;
  /** Asks for a new place, reached from the selected one, of a kind. */
  newPlace(from: string | undefined, row: 'Endings' | 'Interludes' | 'Levels'): Promise<void>;
  /** Makes what belongs to a rule ready to be used. */
  toRule(rule: Locator): Promise<void>;
}

const tileOf = (page: Page, name: string) =>
  page.locator('.lane .tile').filter({ has: page.locator(`.name:text-is("${name}")`) });

export function mouse(page: Page): Hands {
  return {
    press: (what) => what.click(),
    write: (what, text) => what.fill(text),
    choose: async (what, label) => void (await what.selectOption({ label })),
    select: (name) => tileOf(page, name).locator('.face').click(),
    toRule: (rule) => rule.hover(),
    async newPlace(from, row) {
      if (from === undefined) return page.getByRole('button', { name: '+ place', exact: true }).click();
      const tile = tileOf(page, from);
      await tile.hover();
      const grip = (await tile.locator('.pull').boundingBox())!;
      const band = (await page.locator('.lane .title').filter({ hasText: row }).first().boundingBox())!;
      await page.mouse.move(grip.x + 5, grip.y + 5);
      await page.mouse.down();
      // far to the right, where the band is empty
      await page.mouse.move(band.x + 800, band.y + band.height / 2, { steps: 6 });
      await page.mouse.up();
    }
  };
}

/**
 * Tab by Tab to something, as somebody would who cannot point: forward to what comes later on the page, else backward. How
 * many times is counted on the page, so that the keys can follow each other without a look after each.
 */
export async function tabTo(page: Page, what: Locator): Promise<void> {
  const has = () => what.evaluate((element) => element === document.activeElement).catch(() => false);
  const away = await what.evaluate((element) => {
    const all = [...document.querySelectorAll<HTMLElement>('a[href], button, input, select, textarea, summary, [tabindex]')];
    const stops = all.filter(
      (each) => each.tabIndex >= 0 && !each.matches(':disabled') && !each.closest('[inert]') && each.checkVisibility()
    );
    const from = document.activeElement as HTMLElement;
    const before = (each: HTMLElement) => (from.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_PRECEDING) !== 0;
    const at = stops.includes(from) ? stops.indexOf(from) : stops.filter(before).length - 1;
    return stops.indexOf(element as HTMLElement) - at;
  });
  for (let n = 0; n < Math.abs(away); n++) await page.keyboard.press(away > 0 ? 'Tab' : 'Shift+Tab');
  // where the order of the stops is another than that of the page
  for (const key of away > 0 ? ['Tab', 'Shift+Tab'] : ['Shift+Tab', 'Tab'])
    for (let n = 0; n < 90; n++) {
      if (await has()) return;
      await page.keyboard.press(key);
    }
  expect(await has(), `${what} is reached by Tab`).toBe(true);
}

export function keyboard(page: Page): Hands {
  const toLane = async () => {
    for (let n = 0; n < 200 && !(await page.evaluate(() => document.activeElement?.closest('.lane .tile') !== null)); n++)
      await page.keyboard.press('Shift+Tab');
  };
  let at = '';
  /** Whatever was done last, something has the focus: who was thrown back to the page would begin at its top. */
  const onSomething = async () => {
    const opened = page.url() !== at;
    at = page.url();
    if (opened) return;
    await expect
      .poll(() => page.evaluate(() => document.activeElement !== null && document.activeElement !== document.body))
      .toBe(true);
  };
  const reach = async (what: Locator) => {
    await onSomething();
    await tabTo(page, what);
  };
  return {
    async press(what) {
      await reach(what);
      await page.keyboard.press('Enter');
    },
    async write(what, text) {
      await reach(what);
      await page.keyboard.press('Control+a');
      await page.keyboard.type(text);
    },
    async choose(what, label) {
      await reach(what);
      await page.keyboard.type(label);
      await expect(what.locator('option:checked')).toHaveText(label);
    },
    async select(name) {
      // found by name, as in a flow of any size
      await toLane();
      await page.keyboard.press('/');
      await page.keyboard.type(name);
      await page.keyboard.press('Enter');
      await expect(page.getByLabel('Name of this place')).toHaveValue(name);
    },
    async toRule(rule) {
      await reach(rule.locator('button').first());
    },
    async newPlace(from) {
      await toLane();
      if (from === undefined) return page.keyboard.press('n');
      await page.keyboard.press('m');
      await page.keyboard.type('A new one that is not there yet');
      await page.keyboard.press('Enter');
    }
  };
}
