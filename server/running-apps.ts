import { statSync } from 'node:fs';
import type { DayLimits } from '../core/runs/day.ts';
import { Refused } from '../core/document/refused.ts';
import { ADDRESS, noApp, type Releases } from './releases.ts';
import { RunningApp } from './running-app.ts';
import type { PushPort } from './running.ts';
import type { Relay } from './relay.ts';
import type { TextRelay } from './text-relay.ts';
import type { Services } from './services.ts';
import type { SheetOwners } from './sheet-owners.ts';
import type { FileStore } from './store.ts';
import type { Threads } from './threads.ts';
import type { Turns } from '../core/document/turns.ts';

/** An app that nobody asks for is put to rest after so long. */
const REST_MS = 10 * 60_000;
/** An app that was stopped so often within this time waits as long before it is started again. */
const MOST_STOPS = 3;
const STOPS_MS = 60_000;
export interface AppsOptions {
  /** The folder of the files that tables can mirror. */
  sheets: string;
  /** How many bytes the files of one app may have. */
  mostFileBytes: number;
  /** A thread that does one thing for so many milliseconds is ended. */
  stuckMs: number;
  /** So many apps run at once; each has a thread of its own. */
  mostRunning: number;
  /** What each app may do in a day by itself. */
  limits: DayLimits;
  /** The operator’s relay, to which mails go; without one they stay in the outbox. */
  relay?: Relay | undefined;
  /** The operator’s address for text messages; without one they stay in the outbox. */
  texts?: TextRelay | undefined;
  /** Gives a message for a closed phone of an app to its push service. */
  push(name: string, ...message: Parameters<PushPort>): ReturnType<PushPort>;
  /** Apps have their mail addresses at this domain. */
  mailDomain: string;
  /** The earliest messages of phones that are understood; 1 when not given. */
  leastProtocol?: number | undefined;
}

/** The apps that run. Each has a thread of its own, so that none holds up or takes down another. */
export class RunningApps {
  private readonly running = new Map<string, RunningApp>();
  private readonly stops = new Map<string, number[]>();
  private readonly suspects = new Map<string, Map<string, number>>();
  private readonly rest: ReturnType<typeof setInterval>;

  constructor(
    private readonly store: FileStore,
    private readonly releases: Releases,
    private readonly owners: SheetOwners,
    private readonly services: Services,
    private readonly threads: Threads,
    private readonly turns: Turns,
    private readonly options: AppsOptions,
  ) {
    this.rest = setInterval(() => void this.putToRest(Date.now() - REST_MS), 60_000);
    this.rest.unref();
  }

  /** The app at an address where it runs; undefined where it does not. */
  now(name: string): RunningApp | undefined {
    return this.running.get(name);
  }

  /** The app at an address, started when it is not running. */
  async at(name: string): Promise<RunningApp> {
    const running = ADDRESS.test(name) ? this.running.get(name) : undefined;
    return running ?? this.turns.take(name, () => this.start(name));
  }

  /** Is anything kept of runs of an app? */
  keepsRuns(name: string): boolean {
    return Boolean(statSync(this.store.runsPath(name), { throwIfNoEntry: false })?.size);
  }

  /** Only in the turn of the address. */
  private async start(name: string): Promise<RunningApp> {
    const running = this.running.get(name);
    if (running) return running;
    const release = await this.releases.at(name);
    const stops = (this.stops.get(name) ?? []).filter((at) => at > Date.now() - STOPS_MS);
    if (stops.length >= MOST_STOPS)
      throw new Refused(503, 'This app was stopped several times for asking too much. It is started again in a while.');
    if (this.running.size >= this.options.mostRunning) await this.makeRoom();
    const suspects = this.suspects.get(name) ?? new Map<string, number>();
    this.suspects.set(name, suspects);
    const keyHash = (): string => this.releases.now(name)?.keyHash ?? release.keyHash;
    const { relay = null, texts = null } = this.options;
    const thread = await this.threads.take();
    try {
      const started = await RunningApp.start(
        thread,
        {
          name,
          document: this.store.documentPath(name, release.number, 'host'),
          folder: await this.store.folderOf(name),
          sheets: this.options.sheets,
          mostFileBytes: this.options.mostFileBytes,
          mailDomain: this.options.mailDomain,
          limits: this.options.limits,
        },
        {
          owners: this.owners.of(keyHash),
          // The app asks its services with the secrets of whoever released it.
          services: (asked) => this.services.ask(release.facts.app, keyHash(), asked),
          relay: relay && ((eml, to) => relay.send(`${name}@${this.options.mailDomain}`, to, eml)),
          texts: texts && ((id, message) => texts.send(name, id, message)),
          push: (...message) => this.options.push(name, ...message),
        },
        { suspects, stuckMs: this.options.stuckMs },
        (app, why, ended) => this.gone(name, app, why, ended),
      );
      this.running.set(name, started);
      return started;
    } catch (e) {
      await thread.end();
      throw e;
    }
  }

  /** An app has ended without being told to. */
  private gone(name: string, app: RunningApp, why: string, ended: Promise<void>): void {
    console.error(`The app at “${name}” was stopped: ${why}.`);
    this.stops.set(name, [...(this.stops.get(name) ?? []).slice(-MOST_STOPS), Date.now()]);
    if (this.running.get(name) === app) this.running.delete(name);
    // Not before what it was writing is written.
    void this.turns.take(name, () => ended);
  }

  private async makeRoom(): Promise<void> {
    const idle = [...this.running].filter(([, app]) => app.listeners === 0 && !app.follows);
    const [name] = idle.sort((a, b) => a[1].lastUsed - b[1].lastUsed)[0] ?? [];
    if (name === undefined) throw new Refused(503, 'This server runs as many apps as it can. Try again in a while.');
    await this.rests(name);
  }

  /** Ends apps that nobody has asked for since a time. */
  private async putToRest(since: number): Promise<void> {
    for (const [name, app] of this.running)
      if (app.lastUsed < since && app.listeners === 0 && !app.follows) await this.rests(name);
  }

  private rests(name: string): Promise<void> {
    return this.turns.take(name, () => this.endApp(name, new Refused(503, 'The app was put to rest. Ask again.')));
  }

  private async endApp(name: string, refusal: Refused): Promise<void> {
    const app = this.running.get(name);
    if (!app) return;
    // Whoever asks from here on waits for its turn, and finds it started anew or gone.
    this.running.delete(name);
    const thread = await app.close(refusal);
    if (thread) this.threads.giveBack(thread);
  }

  /** Ends an app, so that it is started with its newest document when it is asked for; only in the turn of the address. */
  beginsAnew(name: string): Promise<void> {
    return this.endApp(name, new Refused(503, 'The app has changed who may do what. Ask again.'));
  }

  /** A release has come: what was wrong with the one before is not held against it. */
  forgive(name: string): void {
    this.stops.delete(name);
  }

  /** Ends an app that is removed; only in the turn of the address. */
  async remove(name: string): Promise<void> {
    this.running.get(name)?.tell('release', { number: 0 });
    await this.endApp(name, noApp(name));
    this.suspects.delete(name);
  }

  /** The apps that follow files or services or start routines by themselves, from the first moment on; others start when they are asked for. */
  async thatMirror(): Promise<string[]> {
    const paths = (name: string): string[] => [
      this.store.mirrorsPath(name),
      this.store.inStepPath(name),
      this.store.runsPath(name),
    ];
    return (await this.store.names()).filter((name) =>
      paths(name).some((path) => statSync(path, { throwIfNoEntry: false })?.size),
    );
  }

  async close(): Promise<void> {
    clearInterval(this.rest);
    const down = new Refused(503, 'The server is going down. Try again in a moment.');
    await Promise.all([...this.running.keys()].map((name) => this.turns.take(name, () => this.endApp(name, down))));
    await this.threads.close();
  }
}
