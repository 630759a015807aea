/** What a page hears of others' changes: by the one stream of the browser, or, where pages cannot share one, by asking. */
import type { Present } from '../present.ts';
import { fetchChanges, type RevisionNote } from './api.ts';

/** From a page to the worker that its browser shares. */
export type ToLive = { is: 'hear'; flow: string; after: number } | { is: 'here' } | { is: 'gone' };
/** And back. */
export type FromLive =
  | { is: 'revision'; flow: string; revision: RevisionNote }
  /** There are revisions up to this one; what was missed is to be asked for. */
  | { is: 'newest'; flow: string; revision: number }
  | { is: 'presence'; flow: string; present: Present[] }
  /** The server is there, perhaps again. */
  | { is: 'open' };

export interface Hearing {
  revision(revision: RevisionNote): void;
  newest(revision: number): void;
  present(present: Present[]): void;
  open(): void;
}

/** How often a page says that it is there, and how often it asks where it must, in milliseconds. */
const often = 30_000;
const asking = 3000;

/** Hears of a flow; `after` gives the last revision that the page has. Gives a function that ends it. */
export function hearLive(flow: string, after: () => number, hearing: Hearing): () => void {
  if (typeof SharedWorker === 'undefined') return ask(flow, after, hearing);
  const worker = new SharedWorker(new URL('./live.worker.ts', import.meta.url), { type: 'module', name: 'crow-lane-live' });
  const say = (message: ToLive) => worker.port.postMessage(message);
  let end = () => {
    say({ is: 'gone' });
    worker.port.close();
    clearInterval(timer);
    removeEventListener('pagehide', gone);
    removeEventListener('pageshow', back);
  };
  const timer = setInterval(() => say({ is: 'here' }), often);
  const gone = () => say({ is: 'gone' });
  // a page that the browser brings back from its memory
  const back = ({ persisted }: PageTransitionEvent) => persisted && say({ is: 'hear', flow, after: after() });
  addEventListener('pagehide', gone);
  addEventListener('pageshow', back);
  worker.onerror = () => {
    end();
    end = ask(flow, after, hearing);
  };
  worker.port.onmessage = ({ data }: MessageEvent<FromLive>) => {
    if (data.is === 'open') hearing.open();
    else if (data.flow !== flow) return;
    else if (data.is === 'revision') hearing.revision(data.revision);
    else if (data.is === 'newest') hearing.newest(data.revision);
    else hearing.present(data.present);
  };
  say({ is: 'hear', flow, after: after() });
  return () => end();
}

function ask(flow: string, after: () => number, hearing: Hearing): () => void {
  let reached = false;
  let timer: ReturnType<typeof setTimeout>;
  let ended = false;
  const look = async () => {
    try {
      const { revision, revisions, present } = await fetchChanges(flow, after());
      if (ended) return;
      if (!reached) hearing.open();
      reached = true;
      for (const each of revisions) hearing.revision(each);
      hearing.newest(revision);
      hearing.present(present);
    } catch {
      reached = false;
    }
    if (!ended) timer = setTimeout(() => void look(), asking);
  };
  void look();
  return () => {
    ended = true;
    clearTimeout(timer);
  };
}
