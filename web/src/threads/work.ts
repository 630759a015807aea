/**
 * What would halt everybody if the server did it between two requests: reading, editing and telling of large documents.
 * A thread takes one task after another; texts go in and come out, as they are cheaper to hand over than values.
 */
import { parentPort } from 'node:worker_threads';
import { gunzipSync } from 'node:zlib';
import { reportFormats, type ReportFormat } from '../lib/server/report-formats.ts';
import { describe, documentOf, fitAsText, fitEdits, takenBack, type Described, type SentEdit } from '../lib/server/fit.ts';
import { read, type ReadError } from '@crow-lane/core/document/read';
import { write } from '@crow-lane/core/document/write';
import type { Report } from '@crow-lane/core/check/report';

export type Task =
  | { task: 'read'; text: string }
  | { task: 'fit'; document: string; revision: number; edits: SentEdit[] }
  | { task: 'take back'; document: string; inverses: string[] }
  | { task: 'write'; document: string }
  | { task: 'report'; document: string; report: Uint8Array; revision: number; format: ReportFormat };

export interface Done {
  read: { errors: ReadError[] } | { document: string; described: Described };
  fit: ReturnType<typeof fitAsText>;
  'take back': string;
  write: string;
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
      return write(documentOf(task.document));
    case 'report':
      return reportFormats[task.format].make(
        documentOf(task.document),
        JSON.parse(gunzipSync(task.report).toString('utf8')) as Report,
        task.revision
      );
  }
}

parentPort?.on('message', ({ id, task }: { id: number; task: Task }) => {
  try {
    parentPort!.postMessage({ id, done: work(task) });
  } catch (error) {
    parentPort!.postMessage({ id, failed: (error as Error).stack ?? String(error) });
  }
});
