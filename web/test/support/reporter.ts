import type { Reporter, TestCase, TestResult } from '@playwright/test/reporter';

/** Ends the run with a line that says how many passed and failed. */
export default class Closing implements Reporter {
  private readonly outcomes = new Map<string, boolean>();
  onTestEnd(test: TestCase, result: TestResult): void {
    this.outcomes.set(test.id, result.status === test.expectedStatus);
  }
  onEnd(): void {
    const passed = [...this.outcomes.values()].filter(Boolean).length;
    console.log(`${passed} passed, ${this.outcomes.size - passed} failed`);
  }
}
