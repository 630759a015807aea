/** Checks on the server: each in a thread of its own, so many at a time, cancellable, with results kept by revision. */
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Progress } from '@crow-lane/core/check/facts';
import type { Report } from '@crow-lane/core/check/report';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Task, Told } from '../../checker/checker.ts';
import { summaryOf } from '../summary.ts';
import { keepVerdict } from './flows.ts';
import { log } from './log.ts';
import { keepReport } from './reports.ts';

export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export interface Job {
  id: string;
  flow: string;
  revision: number;
  limit: number;
  state: JobState;
  progress?: Progress;
  /** Why it failed. */
  problem?: string;
}

interface Running extends Job {
  document: FlowDocument;
  report?: Report;
  worker?: Worker;
  listeners: Set<(job: Running) => void>;
}

/** Checks at one time, and how many more may wait. */
const most = Math.max(1, Math.min(4, availableParallelism() - 1));
const mostWaiting = 50;
/** Megabytes that one check may use. */
const memory = 3072;
/** Jobs that have ended are known for so many milliseconds. */
const remembered = 10 * 60_000;

const jobs = new Map<string, Running>();
const ended = ({ state }: Job) => state !== 'waiting' && state !== 'running';

/** What is told of a job. */
export function told({ id, flow, revision, limit, state, progress, problem }: Job): Job {
  return { id, flow, revision, limit, state, ...(progress ? { progress } : {}), ...(problem === undefined ? {} : { problem }) };
}

/** Begins a check of a document; one that is on its way already is joined. Undefined when too many wait. */
export function beginCheck(flow: string, revision: number, document: FlowDocument, limit: number): Job | undefined {
  const same = [...jobs.values()].find(
    (job) => !ended(job) && job.flow === flow && job.revision === revision && job.limit === limit
  );
  if (same) return told(same);
  if ([...jobs.values()].filter(({ state }) => state === 'waiting').length >= mostWaiting) return undefined;
  const job: Running = { id: crypto.randomUUID(), flow, revision, limit, state: 'waiting', document, listeners: new Set() };
  jobs.set(job.id, job);
  next();
  return told(job);
}

export function findJob(id: string): Job | undefined {
  const job = jobs.get(id);
  return job && told(job);
}

/** Stops a check, or takes it out of those that wait. Tells whether there was one to stop. */
export function cancelJob(id: string): boolean {
  const job = jobs.get(id);
  if (!job || ended(job)) return false;
  end(job, 'cancelled');
  return true;
}

/** Calls back with every change of a job, at once with how it is now, until `stop` is called. */
export function watchJob(id: string, listener: (job: Job) => void): { stop: () => void } | undefined {
  const job = jobs.get(id);
  if (!job) return undefined;
  const tell = (changed: Running) => listener(told(changed));
  job.listeners.add(tell);
  tell(job);
  return { stop: () => job.listeners.delete(tell) };
}

/** The report of a check when it has ended; undefined when it failed or was stopped. */
export function reportOfJob(id: string): Promise<Report | undefined> {
  return new Promise((give) => {
    const job = jobs.get(id);
    if (!job) return give(undefined);
    const look = (changed: Running) => {
      if (!ended(changed)) return;
      job.listeners.delete(look);
      give(changed.report);
    };
    job.listeners.add(look);
    look(job);
  });
}

function next(): void {
  const running = [...jobs.values()].filter(({ state }) => state === 'running').length;
  const [job] = [...jobs.values()].filter(({ state }) => state === 'waiting');
  if (!job || running >= most) return;
  run(job);
  next();
}

function run(job: Running): void {
  job.state = 'running';
  const path = process.env.CROW_LANE_CHECKER ?? 'build/checker.js';
  const worker = (job.worker = new Worker(path, { resourceLimits: { maxOldGenerationSizeMb: memory } }));
  worker.on('message', (message: Told) => {
    if ('progress' in message) {
      job.progress = message.progress;
      tell(job);
    } else void keep(job, message.report);
  });
  worker.on('error', (error) => end(job, 'failed', error.message));
  worker.on('exit', () => {
    if (!job.report) end(job, 'failed', 'The check ended without a result.');
  });
  worker.postMessage({ document: job.document, limit: job.limit } satisfies Task);
  tell(job);
}

async function keep(job: Running, report: Report): Promise<void> {
  job.report = report;
  try {
    await keepReport(job.flow, job.revision, job.limit, report);
    await keepVerdict(job.flow, job.revision, summaryOf(job.document, report));
    end(job, 'done');
  } catch (error) {
    log.error({ err: error, flow: job.flow }, 'keeping a report');
    end(job, 'failed', 'The result could not be kept.');
  }
}

function end(job: Running, state: JobState, problem?: string): void {
  if (ended(job)) return;
  job.state = state;
  job.problem = problem;
  void job.worker?.terminate();
  job.worker = undefined;
  tell(job);
  log.info({ flow: job.flow, revision: job.revision, state, problem }, 'check ended');
  setTimeout(() => jobs.delete(job.id), remembered).unref();
  next();
}

function tell(job: Running): void {
  for (const listener of [...job.listeners]) listener(job);
}

/** Stops all checks, so that the server can stop. */
export function stopJobs(): void {
  for (const job of jobs.values()) if (!ended(job)) end(job, 'cancelled');
}
