import type { Cause } from '@crow-lane/core/causes/causes';
import type { Report, Verdict } from '@crow-lane/core/report/report';
import { completableLevels } from '@crow-lane/core/report/answers';
import { levelsOf, type FlowDocument, type Step } from '@crow-lane/core/document/types';
import { replay } from '@crow-lane/core/play/replay';
import { playedWords, stepWords } from '@crow-lane/core/words/steps';
import { placeName, plural } from '@crow-lane/core/words/words';

const marks = { holds: 'yes', fails: 'NO', open: 'open', unreached: '–' };

/** A report as a table of places, then what fails, with reasons and routes. */
export function reportTable(document: FlowDocument, report: Report, file?: string, causes?: Cause[]): string {
  const find = (name: string, subject: string) => report.checks.find((each) => each.check === name && each.subject === subject);
  const rows = Object.entries(document.places).map(([id, place]) => {
    const reached = find('place-reached', id);
    const completable = find('level-completable', id);
    return [place.name, place.kind, mark(reached), completable ? mark(completable) : ''];
  });
  const lines = [
    `${report.flow}${file ? ` (${file})` : ''}: ${summary(document, report)}`,
    '',
    ...columns([['place', 'kind', 'reached', 'completable'], ...rows])
  ];
  const explained = new Set(causes?.flatMap(({ verdict, follows }) => [verdict, ...follows]));
  for (const cause of causes ?? []) lines.push('', ...causeLines(document, cause));
  const failing = report.checks.filter((verdict) => verdict.outcome === 'fails' && !explained.has(verdict));
  for (const verdict of failing) lines.push('', ...finding(document, verdict));
  if (!report.complete)
    lines.push(
      '',
      `Looked at ${report.states} states not at all of them: a higher --limit may settle what is open.`,
      ...(report.large ?? []).map(({ what, times }) => `Without ${what} there would be ${times} times fewer states.`)
    );
  return `${lines.join('\n')}\n`;
}

/** The routes of one subject, step by step with the places they lead to. */
export function routesOf(document: FlowDocument, report: Report, subject: string): string {
  const found = report.checks.filter((each) => each.subject === subject && each.route !== undefined);
  if (found.length === 0) return `${report.flow}: no verdict on "${subject}" has a route.\n`;
  const parts = found.map((verdict) => {
    const lines = replay(document, verdict.route!)
      .filter(({ from }) => from !== undefined)
      .map((played, index) => {
        const { from, entered } = played;
        return `  ${String(index + 1).padStart(4)}  ${placeName(document, from!)}: ${playedWords(document, played)}${entered.length > 0 ? ` → ${entered.map((id) => placeName(document, id)).join(' → ')}` : ''}`;
      });
    return [`${verdict.check} ${subject}: ${verdict.message}`, ...lines].join('\n');
  });
  return `${parts.join('\n\n')}\n`;
}

function mark(verdict: Verdict | undefined): string {
  if (!verdict) return '?';
  const steps = verdict.length === undefined ? '' : ` (${verdict.length})`;
  return `${marks[verdict.outcome]}${verdict.accepted === undefined ? '' : ' (accepted)'}${steps}`;
}

function summary(document: FlowDocument, report: Report): string {
  const count = (name: string) => report.checks.filter((each) => each.check === name && each.outcome === 'holds').length;
  const levels = levelsOf(document).length;
  const places = Object.keys(document.places).length;
  return `${completableLevels(report)} of ${levels} levels can be completed, ${count('place-reached')} of ${places} places are reached`;
}

function finding(document: FlowDocument, verdict: Verdict): string[] {
  const lines = [`${verdict.severity} ${verdict.check} ${verdict.subject}: ${verdict.message}`];
  if (verdict.accepted !== undefined) lines.push(`  accepted: ${verdict.accepted}`);
  for (const { text } of verdict.why ?? []) lines.push(`  ${text}`);
  if (verdict.column !== undefined) lines.push(`  at ${verdict.pointer}, column ${verdict.column}`);
  if (verdict.route?.length) lines.push(`  route: ${verdict.route.map((step: Step) => stepWords(document, step)).join(' · ')}`);
  return lines;
}

/** A cause, its best fix, and on a line each what follows from it. */
function causeLines(document: FlowDocument, { verdict, follows, fix }: Cause): string[] {
  const fixed = fix ? [`  fix: ${fix.change.label} (removes ${fix.removes} ${plural('finding', fix.removes)})`] : [];
  return [...finding(document, verdict), ...fixed, ...follows.map((each) => `  follows: ${each.message}`)];
}

function columns(rows: string[][]): string[] {
  const widths = rows[0]!.map((_, column) => Math.max(...rows.map((row) => row[column]!.length)));
  return rows.map((row) => `  ${row.map((cell, column) => cell.padEnd(widths[column]!)).join('  ')}`.trimEnd());
}
