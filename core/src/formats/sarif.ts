/** Reports as SARIF 2.1.0 (OASIS): the failing verdicts as results, each with where it is in its file. */
import { causesOf, followsFrom, type Cause } from '../causes/causes.ts';
import { severities, verdictKey, type Report, type Verdict } from '../report/report.ts';
import type { FlowDocument } from '../document/types.ts';
import { stepWords } from '../words/steps.ts';

export interface CheckedFile {
  report: Report;
  document: FlowDocument;
  /** What explains its findings, where fixes have been tried; else what is known without. */
  causes?: Cause[];
  /** A relative reference with forward slashes. */
  file: string;
  /** Where what a JSON pointer names begins, counted from 1. */
  place(pointer: string): { line: number; column: number } | undefined;
}

const levels = { error: 'error', warning: 'warning', information: 'note' } as const;

/** One log with one run. Accepted findings are there, as suppressed with their reason. */
export function sarif(files: CheckedFile[], version: string): object {
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'crow-lane',
            version,
            rules: Object.entries(severities).map(([id, severity]) => ({ id, defaultConfiguration: { level: levels[severity] } }))
          }
        },
        columnKind: 'utf16CodeUnits',
        invocations: [invocation(files)],
        results: files.flatMap((file) => {
          const causes = followsFrom(file.causes ?? causesOf(file.document, file.report));
          return file.report.checks
            .filter(({ outcome }) => outcome === 'fails')
            .map((verdict) => result(file, verdict, causes.get(verdictKey(verdict))));
        })
      }
    ]
  };
}

/** Says where nothing may be concluded from what is missing: what is open, as the exploration was cut by its limit. */
function invocation(files: CheckedFile[]): object {
  const open = files.flatMap(({ report }) => report.checks.filter(({ outcome }) => outcome === 'open'));
  if (open.length === 0) return { executionSuccessful: true };
  const text = `${open.length} ${open.length === 1 ? 'verdict is' : 'verdicts are'} open: not settled within the limit of states.`;
  return { executionSuccessful: true, toolExecutionNotifications: [{ level: 'warning', message: { text } }] };
}

function result({ document, file, place }: CheckedFile, verdict: Verdict, cause: Verdict | undefined): object {
  const { check, severity, message, why, accepted, route } = verdict;
  const reasons = (why ?? []).map(({ text }) => text);
  const locationOf = ({ pointer, subject: name }: Verdict) => {
    const at = pointer === undefined ? undefined : place(pointer);
    return {
      physicalLocation: {
        artifactLocation: { uri: encodeURI(file) },
        ...(at ? { region: { startLine: at.line, startColumn: at.column } } : {})
      },
      logicalLocations: [{ fullyQualifiedName: pointer ?? '', name }]
    };
  };
  return {
    ruleId: check,
    ruleIndex: Object.keys(severities).indexOf(check),
    level: levels[severity],
    message: { text: [message, ...reasons].join(' ') },
    locations: [locationOf(verdict)],
    ...(cause && {
      relatedLocations: [{ id: 1, ...locationOf(cause), message: { text: `Follows from this: ${cause.message}` } }]
    }),
    partialFingerprints: { 'subject/v1': verdictKey(verdict) },
    ...(route && route.length > 0
      ? {
          codeFlows: [
            {
              threadFlows: [{ locations: route.map((step) => ({ location: { message: { text: stepWords(document, step) } } })) }]
            }
          ]
        }
      : {}),
    ...(accepted === undefined ? {} : { suppressions: [{ kind: 'inSource', justification: accepted }] })
  };
}
