import { newId } from '../document/ids.ts';
import { tableOf } from '../tables/names.ts';
import type { App } from '../app/schema.ts';
import type { Change, Draft } from '../records/change.ts';
import { HybridClock, readStamp } from '../host/clock.ts';
import { newRecordId } from '../host/device.ts';
import { OWNER } from '../access/access.ts';
import type { Host } from '../host/host.ts';
import type { BaseRow } from './merge.ts';
import type { MirrorConflict, MirrorSpec, MirrorStatus } from './state.ts';
import { mirrorStep, shownCell, type Step } from './step.ts';
import type { TableFile } from '../formats/table-file.ts';
import { openTableFile } from '../formats/read.ts';
import { completed } from '../records/begin.ts';
import { sameStamp, type SheetsPort, type Stamp } from './sheets.ts';

/** What is kept of a mirrored table between runs of its host. */
export interface KeptMirror {
  spec: MirrorSpec;
  first: 'file' | 'app';
  base: BaseRow[] | null;
  conflicts: MirrorConflict[];
  /** The file's inode when both agreed, to find it again under another name. */
  inode: number | null;
}

/** More rows than this, and more than a third of all, vanish only when a person says so. */
const MANY = 10;
const KEPT_CONFLICTS = 50;
const BATCH = 500;

/** Keeps one table and one sheet of one file in step. It looks when it is told to; {@link Mirrors} tells it. */
export class TableMirror {
  private seen: Stamp | null = null;
  /** The file as it was at the last look; it is read when it has not changed between two looks. */
  private looked: Stamp | null = null;
  private dirty = true;
  private allowRemoval = false;
  private working: Promise<void> = Promise.resolve();
  private readonly clock: HybridClock;
  private count = 0;
  private status: MirrorStatus;

  constructor(
    readonly kept: KeptMirror,
    private readonly app: () => App,
    private readonly host: Host,
    private readonly folder: SheetsPort,
    private readonly save: () => Promise<void>,
    private readonly tell: (status: MirrorStatus) => void,
    private readonly time: () => number,
  ) {
    this.clock = new HybridClock('mirror', time);
    const { table, file, sheet } = kept.spec;
    this.status = {
      table,
      file,
      sheet,
      state: 'in step',
      words: 'Looking at the file for the first time.',
      at: null,
      rows: 0,
      waiting: 0,
      conflicts: kept.conflicts,
      misfits: [],
      renamedTo: null,
    };
  }

  get now(): MirrorStatus {
    return this.status;
  }

  /** Says that the table has changed in the app. */
  touched(): void {
    this.dirty = true;
  }

  /** Looks at both sides once. Calls wait for each other. */
  look(): Promise<void> {
    this.working = this.working.then(() => this.lookNow()).catch((e: Error) => this.report('broken', e.message));
    return this.working;
  }

  private report(state: MirrorStatus['state'], words: string, more: Partial<MirrorStatus> = {}): void {
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

  private async lookNow(): Promise<void> {
    const { file: name } = this.kept.spec;
    const stamp = await this.folder.stamp(name);
    if (!stamp) return this.missing();
    const settled = sameStamp(stamp, this.looked);
    this.looked = stamp;
    // While a program writes, the file changes from look to look.
    if (!settled && !sameStamp(stamp, this.seen)) return;
    if (sameStamp(stamp, this.seen) && !this.dirty) return;
    let file: TableFile;
    let step: Step;
    try {
      file = await openTableFile(name, await this.folder.read(name));
      step = this.step(file, stamp.time);
    } catch (e) {
      this.report('broken', `${(e as Error).message} The app keeps what it has.`);
      return;
    }
    const before = this.kept.base?.length ?? 0;
    if (step.removed > MANY && step.removed * 3 > before && !this.allowRemoval) {
      this.report(
        'held',
        `${step.removed.toLocaleString('en-GB')} of ${before.toLocaleString('en-GB')} rows are gone from “${name}”. Nothing is removed from the app until you say so.`,
      );
      return;
    }
    this.allowRemoval = false;
    this.dirty = false;
    await this.take(file, step, stamp);
  }

  private step(file: TableFile, fileTime: number): Step {
    const table = tableOf(this.app(), this.kept.spec.table);
    if (!table) throw new Error('This table is not part of the released app any more.');
    return mirrorStep({
      records: this.host.replica.records,
      table,
      spec: this.kept.spec,
      file,
      base: this.kept.base,
      first: this.kept.first,
      fileTime,
      appTime: (record, field) => {
        const s = this.host.replica.state(record);
        return s ? readStamp(s.stamps?.[field] ?? s.stamp).ms : 0;
      },
      newId: newRecordId,
    });
  }

  /** First the app takes what the file says, then the file what the app says; what is agreed is kept last. */
  private async take(file: TableFile, step: Step, stamp: Stamp): Promise<void> {
    const { file: name } = this.kept.spec;
    const refused = await this.write(step.drafts);
    this.remember(step);
    let written = step.edits.length === 0;
    let words = '';
    if (!written) {
      if (await this.folder.isOpenElsewhere(name))
        words = `Another program has “${name}” open. Edits of the app wait until it is closed.`;
      else if (!sameStamp(await this.folder.stamp(name), stamp)) {
        this.dirty = true; // the file has just been changed again; it is looked at anew
        words = `“${name}” is being changed.`;
      } else {
        try {
          await this.folder.write(name, await file.write(step.sheet, step.edits));
          written = true;
        } catch (e) {
          words = `“${name}” cannot be written: ${(e as Error).message}`;
        }
      }
    }
    const after = (await this.folder.stamp(name)) ?? stamp;
    // What the host refused is no agreement: it is tried again when either side changes.
    this.kept.base = (written ? step.written : step.unwritten).filter(
      (r) => !refused.has(r.record) || this.knows(r.record),
    );
    this.kept.inode = after.inode;
    this.seen = after;
    this.looked = after;
    if (!written) this.dirty = true;
    await this.save();
    const misfits = [...step.misfits, ...new Set(refused.values())];
    this.report(written ? 'in step' : 'open', written ? '' : words, {
      at: new Date().toISOString(),
      rows: step.written.length,
      waiting: written ? 0 : step.edits.length,
      misfits,
    });
  }

  private knows(record: string): boolean {
    return this.host.replica.state(record) !== undefined;
  }

  /** Makes the changes on the host, as its owner. Gives the reasons of those it refused, by record. */
  private async write(drafts: readonly Draft[]): Promise<Map<string, string>> {
    const refused = new Map<string, string>();
    const full = completed(this.host.replica.records, drafts);
    for (let i = 0; i < full.length; i += BATCH) {
      const changes = full.slice(i, i + BATCH).map((d): Change => {
        const s = this.host.replica.state(d.record);
        for (const stamp of [s?.stamp, s?.removed, s?.restored, ...Object.values(s?.stamps ?? {})])
          if (stamp) this.clock.saw(stamp);
        return { ...d, id: `mirror:${this.time().toString(36)}:${this.count++}`, stamp: this.clock.next() };
      });
      const receipt = await this.host.accept(changes, OWNER);
      for (const r of receipt.refused) refused.set(r.record, r.reason);
    }
    return refused;
  }

  private remember(step: Step): void {
    const { records } = this.host.replica;
    const at = new Date().toISOString();
    const table = this.kept.spec.table;
    const fresh = step.conflicts.map((c): MirrorConflict => ({
      id: newId('c'),
      record: c.record,
      title: records.row(table, c.record)?.title() ?? 'A removed record',
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

  private async missing(): Promise<void> {
    const { file } = this.kept.spec;
    const renamedTo = this.kept.inode === null ? null : await this.folder.findByInode(this.kept.inode);
    this.looked = null;
    this.seen = null;
    if (renamedTo) this.report('renamed', `“${file}” is called “${renamedTo}” now.`, { renamedTo });
    else
      this.report('gone', `“${file}” is not in the sheets folder. The app keeps what it has and waits for the file.`);
  }

  /** Goes on with the file under its new name. */
  async follow(): Promise<void> {
    if (!this.status.renamedTo) return;
    await this.folder.claim(this.status.renamedTo);
    this.kept.spec.file = this.status.renamedTo;
    this.status = { ...this.status, file: this.status.renamedTo };
    await this.save();
    this.dirty = true;
    await this.look();
    await this.look();
  }

  /** Lets vanished rows take their records along, or writes them into the file again. */
  async settleHeld(take: 'remove' | 'write again'): Promise<void> {
    if (take === 'remove') this.allowRemoval = true;
    else if (this.kept.base) {
      // Forgetting what was agreed makes the records new to the file.
      const { file: name } = this.kept.spec;
      const file = await openTableFile(name, await this.folder.read(name));
      const gone = new Set(this.step(file, 0).drafts.flatMap((d) => (d.do === 'remove' ? [d.record] : [])));
      this.kept.base = this.kept.base.filter((r) => !gone.has(r.record));
    }
    this.dirty = true;
    await this.look();
  }

  /** Takes the value that the rule did not keep, or lets the matter rest. */
  async settle(id: string, take: 'other' | 'leave'): Promise<void> {
    const conflict = this.kept.conflicts.find((c) => c.id === id);
    this.kept.conflicts = this.kept.conflicts.filter((c) => c.id !== id);
    if (conflict && take === 'other') {
      const table = this.kept.spec.table;
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
      this.dirty = true;
    }
    await this.save();
    this.report(this.status.state, this.status.words);
    await this.look();
  }
}
