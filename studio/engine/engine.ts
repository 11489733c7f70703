import { expose } from 'comlink';
import type { App, Query, Table, Tap } from '../../core/app/schema.ts';
import { compose } from '../../core/formats/eml.ts';
import { exportTable, toCsv, toXlsx } from '../../core/formats/tables.ts';
import { recordsOf, type Bundle } from '../../core/app/bundle.ts';
import { typeText } from '../../core/formula/types.ts';
import { compile } from '../../core/formula/compile.ts';
import type { Problem } from '../../core/formula/ast.ts';
import type { Value } from '../../core/formula/values.ts';
import { toStored } from '../../core/formula/stored.ts';
import type { Draft } from '../../core/host/change.ts';
import { Device, newDeviceId, runOf } from '../../core/host/device.ts';
import { isRemoved, Replica } from '../../core/host/replica.ts';
import { checkCell, type Cell } from '../../core/records/cells.ts';
import { display } from '../../core/records/format.ts';
import { compileQuery, type CompiledQuery } from '../../core/records/query.ts';
import { Row } from '../../core/records/row.ts';
import { Records } from '../../core/records/store.ts';
import { uniqueProblem } from '../../core/records/unique.ts';
import { fieldOfPath } from '../../core/records/template.ts';
import { thingsGiven, type DrawOptions } from '../../core/screens/draw.ts';
import type { ScopeRef } from '../../core/screens/drawn.ts';
import { Session, type Happened, type Outgoing } from '../../core/session/session.ts';
import { thingsInRoutine } from '../../core/routines/run.ts';
import type { PlayerApi } from '../../player/api.ts';
import { DeviceDb } from '../../player/storage.ts';
import { Importing, type ImportChange, type ImportPreview } from './importing.ts';
import { HostConnection, type HostPlace } from './host-connection.ts';

export type EngineEvent =
  | { kind: 'changed'; tables: string[] }
  | { kind: 'happened'; what: Happened }
  | { kind: 'host'; online: boolean; waiting: number }
  | { kind: 'failed'; words: string };

/** A cell as the grid shows it. */
export interface GridCell {
  shown: string;
  raw: Cell;
  /** Records the cell links to. */
  links?: { id: string; title: string }[];
}
export interface GridPage {
  total: number;
  all: number;
  from: number;
  rows: { id: string; cells: GridCell[] }[];
}
export interface FormulaTrial {
  stored: string;
  type: string;
  problems: Problem[];
  samples: { title: string; value: string }[];
  ms: number;
}

/** Where a formula stands: on a table's record, on a screen, or in a routine. */
export interface FormulaPlace {
  self: string | null;
  given: string | null;
  routine?: string | undefined;
  /** Tables whose row is at hand inside a list. */
  rowOf?: string | null;
}

/** The studio's side of one app, in a worker: records, formulas, what the phone shows, and the way to its host. */
export class StudioEngine implements PlayerApi {
  private app!: App;
  private db!: DeviceDb;
  private records!: Records;
  private replica!: Replica;
  private device!: Device;
  private session!: Session;
  private tell: (e: EngineEvent) => void = () => {};
  private host!: HostConnection;
  private asked: { key: string; app: App; query: CompiledQuery } | null = null;

  async open(app: App, database: string, host: HostPlace | null, tell: (e: EngineEvent) => void): Promise<void> {
    this.app = app;
    this.tell = tell;
    this.db = new DeviceDb(database);
    this.records = new Records(app);
    this.replica = new Replica(this.records);
    const [states, queue, at, kept] = await Promise.all([
      this.db.states.toArray(),
      this.db.queued(),
      this.db.get<number>('at'),
      this.db.get<string>('device'),
    ]);
    this.replica.load(states);
    const id = kept ?? newDeviceId();
    if (!kept) await this.db.put('device', id);
    this.device = new Device(runOf(id), this.replica, this.db, null, queue, at ?? 0);
    this.device.onRefused = (list) => {
      for (const r of list)
        this.tell({
          kind: 'happened',
          what: {
            said: `The host refused a change: ${r.reason}`,
            tone: 'bad',
            about: { table: r.change.table, record: r.change.record },
          },
        });
    };
    this.session = new Session(app, this.records, {
      device: this.device,
      mail: (m) => this.keepMail(m),
      happened: (what) => this.tell({ kind: 'happened', what }),
    });
    this.records.subscribe((tables) => this.tell({ kind: 'changed', tables: [...tables] }));
    setInterval(() => this.records.tick(), 60_000);
    this.host = new HostConnection(this.device, (e) => this.tell(e));
    if (host) this.host.join(host);
  }

  setApp(app: App): void {
    this.app = app;
    this.session.setApp(app);
  }

  // The phone

  async draw(screen: string, options: DrawOptions) {
    return this.session.draw(screen, options);
  }
  async tap(tap: Tap, scope: ScopeRef[]) {
    const effects = await this.session.tap(tap, scope);
    this.host.sendSoon();
    return effects;
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>) {
    const answer = await this.session.saveForm(table, record, values);
    this.host.sendSoon();
    return answer;
  }
  async choices(table: string, search: string) {
    return this.session.choices(table, search);
  }
  async runRoutine(id: string) {
    const routine = this.app.routines.find((r) => r.id === id);
    if (!routine) return null;
    const sample = routine.given ? (this.records.rows(routine.given)[0]?.id ?? null) : null;
    const ran = await this.session.runNow(routine, sample);
    this.host.sendSoon();
    return ran.trace;
  }

  // The outbox of this browser: a stand-in that composes real messages and sends none

  private async keepMail(m: Outgoing): Promise<void> {
    const at = new Date();
    const eml = compose({ ...m, from: { name: this.app.name, address: 'app@mellow-kite.example' }, date: at });
    await this.db.outbox.put({ ...m, at: at.toISOString(), sent: 1, eml });
  }
  outbox() {
    return this.db.outbox.orderBy('at').reverse().limit(100).toArray();
  }

  // Data

  page(
    table: string,
    options: { from: number; count: number; order?: { by: string; descending: boolean } | null; search?: string },
  ): GridPage {
    const query: Query = {
      table,
      where: { match: 'all', conditions: [] },
      order: options.order ? [options.order] : [],
      limit: null,
    };
    const key = JSON.stringify(query);
    // Scrolling asks the same question again and again; the query remembers its answer.
    if (this.asked?.key !== key || this.asked.app !== this.app)
      this.asked = { key, app: this.app, query: compileQuery(this.records, query, []) };
    const { total, rows } = this.asked.query.part([], options.from, options.count, options.search);
    return { total, all: this.records.rows(table).length, from: options.from, rows: rows.map((r) => this.gridRow(r)) };
  }

  private gridRow(row: Row): GridPage['rows'][number] {
    const { model } = row.store;
    return {
      id: row.id,
      cells: model.table.fields.map((f, i) => {
        const value = model.members[i]!.get(row);
        const links = f.link
          ? [value].flat().flatMap((v) => (v instanceof Row ? [{ id: v.id, title: v.title() }] : []))
          : undefined;
        const field = f.type === 'formula' ? this.formatOf(row.tableId, f.id) : f;
        const shown =
          f.type === 'picture' && typeof value === 'string' && value.startsWith('file:')
            ? (this.app.files.find((x) => x.id === value.slice(5))?.name ?? value)
            : display(value, field);
        return { shown, raw: row.cells[f.id] ?? null, ...(links && { links }) };
      }),
    };
  }

  /** A formula that only brings a field over shows it in that field's format. */
  private formatOf(table: string, id: string) {
    const field = this.records.model.tables.get(table)!.fields.get(id)!;
    return field.unit
      ? field
      : fieldOfPath(this.records.model, this.records.model.formula(table, field).references, field.formula ?? '');
  }

  counts(): Record<string, number> {
    return Object.fromEntries(this.app.tables.map((t) => [t.id, this.records.rows(t.id).length]));
  }

  record(table: string, id: string): GridPage['rows'][number] | null {
    const row = this.records.row(table, id);
    return row ? this.gridRow(row) : null;
  }

  /** A record as a page: its cells, and what is linked to it from other tables. */
  recordPage(table: string, id: string) {
    const row = this.records.row(table, id);
    if (!row) return null;
    const back = row.store.model.links
      .filter((l) => l.back)
      .map((l) => {
        const there = row.followAll(l).filter((r): r is Row => r instanceof Row);
        return {
          id: l.id,
          name: l.name,
          table: l.target,
          total: there.length,
          items: there.slice(0, 12).map((r) => ({ id: r.id, title: r.title() })),
        };
      });
    return { title: row.title(), row: this.gridRow(row), back };
  }

  /** For every link: records with a value to go by, those that lead somewhere, and some values that lead nowhere. */
  linkFigures(): Record<string, { of: number; found: number; lost: string[] }> {
    const out: Record<string, { of: number; found: number; lost: string[] }> = {};
    for (const model of this.records.model.tables.values()) {
      for (const end of model.links) {
        if (end.back) continue;
        const source = end.field.link!.kind === 'matched' ? end.field.link!.from! : end.field.id;
        const lost = new Set<string>();
        let of = 0;
        let found = 0;
        for (const row of this.records.rows(model.table.id)) {
          const cell = row.cells[source] ?? null;
          if (cell === null || cell === '') continue;
          of++;
          if (row.follow(end)) found++;
          else if (lost.size < 20) lost.add(String(cell));
        }
        out[end.field.id] = { of, found, lost: [...lost] };
      }
    }
    return out;
  }

  /** Makes changes and gives back those that would undo them. */
  async edit(drafts: Draft[]): Promise<Draft[]> {
    for (const d of drafts) {
      if (d.do !== 'set') continue;
      const table = this.app.tables.find((t) => t.id === d.table);
      const wrong =
        table?.fields.flatMap((f) =>
          f.id in d.cells && (f.least !== undefined || f.most !== undefined) ? (checkCell(f, d.cells[f.id]) ?? []) : [],
        )[0] ?? uniqueProblem(this.records, d.table, d.record, d.cells)?.said;
      if (wrong) throw new Error(wrong);
    }
    const inverse: Draft[] = [];
    for (const d of drafts) {
      const state = this.replica.state(d.record);
      const live = state && !isRemoved(state);
      if (d.do === 'set' && live)
        inverse.push({ ...d, cells: Object.fromEntries(Object.keys(d.cells).map((f) => [f, state.cells[f] ?? null])) });
      else if (d.do === 'set' || d.do === 'restore') inverse.push({ do: 'remove', table: d.table, record: d.record });
      else inverse.push({ do: 'restore', table: d.table, record: d.record });
    }
    await this.device.write(drafts);
    this.host.sendSoon();
    return inverse.reverse();
  }

  /** All values of a field that are not empty, for judging a change of type. */
  column(table: string, field: string): { id: string; cell: Cell }[] {
    return this.records.rows(table).flatMap((r) => {
      const cell = r.cells[field] ?? null;
      return cell === null ? [] : [{ id: r.id, cell }];
    });
  }

  bring(records: { table: string; id: string; cells: Record<string, Cell> }[], progress: (kept: number) => void) {
    return this.device.bring(records, progress);
  }

  // Bringing a file into a table that is there

  private readonly importing = new Importing();

  readImport(table: string, file: string, bytes: Uint8Array | null, size: number): Promise<ImportPreview> {
    return this.importing.read(this.tableOf(table), this.records.rows(table), file, bytes, size);
  }
  planImport(table: string, change: ImportChange): ImportPreview {
    return this.importing.change(this.tableOf(table), this.records.rows(table), change);
  }
  importDrafts(): Draft[] {
    return this.importing.drafts();
  }
  private tableOf(id: string): Table {
    return this.app.tables.find((t) => t.id === id)!;
  }

  // Formulas

  private things(place: FormulaPlace) {
    const routine = place.routine ? this.app.routines.find((r) => r.id === place.routine) : undefined;
    const things = routine ? thingsInRoutine(this.records, routine) : thingsGiven(this.records, place.given);
    const row = place.rowOf ? thingsGiven(this.records, place.rowOf) : [];
    return [...things.filter((t) => t.id !== row[0]?.id), ...row];
  }

  /** Sample values for the things at hand: the first record of each table. */
  private sampleFrame(place: FormulaPlace, self: Row | null): Value[] {
    return [
      this.records.runtime as unknown as Value,
      self,
      ...this.things(place).map((t) => (t.type.k === 'record' ? (this.records.rows(t.type.table)[0] ?? null) : null)),
    ];
  }

  /** Compiles shown text where it stands, and works it out for the first records. */
  tryFormula(place: FormulaPlace, shown: string, samples = 3): FormulaTrial {
    const options = this.records.model.optionsFor(place.self, this.things(place));
    const { stored, compiled } = toStored(shown, options);
    const field = fieldOfPath(this.records.model, compiled.references, shown);
    const started = performance.now();
    const rows = place.self ? this.records.rows(place.self).slice(0, samples) : [null];
    const broken = compiled.problems.some((p) => p.severity === 'error');
    const out = broken
      ? []
      : rows.map((r) => ({ title: r?.title() ?? '', value: display(compiled.run(this.sampleFrame(place, r)), field) }));
    return {
      stored,
      type: typeText(compiled.type),
      problems: compiled.problems,
      samples: out,
      ms: performance.now() - started,
    };
  }

  /** The present value of each formula for a sample record, as chips show them. */
  sampleValues(place: FormulaPlace, formulas: string[]): string[] {
    const options = this.records.model.optionsFor(place.self, this.things(place));
    const self = place.self ? (this.records.rows(place.self)[0] ?? null) : null;
    const frame = this.sampleFrame(place, self);
    return formulas.map((f) => {
      const c = compile(f, options);
      const v = c.run(frame);
      return Array.isArray(v)
        ? `${v.length} ${v.length === 1 ? 'record' : 'records'}`
        : display(v, fieldOfPath(this.records.model, c.references, f));
    });
  }

  /** How many records a list shows, of how many, and how long that took. */
  queryFigures(query: Query, given: string | null, record: string | null): { shown: number; of: number; ms: number } {
    const things = thingsGiven(this.records, given);
    const row = given ? (record ? this.records.row(given, record) : this.records.rows(given)[0]) : null;
    const compiled = compileQuery(this.records, query, things);
    const started = performance.now();
    const found = compiled.run(given ? [row ?? null] : []).length;
    return {
      shown: query.limit === null ? found : Math.min(found, query.limit),
      of: this.records.rows(query.table).length,
      ms: performance.now() - started,
    };
  }

  // Files

  exportCsv(table: string): string {
    return toCsv(exportTable(this.records, table));
  }
  exportXlsx(table: string): Promise<Uint8Array> {
    return toXlsx(exportTable(this.records, table));
  }
  bundleRecords(): Bundle['records'] {
    return recordsOf([...this.replica.all()].filter((s) => !isRemoved(s)));
  }

  // The host

  /** Connects to the released app. The first time, every record is sent. */
  release(host: HostPlace, first: boolean): Promise<void> {
    return this.host.release(host, first);
  }

  leave(): void {
    this.host.leave();
  }
}

expose(new StudioEngine());
