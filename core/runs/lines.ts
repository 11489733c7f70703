import { z } from 'zod';
import type { App } from '../app/schema.ts';
import type { KeptValue } from '../records/kept-value.ts';
import { InTurn } from '../document/in-turn.ts';
import type { LeanRun } from './lean-run.ts';
import type { StepTrace } from '../routines/state.ts';

/** What is kept of the runs of a host: one line of JSON each, in the order in which it happened. */

const Given = z.object({ table: z.string(), record: z.string() }).nullable();
const StartSchema = z.object({
  id: z.string().max(60),
  routine: z.string(),
  given: Given,
  values: z.custom<Record<string, KeptValue>>((v) => typeof v === 'object' && v !== null && !Array.isArray(v)),
  said: z.string(),
  path: z.array(z.string()),
  cut: z.string().optional(),
});
const Steps = z.custom<StepTrace[]>((v) => Array.isArray(v)).default([]);
/** As JSON where it was read. */
const Kept = z.custom<LeanRun | string>(
  (v) => typeof v === 'string' || (typeof v === 'object' && v !== null && 'state' in v && 'ask' in v && 'trace' in v),
);

export const RunLine = z.discriminatedUnion('do', [
  /** A run is to begin. */
  z.object({ do: z.literal('begins'), at: z.number(), start: StartSchema }),
  /** It stands before an ask: enough to go on from, and the steps it took since it was kept last. */
  z.object({ do: z.literal('kept'), id: z.string(), run: Kept, steps: Steps }),
  /** Steps that it took before. */
  z.object({ do: z.literal('steps'), id: z.string(), steps: Steps }),
  /** It is to go on at a time, after a failure. */
  z.object({ do: z.literal('again'), id: z.string(), tries: z.number(), at: z.number(), error: z.string() }),
  /** It has ended; with `error` it failed for good, and can be gone on with. */
  z.object({
    do: z.literal('ended'),
    id: z.string(),
    at: z.number(),
    ms: z.number(),
    error: z.string().optional(),
    steps: Steps,
  }),
  /** The question that it waits with was answered: what, and by whom. */
  z.object({
    do: z.literal('answered'),
    id: z.string(),
    value: z.string(),
    by: z.string(),
  }),
  /** A mail that it sent did not arrive, and why. */
  z.object({ do: z.literal('returned'), id: z.string(), words: z.string() }),
  /** One that failed is gone on with, or let go of. */
  z.object({ do: z.literal('goes on'), id: z.string() }),
  z.object({ do: z.literal('dropped'), id: z.string(), at: z.number() }),
  /**
   * All that happened up to here has started what it starts: the number of the last change, and the time. `triggers` is
   * the same as long as the same is looked for.
   */
  z.object({ do: z.literal('seen'), at: z.number(), time: z.number(), triggers: z.string() }),
  /** What runs used by quarters of an hour since 1970, in place of what lines before it say of that: runs, milliseconds. */
  z.object({ do: z.literal('used'), quarters: z.array(z.tuple([z.number(), z.number(), z.number()])) }),
  /** An earlier release, with whose routines some runs go on. */
  z.object({
    do: z.literal('program'),
    program: z.number(),
    app: z.custom<App>((v) => typeof v === 'object' && v !== null),
  }),
  /** Runs go on with the routines of that release: these, or all under way that have none yet. */
  z.object({ do: z.literal('goes by'), program: z.number(), runs: z.array(z.string()).optional() }),
  /** All runs go on with the routines of the newest release. */
  z.object({ do: z.literal('newest') }),
  /** Runs of a routine, or of all (empty), are held up or go on. */
  z.object({ do: z.literal('paused'), routine: z.string(), on: z.boolean() }),
]);
export type RunLine = z.infer<typeof RunLine>;

/** Where lines are kept. A promise that resolves means: still there after a power cut. */
export interface RunsPort {
  /** All of them, in their order. */
  read(): AsyncIterable<string>;
  /** The same, many at once, which takes less time where there are hundreds of thousands. */
  parts(): AsyncIterable<readonly string[]>;
  append(lines: readonly string[]): Promise<void>;
  /** Puts these in place of all. Nothing is appended meanwhile. */
  rewrite(lines: AsyncIterable<string>): Promise<void>;
  /** Bytes of all. */
  readonly size: number;
}

/** Lines in memory. */
export class MemoryRuns implements RunsPort {
  constructor(public lines: string[] = []) {}

  async *read(): AsyncIterable<string> {
    yield* this.lines;
  }
  async *parts(): AsyncIterable<readonly string[]> {
    yield this.lines;
  }
  async append(lines: readonly string[]): Promise<void> {
    this.lines.push(...lines);
  }
  async rewrite(lines: AsyncIterable<string>): Promise<void> {
    const all: string[] = [];
    for await (const line of lines) all.push(line);
    this.lines = all;
  }
  get size(): number {
    return this.lines.reduce((n, l) => n + l.length + 1, 0);
  }
}

/** Appends lines in groups: what comes while others are on their way goes along with the next. */
export class GroupedLines {
  private pending: string[] = [];
  private next: Promise<void> | null = null;
  private readonly turns = new InTurn();

  constructor(private readonly port: RunsPort) {}

  /** Resolves when the lines are kept. Rejects when they cannot be. */
  append(lines: readonly RunLine[]): Promise<void> {
    for (const l of lines) this.pending.push(JSON.stringify(l));
    this.next ??= this.inTurn(async () => {
      const group = this.pending;
      this.pending = [];
      this.next = null;
      await this.port.append(group);
    });
    return this.next;
  }

  /** Does something while nothing is appended. */
  inTurn<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.next(work);
  }
}
