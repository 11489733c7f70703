import { releaseProxy } from 'comlink';
import { OWNER, type Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import { deviceClock } from '../core/document/time.ts';
import '../core/fields/typed-texts.ts';
import '../core/formula/patterns-engine.ts';
import type { Asked } from '../core/host/protocol.ts';
import { InStep } from '../core/mirror/in-step.ts';
import { Mirrors, type MirrorRequest } from '../core/mirror/mirrors.ts';
import { asFetched } from '../core/mirror/service-step.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import { AskedServices } from '../core/released/asked-services.ts';
import type { Erasable } from '../core/released/erasing.ts';
import type { HistoryAsked } from '../core/released/history.ts';
import type { KeptAbout } from '../core/released/kept-about.ts';
import type { Arrival } from '../core/released/kept-files.ts';
import { SentMessage } from '../core/released/messages.ts';
import { Refused } from '../core/document/refused.ts';
import { AskedMessage } from '../core/services/answer.ts';
import { ReleasedApp, type Piece, type SaidToBe } from '../core/released/released.ts';
import { answerTo } from './answers.ts';
import { FilesFolder } from './files-folder.ts';
import { HaveMessage, PushMessage, type RunWish, type Settlement, type SubscribeMessage } from './messages.ts';
import { MessagesFolder } from './messages-folder.ts';
import { mailsIn, textsIn } from './outbox-parts.ts';
import { RecordsLog } from './records-log.ts';
import type { PushPort, RelayPort, Running, ServicesPort, TextPort } from './running.ts';
import type { HookCall } from '../core/runs/hooks.ts';
import type { PersonDid } from '../core/runs/told-starts.ts';
import { AppPush } from './app-push.ts';
import type { HostWork } from '../core/runs/host-work.ts';
import { workIn } from './work-files.ts';
import { codeMail, invitationMail } from './sign-in-mails.ts';
import { OwnSheets, type OwnersPort } from './sheet-owners.ts';
import { SheetsFolder } from './sheets-folder.ts';
import { TextFile } from './text-file.ts';
import { type AppNews, contentAt, documentAt, inJson, parsed, tellNews } from './thread-messages.ts';

type Port = { [releaseProxy]?(): void };

/**
 * Runs one released app on the disk, with its mirrored tables. It stands in a thread of its own, and is spoken to in
 * messages; what it takes and gives in bulk is JSON in bytes, read and written here.
 */
export class AppRunner {
  private app!: App;
  private released!: ReleasedApp;
  private log!: RecordsLog;
  private mirroring!: Mirrors;
  private inStep!: InStep;
  private work!: HostWork;
  private push!: AppPush;
  /** What leads back to the server, to be let go at the end. */
  private ports: Port[] = [];

  async open(
    running: Running,
    owners: OwnersPort,
    services: ServicesPort,
    relay: RelayPort | null,
    push: PushPort,
    textRelay: TextPort | null,
    tell: (news: AppNews) => unknown,
  ): Promise<void> {
    this.ports = [
      owners,
      services,
      push,
      tell,
      ...(relay ? [relay] : []),
      ...(textRelay ? [textRelay] : []),
    ] as unknown as Port[];
    const { folder } = running;
    this.app = await documentAt(running.document);
    const { log, kept } = await RecordsLog.open(folder);
    for (const words of kept.damage) void tell({ kind: 'said', words });
    this.log = log;
    const say = (words: string): void => void tell({ kind: 'said', words });
    const files = new FilesFolder(`${folder}/files`);
    const outbox = new MessagesFolder(`${folder}/outbox`);
    this.work = await workIn(folder, {
      clock: deviceClock,
      app: () => this.app,
      released: () => this.released,
      send: (message) => this.released.send(message, { automatic: true }),
      asks: (message) => this.released.asks(message, OWNER),
      file: (address) => contentAt(files, address),
      reach: (people, named) => this.released.reach(people, named),
      asksOthers: (people) => {
        const of = Object.fromEntries(people.map((p) => [p, this.work.runs.waits.of(p)]));
        void tell({ kind: 'asks', of });
        this.push.asks(of);
      },
      mails: mailsIn(outbox),
      relay,
      texts: textsIn(outbox),
      textRelay,
      limits: running.limits,
      mailsOfDay: () => this.released.mailsOfDay,
      say,
    });
    this.push = await AppPush.read(folder, {
      app: () => this.app,
      released: () => this.released,
      push,
      say,
    });
    this.released = new ReleasedApp(this.app, kept, {
      clock: deviceClock,
      log,
      files,
      messages: outbox,
      mailed: (id) => this.work.mailed(id),
      texted: (id) => this.work.texted(id),
      // Without it everybody begins to listen anew, and hears nothing of before.
      listeners: new TextFile(`${folder}/listeners.json`, true),
      erasing: new TextFile(`${folder}/erasing.json`, false, 0o600),
      mostFileBytes: running.mostFileBytes,
      mostMails: running.limits.mails,
      services,
      address: `${running.name}@${running.mailDomain}`,
      tell: (what) => {
        if (what.kind === 'notice') this.push.notice(what.notice);
        return void (what.kind === 'news' ? tellNews(what.to, what.news, tell) : tell(what));
      },
      watch: (host) => this.work.watch(host),
      needsFile: (hash) => this.work.mail.needsFile(hash),
      forget: async (gone) => {
        await this.push.web.forget(gone);
        return this.work.forget(gone);
      },
      sent: (mail) => this.work.mail.sent(mail),
    });
    const { host } = this.released;
    const sheets = new OwnSheets(new SheetsFolder(running.sheets), owners);
    this.mirroring = new Mirrors(new TextFile(`${folder}/mirrors.json`), () => this.app, host, sheets, deviceClock);
    this.mirroring.subscribe((status) => void tell({ kind: 'mirror', table: status.table }));
    await this.mirroring.start();
    // Asked for the app itself, as whoever uses it has no part in it.
    const asked = new AskedServices(() => asFetched(this.app), services, deviceClock);
    this.inStep = new InStep(
      new TextFile(`${folder}/in-step.json`),
      () => this.app,
      host,
      (message, again) => asked.ask(message, null, again),
      (status) => void tell({ kind: 'mirror', table: status.table }),
      deviceClock,
    );
    await this.inStep.start();
    await this.released.goOn();
    await this.work.open();
    await this.push.open();
    void this.released.sweep();
  }

  /** Answers as long as the thread is not stuck in some work. */
  ping(): void {}

  /** Before a newer release runs that are under way stay with the routines of this one; with it, all move to its own. */
  runsGoOn(how: 'stay' | 'move'): Promise<void> {
    return this.work.runs.programs[how]();
  }

  /** Takes the document of a newer release. */
  async setApp(path: string): Promise<void> {
    this.app = await documentAt(path);
    this.released.setApp(this.app);
    this.work.runs.setApp();
    this.inStep.fit();
  }

  /** Number of the last change. */
  at(): number {
    return this.released.host.position;
  }

  /** Keeps what devices send, each a {@link PushMessage}; for each the receipt in JSON, or why there is none. */
  acceptAll(pushes: readonly { body: Uint8Array; who: Who }[]): Promise<(string | ReturnType<typeof answerTo>)[]> {
    return Promise.all(pushes.map(({ body, who }) => this.accept(body, who).catch(answerTo)));
  }

  private async accept(body: Uint8Array, who: Who): Promise<string> {
    return JSON.stringify(await this.released.accept(PushMessage.parse(parsed(body)).changes, who));
  }

  async catchUp(asked: Asked, who: Who): Promise<Uint8Array> {
    return inJson(await this.released.catchUp(asked, who));
  }

  /** What a device must have in place of what it has, a {@link HaveMessage} in JSON. */
  async compare(body: Uint8Array, who: Who): Promise<Uint8Array> {
    return inJson(await this.released.compare(HaveMessage.parse(parsed(body)), who));
  }

  // Files, messages and who listens

  async arrival(hash: string, who: Who): Promise<Arrival> {
    this.mustBeIn(who);
    return this.released.arrival(hash);
  }
  async takePiece(piece: Piece, who: Who): Promise<Arrival> {
    this.mustBeIn(who);
    return this.released.takePiece(piece);
  }
  mayReadFile(who: Who, hash: string): boolean {
    return this.released.mayReadFile(who, hash);
  }

  /** Sends out a message, a {@link SentMessage} in JSON. */
  async send(body: Uint8Array, who: Who): Promise<void> {
    this.mustBeIn(who);
    await this.released.send(SentMessage.parse(parsed(body)));
  }
  /** The newest messages of the outbox, in JSON. */
  async outbox(): Promise<Uint8Array> {
    return inJson((await this.released.outbox()).messages);
  }

  /** Asks a service, an {@link AskedMessage} in JSON; what came of it, in JSON. */
  async asks(body: Uint8Array, who: Who): Promise<Uint8Array> {
    this.mustBeIn(who);
    return inJson(await this.released.asks(AskedMessage.parse(parsed(body)), who));
  }

  listen(who: Who, on: boolean): { at: number; view: string | undefined } {
    return this.released.listen(who, on);
  }
  /** See {@link ReleasedApp.listensFor}; `asks` is what the device is asked, where the app may ask anything. */
  async listensFor(said: SaidToBe) {
    const heard = await this.released.listensFor(said);
    const { runs } = this.work;
    return heard && { ...heard, asks: runs.works ? runs.waits.of(said.person, heard.since) : null };
  }

  /** Somebody answers what a run asks them, in JSON. */
  async answer(body: Uint8Array, who: Who): Promise<void> {
    await this.work.answer(parsed(body), who);
  }

  /** A phone is told from now on what is for whoever uses it, also while the app is closed. */
  async subscribe(message: SubscribeMessage, who: Who, session?: string): Promise<void> {
    this.mustBeIn(who);
    await this.push.subscribe(message, who, session);
  }
  async unsubscribe(endpoint: string): Promise<void> {
    await this.push.web.remove(endpoint);
  }

  /** What happened to a record, in JSON. */
  async history(asked: HistoryAsked, who: Who): Promise<Uint8Array> {
    this.mustBeIn(who);
    return inJson(await this.released.history(asked, who));
  }

  // Who comes in

  /** Somebody has done what may start routines. */
  async personDid(did: PersonDid): Promise<void> {
    await this.work.personDid(did);
  }

  /** Throws in words for whoever may not use the app. */
  mustBeIn(who: Who): void {
    this.released.comingIn.mustBeIn(who);
  }
  /** What is kept about a person, as far as somebody may read it. */
  keptAbout(person: string, who: Who): KeptAbout {
    this.mustBeIn(who);
    return this.released.keptAbout(person, who);
  }
  erasable(person: string, who: Who): Erasable {
    this.mustBeIn(who);
    return this.released.erasable(person, who);
  }
  async erase(person: string, tables: readonly string[], who: Who): Promise<void> {
    this.mustBeIn(who);
    await this.released.erase(person, tables, who);
  }
  mayCome(mail: string): boolean {
    return this.released.comingIn.mayCome(mail);
  }
  /** What the app is called, where people sign in to it. */
  signsIn(): { id: string; name: string } {
    this.released.comingIn.mustSignIn();
    const { id, name } = this.app;
    return { id, name };
  }
  /** Throws in words where an invitation cannot give this role. */
  mustGive(role: string): void {
    this.released.comingIn.mustGive(role);
  }
  isStill(person: string, mail: string): boolean {
    return this.released.comingIn.isStill(person, mail);
  }
  comesIn(mail: string, role?: string): Promise<string | null> {
    return this.released.comingIn.comesIn(mail, role);
  }
  /** Sends the code by which somebody signs in. */
  sendCode(mail: string, code: string): Promise<void> {
    return this.released.send(codeMail(this.app.name, mail, code), { always: true });
  }
  /** Sends the link by which somebody signs in once, with words of the maker. */
  sendInvitation(mail: string, link: string, words: string): Promise<void> {
    return this.released.send(invitationMail(this.app.name, mail, link, words));
  }

  // Mirrored tables

  async mirrors(): Promise<MirrorsMessage> {
    const { files, mirrors } = await this.mirroring.state();
    return { files, mirrors: [...mirrors, ...this.inStep.state()] };
  }
  mirror(table: string, request: MirrorRequest): Promise<MirrorStatus> {
    return this.mirroring.add(table, request);
  }
  async unmirror(table: string): Promise<void> {
    await this.mirroring.stop(table);
  }
  async settle(table: string, answer: Settlement): Promise<MirrorStatus> {
    if (this.inStep.has(table)) return this.settleInStep(table, answer);
    const mirror = this.mirroring.get(table);
    if (answer.about === 'conflict') await mirror.settle(answer.id, answer.take);
    else if (answer.about === 'rows') await mirror.settleHeld(answer.take);
    else await mirror.follow();
    return mirror.now;
  }
  private async settleInStep(table: string, answer: Settlement): Promise<MirrorStatus> {
    const mirror = this.inStep.get(table);
    if (answer.about === 'conflict') await mirror.settle(answer.id, answer.take);
    else if (answer.about === 'rows') await mirror.settleHeld(answer.take);
    else if (answer.about === 'unsure') await mirror.sendAgain(answer.record);
    else await mirror.look();
    return mirror.now;
  }
  /** Does it follow files or services, so that it must run without being asked? */
  follows(): boolean {
    return this.mirroring.any || this.inStep.any || this.work.runs.works;
  }

  // Runs of routines on the host

  /** The latest changes with the records before and after them, in JSON. */
  lately(): Uint8Array {
    return inJson({ changes: this.work.runs.lately.changes });
  }
  /** What the host does, in JSON. */
  board(): Uint8Array {
    return inJson(this.work.runs.board);
  }
  /** A run with its steps, in JSON; null where nothing of it is kept. */
  async runTrace(id: string): Promise<Uint8Array> {
    return inJson(await this.work.runs.trace(id));
  }
  /** The mails that came and went, in JSON. */
  async mailbox(): Promise<Uint8Array> {
    return inJson(await this.work.mailbox());
  }
  /** Throws in words where the app takes no mails. */
  mustTakeMail(): void {
    this.work.mustTakeMail();
  }
  /** Takes a mail as it came. Throws in words for one that is not taken. */
  takeMail(raw: Uint8Array, to: string, mark: string | null): Promise<void> {
    return this.work.takeMail(raw, to, mark);
  }
  /** Another system calls. */
  hook(call: HookCall): Promise<void> {
    return this.work.hook(call);
  }
  /** The secret of the hook of a routine. */
  tryHook(routine: string, body: Uint8Array): Promise<void> {
    return this.work.tryHook(routine, body);
  }
  hookSecret(routine: string): ReturnType<HostWork['hookSecret']> {
    return this.work.hookSecret(routine);
  }
  /** Does by hand what somebody wants of a run, or of all of a routine. Gives whether there was something to do. */
  async runWish(wish: RunWish): Promise<boolean> {
    if ('id' in wish) return wish.do === 'end' ? this.work.runs.drop(wish.id) : this.work.runs.runAgain(wish.id);
    await this.work.runs.pause(wish.routine, wish.do === 'pause');
    return true;
  }

  /** Ends it. What was sent before is answered before; what comes after is refused with this. */
  async close(status: number, words: string): Promise<void> {
    await this.mirroring.close();
    await this.inStep.close();
    await this.work.close();
    await this.push.close();
    await this.released.close(new Refused(status, words));
    await this.log.close();
    for (const port of this.ports) port[releaseProxy]?.();
  }
}
