import { flowFormatNames, flowSourceNames, pagePartNames } from '@crow-lane/core/formats/flow-list';

/** Where a command reads and writes, so that a test can stand in for the terminal. */
export interface Output {
  out(text: string): void;
  err(text: string): void;
  /** Shown in one place and overwritten; undefined where nobody watches. */
  progress?: (text: string) => void;
  /** All of standard input. */
  input(): Promise<string>;
  /** Standard input line by line, as it is typed. */
  lines(): AsyncIterator<string, undefined>;
}

export type Command = 'check' | 'play' | 'plan' | 'diff' | 'merge' | 'format' | 'convert';

export const usages: Record<Command, string> = {
  check: `crow-lane check FILE|FOLDER|- … [options]

  Checks flow documents: whether every level can be completed and every place reached, with the reasons. Of a folder
  all .crow.json files in it are checked, "-" reads standard input.
  --format FORMAT   text (the default), json, junit, sarif, html: a page to print, of one file; or vectors: routes and runs
                    step by step, with what has to be so after each, for the tests of a game
  --json            the same as --format json: one report for one file, a list for several
  --only CHECK      only the verdicts of this check; may be given several times
  --causes          tries fixes, and tells what fails by its causes, each with what follows from it and its best fix
  --route SUBJECT   only the routes of this place, level or rule, step by step
  --limit N         how many states to look at before what is not settled is left open (200000)`,
  play: `crow-lane play FILE|- [options]

  Plays a flow in the terminal: every control says beforehand what it would do.
  --script FILE     plays the steps of a file instead, and prints what each did: a JSON list, as routes have them, or what a
                    page to play has saved
  --runs            plays the recorded runs of the flow again instead, and says which go another way now
  --random N        plays N games at random instead, and says how they end; --most M gives a game up after M events (1000)
  --weight "EVENT=W"  how likely an event is beside the others, 1 where nothing is said, 0 for never:
                    "press Pause=0", "touch water=0.5", "time=2"; may be given several times
  --seed S          draws and games of another seed (1)`,
  plan: `crow-lane plan FILE|- LEVEL [options]

  Prints what follows from the plan of a level, named by its id or name: its spots, the passages between them with what they
  ask for and lead past, what can be had where, and the best time from each entry to a win.
  --json            as JSON: spots with their cells, passages, at, entries, best (ticks of one cell)
  --from GRID       draws the plan from a grid of characters or a CSV file instead, and prints the document with it;
                    --write writes it to FILE, --view side|above begins a plan, --read "9=Lamp" says what a character
                    means: solid, open, ledge, climb, a piece or an entry; that is kept in the document`,
  diff: `crow-lane diff BEFORE AFTER [options]

  Tells in words what is different between two versions of a flow: + added, - removed, ~ changed. Each is a file, "-", or a
  file at a revision of git, as in HEAD~3:flows/round.crow.json. The exit code is 1 where something is.
  --json            as a list of { is, text, place }`,
  merge: `crow-lane merge BASE OURS THEIRS [options]

  Merges two versions of a flow that go back to one, part by part, and writes that to OURS: git can be told to do so
  (docs/manual/repository.md). What was changed on both sides stays as it is in OURS and is told; the exit code is then 1.
  --print           prints the result instead`,
  format: `crow-lane format FILE|FOLDER|- … [options]

  Writes flow documents as the application does: keys in one order, short things on one line. Prints which were changed.
  --check           changes nothing; the exit code is 1 where some are written otherwise`,
  convert: `crow-lane convert FILE|- [options]

  Prints a flow in another form.
  --to FORM         ${flowFormatNames.join(', ')} (json where nothing is said)
  --from FORM       what the file is: ${flowSourceNames.join(', ')}; its name tells where nothing is said. What a flow has no
                    place for is left out, and told
  --show PART       on a page to play (html) shows ${pagePartNames.join(' or ')} besides; may be given several times`
};

/** What stands below every usage. */
export const closing = `crow-lane help [COMMAND] and COMMAND --help tell this, --version tells the version.
Exit codes: 0 everything holds; 1 something fails, a step cannot happen or a run goes another way; 2 the input or the
command is wrong; 3 nothing fails, but something is open: it was not settled within the limit.`;

/** Says what is wrong with a command, and how it is used. */
export function misused(output: Output, problem: string): 2 {
  output.err(`crow-lane: ${problem}\n\n${[...Object.values(usages), closing].join('\n\n')}`);
  return 2;
}
