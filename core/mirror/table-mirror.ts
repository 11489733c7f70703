import { tableOf } from '../tables/names.ts';
import type { App } from '../app/schema.ts';
import { readStamp } from '../host/clock.ts';
import { newRecordId } from '../host/device.ts';
import type { Host } from '../host/host.ts';
import type { MirrorSpec, MirrorStatus } from './state.ts';
import { areMany, Following, type KeptFollowing } from './following.ts';
import { mirrorStep, type Step } from './step.ts';
import type { TableFile } from '../formats/table-file.ts';
import { openTableFile } from '../formats/read.ts';
import { sameStamp, type SheetsPort, type Stamp } from './sheets.ts';

/** What is kept of a mirrored table between runs of its host. */
export interface KeptMirror extends KeptFollowing {
  spec: MirrorSpec;
  first: 'file' | 'app';
  /** The file's inode when both agreed, to find it again under another name. */
  inode: number | null;
}

/** Keeps one table and one sheet of one file in step. It looks when it is told to; {@link Mirrors} tells it. */
export class TableMirror extends Following<KeptMirror> {
  private seen: Stamp | null = null;
  /** The file as it was at the last look; it is read when it has not changed between two looks. */
  private looked: Stamp | null = null;
  private dirty = true;

  constructor(
    kept: KeptMirror,
    private readonly app: () => App,
    host: Host,
    private readonly folder: SheetsPort,
    protected readonly save: () => Promise<void>,
    tell: (status: MirrorStatus) => void,
    time: () => number,
  ) {
    const { table, file, sheet } = kept.spec;
    super(kept, table, host, tell, time, {
      file,
      sheet,
      from: 'file',
      words: 'Looking at the file for the first time.',
    });
  }

  /** Says that the table has changed in the app. */
  touched(): void {
    this.dirty = true;
  }

  /** Looks at both sides once. Calls wait for each other. */
  look(): Promise<void> {
    return this.inTurn(() => this.lookNow());
  }

  protected lookAgain(): Promise<void> {
    this.dirty = true;
    return this.look();
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
    if (areMany(step.removed, before) && !this.allowRemoval) {
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
    this.remember(step.conflicts);
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
}
