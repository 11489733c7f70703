import type { App } from '../app/schema.ts';
import { newRecordId } from '../host/device.ts';
import type { Records } from '../records/store.ts';
import { stepKinds } from '../routines/kinds.ts';
import { Machine } from '../routines/machine.ts';
import type { RunLine } from './lines.ts';
import type { LiveRun, RunsNow } from './live-run.ts';

interface ProgramsPorts {
  /** The newest release. */
  app(): App;
  records: Records;
  now(): number;
  /** Resolves when the lines are kept, and taken in. */
  keep(...lines: RunLine[]): Promise<void>;
}

/**
 * The routines by which runs go on: those of the newest release, or those of an earlier one, where the maker chose that
 * at a release. Tables, services and rules are always those of the newest.
 */
export class Programs {
  private readonly made = new Map<number | undefined, { app: App; machine: Machine }>();

  constructor(
    private readonly ports: ProgramsPorts,
    private readonly now: RunsNow,
  ) {}

  appOf(run: LiveRun): App {
    return this.of(run).app;
  }
  machineOf(run: LiveRun): Machine {
    return this.of(run).machine;
  }

  private of({ program }: LiveRun): { app: App; machine: Machine } {
    const known = this.made.get(program);
    if (known) return known;
    const { app, records, now } = this.ports;
    const earlier = program === undefined ? undefined : this.now.programs.get(program);
    const of = earlier ? { ...app(), routines: earlier.routines } : app();
    const made = { app: of, machine: new Machine(of, records, stepKinds, { now, newId: newRecordId }) };
    this.made.set(program, made);
    return made;
  }

  /** Before a newer release: runs that are under way go on with the routines that they go by now. */
  async stay(): Promise<void> {
    const { live, programs } = this.now;
    if (![...live.values()].some((r) => r.program === undefined)) return;
    const program = Math.max(this.ports.now(), ...Array.from(programs.keys(), (p) => p + 1));
    await this.ports.keep({ do: 'program', program, app: this.ports.app() }, { do: 'goes by', program });
  }

  /** With a newer release: all runs go on with its routines. */
  async move(): Promise<void> {
    if (this.now.programs.size) await this.ports.keep({ do: 'newest' });
  }

  /** A newer release has come. */
  changed(): void {
    this.made.clear();
  }
}
