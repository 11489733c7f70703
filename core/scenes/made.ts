import type { Scene } from '../app/scene-schema.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';

type Made = Scene['made'][number];

/**
 * The records that a rehearsal has made so far: each by its table, the step after which it was there, and which of the new
 * ones it was then. By that it is found when the scene is played again and they have other ids.
 */
export class MadeRecords {
  private readonly known: Set<string>;
  private readonly made: Made[] = [];
  /** So much of the server’s log is looked at. */
  private looked = 0;

  constructor(
    private readonly room: Rehearsal,
    begins: readonly { id: string }[],
  ) {
    this.known = new Set(begins.map((s) => s.id));
  }

  /** Looks what is new since; that was made by the step before, or before the first. */
  look(at: string | null): void {
    const { kept } = this.room.world.log;
    for (; this.looked < kept.length; this.looked++) this.take(kept[this.looked]!, at);
    for (const { there } of Object.values(this.room.phones))
      for (const change of there.store.queue.values()) this.take(change, at);
  }

  private take({ table, record }: { table: string; record: string }, at: string | null): void {
    if (this.known.has(record)) return;
    this.known.add(record);
    const nth = this.made.filter((m) => m.table === table && m.at === at).length;
    this.made.push({ record, table, at, nth });
  }

  /** Those that a text names. */
  namedIn(text: string): Made[] {
    return this.made.filter((m) => text.includes(m.record));
  }

  /** The ids that the records of a scene have here, by those of its recording. */
  renamed(made: readonly Made[]): Record<string, string> {
    return Object.fromEntries(made.flatMap((m) => [[m.record, this.now(m) ?? m.record]]));
  }

  /** The id that a record of a scene has here; null where nothing was made in its place. */
  now({ table, at, nth }: Made): string | null {
    return this.made.find((m) => m.table === table && m.at === at && m.nth === nth)?.record ?? null;
  }
}

/** A step with the ids that the records of its scene have here. */
export function withIdsOfNow<T>(step: T, made: Scene['made'], here: MadeRecords): T {
  let text = JSON.stringify(step);
  const named = made.filter((m) => text.includes(m.record));
  if (named.length === 0) return step;
  for (const m of named) text = text.replaceAll(m.record, here.now(m) ?? m.record);
  return JSON.parse(text) as T;
}
