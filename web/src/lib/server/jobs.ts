/**
 * Checks that are asked of the servers. They stand in the database: any server takes one, tells of it and stops it, and
 * what a server was at when it went is begun again by another. Each runs in a thread of its own.
 */
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { and, asc, eq, inArray, isNotNull, lt, or, sql } from 'drizzle-orm';
import type { CheckTask, Told } from '../../threads/check.ts';
import { fromNow, now } from './clock.ts';
import { db, transaction } from './database.ts';
import { keepVerdict } from './flows.ts';
import { flowAt } from './history.ts';
import { log } from './log.ts';
import { keepReport } from './reports.ts';
import { jobs, type JobState } from './schema.ts';
import { tellShows } from './shows.ts';
import { threadFile } from './threads.ts';

/** How many states a check has looked at, and how many it knows of and has still to look at. */
type Progress = Record<'states' | 'waiting', number>;

/** What is told of a check. */
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

/** Checks at one time in this server. */
const most = Math.max(1, Math.min(4, availableParallelism() - 1));
/** Checks that may wait, of all flows and of one, and how many states all may look at together. */
const bounds = { waiting: 50, ofFlow: 4, states: 60_000_000 };
/** Megabytes that one check may use. */
const memory = 3072;
/** A flow of more states than this is large. */
const large = 200_000;
/** Checks that have ended are known for so long, in milliseconds. */
const remembered = 10 * 60_000;
/** How often a server says what it runs and looks for what waits, in milliseconds. */
const often = 400;
const seldom = 2000;
/** A server that has said nothing for so long has gone, in milliseconds. */
const silence = 10_000;
/** So many times a check is begun before it counts as one that cannot be done. */
const mostTries = 3;

const server = crypto.randomUUID();
const unended: JobState[] = ['waiting', 'running'];
const hasEnded = ({ state }: Pick<Job, 'state'>) => !unended.includes(state);

type Row = typeof jobs.$inferSelect;

const told = ({ id, flowId, revision, limit, state, states, waiting, problem }: Row): Job => ({
  id,
  flow: flowId,
  revision,
  limit,
  state,
  ...(states > 0 ? { progress: { states, waiting } } : {}),
  ...(problem === null ? {} : { problem })
});

/** Asks for a check of a revision; one that is on its way already is joined. Undefined when too many wait. */
export async function beginCheck(flow: string, revision: number, places: number, limit: number): Promise<Job | undefined> {
  const row = await transaction(async (tx) => {
    const going = await tx.select().from(jobs).where(inArray(jobs.state, unended)).for('update');
    const same = going.find((job) => job.flowId === flow && job.revision === revision && job.limit === limit);
    if (same) return same;
    const waiting = going.filter(({ state }) => state === 'waiting');
    const full =
      waiting.length >= bounds.waiting ||
      waiting.filter(({ flowId }) => flowId === flow).length >= bounds.ofFlow ||
      going.reduce((sum, job) => sum + job.limit, limit) > bounds.states;
    if (full) return undefined;
    const none = { server: null, beatAt: null, problem: null, endedAt: null, tries: 0, states: 0, waiting: 0 };
    const job: Row = {
      ...{ id: crypto.randomUUID(), flowId: flow, revision, limit, places, state: 'waiting', askedAt: now() },
      ...none
    };
    await tx.insert(jobs).values(job);
    return job;
  });
  if (row?.state === 'waiting') wake();
  return row && told(row);
}

export async function findJob(id: string): Promise<Job | undefined> {
  const [row] = await db().select().from(jobs).where(eq(jobs.id, id));
  return row && told(row);
}

/** Stops a check, or takes it out of those that wait. Tells whether there was one to stop. */
export async function cancelJob(id: string): Promise<boolean> {
  const [{ affectedRows }] = await db()
    .update(jobs)
    .set({ state: 'cancelled', endedAt: now() })
    .where(and(eq(jobs.id, id), inArray(jobs.state, unended)));
  // in this server at once, elsewhere when that server next says what it runs
  if (affectedRows > 0) stop(id);
  return affectedRows > 0;
}

/** Waits for a check to end and gives it; undefined when there is none, or `signal` ends the waiting. Told of each change. */
export async function followJob(id: string, signal: AbortSignal, tell: (job: Job) => void = () => {}): Promise<Job | undefined> {
  for (let before = ''; !signal.aborted;) {
    const job = await findJob(id);
    if (!job) return undefined;
    const told = JSON.stringify(job);
    if (told !== before) tell(job);
    before = told;
    if (hasEnded(job)) return job;
    await Promise.race([pause(often), changed(id)]);
  }
  return undefined;
}

const pause = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** By check those who wait for it to change in this server. */
const followers = new Map<string, Set<() => void>>();
const changed = (id: string) => new Promise<void>((done) => followers.set(id, (followers.get(id) ?? new Set()).add(done)));
function tellFollowers(id: string): void {
  for (const follower of followers.get(id) ?? []) follower();
  followers.delete(id);
}

interface Running {
  worker: Worker;
  progress: Progress;
}
/** What this server is at. */
const running = new Map<string, Running>();
/** A thread that waits for the next check. */
let spare: Worker | undefined;
let timer: NodeJS.Timeout | undefined;
let taking = false;
let stopping = false;

/** Begins to look for checks that wait, as long as the server runs. */
export function serveJobs(): void {
  stopping = false;
  wake();
}

function wake(): void {
  clearTimeout(timer);
  if (!stopping) void turn();
}

async function turn(): Promise<void> {
  if (taking) return;
  taking = true;
  try {
    await sayRunning();
    while (running.size < most && !stopping) {
      const job = await take();
      if (!job) break;
      await run(job);
    }
    await forget();
  } catch (error) {
    log.warn({ err: error }, 'looking for checks');
  } finally {
    taking = false;
    if (!stopping) timer = setTimeout(() => void turn(), running.size > 0 ? often : seldom).unref();
  }
}

/** Says what is still being worked on here; what was stopped elsewhere meanwhile is let go of. */
async function sayRunning(): Promise<void> {
  for (const [id, { progress }] of running) {
    const [{ affectedRows }] = await db()
      .update(jobs)
      .set({ beatAt: now(), ...progress })
      .where(and(eq(jobs.id, id), eq(jobs.state, 'running'), eq(jobs.server, server)));
    if (affectedRows === 0) stop(id);
  }
}

/**
 * Takes the next check: of the flows that have the fewest running the smallest, but the longer one waits, the sooner it is
 * its turn. Checks of servers that have gone are taken as if they waited.
 */
async function take(): Promise<Row | undefined> {
  return await transaction(async (tx) => {
    const gone = fromNow(-silence);
    const abandoned = and(eq(jobs.state, 'running'), lt(jobs.beatAt, gone));
    const busy = sql`(select count(*) from jobs as others where others.flow_id = ${jobs.flowId} and others.state = 'running' and others.beat_at >= ${gone})`;
    const weight = sql`${jobs.places} / (1 + timestampdiff(second, ${jobs.askedAt}, ${now()}) / 10)`;
    const [job] = await tx
      .select()
      .from(jobs)
      .where(or(eq(jobs.state, 'waiting'), abandoned))
      .orderBy(busy, weight, asc(jobs.askedAt))
      .limit(1)
      .for('update', { skipLocked: true });
    if (!job) return undefined;
    const tries = job.tries + 1;
    const next =
      tries > mostTries
        ? {
            state: 'failed' as const,
            problem: 'The check was stopped: the server ended several times while it ran.',
            endedAt: now()
          }
        : { state: 'running' as const, server, beatAt: now(), tries, states: 0, waiting: 0 };
    await tx.update(jobs).set(next).where(eq(jobs.id, job.id));
    return { ...job, ...next };
  });
}

async function run(job: Row): Promise<void> {
  tellFollowers(job.id);
  if (job.state !== 'running') return;
  const flow = await flowAt(job.flowId, job.revision);
  if (!flow) return await end(job.id, 'failed', 'The flow was deleted.');
  const worker = spare ?? new Worker(threadFile('check'), { resourceLimits: { maxOldGenerationSizeMb: memory } });
  spare = undefined;
  worker.removeAllListeners().ref();
  running.set(job.id, { worker, progress: { states: 0, waiting: 0 } });
  worker.on('message', (message: Told) => {
    if (!('progress' in message)) return void keep(job, message);
    const mine = running.get(job.id);
    const { states, waiting } = message.progress;
    if (mine) mine.progress = { states, waiting };
  });
  worker.on('error', (error) => void end(job.id, 'failed', wordsOf(error)));
  worker.on(
    'exit',
    () => running.has(job.id) && !kept.has(job.id) && void end(job.id, 'failed', 'The check ended without a result.')
  );
  worker.postMessage({ document: flow.document, limit: job.limit } satisfies CheckTask);
}

const wordsOf = (error: Error) =>
  (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? 'The flow needs more memory than one check may use.'
    : error.message.slice(0, 300);

/** Checks whose result is being kept. */
const kept = new Set<string>();

async function keep(job: Row, { report, summary }: Extract<Told, { report: Uint8Array }>): Promise<void> {
  kept.add(job.id);
  try {
    const bytes = Buffer.from(report.buffer, report.byteOffset, report.byteLength);
    await keepReport(job.flowId, job.revision, job.limit, bytes);
    await keepVerdict(job.flowId, job.revision, summary);
    await tellShows(job.flowId, job.revision, { summary, report: bytes });
    await end(job.id, 'done');
  } catch (error) {
    log.error({ err: error, flow: job.flowId }, 'keeping a report');
    await end(job.id, 'failed', 'The result could not be kept.');
  } finally {
    kept.delete(job.id);
  }
}

/** Notes how a check of this server ended, and goes on with the next. */
async function end(id: string, state: 'done' | 'failed', problem: string | null = null): Promise<void> {
  const progress = running.get(id)?.progress ?? {};
  if (state === 'done') putAside(id);
  else stop(id);
  try {
    await db()
      .update(jobs)
      .set({ state, problem, endedAt: now(), ...progress })
      .where(and(eq(jobs.id, id), eq(jobs.state, 'running'), eq(jobs.server, server)));
    log.info({ check: id, state, problem }, 'check ended');
  } catch (error) {
    // it counts as abandoned then, and is begun again
    log.warn({ err: error, check: id }, 'noting the end of a check');
  }
  tellFollowers(id);
  wake();
}

/** A thread that is done takes the next check, and is quicker than a new one; what it holds of a large flow is given back. */
function putAside(id: string): void {
  const mine = running.get(id);
  if (!mine || spare || stopping || mine.progress.states > large) return stop(id);
  running.delete(id);
  const { worker } = mine;
  spare = worker;
  worker.removeAllListeners().unref();
  worker.on('error', (error) => log.warn({ err: error }, 'a thread that waited for a check'));
  worker.on('exit', () => spare === worker && (spare = undefined));
  tellFollowers(id);
}

/** Ends the thread of a check in this server, with all that it holds. */
function stop(id: string): void {
  const mine = running.get(id);
  running.delete(id);
  void mine?.worker.terminate();
  tellFollowers(id);
}

async function forget(): Promise<void> {
  const before = fromNow(-remembered);
  await db()
    .delete(jobs)
    .where(and(isNotNull(jobs.endedAt), lt(jobs.endedAt, before)));
}

/** Lets go of all checks, so that the server can stop: another takes them, or this one when it is back. */
export async function stopJobs(): Promise<void> {
  stopping = true;
  clearTimeout(timer);
  void spare?.terminate();
  const mine = [...running.keys()];
  for (const id of mine) stop(id);
  if (mine.length > 0)
    await db()
      .update(jobs)
      .set({ state: 'waiting', server: null, beatAt: null, tries: sql`${jobs.tries} - 1` })
      .where(and(inArray(jobs.id, mine), eq(jobs.state, 'running'), eq(jobs.server, server)))
      .catch((error: unknown) => log.warn({ err: error }, 'giving checks back'));
}
