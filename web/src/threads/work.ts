/**
 * What would halt everybody if the server did it between two requests: reading, editing and telling of large documents.
 * A thread takes one task after another; texts go in and come out, as they are cheaper to hand over than values.
 */
import { parentPort } from 'node:worker_threads';
import { gunzipSync } from 'node:zlib';
import { describe, documentOf, fitAsText, fitEdits, takenBack, type Described, type SentEdit } from '../lib/server/fit.ts';
import { positions, read, type ReadError } from '@crow-lane/core/document/read';
import { own, type FlowDocument } from '@crow-lane/core/document/types';
import { laneSvg } from '@crow-lane/core/formats/lane-svg';
import { planSvg } from '@crow-lane/core/formats/plan-svg';
import { writeFlow } from '@crow-lane/core/formats/flow';
import type { FlowFormat, PagePart } from '@crow-lane/core/formats/flow-list';
import { writeReport } from '@crow-lane/core/formats/report';
import type { ReportFormat } from '@crow-lane/core/formats/report-list';
import player from '@crow-lane/web/player';
import { version } from '../../package.json';
import { write } from '@crow-lane/core/document/write';
import { differences, type Difference } from '@crow-lane/core/words/differences';
import type { Report } from '@crow-lane/core/report/report';

export type Task =
  | { task: 'read'; text: string }
  | { task: 'fit'; document: string; revision: number; edits: SentEdit[] }
  | { task: 'take back'; document: string; inverses: string[] }
  | { task: 'write'; document: string; format: FlowFormat; shows: PagePart[]; id: string }
  | { task: 'picture'; document: string; level?: string }
  | { task: 'plans'; document: string }
  | { task: 'differences'; before: string; after: string }
  | { task: 'report'; document: string; report: Uint8Array; revision: number; format: ReportFormat };

export interface Done {
  read: { errors: ReadError[] } | { document: string; described: Described };
  fit: ReturnType<typeof fitAsText>;
  'take back': string;
  write: string;
  /** The lane, or the plan of a level, as SVG; undefined where there is no such plan. */
  picture: string | undefined;
  /** The levels that have a plan. */
  plans: { id: string; name: string }[];
  differences: Difference[];
  report: string;
}

/** Works on a task at once. */
export function work(task: Task): Done[Task['task']] {
  switch (task.task) {
    case 'read': {
      const { document, errors } = read(task.text);
      return errors ? { errors } : { document: JSON.stringify(document), described: describe(document) };
    }
    case 'fit':
      return fitAsText(fitEdits(documentOf(task.document), task.revision, task.edits));
    case 'take back':
      return takenBack(task.document, task.inverses);
    case 'write':
      return writeFlow[task.format](documentOf(task.document), { template: player, shows: task.shows, id: task.id });
    case 'picture':
      return picture(documentOf(task.document), task.level);
    case 'plans':
      return plansOf(documentOf(task.document));
    case 'differences':
      return differences(documentOf(task.before), documentOf(task.after));
    case 'report': {
      const document = documentOf(task.document);
      const report = JSON.parse(gunzipSync(task.report).toString('utf8')) as Report;
      const checked = { document, report, file: `${document.name}.crow.json`, place: positions(write(document)) };
      return writeReport[task.format]([checked], { version, date: new Date(), revision: task.revision });
    }
  }
}

function picture(document: FlowDocument, level: string | undefined): string | undefined {
  if (level === undefined) return laneSvg(document);
  const place = own(document.places, level);
  return place?.kind === 'level' && place.plan ? planSvg(place, place.plan) : undefined;
}

const plansOf = ({ places }: FlowDocument) =>
  Object.entries(places).flatMap(([id, place]) => (place.kind === 'level' && place.plan ? [{ id, name: place.name }] : []));

parentPort?.on('message', ({ id, task }: { id: number; task: Task }) => {
  try {
    parentPort!.postMessage({ id, done: work(task) });
  } catch (error) {
    parentPort!.postMessage({ id, failed: (error as Error).stack ?? String(error) });
  }
});
