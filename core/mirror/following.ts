import { newId } from '../document/ids.ts';
import { HybridClock } from '../host/clock.ts';
import { OWNER } from '../access/access.ts';
import type { Host } from '../host/host.ts';
import { completed } from '../records/begin.ts';
import type { Change, Draft } from '../records/change.ts';
import type { Field } from '../tables/schema.ts';
import type { BaseRow, Conflict } from './merge.ts';
import type { MirrorConflict, MirrorStatus } from './state.ts';
import { shownCell } from './step.ts';

/** What is kept of a table that follows something outside, between runs of its host. */
export interface KeptFollowing {
  base: BaseRow[] | null;
  conflicts: MirrorConflict[];
}

/** More rows than this, and more than a third of all, vanish only when a person says so; so do all of more than two. */
const MANY = 10;
const FEW = 2;
const KEPT_CONFLICTS = 50;
const BATCH = 500;

/** The changes that are made by tables that follow something are known by how their ids begin. */
export const FOLLOWED = 'mirror:';

/** Do so many rows vanish that a person should say whether they are meant to? */
export const areMany = (removed: number, before: number): boolean =>
  (removed > MANY && removed * 3 > before) || (removed === before && removed > FEW);

/** A table of a released app that follows something outside of it: what both kinds of it have in common. */
export abstract class Following<K extends KeptFollowing> {
  protected allowRemoval = false;
  protected status: MirrorStatus;
  private working: Promise<void> = Promise.resolve();
  private readonly hybrid: HybridClock;
  private count = 0;

  constructor(
    readonly kept: K,
    protected readonly table: string,
    protected readonly host: Host,
    private readonly tell: (status: MirrorStatus) => void,
    protected readonly time: () => number,
    first: Pick<MirrorStatus, 'file' | 'sheet' | 'words' | 'from'>,
  ) {
    this.hybrid = new HybridClock('mirror', time);
    this.status = {
      ...first,
      table,
      state: 'in step',
      at: null,
      rows: 0,
      waiting: 0,
      conflicts: kept.conflicts,
      misfits: [],
      renamedTo: null,
      unsure: [],
    };
  }

  get now(): MirrorStatus {
    return this.status;
  }

  /** Does something when what was begun before is done; what goes wrong is told as the state of the table. */
  protected inTurn(work: () => Promise<void>): Promise<void> {
    this.working = this.working.then(work).catch((e: Error) => this.report('broken', e.message));
    return this.working;
  }

  /** Resolves when what was begun before is done. */
  settled(): Promise<void> {
    return this.inTurn(async () => {});
  }

  protected report(state: MirrorStatus['state'], words: string, more: Partial<MirrorStatus> = {}): void {
    const next: MirrorStatus = {
      ...this.status,
      renamedTo: null,
      ...more,
      state,
      words,
      conflicts: this.kept.conflicts,
    };
    const changed = JSON.stringify({ ...next, at: '' }) !== JSON.stringify({ ...this.status, at: '' });
    this.status = next;
    if (changed || more.at) this.tell(next);
  }

  protected knows(record: string): boolean {
    return this.host.replica.state(record) !== undefined;
  }

  /** Makes the changes on the host, as its owner. Gives the reasons of those it refused, by record. */
  protected async write(drafts: readonly Draft[]): Promise<Map<string, string>> {
    const refused = new Map<string, string>();
    const full = completed(this.host.replica.records, drafts);
    for (let i = 0; i < full.length; i += BATCH) {
      const changes = full.slice(i, i + BATCH).map((d): Change => {
        const s = this.host.replica.state(d.record);
        for (const stamp of [s?.stamp, s?.removed, s?.restored, ...Object.values(s?.stamps ?? {})])
          if (stamp) this.hybrid.saw(stamp);
        return { ...d, id: `${FOLLOWED}${this.time().toString(36)}:${this.count++}`, stamp: this.hybrid.next() };
      });
      const receipt = await this.host.accept(changes, OWNER);
      for (const r of receipt.refused) refused.set(r.record, r.reason);
    }
    return refused;
  }

  /** Keeps conflicts until a person has looked at them. */
  protected remember(conflicts: readonly (Conflict & { field: Field | null })[]): void {
    const { records } = this.host.replica;
    const at = new Date().toISOString();
    const fresh = conflicts.map((c): MirrorConflict => ({
      id: newId('c'),
      record: c.record,
      title: this.titleOf(c.record),
      field: c.field?.id ?? '',
      fieldName: c.field?.name ?? '',
      file: c.file,
      app: c.app,
      fileShown: c.field ? shownCell(records, c.field, c.file) : c.kept === 'file' ? 'changed' : 'removed',
      appShown: c.field ? shownCell(records, c.field, c.app) : c.kept === 'app' ? 'changed' : 'removed',
      kept: c.kept,
      at,
    }));
    if (fresh.length) this.kept.conflicts = [...fresh, ...this.kept.conflicts].slice(0, KEPT_CONFLICTS);
  }

  protected titleOf(record: string): string {
    return this.host.replica.records.row(this.table, record)?.title() ?? 'A removed record';
  }

  protected abstract save(): Promise<void>;
  /** Looks again, as what is kept here has changed. */
  protected abstract lookAgain(): Promise<void>;

  /** Takes the value that the rule did not keep, or lets the matter rest. */
  async settle(id: string, take: 'other' | 'leave'): Promise<void> {
    const conflict = this.kept.conflicts.find((c) => c.id === id);
    this.kept.conflicts = this.kept.conflicts.filter((c) => c.id !== id);
    if (conflict && take === 'other') {
      const { table } = this;
      if (conflict.field)
        await this.write([
          {
            do: 'set',
            table,
            record: conflict.record,
            cells: { [conflict.field]: conflict.kept === 'file' ? conflict.app : conflict.file },
          },
        ]);
      else await this.write([{ do: 'remove', table, record: conflict.record }]);
    }
    await this.save();
    this.report(this.status.state, this.status.words);
    await this.lookAgain();
  }
}
