import type { App } from '../app/schema.ts';
import { once } from '../document/once.ts';
import { pause } from '../document/time.ts';
import type { Replica } from '../host/replica.ts';
import type { Cells, Records } from '../records/store.ts';
import type { Actions } from '../session/actions.ts';
import type { Outgoing } from '../session/effects.ts';
import type { Variables } from '../session/variables.ts';
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
};

/** So long routines that start by themselves wait for a newer release, in milliseconds. */
const FIRST_TRY_MS = 4000;

/** As much of a phone as its late parts ask for. */
interface Around {
  readonly records: Records;
  readonly replica: Replica;
  readonly app: App;
  readonly host: HostSide | null;
  /** The first try to reach the host. */
  readonly firstTry: Promise<unknown> | null;
  say(words: string): void;
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
