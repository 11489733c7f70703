import { every, type Clock } from '../document/time.ts';
import { OfflineError, OtherAppError } from '../host/link.ts';

/** How long it waits before it tries again, the first time, the second, and so on; in milliseconds. */
const RETRY_MS = [1000, 2000, 4000, 8000, 15_000];
/** The host lets itself be heard so often, in milliseconds. */
const BEAT_MS = 15_000;

/** What a phone does on its way to the host. */
export interface OnTheWay {
  /** Takes a newer release, where there is one. */
  refresh(): Promise<void>;
  /** Sends what waits and fetches what is new. */
  sync(): Promise<void>;
  sendMail(): Promise<void>;
  /** Begins to hear what happens at the host; `over` when that has ended by itself. Gives the way to end it. */
  listen(hear: (event: string, data: unknown) => void, over: () => void): () => void;
  heard(event: string, data: unknown): void;
  report(online: boolean): void;
  say(words: string): void;
  /** Another app is at the address now. */
  giveWay(): Promise<void>;
}

/** The way of a phone to its host: it is looked for again until it is there, and watched as long as it is. */
export class Way {
  private tries = 0;
  /** Ends the wait for the next try. */
  private retry: (() => void) | null = null;
  /** Ends the stream of what happens. */
  private ends: (() => void) | null = null;
  private connecting: Promise<Error | null> | null = null;
  /** Somebody asked while it was under way: it is done once more. */
  private more = false;
  /** When anything was heard on the stream. */
  private heardAt = 0;
  private readonly stopWatching: () => void;
  private closed = false;

  constructor(
    private readonly phone: OnTheWay,
    private readonly clock: Clock,
    /** What is here was fetched just now: there is no newer release to ask for. */
    private isFresh = false,
  ) {
    this.stopWatching = every(clock, BEAT_MS, () => this.watch());
  }

  /**
   * Sends, fetches and listens. When the host cannot be reached it is tried again, less and less often. Gives what went
   * wrong this time, or null.
   */
  connect(): Promise<Error | null> {
    if (this.closed) return Promise.resolve(null);
    this.more = this.connecting !== null;
    this.connecting ??= (async () => {
      try {
        let wrong: Error | null;
        do {
          this.more = false;
          wrong = await this.once();
        } while (this.more);
        return wrong;
      } finally {
        this.connecting = null;
      }
    })();
    return this.connecting;
  }

  private async once(): Promise<Error | null> {
    this.retry?.();
    this.retry = null;
    try {
      // While it listens it hears of a newer release by itself.
      if (!this.ends && !this.isFresh) await this.phone.refresh();
      this.isFresh = false;
      await this.phone.sync();
      this.listen();
      await this.phone.sendMail();
      this.tries = 0;
      this.phone.report(true);
      return null;
    } catch (e) {
      this.failed(e as Error);
      return e as Error;
    }
  }

  /** Takes what failed on the way: it is tried again, and said where the network is not to blame. */
  failed(e: Error): void {
    if (this.closed) return;
    if (e instanceof OtherAppError) {
      void this.phone.giveWay();
      return;
    }
    this.phone.report(false);
    if (!(e instanceof OfflineError)) this.phone.say(e.message);
    this.tryAgain();
  }

  /** Tries again in a while. */
  tryAgain(): void {
    if (this.closed) return;
    this.retry ??= this.clock.after(RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)]!, () => void this.connect());
  }

  private listen(): void {
    if (this.ends || this.closed) return;
    this.heardAt = this.clock.now();
    const end = this.phone.listen(
      (event, data) => {
        this.heardAt = this.clock.now();
        if (this.ends === end && event !== 'beat') this.phone.heard(event, data);
      },
      () => {
        if (this.ends !== end) return;
        this.ends = null;
        this.phone.report(false);
        this.tryAgain();
      },
    );
    this.ends = end;
  }

  /** Listens anew, as somebody else. */
  listenAnew(): void {
    if (!this.ends) return;
    this.deaf();
    this.listen();
  }

  private deaf(): void {
    const end = this.ends;
    this.ends = null;
    end?.();
  }

  /** Ends it for good. */
  close(): void {
    this.closed = true;
    this.deaf();
    this.retry?.();
    this.stopWatching();
  }

  /** A stream on which nothing has come for a while has died without a word. */
  private watch(): void {
    if (!this.ends || this.clock.now() - this.heardAt < 3 * BEAT_MS) return;
    this.deaf();
    this.phone.report(false);
    void this.connect();
  }
}
