/** Acts that can fail: what went wrong is said, and nothing is lost. */
export class Attempts {
  /** Why the last act failed, and what to say where it did not; empty where there is nothing to say. */
  failed = $state('');
  told = $state('');
  trying = $state(false);

  /** `after` brings up to date what the page shows, however an act ends. */
  constructor(private readonly after: () => Promise<unknown> = () => Promise.resolve()) {}

  /** Runs an act. */
  async run(act: () => Promise<unknown>, done = ''): Promise<void> {
    this.failed = this.told = '';
    this.trying = true;
    try {
      await act();
      this.told = done;
    } catch (error) {
      this.failed = wordsOf(error);
    }
    await this.after().catch((error: unknown) => (this.failed ||= wordsOf(error)));
    this.trying = false;
  }
}

const wordsOf = (error: unknown) => (error instanceof Error ? error.message : String(error));
