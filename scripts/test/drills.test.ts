/** The drills in small: what they demand of the product holds. */
import { expect } from 'chai';
import { long } from '../../core/test/support/everyday.ts';

type Drill = (settings: Record<string, number>) => Promise<Record<string, number | string>>;
const drill = async (file: string, name: string): Promise<Drill> =>
  ((await import(`../drill/${file}.mjs`)) as Record<string, Drill>)[name]!;

describe('the drills', () => {
  long('kill: nothing acknowledged is lost, and the database comes back by itself', async () => {
    const found = await (await drill('kill', 'kill'))({ times: 2 });
    expect(found['edits acknowledged']).to.be.greaterThan(4);
  });

  long('streams: who comes, goes or never reads harms nobody', async () => {
    const found = await (await drill('streams', 'streams'))({ readers: 60, edits: 20, deaf: 8, guests: 8, large: 20 });
    expect(found['events heard']).to.equal(1200);
    expect(found['memory for 8 who never read (MB)']).to.be.lessThan(150);
  });

  long('hostile: what should not be sent is answered in order', async () => {
    await (
      await drill('hostile', 'hostile')
    )({ megabytes: 1, places: 500, idle: 1 });
  });

  long('load: editing goes on while checks are made and the shelf is looked at', async () => {
    const found = await (await drill('load', 'load'))({ seconds: 3 });
    expect(found['edits a second']).to.be.greaterThan(5);
  });

  long('two servers: edits and checks of one are those of the other', async () => {
    await (
      await drill('two-servers', 'twoServers')
    )({ seconds: 2 });
  });
});
