/** The times of all levels, side by side (docs/flow-format.md, section 13). */
import { setEstimate } from '../document/edits/levels.ts';
import { together, type Change } from '../document/patch.ts';
import { levelsOf, type FlowDocument, type Id } from '../document/types.ts';
import type { Figures, Report } from '../report/report.ts';
import { countOf } from '../vocabulary/pieces.ts';

export interface TimeRow {
  level: Id;
  name: string;
  figures: Figures;
  /** What stands in the level, players aside. */
  pieces: number;
  /** The seconds that it is expected to take. */
  estimate?: number;
  /** The seconds that the quickest recorded run takes that wins it. */
  recorded?: number;
}

/** A row for each level whose times are known, those of the first order that lists them in its order, then the rest. */
export function timeRows(
  document: FlowDocument,
  times: NonNullable<Report['times']>,
  recorded: Record<Id, number> = {}
): TimeRow[] {
  const listed = Object.values(document.orders).flatMap(({ levels }) => levels);
  const place = (id: Id) => (listed.includes(id) ? listed.indexOf(id) : listed.length);
  return levelsOf(document)
    .filter(([id]) => Object.hasOwn(times, id))
    .sort(([a], [b]) => place(a) - place(b))
    .map(([id, { name, pieces, estimate }]) => ({
      level: id,
      name,
      figures: times[id]!,
      pieces: Object.values(pieces)
        .filter(({ kind }) => kind !== 'player')
        .reduce((sum, piece) => sum + countOf(piece), 0),
      ...(estimate?.seconds !== undefined && { estimate: estimate.seconds }),
      ...(recorded[id] !== undefined && { recorded: recorded[id] })
    }));
}

/** What levels are expected to take becomes their best time, rounded up to whole seconds, where one is known. */
export function fillEstimates(document: FlowDocument, rows: TimeRow[]): Change {
  const known = rows.filter(({ figures }) => figures.most !== undefined);
  const [first] = known;
  return together(
    document,
    known.length === 1 ? `${first!.name} takes its best time` : `${known.length} levels take their best times`,
    ...known.map(
      ({ level, figures }) =>
        (now: FlowDocument) =>
          setEstimate(now, level, Math.ceil(figures.most! - 1e-9))
    )
  );
}
