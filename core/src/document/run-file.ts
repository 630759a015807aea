/** What a player did, as a file that leads back to the designer (docs/flow-format.md, section 10). */
import type { Run } from './types.ts';

/** As many steps as a run can have. */
export const mostSteps = 10_000;

export interface RunFile {
  format: 'crow-lane-run';
  version: 1;
  /** The name of the flow that was played. */
  flow: string;
  run: Run;
}

export const isRunFile = (value: unknown): boolean => (value as Partial<RunFile> | null)?.format === 'crow-lane-run';

export function writeRun(flow: string, run: Run): string {
  const file: RunFile = { format: 'crow-lane-run', version: 1, flow, run };
  return `${JSON.stringify(file, null, 1)}\n`;
}
