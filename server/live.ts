import type { Response } from 'express';
import { Refused } from '../core/document/refused.ts';

/** An event as it goes over the wire (Server-Sent Events, HTML Living Standard). */
export const eventText = (event: string, data: unknown): string => `event: ${event}\ndata: ${JSON.stringify(data)}\n\n`;

/** How many phones may listen at once: to one app, from one address, and in all. */
const MOST_STREAMS = { app: 5000, address: 2000, all: 10_000 };
/** A phone that has not read so many bytes is told nothing more until it has. */
const MOST_UNREAD = 256 * 1024;
/** A phone that has read nothing for so long is let go; it comes again by itself. */
const STALLED_MS = 60_000;
/** Also known to phones, who look for another way when three have not come. */
const BEAT_MS = 15_000;

/** Where a stream stands, for phones to know whether they have everything. */
export interface Hello {
  at: number;
  /** The view of the records that the phone hears of; none where the app is open. */
  view?: string | undefined;
  release: number;
  /** The time here, ISO 8601. */
  now: string;
}

/** The open streams of a server. */
export class Streams {
  private readonly counts = new Map<string, number>();

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
    // Phones watch for it: a way that has gone without a word would never be noticed otherwise.
    const beat = setInterval(() => this.write(eventText('beat', {})), BEAT_MS);
    res.on('drain', () => this.caughtUp());
    res.once('close', () => {
      clearInterval(beat);
      if (this.stalled) clearTimeout(this.stalled);
    });
  }

  onEnd(done: () => void): void {
    this.res.once('close', done);
  }

  /** Ends it; the phone comes again by itself. */
  end(): void {
    this.res.destroy();
  }

  send(event: string, data: unknown): void {
    this.write(eventText(event, data));
  }

  /** Sends a message as it is, when the phone reads what it is sent. */
  write(message: string | Uint8Array): void {
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
