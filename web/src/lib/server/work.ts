/** Hands heavy tasks to a thread, and does light ones at once: a thread costs more than it saves there. */
import { Worker } from 'node:worker_threads';
import { work as workHere, type Done, type Task } from '../../threads/work.ts';
import { Refusal } from './refusal.ts';
import { log } from './log.ts';
import { threadFile } from './threads.ts';

/** Up to so many UTF-16 units of text a task is light: some ten milliseconds. */
const light = 120_000;
/** Tasks that may wait for the thread. */
const mostWaiting = 32;
/** A task that takes longer is given up, in milliseconds. */
const patience = 60_000;
/** Megabytes that the thread may use. */
const memory = 2048;

interface Waiting {
  id: number;
  task: Task;
  give: (done: never) => void;
  fail: (error: Error) => void;
}

let thread: Worker | undefined;
let running: Waiting | undefined;
let late: NodeJS.Timeout | undefined;
const line: Waiting[] = [];
let last = 0;

/** Whether a task is done at once, here. */
export const isLight = (task: Task): boolean => weight(task) <= light;

/** The result of a task. Throws a `Refusal` where it is too large or too many wait. */
export async function work<T extends Task>(task: T): Promise<Done[T['task']]> {
  if (isLight(task)) return workHere(task) as Done[T['task']];
  if (line.length >= mostWaiting) throw new Refusal(503, 'Too many large requests are waiting. Try again in a moment.');
  return await new Promise<Done[T['task']]>((give, fail) => {
    line.push({ id: ++last, task, give, fail });
    next();
  });
}

/** What follows from a plan is derived wherever a document is read: however short its text, that can take seconds. */
const derives = (task: Task): boolean => {
  return textsOf(task).some((text) => text.includes('"plan":'));
};

function textsOf(task: Task): string[] {
  if (task.task === 'read') return [task.text];
  if (task.task === 'differences') return [task.before, task.after];
  return [task.document, ...(task.task === 'fit' ? task.edits.map(({ patch }) => patch) : [])];
}

function weight(task: Task): number {
  if (derives(task)) return light + 1;
  switch (task.task) {
    case 'read':
      return task.text.length;
    case 'fit':
      // an edit of a document costs much less than reading it
      return task.document.length / 4 + task.edits.reduce((sum, { patch }) => sum + patch.length, 0) * 4;
    case 'take back':
      return task.document.length / 2 + task.inverses.reduce((sum, each) => sum + each.length, 0);
    case 'write':
      return task.document.length;
    case 'plans':
      return task.document.length;
    case 'picture':
      return task.document.length * 4;
    case 'differences':
      return task.before.length + task.after.length;
    case 'report':
      return task.document.length + task.report.length * 10;
  }
}

function next(): void {
  if (running || line.length === 0) return;
  running = line.shift()!;
  thread ??= begin();
  thread.ref();
  thread.postMessage({ id: running.id, task: running.task });
  late = setTimeout(() => end(new Refusal(422, 'The server stopped working on this: it takes too long.')), patience);
}

function begin(): Worker {
  const worker = new Worker(threadFile('work'), { resourceLimits: { maxOldGenerationSizeMb: memory } });
  worker.on('message', (answer: { id: number; done: never } | { id: number; failed: string }) => {
    if (answer.id !== running?.id) return;
    const { give, fail } = running;
    settled();
    if ('done' in answer) give(answer.done);
    else fail(new Error(answer.failed));
    next();
  });
  worker.on('error', (error) => {
    if (worker !== thread) return;
    const tooLarge = (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY';
    log.warn({ err: error }, 'a thread ended');
    end(tooLarge ? new Refusal(422, 'The server stopped working on this: it is too large.') : error);
  });
  return worker;
}

function settled(): void {
  clearTimeout(late);
  running = undefined;
  // a thread that waits does not keep the server from ending
  thread?.unref();
}

/** Gives up what is being worked on, with its thread; what waits goes on with another. */
function end(error: Error): void {
  const given = running;
  settled();
  void thread?.terminate();
  thread = undefined;
  given?.fail(error);
  next();
}

/** Ends the thread, so that the server can stop. */
export function stopWork(): void {
  for (const { fail } of line.splice(0)) fail(new Refusal(503, 'The server is stopping.'));
  end(new Refusal(503, 'The server is stopping.'));
}
