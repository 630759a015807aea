/** Server-sent events (HTML standard, section 9.2): streams that whoever reads slowly, or not at all, cannot make large. */

/** So many bytes may wait for a reader; what would come on top is left out, and the stream is told so. */
export const mostQueued = 256_000;
/** How often a stream says that it is there, in milliseconds. */
const beat = 15_000;
/** A reader that has taken nothing for so long although something waits is gone, in milliseconds. */
const silence = 60_000;

export interface EventStream {
  /** Sends an event, or leaves it out (false) where the reader is behind or gone. */
  send(event: string, data: string, id?: number): boolean;
  /** Sends bytes that `eventBytes` made, which several streams share. */
  sendBytes(bytes: Uint8Array): boolean;
  close(): void;
}

export interface Hearing {
  /** The reader has taken all that waited. */
  drained?: () => void;
  /** The stream has ended, by whichever side. Called once. */
  ended?: () => void;
}

const encoder = new TextEncoder();

export const eventBytes = (event: string, data: string, id?: number): Uint8Array =>
  encoder.encode(`${id === undefined ? '' : `id: ${id}\n`}event: ${event}\ndata: ${data}\n\n`);

class Stream implements EventStream {
  readonly body: ReadableStream<Uint8Array>;
  private controller!: ReadableStreamDefaultController<Uint8Array>;
  private closed = false;
  private taken = Date.now();

  constructor(private readonly hearing: Hearing) {
    this.body = new ReadableStream<Uint8Array>(
      {
        start: (controller) => void (this.controller = controller),
        pull: () => {
          this.taken = Date.now();
          if (this.queued === 0) this.hearing.drained?.();
        },
        cancel: () => this.over()
      },
      new ByteLengthQueuingStrategy({ highWaterMark: 1 })
    );
    open.add(this);
    // tells the browser how soon to come back, and proxies that the stream is open
    this.controller.enqueue(encoder.encode('retry: 1000\n\n'));
    timer ??= setInterval(beatAll, beat);
    timer.unref();
  }

  private get queued(): number {
    return 1 - (this.controller.desiredSize ?? 1);
  }

  send(event: string, data: string, id?: number): boolean {
    return this.sendBytes(eventBytes(event, data, id));
  }

  sendBytes(bytes: Uint8Array): boolean {
    if (this.closed || this.queued > mostQueued) return false;
    this.controller.enqueue(bytes);
    return true;
  }

  close(): void {
    if (this.closed) return;
    this.over();
    this.controller.close();
  }

  /** Ends the stream of a reader that has gone without a word. */
  beat(now: number): void {
    if (this.queued > 0 && now - this.taken > silence) {
      this.over();
      // what waits is let go of, and the connection closed
      this.controller.error(new Error('The reader takes nothing.'));
    } else this.send('beat', '{}');
  }

  private over(): void {
    if (this.closed) return;
    this.closed = true;
    open.delete(this);
    if (open.size === 0) {
      clearInterval(timer);
      timer = undefined;
    }
    this.hearing.ended?.();
  }
}

const open = new Set<Stream>();
let timer: NodeJS.Timeout | undefined;

function beatAll(): void {
  const now = Date.now();
  for (const stream of [...open]) stream.beat(now);
}

/** A response of server-sent events, and what is sent by it. */
export function eventStream(hearing: Hearing = {}): { stream: EventStream; response: Response } {
  const stream = new Stream(hearing);
  const headers = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };
  return { stream, response: new Response(stream.body, { headers }) };
}

/** Ends all streams, so that the server can stop. */
export function closeEventStreams(): void {
  for (const stream of [...open]) stream.close();
}
