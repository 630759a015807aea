/** A response of server-sent events (HTML standard, section 9.2). */

const open = new Set<() => void>();

/**
 * `begin` is given a function that sends an event and one that ends the stream, and tells whether there is anything to
 * send; `stop` is called when whoever listens has gone. Undefined where there is nothing to send.
 */
export function eventStream(
  begin: (send: (event: string, data: unknown) => void, close: () => void) => boolean,
  stop: () => void
): Response | undefined {
  const encoder = new TextEncoder();
  let something = false;
  let end = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let closed = false;
      end = () => {
        if (closed) return;
        closed = true;
        open.delete(end);
        controller.close();
      };
      open.add(end);
      controller.enqueue(encoder.encode('retry: 1000\n\n'));
      something = begin((event, data) => {
        if (!closed) controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
      }, end);
    },
    cancel() {
      open.delete(end);
      stop();
    }
  });
  if (!something) {
    end();
    return undefined;
  }
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' }
  });
}

/** Ends all these streams, so that the server can stop. */
export function closeEventStreams(): void {
  for (const end of [...open]) end();
}
