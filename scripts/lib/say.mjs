// What the scripts say while they work. Progress goes to standard error, so that standard output stays for results.

const started = Date.now();

export function say(text) {
  process.stderr.write(`${((Date.now() - started) / 1000).toFixed(1).padStart(6)} s  ${text}\n`);
}

/** An error whose message is meant for the person at the terminal: shown without a stack. */
export class Plain extends Error {}

/** The oldest Node that all our packages run on. */
const oldestNode = [20, 19];

export function needNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < oldestNode[0] || (major === oldestNode[0] && minor < oldestNode[1]))
    throw new Plain(`Node ${oldestNode.join('.')} or later is needed; this is ${process.version}.`);
}

const fileTroubles = {
  EACCES: 'may not be written to',
  EPERM: 'may not be written to',
  EROFS: 'cannot be written to: it is on a read-only disk',
  ENOSPC: 'cannot be written to: the disk is full',
  ENOTDIR: 'cannot be made: something that is no folder stands in its way',
  ENOENT: 'cannot be made'
};

/** A sentence for an error of the file system that is the user's to mend; undefined for others. */
export function ofFiles(error) {
  const words = fileTroubles[error?.code];
  return words && error.path ? `${error.path} ${words}.` : undefined;
}

/** Runs `main` and turns what it throws into a message and an exit code. */
export async function run(main) {
  try {
    await main();
  } catch (error) {
    process.stderr.write(`\n${error instanceof Plain ? error.message : (ofFiles(error) ?? error?.stack ?? error)}\n`);
    process.exit(1);
  }
}
