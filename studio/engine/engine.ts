import '../../kinds/given/all.ts';
import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import { applyPatches, enablePatches, type Patch as ImmerPatch } from 'immer';
import type { App } from '../../core/app/schema.ts';
import { partScreen } from '../../core/app/part-screen.ts';
import { deviceClock } from '../../core/document/time.ts';
import { overtakenSaid } from '../../core/host/overtaken.ts';
import type { Files } from '../../core/phone/files.ts';
import { keptIn } from '../../core/phone/keeps.ts';
import { Phone } from '../../core/phone/phone.ts';
import type { PhonePorts } from '../../core/phone/ports.ts';
import type { RecordState } from '../../core/records/change.ts';
import { requestOf } from '../../core/services/requests-of.ts';
import type { ScreenDoc } from '../../core/screens/live-screen.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import { pagesOf } from '../../player/pages.ts';
import { vaultIn } from '../../player/vault.ts';
import { DeviceDb } from '../../player/storage.ts';
import '../../core/formula/patterns-engine.ts';
import '../../core/screens/becoming.ts';
import '../../core/screens/parts.ts';
import '../../kinds/elements/list/arranged.ts';
import { StudioAsking } from './asking.ts';
import { Editing } from './editing.ts';
import type { EngineEvent } from './events.ts';
import { Exporting } from './exporting.ts';
import { HostConnection, type HostPlace } from './host-connection.ts';
import { ImportDesk } from './import-desk.ts';
import { Looking } from './looking.ts';
import { StudioOutbox } from './outbox.ts';
import { bare, Persona } from './persona.ts';
import { Runs } from './runs.ts';
import { Seeing } from './seeing.ts';
import { Stepper } from './stepper.ts';
import { TrialsShown } from './trials.ts';
import { TriedRuns } from './tried-runs.ts';
import { Trying } from './trying.ts';

enablePatches();

const release = (take: unknown): void => (take as Partial<ProxyMethods>)[releaseProxy]?.();

/** The studio's side of one app, in a worker: the phone beside the work, and what each workspace asks of it. */
export class StudioEngine {
  /** The phone beside the work. */
  phone!: Phone;
  looking!: Looking;
  seeing!: Seeing;
  editing!: Editing;
  importing!: ImportDesk;
  exporting!: Exporting;
  trying!: Trying;
  trials!: TrialsShown;
  runs!: Runs;
  host!: HostConnection;
  asking!: StudioAsking;
  /** The phone beside the work, as one of the people. */
  persona!: Persona;
  private app!: App;
  private db!: DeviceDb;
  private files!: Files;
  private sent!: StudioOutbox;
  private tell: (e: EngineEvent) => void = () => {};
  /** Lets runs be looked at step by step. */
  private readonly stepper = new Stepper((paused) => this.tell({ kind: 'paused', paused }));

  async open(
    app: App,
    database: string,
    host: HostPlace | null,
    tell: (e: EngineEvent) => void,
    held: unknown = null,
    /** The key that releases this app: its secrets are kept by it. */
    key = '',
  ): Promise<void> {
    this.asking = new StudioAsking(
      () => this.app,
      key,
      (said) => this.tell({ kind: 'happened', what: { said, tone: 'plain' } }),
    );
    this.app = app;
    this.tell = tell;
    this.db = new DeviceDb(database);
    this.sent = new StudioOutbox(this.db, () => this.app.name);
    const kept = await keptIn(this.db);
    const phone = new Phone(
      app,
      0,
      kept,
      this.ports(database, () => this.phone),
    );
    this.phone = phone;
    if (!kept.device) await this.db.put('device', phone.name);
    const late = await phone.late();
    await late.openVariables();
    this.files = await late.files();
    this.openDesks(database);
    phone.records.subscribe((tables) => this.tell({ kind: 'changed', tables: [...tables] }));
    if (host) this.host.join(host);
    void late.takeUp(await this.sent.items(), held);
  }

  private ports(database: string, phone: () => Phone): PhonePorts {
    const happened = (said: string, about = {}): void =>
      this.tell({ kind: 'happened', what: { said, tone: 'bad', about } });
    return {
      clock: deviceClock,
      store: this.db,
      kinds: { elements: elementKinds, steps: stepKinds, triggers: triggerKinds },
      whole: async () => this.db,
      pages: async () => pagesOf(database),
      session: {
        screen: (id) => {
          if (id === this.sample?.id) return this.sample;
          const part = this.app.parts?.find((p) => p.id === id);
          return part && partScreen(part);
        },
        send: async (m) => {
          await this.sent.send(m);
          const { person } = phone().records;
          if (m.kind === 'notice' && person && m.to.includes(person))
            (await phone().session.actions()).noticed({ id: m.id, title: m.subject, words: m.body });
        },
        made: (address) => this.sent.made(address),
        happened: (what) => this.tell({ kind: 'happened', what: { ...what, person: phone().records.person } }),
        looks: this.stepper,
      },
      asks: (message) => this.asking.asks(message),
      vault: async () => vaultIn(this.db),
      report: (online, waiting, sending) => this.tell({ kind: 'host', online, waiting, sending }),
      say: (words) => this.tell({ kind: 'failed', words }),
      refused: (list) => {
        for (const { reason, change } of list)
          happened(`The server refused a change: ${reason}`, { table: change.table, record: change.record });
      },
      overtaken: (list) => happened(overtakenSaid(phone().records, list)),
      usedBy: () => this.tell({ kind: 'changed', tables: [] }),
      letGo: release,
    };
  }

  private openDesks(database: string): void {
    const { phone, files } = this;
    const { records, replica } = phone;
    const app = (): App => this.app;
    const tried = new TriedRuns({
      app,
      records,
      replica,
      file: (address) => files.read(address),
      effect: (effect) => phone.walk.took(effect),
      happened: (what) => this.tell({ kind: 'happened', what }),
      looks: this.stepper,
      asks: (message) => this.asking.asks(message),
    });
    this.seeing = new Seeing(records, replica, app);
    this.looking = new Looking(records, replica, app);
    this.trying = new Trying(records, app);
    this.trials = new TrialsShown(records, app, release);
    this.editing = new Editing(records, replica, phone.device, files, app);
    this.importing = new ImportDesk(records, this.editing, app);
    this.exporting = new Exporting(records, replica, files, app);
    this.runs = new Runs({ app, phone, editing: this.editing, tried, stepper: this.stepper, sent: this.sent });
    this.host = new HostConnection(phone, (e) => this.tell(e));
    this.persona = new Persona({
      app,
      records,
      replica,
      device: phone.device,
      ports: (own) => this.ports(database, own),
      file: (hash) => this.db.file(hash),
      keepFile: (hash, content) => this.db.keepFile(hash, content),
    });
  }

  /** Fetches the records of a table as its request answers them to its test values. */
  async fetchTable(table: string): Promise<void> {
    const { fetched } = this.app.tables.find((t) => t.id === table) ?? {};
    const request = fetched && requestOf(this.app, fetched.request)?.request;
    if (!request) return;
    const inputs = Object.fromEntries(request.inputs.flatMap((i) => (i.test === undefined ? [] : [[i.id, i.test]])));
    (await (await this.phone.late()).fetched()).rows(table, inputs, {});
  }

  /** All records, as a host would keep them. */
  states(): RecordState[] {
    return Array.from(this.phone.replica.all(), bare);
  }
  /** The content of a file that records hold, by its hash; null where it is not here. */
  fileOf(hash: string): Promise<Blob | null> {
    return this.db.file(hash);
  }

  // Whoever has signed in on the phone beside the work

  async signedIn(): Promise<{ isIn: boolean; left: number | null }> {
    const { isIn, left } = await (await this.phone.late()).signedIn();
    return { isIn, left };
  }
  async endToken(): Promise<void> {
    await (await (await this.phone.late()).signedIn()).expire();
  }
  async signOut(): Promise<void> {
    await (await (await this.phone.late()).signedIn()).out();
  }

  /** Takes an edit of the document by what it changed: what it left alone is neither read nor drawn again. */
  change(patches: ImmerPatch[]): void {
    const { signIn } = this.app;
    this.app = applyPatches(this.app, patches);
    this.phone.setApp(this.app);
    this.persona.setApp(this.app);
    // Screens may be closed now, or open.
    if (this.app.signIn !== signIn) for (const { show } of this.phone.taking.values()) void show();
    this.trials.changed();
  }

  /** A screen that is part of no app, to see by its id what something would look like; the last one counts. */
  trySample(screen: ScreenDoc): void {
    this.sample = screen;
  }
  private sample: ScreenDoc | null = null;
}

expose(new StudioEngine());
