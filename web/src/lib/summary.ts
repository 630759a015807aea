import { completableLevels, findings } from '@crow-lane/core/report/answers';
import { decides, type Report } from '@crow-lane/core/report/report';
import { levelsOf, type FlowDocument } from '@crow-lane/core/document/types';

/** What the checks said of a revision, in the few numbers that the shelf shows. */
export interface Summary {
  complete: boolean;
  levels: number;
  completable: number;
  places: number;
  reached: number;
  failing: number;
  open: number;
}

export function summaryOf(document: FlowDocument, report: Report): Summary {
  const count = (check: string, outcome: string) =>
    report.checks.filter((each) => each.check === check && each.outcome === outcome).length;
  return {
    complete: report.complete,
    levels: levelsOf(document).length,
    completable: completableLevels(report),
    places: Object.keys(document.places).length,
    reached: count('place-reached', 'holds'),
    failing: findings(report).filter(decides).length,
    open: report.checks.filter(({ outcome }) => outcome === 'open').length
  };
}
