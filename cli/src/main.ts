import { checkCommand } from './check.ts';
import { misused, usage, type Output } from './output.ts';
import { playCommand, typedLines } from './play.ts';

const output: Output = {
  out: (text) => void process.stdout.write(`${text}\n`),
  err: (text) => void process.stderr.write(`${text}\n`),
  progress: process.stderr.isTTY ? (text) => void process.stderr.write(`\r\u001b[K${text}`) : undefined,
  async input() {
    const parts: Buffer[] = [];
    for await (const part of process.stdin) parts.push(part as Buffer);
    return Buffer.concat(parts).toString('utf8');
  },
  lines: () => typedLines(process.stdin)
};

const [command, ...rest] = process.argv.slice(2);
switch (command) {
  case 'check':
    process.exitCode = await checkCommand(rest, output);
    break;
  case 'play':
    process.exitCode = await playCommand(rest, output);
    break;
  case undefined:
  case 'help':
  case '--help':
  case '-h':
    output.out(usage);
    process.exitCode = command === undefined ? 2 : 0;
    break;
  default:
    process.exitCode = misused(output, `there is no command "${command}".`);
}
