import { OfflineError } from '../core/host/link.ts';
import { OtherAppError } from './link.ts';

const RETRY_MS = [1000, 2000, 4000, 8000, 15_000];
/** The host lets itself be heard so often, in milliseconds. */
const BEAT_MS = 15_000;
/** The state of a stream that is over (`EventSource.CLOSED`; HTML standard, server-sent events). */
const CLOSED = 2;

/** What a device does on its way to the host. */
export interface Way {
  /** Takes a newer release, where there is one. */
  refresh(): Promise<void>;
  /** Sends what waits and fetches what is new. */
  sync(): Promise<void>;
  sendMail(): Promise<void>;
  /** Opens the stream of what happens, and says what comes of each event. */
  live(): { source: EventSource; events: Record<string, (data: unknown) => void> };
  report(online: boolean): void;
  say(words: string): void;
  /** Another app is at the address now. */
  giveWay(): Promise<void>;
}

/** The way of a device to its host: it is looked for again until it is there, and watched as long as it is. */
export class Connection {
  private tries = 0;
  private retry: ReturnType<typeof setTimeout> | null = null;
  private source: EventSource | null = null;
  private connecting: Promise<void> | null = null;
  /** Somebody asked while it was under way: it is done once more. */
  private more = false;
  /** When anything was heard on the stream. */
  private heardAt = 0;

  constructor(
    private readonly way: Way,
    /** What is here was fetched just now: there is no newer release to ask for. */
    private isFresh: boolean,
  ) {
    setInterval(() => this.watch(), BEAT_MS);
  }

  /** Sends, fetches and listens. When the host cannot be reached it is tried again, less and less often. */
  connect(): Promise<void> {
    this.more = this.connecting !== null;
    this.connecting ??= (async () => {
      try {
        do {
          this.more = false;
          await this.once();
        } while (this.more);
      } finally {
        this.connecting = null;
      }
    })();
    return this.connecting;
  }

  private async once(): Promise<void> {
    if (this.retry) clearTimeout(this.retry);
    this.retry = null;
    try {
      // While it listens it hears of a newer release by itself.
      if (!this.isListening && !this.isFresh) await this.way.refresh();
      this.isFresh = false;
      await this.way.sync();
      this.listen();
      await this.way.sendMail();
      this.tries = 0;
      this.way.report(true);
    } catch (e) {
      this.failed(e as Error);
    }
  }

  /** Takes what failed on the way: it is tried again, and said where the network is not to blame. */
  failed(e: Error): void {
    if (e instanceof OtherAppError) {
      void this.way.giveWay();
      return;
    }
    this.way.report(false);
    if (!(e instanceof OfflineError)) this.way.say(e.message);
    this.again();
  }

  /** Tries again in a while. */
  again(): void {
    this.retry ??= setTimeout(() => void this.connect(), RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)]);
  }

  private get isListening(): boolean {
    return this.source !== null && this.source.readyState !== CLOSED;
  }

  private listen(): void {
    if (this.isListening) return;
    const { source, events } = this.way.live();
    this.source = source;
    this.heardAt = Date.now();
    for (const event of ['beat', ...Object.keys(events)])
      source.addEventListener(event, (e) => {
        this.heardAt = Date.now();
        events[event]?.(JSON.parse((e as MessageEvent<string>).data));
      });
    source.addEventListener('error', () => {
      this.way.report(false);
      source.close();
      this.again();
    });
  }

  /** Listens anew, as somebody else. */
  listenAnew(): void {
    if (!this.isListening) return;
    this.close();
    this.listen();
  }

  close(): void {
    this.source?.close();
  }

  /** A stream on which nothing has come for a while has died without a word. */
  private watch(): void {
    if (!this.isListening || Date.now() - this.heardAt < 3 * BEAT_MS) return;
    this.close();
    this.way.report(false);
    void this.connect();
  }
}
