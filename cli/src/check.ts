import { parseArgs } from 'node:util';
import { checking } from '@crow-lane/core/check/check';
import { usualLimit } from '@crow-lane/core/check/explored';
import type { Cause } from '@crow-lane/core/causes/causes';
import { tryCauses } from '@crow-lane/core/causes/tried';
import { decides, severities, type Report } from '@crow-lane/core/report/report';
import type { FlowDocument } from '@crow-lane/core/document/types';
import { writeReport } from '@crow-lane/core/formats/report';
import { reportFormatNames, reportFormats } from '@crow-lane/core/formats/report-list';
import { version } from '../package.json';
import { filesOf, load, type LoadedFile } from './files.ts';
import { misused, type Output } from './output.ts';
import { reportTable, routesOf } from './table.ts';

const formats = ['text', ...reportFormatNames] as const;

interface Options {
  named: string[];
  format: (typeof formats)[number];
  only: string[];
  route: string | undefined;
  limit: number;
  causes: boolean;
}

/**
 * `crow-lane check`: 0 when all hold, 1 when something that is not accepted fails, 2 when the input is wrong, 3 when nothing
 * fails and something is open.
 */
export async function checkCommand(args: string[], output: Output): Promise<0 | 1 | 2 | 3> {
  const options = parse(args);
  if (typeof options === 'string') return misused(output, options);
  const files = await filesOf(options.named, output);
  if (!files) return 2;
  if (options.format !== 'text' && 'single' in reportFormats[options.format] && files.length > 1)
    return misused(output, `--format ${options.format} takes one file at a time.`);
  const checked: (LoadedFile & { report: Report; causes?: Cause[] })[] = [];
  for (const file of files) {
    const loaded = await load(file, output);
    if (!loaded) continue;
    const whole = run(loaded.document, options.limit, output);
    const report =
      options.only.length > 0 ? { ...whole, checks: whole.checks.filter(({ check }) => options.only.includes(check)) } : whole;
    const causes = options.causes ? tried(loaded.document, report, options.limit, output) : undefined;
    checked.push({ ...loaded, report, ...(causes && { causes }) });
    if (options.format !== 'text') continue;
    if (options.route !== undefined) output.out(routesOf(loaded.document, report, options.route));
    else output.out(reportTable(loaded.document, report, files.length > 1 ? file : undefined, causes));
  }
  const reports = checked.map(({ report }) => report);
  // a page of nothing is none; the other forms say that there was nothing
  if (options.format !== 'text' && !('single' in reportFormats[options.format] && checked.length === 0)) {
    const told = checked.map((each) => ({ ...each, file: each.file.replaceAll('\\', '/') }));
    output.out(writeReport[options.format](told, { version, date: new Date(), several: files.length > 1 }));
  }
  if (checked.length < files.length) return 2;
  const all = reports.flatMap(({ checks }) => checks);
  if (all.some(decides)) return 1;
  return all.some(({ outcome }) => outcome === 'open') ? 3 : 0;
}

/** Checks and, where somebody watches, says twice a second how far it is. */
function run(document: FlowDocument, limit: number, output: Output): Report {
  const going = checking(document, { limit });
  const began = performance.now();
  let said = began;
  for (;;) {
    const { done, value } = going.next();
    if (done) {
      if (said > began) output.progress?.('');
      return value;
    }
    const now = performance.now();
    if (now - said < 500) continue;
    said = now;
    const speed = Math.round(value.states / ((now - began) / 1000));
    output.progress?.(`${document.name}: ${value.states} states, ${speed} a second, ${value.waiting} waiting`);
  }
}

/** The causes of what fails, each fix tried, and how far that is. */
function tried(document: FlowDocument, report: Report, limit: number, output: Output): Cause[] {
  const going = tryCauses(document, report, { limit });
  for (let told = 0; ;) {
    const { done, value } = going.next();
    if (done) {
      output.progress?.('');
      return value;
    }
    if (value.fixes === told) continue;
    told = value.fixes;
    output.progress?.(`${document.name}: ${told} fixes tried`);
  }
}

function parse(args: string[]): Options | string {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        format: { type: 'string' },
        json: { type: 'boolean' },
        only: { type: 'string', multiple: true },
        route: { type: 'string' },
        causes: { type: 'boolean' },
        limit: { type: 'string', default: String(usualLimit) }
      }
    });
    const limit = Number(values.limit);
    if (!Number.isInteger(limit) || limit < 1) return `--limit takes a whole number above 0, not "${values.limit}".`;
    if (positionals.length === 0) return 'Name at least one file to check.';
    const format = formats.find((each) => each === (values.json ? 'json' : (values.format ?? 'text')));
    if (!format) return `--format takes ${formats.join(', ')}, not "${values.format}".`;
    const unknown = values.only?.find((check) => !Object.hasOwn(severities, check));
    if (unknown !== undefined) return `There is no check "${unknown}". There are ${Object.keys(severities).join(', ')}.`;
    return { named: positionals, format, only: values.only ?? [], route: values.route, limit, causes: values.causes ?? false };
  } catch (error) {
    return (error as Error).message;
  }
}
