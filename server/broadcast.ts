import type { Who } from '../core/access/access.ts';
import type { Host } from '../core/host/host.ts';
import type { News } from '../core/host/protocol.ts';

/** An event as it goes over the wire (Server-Sent Events, HTML Living Standard). */
export const eventText = (event: string, data: unknown): string => `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;

/** News of so many milliseconds go out as one message; the first goes at once. */
const TOGETHER_MS = 40;
/** So many changes are told without waiting for more. */
const TOGETHER = 1000;

/** What happens to an app, for all who may read the same of it: one message, made once. */
export class Broadcast {
  private pending: News | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly stop: () => void;

  /** `send` takes a message and the number of the last change in it. */
  constructor(
    host: Host,
    who: Who,
    private readonly send: (message: Uint8Array<ArrayBuffer>, at: number) => void,
  ) {
    this.stop = host.subscribe(who, (news) => this.take(news));
  }

  private take(news: News): void {
    const before = this.pending;
    this.pending = before ? { from: before.from, at: news.at, changes: before.changes.concat(news.changes) } : news;
    if (!this.timer || this.pending.changes.length > TOGETHER) this.flush();
  }

  private flush(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (!this.pending) return;
    const { at } = this.pending;
    const message = new TextEncoder().encode(eventText('news', this.pending));
    this.pending = null;
    this.send(message, at);
    this.timer = setTimeout(() => {
      this.timer = null;
      this.flush();
    }, TOGETHER_MS);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.stop();
  }
}
