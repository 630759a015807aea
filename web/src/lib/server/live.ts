/** Live changes: who has a flow open hears of its revisions and of who else is there, also through another server. */
import { revisionOf, revisionsAfter, type Revision } from './flows.ts';
import type { Present } from '../present.ts';
import { log } from './log.ts';
import { presentAt } from './presence.ts';

type Send = (revision: Revision) => void;

interface Listener {
  flow: string;
  /** The last revision sent; revisions go out in order, each once. */
  sent: number;
  send: Send;
  /** Who has the flow open, as it was last told, in JSON. */
  present: string;
  tell: (present: string) => void;
  close: () => void;
}

const listeners = new Set<Listener>();
/** How often to look for revisions that other servers have kept, in milliseconds. */
const interval = 2000;
let timer: NodeJS.Timeout | undefined;

/** Tells the listeners of this server about a revision that it has just kept. */
export function announce(flow: string, revision: Revision): void {
  for (const listener of listeners) {
    if (listener.flow !== flow) continue;
    if (listener.sent === revision.number - 1) deliver(listener, revision);
    else void catchUp(listener);
  }
}

function deliver(listener: Listener, revision: Revision): void {
  if (revision.number !== listener.sent + 1) return;
  listener.sent = revision.number;
  listener.send(revision);
}

async function catchUp(listener: Listener): Promise<void> {
  for (const revision of await revisionsAfter(listener.flow, listener.sent)) deliver(listener, revision);
}

/** Tells the listeners of this server who has a flow open, where that has changed. */
export async function announcePresence(flow: string): Promise<void> {
  const present = JSON.stringify((await presentAt(flow)) satisfies Present[]);
  for (const listener of listeners) {
    if (listener.flow !== flow || listener.present === present) continue;
    listener.present = present;
    listener.tell(present);
  }
}

/** A stream of server-sent events: every revision behind `after`, those to come included, and who has the flow open. */
export function liveStream(flow: string, after: number): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let listener: Listener;
  return new ReadableStream({
    start(controller) {
      const write = (text: string) => controller.enqueue(encoder.encode(text));
      listener = {
        flow,
        sent: after,
        send: ({ inverse: _inverse, ...revision }) =>
          write(`id: ${revision.number}\nevent: revision\ndata: ${JSON.stringify(revision)}\n\n`),
        present: '[]',
        tell: (present) => write(`event: presence\ndata: ${present}\n\n`),
        close: () => {
          stop(listener);
          controller.close();
        }
      };
      // tells the browser how soon to come back, and proxies that the stream is open
      write('retry: 1000\n\n');
      listeners.add(listener);
      timer ??= setInterval(look, interval);
      catchUp(listener)
        .then(() => announcePresence(flow))
        .catch((error: unknown) => log.error({ err: error }, 'live changes'));
    },
    cancel() {
      stop(listener);
    }
  });
}

function stop(listener: Listener): void {
  listeners.delete(listener);
  if (listeners.size > 0) return;
  clearInterval(timer);
  timer = undefined;
}

async function look(): Promise<void> {
  try {
    const known = new Map<string, number | undefined>();
    for (const { flow } of listeners) {
      if (known.has(flow)) continue;
      known.set(flow, await revisionOf(flow));
      await announcePresence(flow);
    }
    for (const listener of [...listeners]) if ((known.get(listener.flow) ?? 0) > listener.sent) await catchUp(listener);
  } catch (error) {
    log.warn({ err: error }, 'looking for revisions');
  }
}

/** Ends all streams, so that the server can stop. */
export function closeStreams(): void {
  for (const listener of [...listeners]) listener.close();
}
