/** Who else has the flow open: told by the server, which is told where this page is. */
import type { Id } from '@crow-lane/core/document/types';
import { freshId } from '../id.ts';
import type { Present } from '../present.ts';
import { sendGone, sendPresent } from './api.ts';
import { author } from './author.svelte.ts';

/** How often a page says that it is still there, in milliseconds. */
const often = 8000;

export class Company {
  /** Everybody but this page. */
  others: Present[] = $state.raw([]);
  /** By place who looks at it. */
  readonly at = $derived(Map.groupBy(this.others, ({ place }) => place ?? undefined) as Map<Id | undefined, Present[]>);

  private readonly client = freshId();
  private place: Id | null = null;
  private timer: ReturnType<typeof setInterval> | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly flow: string) {}

  hear(present: Present[]): void {
    this.others = present.filter(({ client }) => client !== this.client);
  }

  /** Begins to tell that this page is there. Gives a function that ends it. */
  join(): () => void {
    this.tell();
    this.timer = setInterval(() => this.tell(), often);
    const leave = () => void sendGone(this.flow, this.client).catch(() => {});
    addEventListener('pagehide', leave);
    return () => {
      clearInterval(this.timer);
      clearTimeout(this.soon);
      removeEventListener('pagehide', leave);
      leave();
    };
  }

  /** This page looks at another place: told a little later, as one walks past many. */
  look(place: Id | undefined): void {
    this.place = place ?? null;
    clearTimeout(this.soon);
    if (this.timer) this.soon = setTimeout(() => this.tell(), 300);
  }

  private tell(): void {
    // nobody misses it when the server is away: the next time tells it again
    void sendPresent(this.flow, { client: this.client, name: author.name, place: this.place }).catch(() => {});
  }
}
