import type { App } from '../app/schema.ts';
import { once } from '../document/once.ts';
import { pause } from '../document/time.ts';
import type { Replica } from '../host/replica.ts';
import type { Cells, Records } from '../records/store.ts';
import type { Actions } from '../session/actions.ts';
import { MOST_CHOICES, type Outgoing } from '../session/effects.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { goesStraight } from '../services/goes-straight.ts';
import { requestOf } from '../services/requests-of.ts';
import type { Variables } from '../session/variables.ts';
import type { ServicesHere } from '../session/ports.ts';
import type { Fetched } from './fetched.ts';
import type { WaitingWrites } from './waiting-writes.ts';
import type { SignedIn } from './signed-in.ts';
import type { Files } from './files.ts';
import type { HostSide } from './host-side.ts';
import type { KeptRuns } from './kept-runs.ts';
import type { PhonePorts } from './ports.ts';

/** Each is fetched once, for all phones that there are. */
const parts = {
  files: once(() => import('./files.ts')),
  runs: once(() => import('./kept-runs.ts')),
  variables: once(() => import('../session/variables.ts')),
  mail: once(() => import('./mail.ts')),
  fetched: once(() => import('./fetched.ts')),
  waits: once(() => import('./waiting-writes.ts')),
  signedIn: once(() => import('./signed-in.ts')),
  history: once(() => import('./history.ts')),
  straight: once(() => import('../services/straight.ts')),
  serviceFiles: once(() => import('./service-files.ts')),
};

/** Where nothing can be kept, whoever has signed in is in until the app is closed. */
const NO_VAULT = { get: async () => null, put: async () => undefined };

/** So long routines that start by themselves wait for a newer release, in milliseconds. */
const FIRST_TRY_MS = 4000;
/** After so long what waits is sent once more, where a service did not take it then. */
const LATER_MS = 30_000;

/** As much of a phone as its late parts ask for. */
interface Around {
  readonly records: Records;
  readonly replica: Replica;
  readonly app: App;
  readonly host: HostSide | null;
  readonly device: { readonly waiting: number };
  /** The first try to reach the host. */
  readonly firstTry: Promise<unknown> | null;
  say(words: string): void;
  /** How many changes wait is another number now. */
  counted(): void;
  /** What is seen, and how it is shown anew. */
  readonly taking: ReadonlyMap<string, { show(): Promise<unknown> }>;
  actions(): Promise<Actions>;
  connect(): Promise<unknown>;
}

/** What a phone has that its first screen does not need: each part is fetched when it is asked for. */
export class LateParts {
  /** The values of variables; null while nothing needed one. */
  variables: Variables | null = null;

  constructor(
    private readonly phone: Around,
    private readonly ports: PhonePorts,
  ) {}

  readonly files = once(async (): Promise<Files> => {
    const { Files } = await parts.files();
    const fetched = (hash: string): Promise<Blob | null> | null => this.phone.host?.file?.(hash) ?? null;
    return new Files(await this.ports.whole(), async (hash) => (await fetched(hash)?.catch(() => null)) ?? null);
  });

  readonly runs = once(async (): Promise<KeptRuns> => {
    const { KeptRuns } = await parts.runs();
    return new KeptRuns(this.ports.whole, await this.ports.pages?.());
  });

  readonly openVariables = once(async (): Promise<void> => {
    const { Variables } = await parts.variables();
    const { store, hasKept } = this.ports;
    const kept = (hasKept?.() ?? true) ? await store.get<Cells>('variables') : undefined;
    const { app, records } = this.phone;
    this.variables = new Variables(app, records, kept, (cells) => store.put('variables', cells));
  });

  /** What services answer is fetched from now on. */
  readonly fetched = once(async (): Promise<Fetched> => {
    const { Fetched } = await parts.fetched();
    const { records } = this.phone;
    const { store, clock } = this.ports;
    const waits = await this.openWaits();
    this.waiting = waits;
    const made = new Fetched({ records, store, clock, asks: (message) => this.asks(message), waits });
    records.fetcher = made;
    this.known = made;
    return made;
  });

  /** What waits here until there is a way to its service; there once anything was fetched. */
  waiting?: WaitingWrites;
  private known: Fetched | null = null;

  private readonly openWaits = once(async (): Promise<WaitingWrites> => {
    const { WaitingWrites } = await parts.waits();
    const { records } = this.phone;
    const made = new WaitingWrites({
      records,
      store: this.ports.store,
      asks: (message) => this.asks(message),
      changed: (table) => this.known?.changed(table),
      counted: () => this.phone.counted(),
      say: (words) => this.phone.say(words),
    });
    await made.open();
    return made;
  });

  /** Sends what waits to be written by services, where anything does. */
  async sendWrites(): Promise<void> {
    if (!this.waiting) {
      const { hasWaiting } = await parts.waits();
      if (!(await hasWaiting(this.ports.store))) return;
      await this.fetched();
    }
    await this.waiting!.send();
    // A service that was away for a while is tried again.
    if (this.waiting!.count > 0)
      this.later ??= this.ports.clock.after(LATER_MS, () => {
        this.later = null;
        void this.sendWrites();
      });
  }
  private later: (() => void) | null = null;

  private fetches(table: string): boolean {
    return this.phone.app.tables.some((t) => t.id === table && t.fetched);
  }
  /** Records that are found by some words, for whoever picks one. */
  async choices(table: string, words: string): Promise<{ id: string; title: string }[]> {
    if (!this.fetches(table)) return (await this.phone.actions()).choices(table, words);
    const rows = await (await this.fetched()).find(table, words);
    return rows.slice(0, MOST_CHOICES).map((r) => ({ id: r.id, title: r.title() }));
  }
  /** The titles of records, by their ids. */
  async titles(table: string, ids: string[]): Promise<Record<string, string>> {
    if (this.fetches(table)) await (await this.fetched()).have(table, ids);
    return (await this.phone.actions()).titles(table, ids);
  }

  async waits(record: string, then: 'send' | 'take back'): Promise<void> {
    await this.fetched();
    await (then === 'send' ? this.waiting!.send(record) : this.waiting!.drop(record));
  }

  markOf(table: string, record: string): string | null {
    return this.known?.markOf(table, record) ?? null;
  }
  unmark(table: string, record: string): void {
    this.known?.unmark(table, record);
  }

  /** Asks a service, and puts the records of its answer among the others. */
  async askService(message: AskedMessage): Promise<ServiceAnswer> {
    const [fetched, answer] = await Promise.all([this.fetched(), this.asks(message)]);
    if (Object.values(answer.picks).some((cell) => String(cell).startsWith('data:'))) {
      const { keepFiles } = await parts.serviceFiles();
      await keepFiles(answer, await this.files());
    }
    for (const [table, rows] of Object.entries(answer.rows)) fetched.take(table, rows);
    return answer;
  }

  /** Who has signed in with the maker's own service. */
  readonly signedIn = once(async (): Promise<SignedIn> => {
    const { SignedIn } = await parts.signedIn();
    const { phone, ports } = this;
    const made = new SignedIn({
      app: () => phone.app,
      clock: ports.clock,
      vault: (await ports.vault?.()) ?? NO_VAULT,
      asks: (message) => this.asksHost(message),
      changed: () => {
        for (const { show } of phone.taking.values()) void show();
        phone.records.fetcher?.retry();
        void this.waiting?.send();
      },
      know: (facts) => {
        for (const { variable, cell } of facts) this.variables?.set(variable, cell);
      },
      clear: async () => (await this.fetched()).forget(),
      say: (words) => phone.say(words),
    });
    await made.open();
    return made;
  });

  async cameBack(...signed: Parameters<SignedIn['cameBack']>): Promise<void> {
    await (await this.signedIn()).cameBack(...signed);
  }
  async signOut(): Promise<void> {
    await (await this.signedIn()).out();
  }

  get history(): ServicesHere['history'] {
    const link = this.phone.host?.link;
    if (!link?.sends) return undefined;
    return async (asked) => (await parts.history()).askHistory(this.phone, link as Required<typeof link>, asked);
  }

  private async asks(asked: AskedMessage): Promise<ServiceAnswer> {
    let message = asked;
    if (Object.values(asked.inputs).some((cell) => /^(ni|data):/.test(String(cell)))) {
      const { withFiles } = await parts.serviceFiles();
      message = await withFiles(this.phone.app, asked, await this.files());
    }
    return this.phone.app.signIn ? (await this.signedIn()).ask(message) : this.asksHost(message);
  }

  private async asksHost(message: AskedMessage): Promise<ServiceAnswer> {
    const { app, host } = this.phone;
    const { straight, clock } = this.ports;
    const found = straight && requestOf(app, message.request);
    if (found && goesStraight(found.service, found.request)) {
      const { straightAnswer } = await parts.straight();
      const answer = await straightAnswer(app, message, { clock, send: straight });
      if (answer) return answer;
    }
    const asks = this.ports.asks ?? host?.asks?.bind(host);
    if (!asks) throw new Error('Services cannot be asked here.');
    return asks(message);
  }

  /** Keeps a message, and sends it when there is a way. */
  async queueMail(m: Outgoing): Promise<void> {
    await (await this.ports.whole()).queueMail(m);
    void this.phone.connect();
  }

  /** Sends the messages that wait. */
  async sendMail(send: NonNullable<HostSide['send']>): Promise<void> {
    const { sendMail } = await parts.mail();
    await sendMail(await this.ports.whole(), send, (words) => this.phone.say(words));
  }

  /** Goes on with the runs that were put away, and lets go of files that nothing holds; `held` holds some more. */
  async takeUp(...held: unknown[]): Promise<void> {
    const { store } = this.ports;
    const [runs, files, whole] = await Promise.all([this.runs(), this.files(), this.ports.whole()]);
    await files
      .tidy(this.phone.replica.all(), await whole.inRuns(), await store.get('variables'), await store.drafts(), ...held)
      .catch(() => undefined);
    await runs.takeUp(
      async (run) => (await this.phone.actions()).resume([run]),
      (words) => this.phone.say(words),
    );
  }

  /** A newer release is taken before anything of the one that is here runs by itself, where it comes soon. */
  async settled(): Promise<void> {
    const { clock, fetches } = this.ports;
    await Promise.race([this.phone.firstTry, pause(clock, FIRST_TRY_MS)]);
    await fetches?.forWriting();
  }
}
