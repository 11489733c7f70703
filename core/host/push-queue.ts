import type { Who } from '../access/access.ts';
import type { Change } from '../records/change.ts';
import type { Receipt } from './protocol.ts';

/** Changes of one device that wait for their turn. */
export interface Push {
  changes: readonly Change[];
  who: Who;
  resolve(receipt: Receipt): void;
  reject(error: unknown): void;
}

/** Changes that are taken in one turn at most. */
const TURN = 10_000;
/** As short as a pause can be, a millisecond or so. */
const moment = (): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, 0);
  });

/** Pushes of devices, taken one turn after the other: those that come while one is being kept share the next. */
export class PushQueue {
  private readonly waiting: (Push | (() => Promise<void>))[] = [];
  private working = false;
  private closed: Error | null = null;

  /** `turn` takes pushes, and answers each. */
  constructor(private readonly turn: (pushes: readonly Push[]) => Promise<void>) {}

  push(changes: readonly Change[], who: Who): Promise<Receipt> {
    if (this.closed) return Promise.reject(this.closed);
    return new Promise((resolve, reject) => {
      this.waiting.push({ changes, who, resolve, reject });
      void this.work();
    });
  }

  /** Takes what waits, and nothing afterwards: `reason` is what it is refused with. */
  close(reason: Error): Promise<void> {
    this.closed = reason;
    return this.pause(async () => undefined);
  }

  /** Does something while no push is being taken. */
  pause<T>(work: () => Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      this.waiting.push(() => work().then(resolve, reject));
      void this.work();
    });
  }

  private async work(): Promise<void> {
    if (this.working) return;
    this.working = true;
    let last = 0;
    for (let next = this.waiting[0]; next; next = this.waiting[0]) {
      if (typeof next === 'function') await (this.waiting.shift() as typeof next)();
      else {
        // Those who were answered just now send their next; one flush for all of them is worth a moment.
        if (this.waiting.length * 2 < last) await moment();
        const turn = this.nextTurn();
        last = turn.length;
        await this.turn(turn);
      }
    }
    this.working = false;
  }

  private nextTurn(): Push[] {
    const turn: Push[] = [];
    let size = 0;
    for (let next = this.waiting[0]; next && typeof next !== 'function'; next = this.waiting[0]) {
      size += next.changes.length;
      if (turn.length && size > TURN) break;
      turn.push(next);
      this.waiting.shift();
    }
    return turn;
  }
}
