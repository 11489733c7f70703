import { transfer } from 'comlink';
import type { Who } from '../core/access/access.ts';
import type { Asked } from '../core/host/protocol.ts';
import type { HistoryAsked } from '../core/released/history.ts';
import type { MirrorRequest } from '../core/mirror/mirrors.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import type { Arrival } from '../core/released/kept-files.ts';
import type { Piece, SaidToBe } from '../core/released/released.ts';
import type { PushAnswer, Subscriber } from '../core/released/web-push.ts';
import type { HookCall } from '../core/runs/hooks.ts';
import type { Door } from './door-table.ts';
import { Doors } from './doors.ts';
import { Entrance, type Caller } from './entrance.ts';
import type { HostWork } from '../core/runs/host-work.ts';
import type { Stream } from './live.ts';
import type { RunsAfter, RunWish, Settlement, SubscribeMessage } from './messages.ts';
import { PasskeyWays } from './passkey-ways.ts';
import { AllSignIns, People } from './people.ts';
import type { PushService } from './push-service.ts';
import { Releases } from './releases.ts';
import type { RunningApp } from './running-app.ts';
import { RunningApps, type AppsOptions } from './running-apps.ts';
import type { Services } from './services.ts';
import type { SheetOwners } from './sheet-owners.ts';
import type { FileStore, Release } from './store.ts';
import type { Threads } from './threads.ts';
import { Refused } from '../core/document/refused.ts';
import { Turns } from '../core/document/turns.ts';

/** Mails come in to an app also where people must sign in first. */
const MAIL_DOOR: Door = { method: 'post', path: '', for: 'anybody', outside: true };

/** The released apps of this server. What it does for a request it does behind the {@link Entrance}. */
export class Apps {
  private readonly turns = new Turns();
  private readonly doors = new Doors();
  private readonly releases: Releases;
  private readonly running: RunningApps;
  private readonly entrance: Entrance;
  private readonly signIns: AllSignIns;
  /** How people come into apps, and leave them. */
  readonly people: People;
  readonly passkeys: PasskeyWays;

  constructor(
    private readonly store: FileStore,
    owners: SheetOwners,
    services: Services,
    threads: Threads,
    options: Omit<AppsOptions, 'push'> & { push: PushService },
  ) {
    this.releases = new Releases(store, threads, this.turns);
    this.signIns = new AllSignIns(store);
    this.running = new RunningApps(store, this.releases, owners, services, threads, this.turns, {
      ...options,
      push: (name, subscriber, id, message) => this.push(options.push, name, subscriber, id, message),
    });
    this.entrance = new Entrance(this.doors, this.releases, options.leastProtocol ?? 1, (name) =>
      this.signIns.of(name),
    );
    this.people = new People(this, this.signIns, (name, hash) => store.filePath(name, hash));
    this.passkeys = new PasskeyWays(this, this.signIns);
  }

  /** A phone on which somebody has signed out, or was signed out, is told nothing more. */
  private async push(
    service: PushService,
    name: string,
    { session, subscription }: Subscriber,
    id: string,
    message: string,
  ): Promise<PushAnswer> {
    if (session !== undefined && !(await this.signIns.of(name)).list().some((s) => s.id === session))
      return { taken: false, gone: true, words: 'They have signed out.' };
    return service.send(subscription, id, message);
  }

  /** What is released at an address. Throws a {@link Refused} when there is nothing. */
  release(caller: Caller): Promise<Release> {
    return this.entrance.enter(caller, async (_who, release) => release);
  }

  /** The phone's half of the document, as the file it lies in, and what the release is. */
  async document(caller: Caller): Promise<{ release: Release; path: string }> {
    const release = await this.release(caller);
    // Whoever was let in once may not be in any more.
    if (release.facts.closed) await this.ask(caller, (app, who) => app.ask((a) => a.mustBeIn(who)));
    return { release, path: this.store.documentPath(caller.name, release.number, 'phone') };
  }

  /** Asks the app itself, for whoever is at the door. */
  ask<T>(caller: Caller, work: (app: RunningApp, who: Who) => Promise<T>): Promise<T> {
    return this.entrance.enter(caller, async (who) => work(await this.running.at(caller.name), who));
  }

  // Records

  /** Keeps what a device sends, a push in JSON; the receipt in JSON comes when it is safe. */
  accept(caller: Caller, body: Uint8Array): Promise<string> {
    return this.ask(caller, (app, who) => app.accept(body, who));
  }

  /** What a device is missing, in JSON; see {@link Host.catchUp}. */
  catchUp(caller: Caller, asked: Asked): Promise<Uint8Array> {
    return this.ask(caller, (app, who) => app.ask((a) => a.catchUp(asked, who)));
  }

  /** What a device must have in place of what it has, both in JSON; see {@link Host.compare}. */
  compare(caller: Caller, body: Uint8Array): Promise<Uint8Array> {
    return this.ask(caller, (app, who) => app.ask((a) => a.compare(body, who)));
  }

  /** What happened to a record, in JSON; see {@link ReleasedApp.history}. */
  history(caller: Caller, asked: HistoryAsked): Promise<Uint8Array> {
    return this.ask(caller, (app, who) => app.ask((a) => a.history(asked, who)));
  }

  /**
   * What a device hears from now on; and the notices for the person whom it says it is used by, since it last heard one.
   * Without a secret it hears no notices, and nobody those from before they said who uses it.
   */
  live(caller: Caller, says: SaidToBe) {
    const { name } = caller;
    return this.ask(caller, async (app, who) => {
      // Where people sign in nobody is whom they say.
      const said = this.releases.now(name)?.facts.ruled ? { ...says, person: who.mail ?? '' } : says;
      const end = await app.hearing(who);
      const listening = await app
        .ask((a) => a.listensFor(said))
        .catch((e: unknown) => {
          end();
          throw e;
        });
      return {
        hello: () => ({
          at: app.at,
          view: app.viewOf(who),
          release: this.releases.now(name)?.number ?? 0,
          now: new Date().toISOString(),
          devices: listening?.devices ?? 0,
        }),
        end,
        listen: (stream: Stream) => {
          app.listen(stream, who, end, listening && { person: said.person, since: listening.since });
          for (const n of listening?.missed ?? []) stream.send('notice', n);
          if (listening?.asks) stream.send('asks', listening.asks);
        },
      };
    });
  }

  /** Somebody answers what a run asks them, in JSON. */
  answer(caller: Caller, body: Uint8Array): Promise<void> {
    return this.ask(caller, (app, who) => app.ask((a) => a.answer(body, who)));
  }

  /** A phone is told from now on what is for whoever uses it, also while the app is closed. */
  subscribe(caller: Caller, message: SubscribeMessage): Promise<void> {
    return this.ask(caller, async (app, who) => {
      const session = (await this.signIns.of(caller.name)).of(caller.session)?.id;
      await app.ask((a) => a.subscribe(message, who, session));
    });
  }
  unsubscribe(caller: Caller, endpoint: string): Promise<void> {
    return this.ask(caller, (app) => app.ask((a) => a.unsubscribe(endpoint)));
  }

  /** Asks a service that the app describes; what is asked and what came of it in JSON. */
  asks(caller: Caller, body: Uint8Array): Promise<Uint8Array> {
    return this.ask(caller, (app, who) => app.ask((a) => a.asks(body, who)));
  }

  // Files of records

  /** How far a file has come. */
  fileArrival(caller: Caller, hash: string): Promise<Arrival> {
    return this.ask(caller, (app, who) => app.ask((a) => a.arrival(hash, who)));
  }

  /** Takes a piece of a file. */
  takePiece(caller: Caller, piece: Piece): Promise<Arrival> {
    const { content } = piece;
    return this.ask(caller, (app, who) =>
      app.ask((a) => a.takePiece(transfer(piece, [content.buffer as ArrayBuffer]), who)),
    );
  }

  /**
   * The path of a file that this person may read; null when there is none. `isOpen`: everybody may read everything, so
   * that browsers may keep it.
   */
  file(caller: Caller, hash: string): Promise<{ path: string; isOpen: boolean } | null> {
    return this.ask(caller, async (app, who) =>
      (await app.ask((a) => a.mayReadFile(who, hash)))
        ? { path: this.store.filePath(caller.name, hash), isOpen: !this.releases.now(caller.name)?.facts.ruled }
        : null,
    );
  }

  // Releases

  /** Is the address free, or held by the key that is brought? */
  check(caller: Caller): Promise<{ free: boolean; problem: string | null }> {
    return this.entrance.claim(caller, async (key, release) => this.releases.check(caller.name, key, release));
  }

  /**
   * Releases an app at an address: the first time for whoever brings a key, afterwards only for its holder. `body` is a
   * release in JSON; `runs` is what its runs that are under way go on with.
   */
  async put(caller: Caller, body: Uint8Array, runs: RunsAfter): Promise<{ number: number; at: string }> {
    const { name } = caller;
    this.entrance.mustBring(caller);
    const read = await this.releases.read(body);
    // Two who want an address at once do not both get it.
    const { facts, ...put } = await this.entrance.claim(caller, async (key, known) => {
      // Only the app of whoever may release it is touched before the release.
      const isOwn = known !== null && this.releases.check(name, key, known).problem === null;
      const hasRuns = isOwn && this.running.keepsRuns(name);
      const stays = hasRuns && runs === 'as-begun';
      const starts = hasRuns ? this.running.at(name) : null;
      // One that cannot start may still be mended by a release; what is under way in it cannot be kept as it began.
      await (stays ? starts : starts?.catch(() => undefined));
      return this.turns.take(name, async () => {
        const before = (await this.releases.known(name))?.facts.ruled;
        const works = hasRuns ? this.running.now(name) : undefined;
        if (stays && !works) throw new Refused(503, 'The app was stopped just now. Release it again.');
        // Kept before the release, so that no stop between the two lets them move.
        if (stays) await works?.ask((a) => a.runsGoOn('stay'));
        const release = await this.releases.put(name, key, read);
        const { number, at } = release;
        this.running.forgive(name);
        if (!stays) await works?.ask((a) => a.runsGoOn('move')).catch(() => undefined);
        // What was open to all and has rules now, or the other way round, begins anew: nobody goes on as before.
        if (before !== release.facts.ruled) await this.running.beginsAnew(name);
        const running = this.running.now(name);
        if (running) {
          await running.setApp(this.store.documentPath(name, number, 'host')).catch(() => undefined);
          running.tell('release', { number });
        }
        return { number, at, facts: release.facts };
      });
    });
    if (facts.inStep || facts.works) void this.start(name);
    return put;
  }

  /** Removes an app, after all who are at one of its doors have gone; who comes meanwhile waits, and finds nothing. */
  remove(caller: Caller): Promise<void> {
    const { name } = caller;
    return this.entrance.enterAlone(caller, () =>
      this.turns.take(name, async () => {
        await this.running.remove(name);
        await this.releases.remove(name);
        this.signIns.forget(name);
      }),
    );
  }

  // What goes out

  /** Puts a message in JSON into the app's outbox, once for each id; a notice goes on to the people it is for. */
  send(caller: Caller, body: Uint8Array): Promise<void> {
    return this.ask(caller, (app, who) => app.ask((a) => a.send(body, who)));
  }

  /** The newest messages of the outbox, in JSON. */
  outbox(caller: Caller): Promise<Uint8Array> {
    return this.ask(caller, (app) => app.ask((a) => a.outbox()));
  }

  // Mirrored tables

  mirrors(caller: Caller): Promise<MirrorsMessage> {
    return this.ask(caller, (app) => app.ask((a) => a.mirrors()));
  }
  mirror(caller: Caller, table: string, request: MirrorRequest): Promise<MirrorStatus> {
    return this.ask(caller, async (app) => {
      const status = await app.ask((a) => a.mirror(table, request));
      app.follows = true;
      return status;
    });
  }
  unmirror(caller: Caller, table: string): Promise<void> {
    return this.ask(caller, async (app) => {
      await app.ask((a) => a.unmirror(table));
      app.follows = await app.ask((a) => a.follows());
    });
  }
  settle(caller: Caller, table: string, answer: Settlement): Promise<MirrorStatus> {
    return this.ask(caller, (app) => app.ask((a) => a.settle(table, answer)));
  }

  // Runs of routines on the host

  /** The latest changes with the records before and after them, in JSON. */
  lately(caller: Caller): Promise<Uint8Array> {
    return this.ask(caller, (app) => app.ask((a) => a.lately()));
  }
  board(caller: Caller): Promise<Uint8Array> {
    return this.ask(caller, (app) => app.ask((a) => a.board()));
  }
  runTrace(caller: Caller, id: string): Promise<Uint8Array> {
    return this.ask(caller, (app) => app.ask((a) => a.runTrace(id)));
  }
  /** The mails that came and went, in JSON. */
  mailbox(caller: Caller): Promise<Uint8Array> {
    return this.ask(caller, (app) => app.ask((a) => a.mailbox()));
  }
  /** Throws a {@link Refused} where an app takes no mails. */
  mustTakeMail(name: string): Promise<void> {
    return this.ask({ door: MAIL_DOOR, name }, (app) => app.ask((a) => a.mustTakeMail()));
  }
  /** Takes a mail as it came, in bytes; resolves when it is kept. */
  takeMail(name: string, raw: Uint8Array, to: string, mark: string | null): Promise<void> {
    return this.ask({ door: MAIL_DOOR, name }, (app) => app.ask((a) => a.takeMail(raw, to, mark)));
  }
  /** Another system calls; resolves when what that starts is kept. */
  hook(caller: Caller, call: HookCall): Promise<void> {
    return this.ask(caller, (app) => app.ask((a) => a.hook(call)));
  }
  tryHook(caller: Caller, routine: string, body: Uint8Array): Promise<void> {
    return this.ask(caller, (app) => app.ask((a) => a.tryHook(routine, body)));
  }
  hookSecret(caller: Caller, routine: string): ReturnType<HostWork['hookSecret']> {
    return this.ask(caller, (app) => app.ask((a) => a.hookSecret(routine)));
  }
  runWish(caller: Caller, wish: RunWish): Promise<boolean> {
    return this.ask(caller, (app) => app.ask((a) => a.runWish(wish)));
  }

  /** Starts the apps that follow files or services, so that these are followed from the first moment on; others start when asked for. */
  async startMirroring(): Promise<void> {
    for (const name of await this.running.thatMirror()) await this.start(name);
  }

  private async start(name: string): Promise<void> {
    const started = this.doors
      .enter(name, () => this.running.at(name))
      .catch((e: Error) => console.error(`The app at “${name}” cannot be started: ${e.message}`));
    this.starting.add(started);
    await started;
    this.starting.delete(started);
  }
  private readonly starting = new Set<Promise<unknown>>();

  /** Ends the streams of some people of an app: what listens for them is asked anew who it is. */
  endStreams(name: string, people: ReadonlySet<string>): void {
    this.running.now(name)?.endStreams(people);
  }

  async close(): Promise<void> {
    await Promise.all(this.starting);
    await this.running.close();
  }
}
