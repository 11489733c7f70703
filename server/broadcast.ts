import { nameOfWho, type Who } from '../core/access/access.ts';
import type { Host } from '../core/host/host.ts';
import { together, type News } from '../core/host/protocol.ts';

/** An event as it goes over the wire (Server-Sent Events, HTML Living Standard). */
export const eventText = (event: string, data: unknown): string => `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;

/** News of so many milliseconds go out as one message; the first goes at once. */
const TOGETHER_MS = 40;
/** So many changes are told without waiting for more. */
const TOGETHER = 1000;

/** A message for some who listen, by their names; with the number of the last change in it, and the view it is part of. */
export interface Message {
  to: string[];
  message: Uint8Array<ArrayBuffer>;
  at: number;
  view?: string | undefined;
}

/** Those who see the same: what happens is one message for all of them, made once. */
class Audience {
  readonly who = new Set<string>();
  private last: News | null = null;
  private pending: News | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly send: (m: Message) => void) {}

  /** Each of them hears the same object; it is taken once. */
  take(news: News): void {
    if (this.last === news) return;
    this.last = news;
    this.pending = this.pending ? together(this.pending, news) : news;
    if (!this.timer || this.pending.changes.length > TOGETHER) this.flush();
  }

  flush(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (!this.pending) return;
    this.send(messageOf([...this.who], this.pending));
    this.pending = null;
    this.timer = setTimeout(() => {
      this.timer = null;
      this.flush();
    }, TOGETHER_MS);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
  }
}

function messageOf(to: string[], news: News): Message {
  return { to, message: new TextEncoder().encode(eventText('news', news)), at: news.at, view: news.view };
}

interface Hearing {
  audience: Audience;
  stop(): void;
}

/** What happens to an app, for all who listen to it. */
export class Broadcasts {
  private readonly audiences = new Map<string, Audience>();
  private readonly hearing = new Map<string, Hearing>();

  constructor(
    private readonly host: Host,
    private readonly send: (m: Message) => void,
  ) {}

  /** Begins to tell somebody what happens. Gives the view that they see from now on. */
  begin(who: Who): string | undefined {
    const name = nameOfWho(who);
    const view = this.host.viewOf(who);
    if (this.hearing.has(name)) return view;
    const hearing: Hearing = {
      audience: this.join(name, view),
      stop: this.host.subscribe(who, (news) => {
        // Their rights have changed: what leads from one view to the other is for them alone.
        if (news.was !== undefined) {
          this.leave(name, hearing.audience);
          this.send(messageOf([name], news));
          hearing.audience = this.join(name, news.view);
        } else hearing.audience.take(news);
      }),
    };
    this.hearing.set(name, hearing);
    return view;
  }

  end(who: Who): void {
    const name = nameOfWho(who);
    const hearing = this.hearing.get(name);
    if (!hearing) return;
    hearing.stop();
    this.leave(name, hearing.audience);
    this.hearing.delete(name);
  }

  private join(name: string, view = ''): Audience {
    const audience = this.audiences.get(view) ?? new Audience(this.send);
    // What waits to be told is from before.
    audience.flush();
    audience.who.add(name);
    this.audiences.set(view, audience);
    return audience;
  }

  private leave(name: string, audience: Audience): void {
    audience.flush();
    audience.who.delete(name);
    if (audience.who.size) return;
    audience.close();
    for (const [view, a] of this.audiences) if (a === audience) this.audiences.delete(view);
  }

  close(): void {
    for (const h of this.hearing.values()) h.stop();
    for (const a of this.audiences.values()) a.close();
    this.hearing.clear();
    this.audiences.clear();
  }
}
