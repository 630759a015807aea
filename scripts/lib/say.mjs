// What the scripts say while they work. Progress goes to standard error, so that standard output stays for results.

const started = Date.now();

export function say(text) {
  process.stderr.write(`${((Date.now() - started) / 1000).toFixed(1).padStart(6)} s  ${text}\n`);
}

/** An error whose message is meant for the person at the terminal: shown without a stack. */
export class Plain extends Error {}

/** Runs `main` and turns what it throws into a message and an exit code. */
export async function run(main) {
  try {
    await main();
  } catch (error) {
    process.stderr.write(`\n${error instanceof Plain ? error.message : (error?.stack ?? error)}\n`);
    process.exit(1);
  }
}
