import { askedElsewhere, type AskedHost } from '../../core/app/asked-elsewhere.ts';
import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import { applyPatches, enablePatches, type Patch as ImmerPatch } from 'immer';
import type { App } from '../../core/app/schema.ts';
import type { Query } from '../../core/document/pieces.ts';
import type { Table } from '../../core/tables/schema.ts';
import { WRITABLE } from '../../kinds/formats/index.ts';
import { exportTable } from '../../core/formats/exported.ts';
import { recordsOf, type Bundle } from '../../core/formats/bundle.ts';
import type { Draft } from '../../core/records/change.ts';
import { Device, newDeviceId, runOf } from '../../core/host/device.ts';
import { bring } from '../../core/host/bring.ts';
import { overtakenSaid } from '../../core/host/overtaken.ts';
import { ChangedSince, joined, takeBack, type Written } from '../../core/host/undo.ts';
import { isRemoved, Replica } from '../../core/host/replica.ts';
import { keptIn } from '../../core/fields/kept-file.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { GridAsk } from '../../core/records/grid.ts';
import { Records, type Cells } from '../../core/records/store.ts';
import { Claims } from '../../core/records/checks.ts';
import { linkedCell, Titles } from '../../core/records/titles.ts';
import type { Patch, ScreenDoc } from '../../core/screens/live-screen.ts';
import type { Trial } from '../../core/screens/trials.ts';
import { partScreen } from '../../core/app/part-screen.ts';
import type { Weight } from '../../core/screens/weight.ts';
import type { QueryFigures } from '../../core/screens/query-figures.ts';
import type { Answer } from '../../core/routines/asks.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import type { Knows } from '../../core/routines/trigger.ts';
import { Session } from '../../core/session/session.ts';
import { Variables, type Opening } from '../../core/session/variables.ts';
import { elementKinds } from '../../kinds/elements/index.ts';
import { stepKinds } from '../../kinds/steps/index.ts';
import { triggerKinds } from '../../kinds/triggers/index.ts';
import type { PersonRecord, PlayerApi } from '../../player/api.ts';
import type { FormulaPlace } from '../chips/place.ts';
import type { EngineEvent } from './events.ts';
import { Files } from '../../player/files.ts';
import { KeptRuns } from '../../player/kept-runs.ts';
import { DeviceDb } from '../../player/storage.ts';
import '../../core/formula/patterns-engine.ts';
import '../../core/screens/parts.ts';
import '../../kinds/elements/list/arranged.ts';
import { Importing, type ImportChange, type ImportPreview, type ImportResult } from './importing.ts';
import { Editing } from './editing.ts';
import { TrialsShown } from './trials.ts';
import { TriedRuns } from './tried-runs.ts';
import { Trying, type FormulaTrial } from './trying.ts';
import { Stepper, type GoOn } from './stepper.ts';
import { StudioOutbox, type OutboxItem } from './outbox.ts';
import { Looking, type GridPage, type GridRow, type RemovedRecord } from './looking.ts';
import { HostConnection, type HostPlace, type MirrorAnswer, type MirrorWish } from './host-connection.ts';

enablePatches();

/** The studio's side of one app, in a worker: records, formulas, what the phone shows, and the way to its host. */
export class StudioEngine implements PlayerApi {
  private app!: App;
  private db!: DeviceDb;
  private records!: Records;
  private replica!: Replica;
  private device!: Device;
  private session!: Session;
  private variables!: Variables;
  private tell: (e: EngineEvent) => void = () => {};
  private host!: HostConnection;
  private looking!: Looking;
  private trying!: Trying;
  private trials!: TrialsShown;
  private editing!: Editing;
  private files!: Files;
  private sent!: StudioOutbox;
  private tried!: TriedRuns;

  async open(
    app: App,
    database: string,
    host: HostPlace | null,
    tell: (e: EngineEvent) => void,
    held: unknown = null,
  ): Promise<void> {
    this.app = app;
    this.tell = tell;
    this.db = new DeviceDb(database);
    this.sent = new StudioOutbox(this.db, () => this.app.name);
    this.files = new Files(this.db, async (hash) => (await this.host.file(hash)) ?? null);
    this.records = new Records(app);
    this.replica = new Replica(this.records);
    this.looking = new Looking(this.records, this.replica, () => this.app);
    this.trying = new Trying(this.records, () => this.app);
    this.trials = new TrialsShown(this.records, () => this.app);
    const [states, queue, at, view, kept] = await Promise.all([
      this.db.allStates(),
      this.db.queued(),
      this.db.get<number>('at'),
      this.db.get<string>('view'),
      this.db.get<string>('device'),
    ]);
    const [person, record] = await Promise.all([
      this.db.get<string | null>('person'),
      this.db.get<PersonRecord | null>('person record'),
    ]);
    this.records.beUsedBy(person ?? null, record ?? null);
    this.replica.load(states);
    const id = kept ?? newDeviceId();
    if (!kept) await this.db.put('device', id);
    this.device = new Device({ id: runOf(id), replica: this.replica, store: this.db, queue, at, view });
    this.editing = new Editing(this.records, this.replica, this.device, this.files, () => this.app);
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
    this.device.onOvertaken = (list) =>
      this.tell({ kind: 'happened', what: { said: overtakenSaid(this.records, list), tone: 'bad' } });
    const variables = await this.db.get<Cells>('variables');
    this.variables = new Variables(app, this.records, variables, (cells) => this.db.put('variables', cells));
    const runs = new KeptRuns(database, () => this.db);
    const kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };
    this.session = new Session(app, this.records, kinds, {
      device: this.device,
      variables: () => this.variables,
      screen: (id) => {
        if (id === this.sample?.id) return this.sample;
        const part = this.app.parts?.find((p) => p.id === id);
        return part && partScreen(part);
      },
      remember: async (person) => {
        await this.db.put('person', person);
        await this.db.put('person record', null);
      },
      send: async (m) => {
        await this.sent.send(m);
        const { person } = this.records;
        if (m.kind === 'notice' && person && m.to.includes(person))
          void this.session.noticed({ id: m.id, title: m.subject, words: m.body });
      },
      file: (address) => this.files.read(address),
      refresh: () => this.host.refresh(),
      made: (address) => this.sent.made(address),
      happened: (what) => this.tell({ kind: 'happened', what: { ...what, person: this.records.person } }),
      effect: (effect) => this.tell({ kind: 'effect', effect }),
      keepRun: runs.keep,
      looks: this.stepper,
    });
    this.tried = new TriedRuns({
      app: () => this.app,
      records: this.records,
      replica: this.replica,
      file: (address) => this.files.read(address),
      effect: (effect) => this.tell({ kind: 'effect', effect }),
      happened: (what) => this.tell({ kind: 'happened', what }),
      looks: this.stepper,
    });
    this.records.subscribe((tables) => this.tell({ kind: 'changed', tables: [...tables] }));
    setInterval(() => this.records.tick(), 60_000);
    this.host = new HostConnection(this.device, (e) => this.tell(e));
    if (host) this.host.join(host);
    const inOutbox = await this.sent.items();
    const inRuns = await this.db.inRuns();
    void this.files.tidy(this.replica.all(), inRuns, variables, inOutbox, held).catch(() => undefined);
    void runs.takeUp(
      (run) => this.session.resume([run]),
      () => this.tell({ kind: 'failed', words: 'A routine that was waiting could not be read any more, so it ended.' }),
    );
  }

  /** Takes an edit of the document by what it changed: what it left alone is neither read nor drawn again. */
  change(patches: ImmerPatch[]): void {
    this.app = applyPatches(this.app, patches);
    this.session.setApp(this.app);
    this.trials.changed();
  }

  // The phone

  /** A screen that is part of no app, to see by its id what something would look like; the last one counts. */
  trySample(screen: ScreenDoc): void {
    this.sample = screen;
  }
  private sample: ScreenDoc | null = null;

  async show(
    view: string,
    screen: string,
    record: string | null,
    take: (patch: Patch) => Promise<void>,
    opening?: Opening,
  ): Promise<boolean> {
    this.letGo(view);
    this.taking.set(view, take);
    return this.session.show(view, screen, record, take, opening) !== null;
  }
  async leave(view: string): Promise<void> {
    this.session.leave(view);
    this.letGo(view);
  }
  private readonly taking = new Map<string, (patch: Patch) => Promise<void>>();
  private letGo(view: string): void {
    (this.taking.get(view) as Partial<ProxyMethods> | undefined)?.[releaseProxy]?.();
    this.taking.delete(view);
  }
  async look(view: string, key: string, change: Record<string, unknown>): Promise<void> {
    this.session.look(view, key, change);
  }
  /** The same with records that turned out in another way. Gives the milliseconds it took to work out. */
  showTrial(
    view: string,
    trial: Trial,
    screen: string,
    record: string | null,
    take: (patch: Patch) => Promise<void>,
  ): number | null {
    this.letGo(view);
    this.taking.set(view, take);
    return this.trials.show(view, trial, screen, record, take);
  }
  lookTrial(view: string, key: string, change: Record<string, unknown>): void {
    this.trials.look(view, key, change);
  }
  leaveTrial(view: string): void {
    this.trials.leave(view);
    this.letGo(view);
  }
  async tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void> {
    await this.session.tapped(view, key, property, knows);
  }
  async answered(id: string, answer: Answer): Promise<void> {
    this.session.answered(id, answer);
    this.tried.answered(id, answer);
  }
  async moved(view: string, key: string, before: string | null): Promise<void> {
    await this.session.moved(view, key, before);
  }
  async typed(variable: string, cell: Cell) {
    return this.session.typed(variable, cell);
  }
  async saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean) {
    return this.session.saveForm(table, record, values, isPart);
  }
  /** Who uses the phone beside the work, by name; null for nobody known. */
  async person(): Promise<string | null> {
    return this.records.person;
  }

  /** From now on this person uses it, or nobody known. */
  async beUsedBy(person: string | null, record: PersonRecord | null = null): Promise<void> {
    this.records.beUsedBy(person, record);
    await this.db.put('person', person);
    await this.db.put('person record', record);
    this.tell({ kind: 'changed', tables: [] });
  }

  async choices(table: string, search: string) {
    return this.session.choices(table, search);
  }
  keepFile(content: Blob, name: string) {
    return this.files.keep(content, name);
  }
  file(address: string) {
    return this.files.read(address);
  }
  async titles(table: string, ids: string[]) {
    return this.session.titles(table, ids);
  }
  /** Lets runs be looked at step by step. */
  private readonly stepper = new Stepper((paused) => this.tell({ kind: 'paused', paused }));
  stopBefore(steps: readonly string[]): void {
    this.stepper.mark(steps);
  }
  goOn(run: string, how: GoOn): void {
    this.stepper.goOn(run, how);
  }

  /**
   * Tries a routine for a record on a copy of the records; for the first of its table where none is named. `values` are
   * for its inputs, as an earlier run had them.
   */
  async tryRoutine(id: string, record?: string | null, values?: RunTrace['values'], stepwise = false): Promise<void> {
    const routine = this.app.routines.find((r) => r.id === id);
    if (!routine) return;
    const sample = routine.given ? (this.records.rows(routine.given)[0]?.id ?? null) : null;
    if (stepwise) this.stepper.stepNext(id);
    await this.tried.run(routine, record ?? sample, values);
  }

  /** Does for real what a run has done on a copy. Gives what takes its changes of records back. */
  async doTried(id: string): Promise<Written> {
    const { groups, sends, made } = this.tried.take(id);
    const written: Written[] = [];
    // All of it is one step for whoever does it: half of it is none, and nobody is sent it.
    await this.host.holding(async () => {
      try {
        for (const { drafts, together } of groups) written.push(await this.editing.edit(drafts, together));
      } catch (e) {
        await takeBack(this.device, joined(written), true);
        throw new Error(`Nothing was done: ${(e as Error).message}`, { cause: e });
      }
    });
    for (const m of sends) await this.sent.send(m);
    for (const address of made) await this.sent.made(address);
    return joined(written);
  }

  outbox(): Promise<OutboxItem[]> {
    return this.sent.items();
  }

  // Data

  page(table: string, ask: GridAsk, from: number, count: number): GridPage {
    return this.looking.page(table, ask, from, count);
  }
  /** The figures below the columns, in words. */
  figures(table: string, ask: GridAsk): Record<string, string> {
    return this.looking.figures(table, ask);
  }
  lineOf(table: string, ask: GridAsk, record: string): number {
    return this.looking.lineOf(table, ask, record);
  }
  keyClashes(table: string, key: string[]) {
    return this.looking.keyClashes(table, key);
  }
  removed(table: string): RemovedRecord[] {
    return this.looking.removed(table);
  }
  orderMoves(table: string, record: string, before: string | null): [string, number][] {
    return [...this.looking.orderMoves(table, record, before)];
  }
  counts(): Record<string, number> {
    return Object.fromEntries(this.app.tables.map((t) => [t.id, this.records.rows(t.id).length]));
  }

  record(table: string, id: string): GridRow | null {
    return this.looking.record(table, id);
  }
  recordPage(table: string, id: string) {
    return this.looking.recordPage(table, id);
  }
  linkFigures() {
    return this.looking.linkFigures();
  }
  /** Makes changes, and gives what takes them back. */
  async edit(drafts: Draft[]): Promise<Written> {
    return this.editing.edit(drafts);
  }
  /**
   * Takes back what was written, all of it or nothing, and gives what does it again. Where somebody has changed it since,
   * it gives in words what.
   */
  async takeBack(written: Written): Promise<Written | { changed: string }> {
    try {
      return await takeBack(this.device, written);
    } catch (e) {
      if (e instanceof ChangedSince) return { changed: e.message };
      throw e;
    }
  }

  /** Ids of the records of a table, in the order they came. */
  recordIds(table: string, count = Infinity): string[] {
    return this.records
      .rows(table)
      .slice(0, count)
      .map((r) => r.id);
  }
  /** Cells of a picked link from titles as they were pasted; undefined where there is no such record. */
  linkCells(table: string, field: string, texts: string[]): (Cell | undefined)[] {
    const def = this.tableOf(table).fields.find((f) => f.id === field)!;
    const titles = new Titles(this.records);
    return texts.map((t) => (t.trim() === '' ? null : linkedCell(def, t, titles)));
  }
  column(table: string, field: string) {
    return this.looking.column(table, field);
  }

  async bring(records: { table: string; id: string; cells: Record<string, Cell> }[], progress: (kept: number) => void) {
    for (const r of records) r.cells = await this.editing.lighter(r.table, r.cells);
    return bring(this.device, records, progress);
  }

  // Bringing a file into a table that is there

  private readonly importing = new Importing(
    (d, claims) => this.editing.wrongWith(d, claims),
    () => new Claims(this.records),
    () => new Titles(this.records),
  );

  readImport(table: string, file: string, bytes: Uint8Array | null, size: number): Promise<ImportPreview> {
    return this.importing.read(this.tableOf(table), this.records.rows(table), file, bytes, size);
  }
  planImport(table: string, change: ImportChange): ImportPreview {
    return this.importing.change(this.tableOf(table), this.records.rows(table), change);
  }
  runImport(progress: (done: number, of: number) => void): Promise<ImportResult> {
    return this.importing.run((drafts) => this.edit(drafts), progress);
  }
  stopImport(): void {
    this.importing.stop();
  }
  private tableOf(id: string): Table {
    return this.app.tables.find((t) => t.id === id)!;
  }

  // Formulas

  tryFormula(place: FormulaPlace, shown: string, samples?: number): FormulaTrial {
    return this.trying.formula(place, shown, samples);
  }
  sampleValues(place: FormulaPlace, formulas: string[]): string[] {
    return this.trying.values(place, formulas);
  }
  variableValues(): Record<string, string> {
    return this.trying.variables();
  }
  queryFigures(query: Query, screen: string, record: string | null): QueryFigures {
    return this.trying.query(query, screen, record);
  }
  weights(): Weight[] {
    return this.trying.weights();
  }

  // Files

  /** The bytes of a table in a format, by its id. */
  async exportTable(table: string, format: string): Promise<Uint8Array> {
    return WRITABLE.find((f) => f.id === format)!.write(exportTable(this.records, table));
  }
  /** Every table, and the files that records hold, as a zip. */
  async exportAll(): Promise<Uint8Array> {
    const { toArchive } = await import('../../core/formats/archive.ts');
    return toArchive(this.app, this.records, async (hash) => (await this.bytesOf(hash)) ?? null);
  }
  /** What an exported app has of its records, and the names of files that could not be had. */
  async bundled(): Promise<Pick<Bundle, 'records' | 'files'> & { lost: string[] }> {
    const states = [...this.replica.all()].filter((s) => !isRemoved(s));
    const [files, lost]: [Bundle['files'], string[]] = [{}, []];
    for (const s of states)
      for (const file of keptIn(s.cells)) {
        const content = files[file.hash] ?? (await this.bytesOf(file.hash));
        if (content) files[file.hash] = content;
        else lost.push(file.name || 'a file');
      }
    return { records: recordsOf(states), files, lost };
  }
  private async bytesOf(hash: string): Promise<Uint8Array | null> {
    const content = await this.files.bytes(hash);
    return content && new Uint8Array(await content.arrayBuffer());
  }

  /** The hosts that the app asks, and those that its records would have it ask. */
  elsewhere(): AskedHost[] {
    return askedElsewhere(this.app, this.records);
  }

  // The host

  /** Connects to the released app. The first time, every record is sent. */
  release(host: HostPlace, first: boolean): Promise<void> {
    return this.host.release(host, first);
  }

  leaveHost(): void {
    this.host.leave();
  }

  mirrors() {
    return this.host.mirrors();
  }
  async mirror(table: string, wish: MirrorWish): Promise<void> {
    await this.host.mirror(table, wish);
  }
  async unmirror(table: string): Promise<void> {
    await this.host.unmirror(table);
  }
  async settle(table: string, answer: MirrorAnswer): Promise<void> {
    await this.host.settle(table, answer);
  }
}

expose(new StudioEngine());
