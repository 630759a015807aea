/**
 * One stream of live changes for all pages of a browser: a browser opens few connections to one server, and a page each
 * would leave none to save by. Shared by the pages, which tell it which flows they have open.
 */
import type { FromLive, ToLive } from './live.ts';

interface Tab {
  port: MessagePort;
  flow: string;
  heard: number;
}

/** A stream that has said nothing for so long is dead; the server says something every 15 seconds. In milliseconds. */
const silence = 40_000;
/** A page that has said nothing for so long is closed; browsers let hidden pages speak once a minute. */
const closed = 200_000;
const longestWait = 10_000;

const tabs = new Set<Tab>();
/** By flow the last revision that has come. */
const cursors = new Map<string, number>();
let stream: EventSource | undefined;
let heard = 0;
let wait = 500;
let soon: ReturnType<typeof setTimeout> | undefined;

function tell(flow: string | undefined, message: FromLive): void {
  for (const tab of tabs) if (flow === undefined || tab.flow === flow) tab.port.postMessage(message);
}

/** Opens the stream again, for the flows that are now open. */
function open(): void {
  stream?.close();
  stream = undefined;
  for (const flow of cursors.keys()) if (![...tabs].some((tab) => tab.flow === flow)) cursors.delete(flow);
  if (cursors.size === 0) return;
  const query = [...cursors].map(([flow, after]) => `flow=${encodeURIComponent(`${flow}:${after}`)}`).join('&');
  const source = (stream = new EventSource(`/api/live?${query}`));
  heard = Date.now();
  const on = <T extends { flow: string }>(event: string, hear: (data: T) => void) =>
    source.addEventListener(event, ({ data }: MessageEvent<string>) => {
      heard = Date.now();
      hear(JSON.parse(data) as T);
    });
  on<FromLive & { is: 'revision' }>('revision', ({ flow, revision }) => {
    cursors.set(flow, revision.number);
    tell(flow, { is: 'revision', flow, revision });
  });
  on<{ flow: string; revision: number }>('reload', ({ flow, revision }) => {
    cursors.set(flow, revision);
    tell(flow, { is: 'newest', flow, revision });
  });
  on<FromLive & { is: 'presence' }>('presence', ({ flow, present }) => tell(flow, { is: 'presence', flow, present }));
  on('beat', () => {});
  source.onopen = () => {
    wait = 500;
    tell(undefined, { is: 'open' });
  };
  source.onerror = () => {
    if (stream !== source) return;
    // the browser would come back with what it first asked for, not with what it has heard since
    source.close();
    again(wait);
    wait = Math.min(wait * 2, longestWait);
  };
}

function again(later = 30): void {
  clearTimeout(soon);
  soon = setTimeout(open, later);
}

setInterval(() => {
  const now = Date.now();
  for (const tab of tabs) if (now - tab.heard > closed) tabs.delete(tab);
  if (stream && now - heard > silence) again();
}, 10_000);

(self as unknown as { onconnect: (event: MessageEvent) => void }).onconnect = ({ ports: [port] }) => {
  let tab: Tab | undefined;
  port!.onmessage = ({ data }: MessageEvent<ToLive>) => {
    if (data.is === 'here' && tab) tab.heard = Date.now();
    else if (data.is === 'gone' && tab) tabs.delete(tab);
    else if (data.is === 'hear') {
      tab = { port: port!, flow: data.flow, heard: Date.now() };
      tabs.add(tab);
      const known = cursors.get(data.flow);
      if (known === undefined) {
        cursors.set(data.flow, data.after);
        again();
      } else if (stream?.readyState === EventSource.OPEN) {
        // who comes later is told how far the others are, and asks for who is there
        port!.postMessage({ is: 'newest', flow: data.flow, revision: known } satisfies FromLive);
        port!.postMessage({ is: 'open' } satisfies FromLive);
      }
    }
  };
};
