import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { house } from '../rights.ts';
import { grant } from './accounts/grants.ts';
import { createFlow, hasAnyFlow } from './flows.ts';
import { log } from './log.ts';
import { work } from './work.ts';

/** The demo flow that comes first, and its sister for learning. */
const main = 'lamplighters-round';

/** Where there are accounts, everybody may look at it. */
const show = (id: string) => grant(id, house, 'read');

/** Puts the demo flows on an empty shelf. A shelf that was emptied by hand stays empty: deleted flows are still kept. */
export async function loadDemo(folder: string | undefined): Promise<void> {
  if (!folder || (await hasAnyFlow())) return;
  const files = (await readdir(folder)).filter((file) => file.endsWith('.crow.json')).sort();
  // the shelf shows the last one first
  const rank = (file: string) => Number(file.startsWith(main)) + Number(file === `${main}.crow.json`);
  for (const file of files.sort((a, b) => rank(a) - rank(b))) {
    const found = await work({ task: 'read', text: await readFile(join(folder, file), 'utf8') });
    if ('errors' in found) log.error({ file, errors: found.errors.length }, 'a demo flow could not be read');
    else
      await show(
        await createFlow(found.document, found.described, { id: `demo-${file.replace('.crow.json', '').slice(0, 31)}` })
      );
  }
}
