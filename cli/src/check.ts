import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { check, usualLimit } from '@crow-lane/core/check/check';
import type { Report } from '@crow-lane/core/check/report';
import { read } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { usage, type Output } from './output.ts';
import { reportTable } from './table.ts';

/** `crow-lane check`: 0 when all hold, 1 when something that is not accepted fails, 2 when the input is wrong. */
export async function checkCommand(args: string[], output: Output): Promise<0 | 1 | 2> {
  const options = parse(args);
  if (typeof options === 'string') {
    output.err(`crow-lane: ${options}\n\n${usage}`);
    return 2;
  }
  let code: 0 | 1 | 2 = 0;
  const reports: Report[] = [];
  for (const file of options.files) {
    const document = await load(file, output);
    if (!document) {
      code = 2;
      continue;
    }
    const report = check(document, { limit: options.limit });
    reports.push(report);
    if (!options.json) output.out(reportTable(document, report, options.files.length > 1 ? file : undefined));
    if (code === 0 && fails(report)) code = 1;
  }
  if (options.json) output.out(JSON.stringify(options.files.length === 1 ? (reports[0] ?? null) : reports, null, 2));
  return code;
}

/** Whether a report has a failing error or warning that is not accepted; what is open does not fail. */
export function fails(report: Report): boolean {
  return report.checks.some(
    ({ outcome, severity, accepted }) => outcome === 'fails' && severity !== 'information' && accepted === undefined
  );
}

function parse(args: string[]): { files: string[]; json: boolean; limit: number } | string {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { json: { type: 'boolean', default: false }, limit: { type: 'string', default: String(usualLimit) } }
    });
    const limit = Number(values.limit);
    if (!Number.isInteger(limit) || limit < 1) return `--limit takes a whole number above 0, not "${values.limit}".`;
    if (positionals.length === 0) return 'Name at least one file to check.';
    return { files: positionals, json: values.json, limit };
  } catch (error) {
    return (error as Error).message;
  }
}

async function load(file: string, output: Output): Promise<FlowDocument | undefined> {
  let text: string;
  try {
    text = await readFile(file, 'utf8');
  } catch (error) {
    output.err(`${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? (error as Error).message})`);
    return undefined;
  }
  const { document, errors } = read(text);
  for (const { pointer, message, line, column } of errors ?? []) {
    output.err(`${file}:${line ?? 1}:${column ?? 1}: ${pointer ? `${pointer} ` : ''}${message}`);
  }
  return document;
}
