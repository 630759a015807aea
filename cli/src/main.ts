import { run } from './commands.ts';
import { longest } from './files.ts';
import type { Output } from './output.ts';
import { typedLines } from './play.ts';

const output: Output = {
  out: (text) => void process.stdout.write(`${text}\n`),
  err: (text) => void process.stderr.write(`${text}\n`),
  progress: process.stderr.isTTY ? (text) => void process.stderr.write(`\r\u001b[K${text}`) : undefined,
  async input() {
    const parts: Buffer[] = [];
    let length = 0;
    for await (const part of process.stdin as AsyncIterable<Buffer>) {
      length += part.length;
      if (length > longest) throw new Error(`longer than ${longest / 1e6} MB, which no flow document is`);
      parts.push(part);
    }
    return Buffer.concat(parts).toString('utf8');
  },
  lines: () => typedLines(process.stdin)
};

// whoever reads the output has seen enough ("| head"): nothing is wrong, and nothing more is to be said
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 1));

void run(process.argv.slice(2), output).then((code) => (process.exitCode = code));
