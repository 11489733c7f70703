import { z } from 'zod';
import type { TextPort } from '../document/kept-text.ts';
import { pause, type Clock } from '../document/time.ts';

/** A call of another system, as its maker looks at it. */
export const HookCallKept = z.object({
  id: z.string(),
  routine: z.string(),
  /** When it came, in milliseconds since 1970. */
  at: z.number(),
  /** What was sent; null where it was too long to be kept. */
  body: z.string().nullable(),
  bytes: z.number(),
  /** Why it was refused; empty where it was taken. */
  refused: z.string(),
});
export type HookCallKept = z.infer<typeof HookCallKept>;

/** So many calls of one routine are kept, and of each so many bytes at most. */
const MOST = 20;
const MOST_BYTES = 20_000;
/** They are written so long after the first that is not, together. */
const WRITE_MS = 1000;

/** The latest calls of other systems that showed who they are: what they sent, and whether it was taken. */
export class HookCalls {
  private calls: HookCallKept[] = [];
  private read: Promise<void> | null = null;
  private writing: Promise<void> | null = null;

  constructor(
    private readonly port: TextPort,
    private readonly clock: Clock,
  ) {}

  private opened(): Promise<void> {
    this.read ??= this.port
      .read()
      .then((text) => z.array(HookCallKept).parse(JSON.parse(text || '[]')))
      // They are kept to be looked at: without them all goes on.
      .catch(() => [])
      .then((calls) => void (this.calls = [...calls, ...this.calls]));
    return this.read;
  }

  async add(id: string, routine: string, body: Uint8Array, refused = ''): Promise<void> {
    await this.opened();
    // The same call come again is one.
    if (this.calls.some((c) => c.id === id)) return;
    const text = body.length > MOST_BYTES ? null : new TextDecoder().decode(body);
    this.calls.push({ id, routine, at: this.clock.now(), body: text, bytes: body.length, refused });
    const own = this.calls.filter((c) => c.routine === routine);
    if (own.length > MOST) this.calls.splice(this.calls.indexOf(own[0]!), 1);
    this.later();
  }

  /** The calls of a routine, the latest first. */
  async of(routine: string): Promise<HookCallKept[]> {
    await this.opened();
    return this.calls.filter((c) => c.routine === routine).reverse();
  }

  /** Lets go of calls in which something is. */
  async forget(holds: (text: string) => boolean): Promise<void> {
    await this.opened();
    this.calls = this.calls.filter((c) => !holds(c.body ?? ''));
    await this.write();
  }

  private later(): void {
    this.writing ??= pause(this.clock, WRITE_MS).then(() => {
      this.writing = null;
      return this.write().catch(() => undefined);
    });
  }
  private write(): Promise<void> {
    return this.port.write(JSON.stringify(this.calls));
  }

  async close(): Promise<void> {
    if (this.writing) await this.write().catch(() => undefined);
  }
}
