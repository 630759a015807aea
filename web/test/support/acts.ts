import type { Locator, Page } from '@playwright/test';
import { expect, settled } from './page.ts';

/** A designer's hands whose acts are counted: a click, a key that does something, or a text typed into one field. */
export class Acts {
  count = 0;
  constructor(private readonly page: Page) {}

  async click(what: Locator): Promise<void> {
    this.count++;
    await what.click();
  }

  async key(key: string): Promise<void> {
    this.count++;
    await this.page.keyboard.press(key);
  }

  /** Types where the focus is. */
  async type(text: string): Promise<void> {
    this.count++;
    await this.page.keyboard.type(text);
  }

  /** Types into the field of a dialog that has the focus by itself, once it is there. */
  async typed(text: string): Promise<void> {
    await expect(this.page.locator('dialog input:focus, :popover-open input:focus')).toHaveCount(1);
    await this.type(text);
  }

  async write(field: Locator, text: string): Promise<void> {
    this.count++;
    await field.fill(text);
  }

  async choose(field: Locator, label: string): Promise<void> {
    this.count++;
    await field.selectOption({ label });
  }
}

/** What is wired from nothing, act by act: places from places, pieces by name, rules as they are offered. */
export class Wiring extends Acts {
  constructor(private readonly at: Page) {
    super(at);
  }
  readonly button = (name: string | RegExp) => this.at.getByRole('button', { name });
  readonly sentence = (result: 'won' | 'lost') => this.at.locator(`.sentence[data-result=${result}]`).first();
  private readonly tile = (name: string) =>
    this.at.locator('.lane .tile').filter({ has: this.at.locator(`.name:text-is("${name}")`) });

  async begin(name: string): Promise<void> {
    await this.at.goto('/');
    await this.click(this.button('New flow'));
    await this.typed(name);
    await this.click(this.button('Make the flow'));
    await settled(this.at);
  }
  select(name: string): Promise<void> {
    return this.click(this.tile(name).locator('.face'));
  }
  /** A new place that an old one leads to; its kind follows from its name and from where it is asked. */
  async lead(from: string, to: string): Promise<void> {
    await this.select(from);
    await this.key('m');
    await this.typed(to);
    await this.key('Enter');
    await expect(this.at.getByLabel('Name', { exact: true })).toHaveValue(to);
    await this.key('Enter');
    await expect(this.at.getByLabel('Name of this place')).toHaveValue(to);
    // who goes on by keys goes on from it
    await expect(this.tile(to).locator('.face')).toBeFocused();
  }
  async piece(name: string, count?: number): Promise<void> {
    await this.click(this.at.getByLabel('Name of a new piece'));
    await this.type(name);
    await this.key('Enter');
    if (count === undefined) return;
    await this.write(this.at.getByLabel(`How many: ${name}`), String(count));
    await this.key('Enter');
  }
  add(result: 'won' | 'lost'): Promise<void> {
    const none = this.at.locator('#desk p', { hasText: `The level cannot be ${result}` });
    return this.click(none.getByRole('button', { name: 'Add one?' }));
  }
  async once(result: 'won' | 'lost', condition: string): Promise<void> {
    await this.click(this.sentence(result).getByRole('button').first());
    await this.choose(this.at.getByLabel('Kind of trigger'), 'a condition becomes true');
    await this.write(this.at.getByLabel('Condition'), condition);
    await this.key('Enter');
  }
  /** A rule that adds one to the score for each of a piece that is collected. */
  async scores(piece: string): Promise<void> {
    await this.click(this.button('+ rule without a move'));
    const rule = this.at.locator('.sentence').filter({ hasText: new RegExp(`On arrival|${piece} is collected`) });
    await this.click(rule.getByRole('button').first());
    await this.choose(this.at.getByLabel('Kind of trigger'), 'a piece is collected');
    await this.click(this.at.getByRole('option', { name: new RegExp(piece) }));
    await rule.hover();
    await this.click(rule.getByRole('button', { name: '+ effect' }));
    await this.typed('Score');
    await this.key('Enter');
    await this.click(this.button('add 1 to Score'));
  }
  async completable(levels: number): Promise<void> {
    await settled(this.at);
    await expect(this.at.locator('.answers')).toContainText(`${levels} of ${levels} level`);
    await expect(this.at.locator('.answers')).not.toContainText('finding');
  }
}
