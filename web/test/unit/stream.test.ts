import { expect } from 'chai';
import { closeEventStreams, eventStream } from '../../src/lib/server/stream.ts';

describe('a stream of events', () => {
  it('sends what is told and ends when it is ended', async () => {
    const response = eventStream(
      (send, close) => {
        send('job', { state: 'running' });
        send('job', { state: 'done' });
        close();
        // what comes after the end is lost, and no fault
        send('job', { state: 'late' });
        return true;
      },
      () => {}
    )!;
    expect(response.headers.get('content-type')).to.equal('text/event-stream');
    const text = await response.text();
    expect(text).to.equal('retry: 1000\n\nevent: job\ndata: {"state":"running"}\n\nevent: job\ndata: {"state":"done"}\n\n');
  });

  it('is none where there is nothing to send', () => {
    expect(
      eventStream(
        () => false,
        () => {}
      )
    ).to.equal(undefined);
  });

  it('tells when whoever listened has gone, and ends with the server', async () => {
    let stopped = 0;
    const open = () =>
      eventStream(
        () => true,
        () => stopped++
      )!;
    const reader = open().body!.getReader();
    await reader.read();
    await reader.cancel();
    expect(stopped).to.equal(1);
    const other = open().text();
    closeEventStreams();
    expect(await other).to.equal('retry: 1000\n\n');
  });
});
