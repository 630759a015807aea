/** Where a command writes, so that a test can read it. */
export interface Output {
  out(text: string): void;
  err(text: string): void;
}

export const usage = `crow-lane check FILE… [--json] [--limit N]

  Checks flow documents (.crow.json): whether every level can be completed and every place reached, with the reasons.
  --json     the reports as JSON, one object for one file, a list for several
  --limit N  how many states to look at before what is not settled is left open (200000)

Exit codes: 0 everything holds, 1 something fails, 2 the input or the command is wrong.`;
