/** Where a command reads and writes, so that a test can stand in for the terminal. */
export interface Output {
  out(text: string): void;
  err(text: string): void;
  /** Shown in one place and overwritten; undefined where nobody watches. */
  progress?: (text: string) => void;
  /** All of standard input. */
  input(): Promise<string>;
}

export const usage = `crow-lane check FILE|FOLDER|- … [options]

  Checks flow documents: whether every level can be completed and every place reached, with the reasons. Of a folder
  all .crow.json files in it are checked, "-" reads standard input.
  --format FORMAT   text (as it is without this), json, junit or sarif
  --json            the same as --format json: one report for one file, a list for several
  --only CHECK      only the verdicts of this check; may be given several times
  --route SUBJECT   only the routes of this place, level or rule, step by step
  --limit N         how many states to look at before what is not settled is left open (200000)

Exit codes: 0 everything holds, 1 something fails, 2 the input or the command is wrong.`;
