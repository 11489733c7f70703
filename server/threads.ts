import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rename, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { build } from 'esbuild';
import type { threadApi } from './thread-api.ts';
import { passErrorsOn } from './thread-errors.ts';

/** A thread in which an app runs. */
export interface Thread {
  api: Remote<typeof threadApi>;
  /** Ends it, whatever it is doing; resolves when nothing of it runs any more. */
  end(): Promise<void>;
  /** Calls back when it has ended by itself, with why. Gives the way to stop that. */
  onEnd(hear: (error: Error | null) => void): () => void;
}

/** Threads that wait for an app, so that the next one need not wait for a thread. */
const SPARE = 2;

let code: Promise<string> | null = null;
/** The file of the thread’s code, made of its sources once a process: threads begin ten times faster with it. */
const threadFile = (): Promise<string> => (code ??= bundle());

async function bundle(): Promise<string> {
  const root = join(dirname(fileURLToPath(import.meta.url)), '..');
  const built = await build({
    entryPoints: [join(root, 'server', 'app-thread.ts')],
    bundle: true,
    write: false,
    platform: 'node',
    format: 'cjs',
    target: 'node20',
    // Large, and wanted only where a workbook is written.
    external: ['exceljs'],
    logLevel: 'error',
  });
  const code = built.outputFiles[0]!.contents;
  const name = createHash('sha256').update(code).digest('hex').slice(0, 16);
  // Beside the packages, where it finds the one it does not have in it.
  const path = join(root, 'node_modules', '.cache', 'mellow-kite', `app-thread-${name}.cjs`);
  if (existsSync(path)) return path;
  await mkdir(dirname(path), { recursive: true });
  const part = `${path}.${process.pid}.part`;
  await writeFile(part, code);
  await rename(part, path);
  return path;
}

/** The threads of a server. */
export class Threads {
  private readonly spare: Thread[] = [];
  private closed = false;

  constructor(
    /** What one app may hold in memory, in MB. */
    private readonly memory: number,
  ) {
    passErrorsOn();
  }

  async take(): Promise<Thread> {
    return this.spare.pop() ?? this.begin();
  }

  /** Takes back a thread whose app has ended in order. */
  giveBack(thread: Thread): void {
    if (this.closed || this.spare.length >= SPARE) void thread.end();
    else this.spare.push(thread);
  }

  private async begin(): Promise<Thread> {
    const worker = new Worker(await threadFile(), {
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: this.memory },
    });
    // A server that is to end does not wait for its threads.
    worker.unref();
    let why: Error | null = null;
    const hearers = new Set<(error: Error | null) => void>();
    worker.on('error', (e) => (why = e));
    worker.once('exit', () => hearers.forEach((hear) => hear(why)));
    const thread: Thread = {
      api: wrap<typeof threadApi>(nodeEndpoint(worker)),
      end: async () => void (await worker.terminate()),
      onEnd(hear) {
        hearers.add(hear);
        return () => hearers.delete(hear);
      },
    };
    thread.onEnd(() => {
      const at = this.spare.indexOf(thread);
      if (at >= 0) this.spare.splice(at, 1);
    });
    return thread;
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all(this.spare.splice(0).map((t) => t.end()));
  }
}
