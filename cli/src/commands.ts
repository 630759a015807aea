import { version } from '../package.json';
import { checkCommand } from './check.ts';
import { convertCommand } from './convert.ts';
import { closing, misused, usages, type Command, type Output } from './output.ts';
import { planCommand } from './plan.ts';
import { playCommand } from './play.ts';
import { diffCommand, formatCommand, mergeCommand } from './versions.ts';

const commands: Record<Command, (args: string[], output: Output) => Promise<number>> = {
  check: checkCommand,
  play: playCommand,
  plan: planCommand,
  diff: diffCommand,
  merge: mergeCommand,
  format: formatCommand,
  convert: convertCommand
};
const isCommand = (text: string | undefined): text is Command => text !== undefined && Object.hasOwn(commands, text);
const asksHelp = (text: string | undefined) => text === '--help' || text === '-h';

/** Runs a command line; gives the exit code. */
export async function run([command, ...rest]: string[], output: Output): Promise<number> {
  if (command === 'help' || asksHelp(command) || command === undefined) {
    const [about] = rest;
    if (about !== undefined && !isCommand(about)) return misused(output, `there is no command "${about}".`);
    output.out(about === undefined ? [...Object.values(usages), closing].join('\n\n') : `${usages[about]}\n\n${closing}`);
    return command === undefined ? 2 : 0;
  }
  if (command === '--version' || command === '-v') {
    output.out(version);
    return 0;
  }
  if (!isCommand(command)) return misused(output, `there is no command "${command}".`);
  if (rest.some(asksHelp)) return await run(['help', command], output);
  return await commands[command](rest, output);
}
