/** A report as JUnit XML, as continuous-integration systems read it: a suite a flow, a case a verdict. */
import { causesOf, followsFrom, type Cause } from '../causes/causes.ts';
import type { FlowDocument } from '../document/types.ts';
import { decides, verdictKey, type Report, type Verdict } from '../report/report.ts';

/** One `testsuites` element for any number of reports; `file` names the suite when the flow's name is not enough. */
export function junit(reports: { report: Report; document: FlowDocument; file?: string; causes?: Cause[] }[]): string {
  const suites = reports.map(({ report, document, file, causes = causesOf(document, report) }) =>
    suite(report, file, followsFrom(causes))
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites>\n${suites.join('\n')}\n</testsuites>\n`;
}

function suite({ flow, checks }: Report, file: string | undefined, causes: Map<string, Verdict>): string {
  const failures = checks.filter(decides).length;
  const skipped = checks.filter(({ outcome }) => outcome === 'open' || outcome === 'unreached').length;
  const head = `  <testsuite name="${escaped(file ?? flow)}" tests="${checks.length}" failures="${failures}" errors="0" skipped="${skipped}">`;
  return [head, ...checks.map((verdict) => testCase(verdict, causes.get(verdictKey(verdict)))), '  </testsuite>'].join('\n');
}

function testCase(verdict: Verdict, cause: Verdict | undefined): string {
  const { check, subject, outcome, message, why } = verdict;
  const open = `    <testcase classname="${escaped(check)}" name="${escaped(subject)}"`;
  if (decides(verdict)) {
    const text = [...(why ?? []).map((reason) => reason.text), ...(cause ? [`Follows from: ${cause.message}`] : [])].join('\n');
    return `${open}><failure type="${verdict.severity}" message="${escaped(message)}">${escaped(text)}</failure></testcase>`;
  }
  // what is open was asked and not answered; what is unreached had nothing to ask
  const skipped = outcome === 'open' ? `open: ${message}` : outcome === 'unreached' ? message : undefined;
  if (skipped !== undefined) return `${open}><skipped message="${escaped(skipped)}"/></testcase>`;
  return `${open}/>`;
}

/** Text for XML 1.0: the five marks escaped, and characters that XML cannot hold replaced. */
export function escaped(text: string): string {
  const marks: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' };
  return (
    text
      // eslint-disable-next-line no-control-regex
      .replaceAll(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd')
      .replaceAll(/[&<>"']/g, (mark) => marks[mark]!)
  );
}
