import type { Clock } from '../document/time.ts';

interface Timer {
  at: number;
  /** Timers of one moment go off in the order they were set. */
  order: number;
  work(): void;
}

/** Something that is done again and again. */
interface Repeat {
  ms: number;
  at: number;
  /** It need not be done so often while much time passes. */
  isCoarse: boolean;
  work(): void;
}

/** More than this is much time, in milliseconds; what is coarse is done so often meanwhile. */
const MUCH_MS = 3_600_000;

/** Lets everything happen that needs no time to pass: promises, and what they lead to. One turn of the event loop. */
const turn = (): Promise<void> =>
  new Promise((resolve) => {
    // A program of Node.js ends while its ports are not waited for.
    if (turns.push(resolve) === 1) port1.ref?.();
    // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a port has no target origin
    port2.postMessage(0);
  });
const turns: (() => void)[] = [];
const { port1, port2 } = new MessageChannel() as { port1: MessagePort & Waited; port2: MessagePort };
interface Waited {
  ref?(): void;
  unref?(): void;
}
// oxlint-disable-next-line unicorn/prefer-add-event-listener -- it also starts the port
port1.onmessage = () => {
  const resolve = turns.shift();
  if (turns.length === 0) port1.unref?.();
  resolve?.();
};
port1.unref?.();

/** So many turns are given to what happens without time: an answer, what is made of it, and what that fetches. */
const TURNS = 3;

/**
 * A clock on which time passes only when it is told to. What is due happens in its order, with all that comes of it. What
 * is done again and again does not make time stop on its way: it is done once where time has stopped for something else,
 * and before that, so that weeks pass in a moment and nobody finds anything older than it would have been.
 */
export class VirtualClock implements Clock {
  private readonly timers: Timer[] = [];
  private readonly repeats = new Set<Repeat>();
  private count = 0;
  private leaps = false;

  constructor(private time: number) {}

  now(): number {
    return this.time;
  }

  after(ms: number, work: () => void): () => void {
    const timer: Timer = { at: this.time + Math.max(0, ms), order: this.count++, work };
    // Sorted, the next at the end.
    let low = 0;
    let high = this.timers.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      const t = this.timers[mid]!;
      if (t.at > timer.at || (t.at === timer.at && t.order > timer.order)) low = mid + 1;
      else high = mid;
    }
    this.timers.splice(low, 0, timer);
    return () => {
      const at = this.timers.indexOf(timer);
      if (at >= 0) this.timers.splice(at, 1);
    };
  }

  /** `isCoarse`: while much time passes an hour may lie between, as on a phone that nobody looks at. */
  every(ms: number, work: () => void, isCoarse = false): () => void {
    const repeat: Repeat = { ms, at: this.time + ms, isCoarse, work };
    this.repeats.add(repeat);
    return () => void this.repeats.delete(repeat);
  }

  /** Does something once after so many milliseconds, or later: time does not stop for it, as for what is done again. */
  idly(ms: number, work: () => void): () => void {
    const end = this.every(ms, () => {
      end();
      work();
    });
    return end;
  }

  /** When the next timer goes off; null when there is none. */
  get next(): number | null {
    return this.timers.at(-1)?.at ?? null;
  }

  /** Lets happen what needs no time. */
  async settle(): Promise<void> {
    for (let i = 0; i < TURNS; i++) await turn();
    await this.happen();
  }

  /** Does what is due now, with all that comes of it. */
  private async happen(): Promise<void> {
    for (;;) {
      let any = await this.repeat();
      while (this.next !== null && this.next <= this.time) {
        this.timers.pop()!.work();
        any = true;
        await turn();
      }
      if (!any) return;
      for (let i = 0; i < TURNS; i++) await turn();
    }
  }

  /** Does what is done again and again and is due, each with what comes of it. Was there any? */
  private async repeat(): Promise<boolean> {
    let any = false;
    for (const r of this.repeats) {
      if (r.at > this.time || (r.isCoarse && this.leaps && this.time < r.at - r.ms + MUCH_MS)) continue;
      r.at = this.time + r.ms;
      any = true;
      r.work();
      await turn();
    }
    return any;
  }

  /** Lets time pass, with all that happens in it. */
  async pass(ms: number): Promise<void> {
    const end = this.time + ms;
    await this.settle();
    this.leaps = ms > MUCH_MS;
    for (let next = this.next; next !== null && next <= end; next = this.next) {
      this.time = Math.max(this.time, next);
      await this.happen();
    }
    this.time = end;
    this.leaps = false;
    await this.settle();
  }
}
