import { z } from 'zod';
import type { TextPort } from '../document/kept-text.ts';
import { every, type Clock } from '../document/time.ts';
import { tableOf } from '../tables/names.ts';
import type { App } from '../app/schema.ts';
import type { Table } from '../tables/schema.ts';
import { draftTable } from '../formats/infer.ts';
import { formatNamed } from '../formats/formats.ts';
import { exportTable } from '../formats/exported.ts';
import { openTableFile } from '../formats/read.ts';
import { OWNER } from '../access/access.ts';
import type { Host } from '../host/host.ts';
import { MirrorConflictSchema, MirrorSpecSchema, type MirrorsMessage, type MirrorStatus } from './state.ts';
import { mirrorColumns } from './step.ts';
import { isWritable } from '../records/cells.ts';
import { Refused } from '../document/refused.ts';
import { isFileName, notThere, type SheetsPort } from './sheets.ts';
import { TableMirror, type KeptMirror } from './table-mirror.ts';

const Cell = z.union([z.string(), z.number(), z.boolean(), z.null()]);
const KeptFile = z.array(
  z.object({
    spec: MirrorSpecSchema,
    first: z.enum(['file', 'app']),
    base: z.array(z.object({ record: z.string(), texts: z.array(z.string()), cells: z.array(Cell) })).nullable(),
    conflicts: z.array(MirrorConflictSchema),
    inode: z.number().nullable(),
  }),
);

export interface MirrorRequest {
  file: string;
  sheet: string | null;
  /** Whose value stands where both have one the first time. */
  first: 'file' | 'app';
  /** Makes the file from the table. */
  create: boolean;
}

const EVERY_MS = 400;
/** What is typed in this time is written together. */
const TOGETHER_MS = 250;

/** The mirrored tables of one released app. Files are looked at twice a second, changes of the app at once. */
export class Mirrors {
  private mirrors: TableMirror[] = [];
  /** Ends to look at files again and again; null while it does not. */
  private unwatch: (() => void) | null = null;
  /** Ends to wait for more that is written together. */
  private soon: (() => void) | null = null;
  private readonly listeners = new Set<(status: MirrorStatus | { table: string; stopped: true }) => void>();
  private stopListening: () => void = () => {};
  private saving: Promise<void> = Promise.resolve();

  constructor(
    private readonly text: TextPort,
    private readonly app: () => App,
    private readonly host: Host,
    private readonly folder: SheetsPort,
    private readonly clock: Clock,
  ) {}

  async start(): Promise<void> {
    const text = await this.text.read();
    const kept: KeptMirror[] = text ? KeptFile.parse(JSON.parse(text)) : [];
    this.mirrors = kept.map((k) => this.make(k));
    // Mirrored before files had owners.
    for (const k of kept) await this.folder.claim(k.spec.file).catch(() => undefined);
    this.stopListening = this.host.subscribe(OWNER, (news) => {
      const tables = new Set(news.changes.map((c) => c.table));
      let any = false;
      for (const m of this.mirrors)
        if (tables.has(m.kept.spec.table)) {
          m.touched();
          any = true;
        }
      // Typing makes many changes; they are written together.
      if (any && !this.soon)
        this.soon = this.clock.after(TOGETHER_MS, () => {
          this.soon = null;
          void this.look();
        });
    });
    this.watch();
  }

  private watch(): void {
    if (this.unwatch || this.mirrors.length === 0) return;
    this.unwatch = every(this.clock, EVERY_MS, () => void this.look());
  }

  private make(kept: KeptMirror): TableMirror {
    return new TableMirror(
      kept,
      this.app,
      this.host,
      this.folder,
      () => this.save(),
      (status) => {
        for (const l of this.listeners) l(status);
      },
      () => this.clock.now(),
    );
  }

  private async look(): Promise<void> {
    await Promise.all(this.mirrors.map((m) => m.look()));
  }

  private save(): Promise<void> {
    // One save that failed does not keep the next from being tried.
    this.saving = this.saving
      .catch(() => undefined)
      .then(() => this.text.write(JSON.stringify(this.mirrors.map((m) => m.kept))));
    return this.saving;
  }

  /** Is there a table that follows a file? */
  get any(): boolean {
    return this.mirrors.length > 0;
  }

  subscribe(listener: (status: MirrorStatus | { table: string; stopped: true }) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async state(): Promise<MirrorsMessage> {
    return {
      files: await this.folder.list(),
      mirrors: this.mirrors.map((m) => m.now),
    };
  }

  /** Begins to mirror a table, in a file that is there or in a new one made from it. */
  async add(tableId: string, request: MirrorRequest): Promise<MirrorStatus> {
    const table = tableOf(this.app(), tableId);
    if (!table) throw new Refused(404, 'This table is not part of the released app. Release the app, then mirror it.');
    const { file } = request;
    if (!isFileName(file)) throw new Refused(422, `“${file}” is no name of a CSV or XLSX file.`);
    if (request.create) await this.create(table, file);
    const columns = await this.columns(table, file, request.sheet);
    const taken = this.mirrors.find((m) => m.kept.spec.file === file && m.kept.spec.sheet === columns.sheet);
    if (taken && taken.kept.spec.table !== tableId)
      throw new Refused(
        409,
        `“${file}” is mirrored by ${tableOf(this.app(), taken.kept.spec.table)?.name ?? 'another table'} already.`,
      );
    await this.folder.claim(file);
    const mirror = this.make({
      spec: { table: tableId, file, ...columns },
      first: request.first,
      base: null,
      conflicts: [],
      inode: null,
    });
    this.mirrors = [...this.mirrors.filter((m) => m.kept.spec.table !== tableId), mirror];
    await this.save();
    // A file is read when it stood still between two looks.
    await mirror.look();
    await mirror.look();
    this.watch();
    return mirror.now;
  }

  private async create(table: Table, file: string): Promise<void> {
    const whole = exportTable(this.host.replica.records, table.id);
    const keep = whole.fields.map((f) => isWritable(f));
    const part = {
      ...whole,
      isBare: true as const,
      fields: whole.fields.filter((_, i) => keep[i]),
      rows: whole.rows.map((r) => r.filter((_, i) => keep[i])),
    };
    await this.folder.create(file, () => formatNamed(file)!.write(part));
  }

  private async columns(
    table: Table,
    name: string,
    sheetName: string | null,
  ): Promise<{ sheet: string; columns: { name: string; field: string }[] }> {
    if (!(await this.folder.stamp(name))) throw new Refused(404, notThere(name));
    const file = await openTableFile(name, await this.folder.read(name));
    const sheet = file.sheets.find((s) => s.name === sheetName) ?? file.sheets[0]!;
    const columns = mirrorColumns(table, draftTable(sheet, undefined, { asItIs: true }));
    if (columns.length === 0)
      throw new Refused(
        422,
        `No column of “${name}” is called like a field of ${table.name}. Rename the columns or the fields so that they are.`,
      );
    return { sheet: sheet.name, columns };
  }

  async stop(tableId: string): Promise<void> {
    this.mirrors = this.mirrors.filter((m) => m.kept.spec.table !== tableId);
    await this.save();
    for (const l of this.listeners) l({ table: tableId, stopped: true });
  }

  get(tableId: string): TableMirror {
    const mirror = this.mirrors.find((m) => m.kept.spec.table === tableId);
    if (!mirror) throw new Refused(404, 'This table is not mirrored.');
    return mirror;
  }

  async close(): Promise<void> {
    this.unwatch?.();
    this.soon?.();
    this.unwatch = null;
    this.stopListening();
    this.listeners.clear();
    await Promise.all(this.mirrors.map((m) => m.look())).catch(() => undefined);
    await this.saving;
  }
}
