import type { Locator, Page } from '@playwright/test';

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

  /** Types where the focus is, as after a key that opens a dialog. */
  async type(text: string): Promise<void> {
    this.count++;
    await this.page.keyboard.type(text);
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
