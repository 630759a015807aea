/** Live changes: who has flows open hears of their revisions and of who else is there, also through another server. */
import { inArray } from 'drizzle-orm';
import { db } from './database.ts';
import type { Revision } from './edits.ts';
import { revisionJson } from './formats.ts';
import { revisionsAfter } from './history.ts';
import { log } from './log.ts';
import { presentIn } from './presence.ts';
import { flows } from './schema.ts';
import { eventBytes, eventStream, mostQueued, type EventStream } from './stream.ts';

/** What a stream hears of one flow. */
interface Listener {
  stream: EventStream;
  /** The last revision sent; revisions go out in order, each once. */
  sent: number;
  /** Who has the flow open, as it was last told, in JSON. */
  present: string;
  /** Something was left out, as the reader was behind: it is told to load the flow again when it has caught up. */
  behind: boolean;
}

const listeners = new Map<string, Set<Listener>>();
/** How often to look for what other servers have kept, and for who is there, in milliseconds: one look for all that is heard. */
const interval = 250;
const presenceEvery = 2000;
let presenceAt = 0;
let looking = false;
/** Who lacks more revisions than this, or more bytes of them than may wait, loads the flow again instead. */
const mostMissed = 500;
let timer: NodeJS.Timeout | undefined;

/** Streams, each with what asks whether it may still hear of what it hears. */
const open = new Map<EventStream, () => Promise<boolean>>();
/** How often that is asked, in milliseconds. */
const askedEvery = 10_000;
let asked = 0;

/**
 * One stream that hears of several flows: of each all revisions behind `after`, those to come included. It ends when `may` no
 * longer allows it; whoever it belongs to comes back and asks for what is left.
 */
export function liveStream(heard: { flow: string; after: number }[], may: () => Promise<boolean>): Response {
  const mine: [string, Listener][] = [];
  const { stream, response } = eventStream({
    drained() {
      for (const [flow, listener] of mine) if (listener.behind) void catchUp(flow);
    },
    ended() {
      open.delete(stream);
      for (const [flow, listener] of mine) forget(flow, listener);
    }
  });
  open.set(stream, may);
  for (const { flow, after } of heard) {
    const listener: Listener = { stream, sent: after, present: '', behind: false };
    mine.push([flow, listener]);
    if (!listeners.has(flow)) listeners.set(flow, new Set());
    listeners.get(flow)!.add(listener);
  }
  timer ??= setInterval(() => {
    // a database that is slow is not asked more, but less
    if (looking) return;
    looking = true;
    const presence = Date.now() - presenceAt > presenceEvery;
    if (presence) presenceAt = Date.now();
    void look([...listeners.keys()], presence).finally(() => (looking = false));
  }, interval);
  void look(
    heard.map(({ flow }) => flow),
    true
  );
  return response;
}

function forget(flow: string, listener: Listener): void {
  const all = listeners.get(flow);
  all?.delete(listener);
  if (all?.size === 0) listeners.delete(flow);
  if (listeners.size > 0) return;
  clearInterval(timer);
  timer = undefined;
}

/** Tells the listeners of this server about a revision that it has just kept. */
export function announce(flow: string, revision: Revision): void {
  const all = listeners.get(flow);
  if (!all) return;
  const bytes = bytesOf(flow, revision);
  // one that is too large to be sent is told of in another way
  let late = bytes.length > mostQueued;
  for (const listener of all) {
    if (listener.sent === revision.number - 1) deliver(listener, revision.number, bytes);
    else if (listener.sent < revision.number) late = true;
  }
  if (late) void catchUp(flow);
}

const bytesOf = (flow: string, revision: Revision) =>
  eventBytes('revision', `{"flow":${JSON.stringify(flow)},"revision":${revisionJson(revision)}}`, revision.number);

function deliver(listener: Listener, number: number, bytes: Uint8Array): void {
  if (listener.behind) return;
  if (bytes.length <= mostQueued && listener.stream.sendBytes(bytes)) listener.sent = number;
  else listener.behind = true;
}

/** By flow the catching up that is on its way, and whether another is asked for meanwhile. */
const catching = new Map<string, { again: boolean }>();

/** Brings the listeners of a flow to its newest revision. A fault is told in the log and harms no other flow. */
async function catchUp(flow: string): Promise<void> {
  const going = catching.get(flow);
  if (going) {
    going.again = true;
    return;
  }
  const run = { again: true };
  catching.set(flow, run);
  try {
    while (run.again) {
      run.again = false;
      await catchUpOnce(flow);
    }
  } catch (error) {
    log.warn({ flow, err: error }, 'catching up');
  } finally {
    catching.delete(flow);
  }
}

async function catchUpOnce(flow: string): Promise<void> {
  const newest = (await newestOf([flow])).get(flow);
  if (newest === undefined) return;
  const late = [...(listeners.get(flow) ?? [])].filter(({ sent, behind }) => behind || sent < newest);
  const near = late.filter(({ sent, behind }) => !behind && newest - sent <= mostMissed);
  const from = Math.min(...near.map(({ sent }) => sent));
  const missed = near.length === 0 ? [] : await revisionsAfter(flow, from, mostMissed);
  const bytes = missed.map((revision) => bytesOf(flow, revision));
  for (const listener of late) {
    const index = missed.findIndex(({ number }) => number === listener.sent + 1);
    const lacks = index < 0 ? [] : bytes.slice(index);
    const size = lacks.reduce((sum, each) => sum + each.length, 0);
    if (listener.behind || newest - listener.sent > mostMissed || size > mostQueued) loadAgain(listener, flow, newest);
    else lacks.forEach((each, at) => deliver(listener, missed[index + at]!.number, each));
  }
}

/** What a listener lacks is too much to be sent: it is told to load the flow again, and hears what comes after that. */
function loadAgain(listener: Listener, flow: string, newest: number): void {
  listener.behind = !listener.stream.send('reload', JSON.stringify({ flow, revision: newest }));
  if (!listener.behind) listener.sent = newest;
}

/** The newest revisions of flows; one that was deleted is still heard of. */
async function newestOf(ids: string[]): Promise<Map<string, number>> {
  const rows = await db().select({ id: flows.id, revision: flows.revision }).from(flows).where(inArray(flows.id, ids));
  return new Map(rows.map(({ id, revision }) => [id, revision]));
}

/** Tells the listeners of this server who has flows open, where that has changed. */
export async function announcePresence(ids: string[]): Promise<void> {
  const heard = ids.filter((id) => listeners.has(id));
  if (heard.length === 0) return;
  const there = await presentIn(heard);
  for (const flow of heard) {
    const present = JSON.stringify({ flow, present: there.get(flow) ?? [] });
    for (const listener of listeners.get(flow) ?? [])
      if (listener.present !== present && listener.stream.send('presence', present)) listener.present = present;
  }
}

/** Looks for revisions and people that other servers have kept, for all flows that are heard here in two queries. */
async function look(ids: string[], presence: boolean): Promise<void> {
  try {
    if (ids.length === 0) return;
    const newest = await newestOf(ids);
    for (const [flow, revision] of newest)
      if ([...(listeners.get(flow) ?? [])].some(({ sent, behind }) => behind || sent < revision)) void catchUp(flow);
    if (presence) await announcePresence(ids);
    if (Date.now() - asked > askedEvery) await closeForbidden();
  } catch (error) {
    log.warn({ err: error }, 'looking for revisions');
  }
}

/** Ends the streams of those whose rights, or whose sign-ins, have ended meanwhile. */
async function closeForbidden(): Promise<void> {
  asked = Date.now();
  for (const [stream, may] of [...open]) if (!(await may())) stream.close();
}
