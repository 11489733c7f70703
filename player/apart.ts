import { wrap, type Remote } from 'comlink';
import { InTurn } from '../core/document/in-turn.ts';
import type { Apart } from './apart-worker.ts';

/** Work was ended because it took longer than it may. */
export class TookTooLong extends Error {
  override name = 'TookTooLong';
}

/** So long what does the work may take to be fetched, and rests before it is let go of, in milliseconds. */
const FETCH_MS = 60_000;
const REST_MS = 30_000;

const NOT_HERE = 'What does this cannot be fetched now.';

let thread: { worker: Worker; remote: Remote<Apart>; broken: Promise<never> } | null = null;
let rest: ReturnType<typeof setTimeout> | undefined;
const turns = new InTurn();

function letGo(): void {
  thread?.worker.terminate();
  thread = null;
}

/** What is promised, or the error when it has not come after so many milliseconds; nobody works on it then. */
async function within<T>(promised: PromiseLike<T>, ms: number, late: Error): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const over = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      letGo();
      reject(late);
    }, ms);
  });
  return Promise.race([promised, over]).finally(() => clearTimeout(timer));
}

/**
 * Does work on what people wrote in a thread of its own, which is ended when it takes more than `limit` milliseconds:
 * the page answers all the while. Rejects with {@link TookTooLong} then, and in words when the work fails.
 */
export function apart<T>(work: (there: Remote<Apart>) => Promise<T>, limit: number): Promise<T> {
  return turns.next(async () => {
    clearTimeout(rest);
    if (!thread) {
      const worker = new Worker(new URL('./apart-worker.ts', import.meta.url), { type: 'module' });
      const broken = new Promise<never>((_, reject) => {
        worker.addEventListener('error', () => {
          letGo();
          reject(new Error(NOT_HERE));
        });
      });
      broken.catch(() => undefined); // told to whoever waits
      thread = { worker, remote: wrap<Apart>(worker), broken };
    }
    const { remote, broken } = thread;
    try {
      await within(Promise.race([remote.isHere(), broken]), FETCH_MS, new Error(NOT_HERE));
      const done = Promise.race([work(remote), broken]);
      return await within(done, limit, new TookTooLong('This takes too long and was stopped.'));
    } finally {
      rest = setTimeout(letGo, REST_MS);
    }
  });
}
