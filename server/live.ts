import type { Response } from 'express';
import type { Who } from '../core/access/access.ts';
import type { Host } from '../core/host/host.ts';
import type { News } from '../core/host/protocol.ts';
import { Refused } from './refused.ts';

/** How many phones may listen at once: to one app, from one address, and in all. */
const MOST_STREAMS = { app: 5000, address: 2000, all: 10_000 };
/** A phone that has not read so many bytes is told nothing more until it has. */
const MOST_UNREAD = 256 * 1024;
/** A phone that has read nothing for so long is let go; it comes again by itself. */
const STALLED_MS = 60_000;
const BEAT_MS = 20_000;

/** An event as it goes over the wire (Server-Sent Events, HTML Living Standard). */
const eventText = (event: string, data: unknown): string => `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;

/** News of so many milliseconds go out as one message; the first goes at once. */
const TOGETHER_MS = 40;
/** So many changes are told without waiting for more. */
const TOGETHER = 1000;

/** What happens to an app, told to all who may read the same of it: one message, made once. */
class Broadcast {
  readonly streams = new Set<Stream>();
  private pending: News | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly stop: () => void;

  constructor(host: Host, who: Who) {
    this.stop = host.subscribe(who, (news) => this.take(news));
  }

  private take(news: News): void {
    const before = this.pending;
    this.pending = before ? { from: before.from, at: news.at, changes: before.changes.concat(news.changes) } : news;
    if (!this.timer || this.pending.changes.length > TOGETHER) this.send();
  }

  private send(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (!this.pending) return;
    const message = Buffer.from(eventText('news', this.pending));
    this.pending = null;
    for (const s of this.streams) s.write(message);
    this.timer = setTimeout(() => {
      this.timer = null;
      this.send();
    }, TOGETHER_MS);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.stop();
  }
}

/** Where a stream stands, for phones to know whether they have everything. */
export interface Hello {
  at: number;
  release: number;
}

/** The open streams of a server. */
export class Streams {
  private readonly counts = new Map<string, number>();
  private readonly broadcasts = new WeakMap<Host, Map<Who['kind'], Broadcast>>();

  constructor(private readonly most = MOST_STREAMS) {}

  /**
   * Opens a stream to a phone. `hello` says where the app stands. A phone that does not read what it is told is told
   * no more, and hears where the app stands when it has caught up; it then asks for what it missed.
   */
  open(res: Response, app: string, address: string, hello: () => Hello): Stream {
    const names: [string, number, string][] = [
      ['all', this.most.all, 'this server'],
      [`app ${app}`, this.most.app, 'this app'],
      [`address ${address}`, this.most.address, 'your network'],
    ];
    for (const [name, most, said] of names)
      if ((this.counts.get(name) ?? 0) >= most)
        throw new Refused(
          503,
          `Too many devices listen to ${said} just now. What is new comes when you open it again.`,
        );
    for (const [name] of names) this.counts.set(name, (this.counts.get(name) ?? 0) + 1);
    res.once('close', () => {
      for (const [name] of names) {
        const left = this.counts.get(name)! - 1;
        if (left) this.counts.set(name, left);
        else this.counts.delete(name);
      }
    });
    return new Stream(res, hello);
  }

  /** Tells a stream what happens to an app, as far as this person may read it, until it ends. */
  tell(stream: Stream, host: Host, who: Who): void {
    const ofHost = this.broadcasts.get(host) ?? new Map<Who['kind'], Broadcast>();
    this.broadcasts.set(host, ofHost);
    const broadcast = ofHost.get(who.kind) ?? new Broadcast(host, who);
    ofHost.set(who.kind, broadcast);
    broadcast.streams.add(stream);
    stream.onEnd(() => {
      broadcast.streams.delete(stream);
      if (broadcast.streams.size > 0) return;
      broadcast.close();
      ofHost.delete(who.kind);
    });
  }
}

/** One phone that listens. */
export class Stream {
  private behind = false;
  private stalled: ReturnType<typeof setTimeout> | null = null;

  constructor(
    private readonly res: Response,
    private readonly hello: () => Hello,
  ) {
    res.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    res.flushHeaders();
    this.write(eventText('hello', hello()));
    const beat = setInterval(() => this.write(': still here\n\n'), BEAT_MS);
    res.on('drain', () => this.caughtUp());
    res.once('close', () => {
      clearInterval(beat);
      if (this.stalled) clearTimeout(this.stalled);
    });
  }

  onEnd(done: () => void): void {
    this.res.once('close', done);
  }

  send(event: string, data: unknown): void {
    this.write(eventText(event, data));
  }

  /** Sends a message as it is, when the phone reads what it is sent. */
  write(message: string | Buffer): void {
    if (this.behind || this.res.destroyed) return;
    if (this.res.writableLength > MOST_UNREAD) {
      this.behind = true;
      this.stalled = setTimeout(() => this.res.destroy(), STALLED_MS);
      this.stalled.unref();
      return;
    }
    this.res.write(message);
  }

  private caughtUp(): void {
    if (!this.behind) return;
    this.behind = false;
    if (this.stalled) clearTimeout(this.stalled);
    this.stalled = null;
    this.write(eventText('hello', this.hello()));
  }
}
