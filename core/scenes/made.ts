import type { Scene } from '../app/scene-schema.ts';
import type { Change } from '../records/change.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';

type Made = Scene['made'][number];
/** As much of a change as says of which record it is. */
type Kept = Pick<Change, 'table' | 'record'>;

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
    private readonly room: Pick<Rehearsal, 'phones'> & { world: { log: { kept: readonly Kept[] } } },
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

  private take({ table, record }: Kept, at: string | null): void {
    if (this.known.has(record)) return;
    this.known.add(record);
    const nth = this.made.filter((m) => m.table === table && m.at === at).length;
    this.made.push({ record, table, at, nth });
  }

  /** Those that a text names. */
  namedIn(text: string): Made[] {
    return this.made.filter((m) => text.includes(m.record));
  }

  /** The ids that the records of a scene have here, by those of its recording; those that are not there yet are left out. */
  others(made: readonly Made[]): Map<string, string> {
    return new Map(
      made.flatMap((m) => {
        const now = this.now(m);
        return now === null ? [] : [[m.record, now] as const];
      }),
    );
  }

  /** The id that a record of a scene has here; null where nothing was made in its place. */
  private now({ table, at, nth }: Made): string | null {
    return this.made.find((m) => m.table === table && m.at === at && m.nth === nth)?.record ?? null;
  }
}

/** A value of a document with every text in it put through a function; what names its parts stays. */
export function withTexts<T>(value: T, change: (text: string) => string): T {
  if (typeof value === 'string') return change(value) as T;
  if (Array.isArray(value)) return value.map((v: unknown) => withTexts(v, change)) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([name, v]) => [name, withTexts<unknown>(v, change)])) as T;
}

/** A step with other texts in place of some, such as ids and addresses that are others each time. */
export const withOthers = <T>(step: T, others: ReadonlyMap<string, string>): T =>
  others.size === 0
    ? step
    : withTexts(step, (text) => {
        let now = text;
        for (const [was, is] of others) if (now.includes(was)) now = now.replaceAll(was, () => is);
        return now;
      });
