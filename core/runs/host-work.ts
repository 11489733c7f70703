import type { Who } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import { newId, newSecret } from '../document/ids.ts';
import type { TextPort } from '../document/kept-text.ts';
import { Refused } from '../document/refused.ts';
import type { Clock } from '../document/time.ts';
import { PIECE_BYTES } from '../fields/kept-file.ts';
import { fileName } from '../fields/kept-address.ts';
import { readMail } from '../mail/read-mail.ts';
import type { MailboxMessage } from './mailbox.ts';
import type { Host } from '../host/host.ts';
import { KeptMessage } from '../released/messages.ts';
import { MessagesOut, recipientsOf, type RelayAnswer } from '../released/messages-out.ts';
import type { ReleasedApp } from '../released/released.ts';
import { runOfMessage, type HostSide } from './host-asks.ts';
import { HostRuns } from './host-runs.ts';
import type { DayLimits } from './day.ts';
import { holdsAnyOf } from './forgetting.ts';
import { HookCalls, type HookCallKept } from './hook-calls.ts';
import { hookSecret, mustShowWho, startOf, type HookCall } from './hooks.ts';
import type { RunsPort } from './lines.ts';
import type { RunsNow } from './live-run.ts';
import { MailIn } from './mail-in.ts';
import { AnswerMessage } from './questions.ts';
import { startsOfPerson, type PersonDid } from './told-starts.ts';

/** What the work of a host asks of the app around it. */
export interface WorkPorts extends Omit<HostSide, 'host'> {
  app(): App;
  clock: Clock;
  released(): ReleasedApp;
  /** The mails of the outbox. */
  mails: { ids(): Promise<string[]>; read(id: string): Promise<string | null> };
  /** What the app may do in a day, anything where it is absent; and how many mails it has sent. */
  limits?: DayLimits;
  mailsOfDay(): number;
  /** Gives a mail to the operator’s relay; null where none is named. */
  relay: ((eml: string, to: readonly string[]) => Promise<RelayAnswer>) | null;
  /** The text messages of the outbox, and what gives them to the operator’s address for them; null where there is none. */
  texts: { ids(): Promise<string[]>; read(id: string): Promise<string | null> };
  textRelay: ((id: string, message: KeptMessage) => Promise<RelayAnswer>) | null;
  say(words: string): void;
}

/** Where it keeps what it does. */
export interface WorkKeeps {
  runs: RunsPort;
  mails: RunsPort;
  /** The secret that those of its hooks are made of. */
  hooks: TextPort;
  calls: TextPort;
  /** What was given to the relays; needed where there are any. */
  sent: RunsPort | null;
  sentTexts: RunsPort | null;
  /** It is over. */
  close?(): Promise<void>;
}

/** What a host does for an app by itself: its runs, the mails that come, and what other systems call. */
export class HostWork {
  runs!: HostRuns;
  readonly mail: MailIn;
  private secret = '';
  /** Give mails and text messages to the operator’s relays; null where there are none. */
  private readonly out: MessagesOut | null;
  private readonly texts: MessagesOut | null;

  private readonly calls: HookCalls;

  /** `kept` are its runs as they were kept; nothing runs before {@link open}. */
  constructor(
    private readonly ports: WorkPorts,
    private readonly keeps: WorkKeeps,
    private readonly kept: RunsNow,
  ) {
    const { clock } = ports;
    const { sent, sentTexts } = keeps;
    this.calls = new HookCalls(keeps.calls, clock);
    this.mail = new MailIn({
      app: ports.app,
      lines: keeps.mails,
      now: () => clock.now(),
      keepFile: (file) => this.keepFile(file),
      begin: (starts) => this.runs.begin(starts),
      cameBack: (id, words) => this.cameBack(id, words),
      say: ports.say,
    });
    const { relay } = ports;
    this.out = relay && sent ? new MessagesOut({
      clock,
      lines: sent,
      ids: () => ports.mails.ids(),
      read: (id) => ports.mails.read(id),
      to: recipientsOf,
      relay,
      refused: (id, words) => this.cameBack(id, `It was not taken: ${words}`),
      say: ports.say,
    }) : null; // prettier-ignore
    const { textRelay } = ports;
    this.texts = textRelay && sentTexts ? new MessagesOut({
      clock,
      lines: sentTexts,
      ids: () => ports.texts.ids(),
      read: (id) => ports.texts.read(id),
      to: (text) => KeptMessage.parse(JSON.parse(text)).to,
      relay: (text, _to, id) => textRelay(id, KeptMessage.parse(JSON.parse(text))),
      refused: (id, words) => this.cameBack(id, `It was not taken: ${words}`),
      say: ports.say,
    }) : null; // prettier-ignore
  }

  /** What hears of every change of a host. */
  watch(host: Host): HostRuns {
    const { keeps, ports } = this;
    return (this.runs = new HostRuns({ ...ports, host, runs: keeps.runs }, this.kept));
  }

  /** Goes on with what runs. */
  async open(): Promise<void> {
    await this.runs.open();
    await this.mail.open();
    await this.out?.open();
    await this.texts?.open();
  }

  /** A mail lies in the outbox. */
  mailed(id: string): void {
    this.out?.add(id);
  }
  texted(id: string): void {
    this.texts?.add(id);
  }

  /** A mail or text message did not arrive: it is told at the run that sent it, or to the operator. */
  private async cameBack(id: string, words: string): Promise<void> {
    const run = runOfMessage(id);
    if (!run || !(await this.runs.returned(run, words))) this.ports.say(`A message did not arrive (${id}). ${words}`);
  }

  /** Keeps a file of a mail, in pieces as phones send them. */
  private async keepFile({ hash, content }: { hash: string; content: Uint8Array }): Promise<void> {
    const released = this.ports.released();
    const size = content.length;
    let { offset, complete } = await released.arrival(hash);
    while (!complete) {
      const piece = { hash, size, offset, content: content.slice(offset, offset + PIECE_BYTES), from: 'mail' };
      ({ offset, complete } = await released.takePiece(piece));
    }
  }

  /** The secret of the hook of a routine, and who has called it. */
  async hookSecret(routine: string): Promise<{ secret: string; calls: HookCallKept[] }> {
    return { secret: hookSecret(await this.ofApp(), routine), calls: await this.calls.of(routine) };
  }

  /** Another system calls. Throws a {@link Refused} in words for what is not taken. */
  async hook(call: HookCall): Promise<void> {
    mustShowWho(this.ports.app(), await this.ofApp(), call);
    await this.called(call);
  }

  /** The maker calls, to try what comes of it. Throws a {@link Refused} in words for what does not fit. */
  async tryHook(routine: string, body: Uint8Array): Promise<void> {
    await this.called({ routine, headers: {}, body });
  }

  private async called(call: Pick<HookCall, 'routine' | 'headers' | 'body'>): Promise<void> {
    const { routine, body } = call;
    try {
      const start = startOf(this.ports.app(), call);
      await this.runs.begin([start]);
      await this.calls.add(start.id, routine, body);
    } catch (e) {
      if (e instanceof Refused) await this.calls.add(newId('h'), routine, body, e.message);
      throw e;
    }
  }

  /** Somebody has done what may start routines. */
  async personDid(did: PersonDid): Promise<void> {
    const { records } = this.ports.released().host.replica;
    await this.runs.begin(startsOfPerson(this.ports.app(), records, did, this.ports.clock.now()));
  }

  /** Somebody answers what a run asks them, an {@link AnswerMessage}. Throws a {@link Refused} in words where it is none. */
  async answer(given: unknown, who: Who): Promise<void> {
    const released = this.ports.released();
    released.comingIn.mustBeIn(who);
    const message = AnswerMessage.parse(given);
    // Where people sign in nobody is whom they say.
    const person = this.ports.app().access?.mail ? (who.mail ?? '') : message.person;
    const heard = await released.listensFor({ person, heard: '', device: message.device });
    if (!heard) throw new Refused(422, 'Say who answers, and on which device.');
    await this.runs.waits.answer(person, message, heard.since);
  }

  private async ofApp(): Promise<string> {
    this.secret ||= await this.keeps.hooks.read();
    if (!this.secret) {
      this.secret = newSecret();
      await this.keeps.hooks.write(this.secret);
    }
    return this.secret;
  }

  /** Throws a {@link Refused} where no routine waits for mails, and none can come back. */
  mustTakeMail(): void {
    if (!this.mail.isWanted && !this.out) throw new Refused(404, 'This app takes no mails.');
  }

  /** Takes a mail as it came; resolves when it is kept. */
  async takeMail(raw: Uint8Array, to: string, mark: string | null): Promise<void> {
    this.mustTakeMail();
    await this.mail.takes(raw, to, mark);
  }

  /** The newest mails that came and went, by threads. */
  async mailbox(): Promise<MailboxMessage> {
    const { came, threadOf } = this.mail.newest;
    const { messages } = await this.ports.released().outbox();
    const sent = await Promise.all(
      messages.flatMap(({ eml }) => (eml === undefined ? [] : [readMail(new TextEncoder().encode(eml))])),
    );
    const read = (address: string): string => fileName(address);
    return {
      takes: this.mail.isWanted,
      mails: [
        ...came.map(({ message, at, from, subject, words, thread, by, files }) => ({
          came: true, message, at, who: from.name || from.address, address: from.address, subject, words, thread, by, files: files.map(read),
        })),
        ...sent.map((m) => ({
          came: false, message: m.id, at: m.at, who: m.to, address: m.to, subject: m.subject, words: m.whole,
          thread: threadOf(m.id) ?? m.id, by: m.by, files: m.files.map((f) => f.name),
        })),
      ]
        // What goes out knows its second alone.
        .sort((a, b) => Math.floor(a.at / 1000) - Math.floor(b.at / 1000)),
    }; // prettier-ignore
  }

  /** Lets go of all that is about somebody. Gives the files of their mails. */
  async forget(gone: readonly string[]): Promise<string[]> {
    await this.runs.forget(gone);
    await this.calls.forget(holdsAnyOf(gone));
    return this.mail.forget(gone);
  }

  async close(): Promise<void> {
    await this.out?.close();
    await this.texts?.close();
    await this.calls.close();
    await this.runs.close();
    await this.keeps.close?.();
  }
}
