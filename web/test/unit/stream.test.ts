import { expect } from 'chai';
import { closeEventStreams, eventStream, mostQueued } from '../../src/lib/server/stream.ts';

const opening = 'retry: 1000\n\n';

describe('a stream of events', () => {
  it('sends what is told and ends when it is ended', async () => {
    const { stream, response } = eventStream();
    expect(stream.send('job', '{"state":"running"}')).to.equal(true);
    expect(stream.send('job', '{"state":"done"}', 7)).to.equal(true);
    stream.close();
    // what comes after the end is lost, and no fault
    expect(stream.send('job', '{"state":"late"}')).to.equal(false);
    expect(response.headers.get('content-type')).to.equal('text/event-stream');
    expect(await response.text()).to.equal(
      `${opening}event: job\ndata: {"state":"running"}\n\nid: 7\nevent: job\ndata: {"state":"done"}\n\n`
    );
  });

  it('tells once when whoever listened has gone, and nothing thrown comes of sending on', async () => {
    let ended = 0;
    const { stream, response } = eventStream({ ended: () => ended++ });
    const reader = response.body!.getReader();
    await reader.read();
    await reader.cancel();
    expect(ended).to.equal(1);
    expect(stream.send('job', '{}')).to.equal(false);
    stream.close();
    expect(ended).to.equal(1);
  });

  it('ends with the server', async () => {
    const texts = [eventStream(), eventStream()].map(({ response }) => response.text());
    closeEventStreams();
    expect(await Promise.all(texts)).to.deep.equal([opening, opening]);
  });

  it('keeps little for a reader that takes nothing, and says when it has caught up', async () => {
    let drained = 0;
    const { stream, response } = eventStream({ drained: () => drained++ });
    const chunk = JSON.stringify('x'.repeat(10_000));
    let taken = 0;
    for (let n = 0; n < 1000; n++) taken += Number(stream.send('revision', chunk));
    expect(taken).to.be.greaterThan(10);
    expect(taken * chunk.length).to.be.lessThan(mostQueued + 2 * chunk.length);
    const before = drained;
    const reader = response.body!.getReader();
    for (let n = 0; n <= taken; n++) await reader.read();
    void reader.read();
    await new Promise((done) => setTimeout(done));
    expect(drained).to.be.greaterThan(before);
    expect(stream.send('revision', chunk)).to.equal(true);
    stream.close();
  });
});
