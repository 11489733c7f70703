import { z } from 'zod';
import { readLine } from '../document/kept-line.ts';
import type { App } from '../app/schema.ts';
import { hashOf } from '../fields/keep-file.ts';
import { keptAddress } from '../fields/kept-file.ts';
import { readKeptAddress } from '../fields/kept-address.ts';
import { Refused } from '../document/refused.ts';
import { inShort } from '../document/in-short.ts';
import { InTurn } from '../document/in-turn.ts';
import { pairOf, readMail, threadOf, type MailFile } from '../mail/read-mail.ts';
import type { KeptValue } from '../records/kept-value.ts';
import { inputsFrom } from '../routines/trigger.ts';
import { holdsAnyOf, linesWithout } from './forgetting.ts';
import type { RunsPort } from './lines.ts';
import { triggersOf } from './ready.ts';
import { runId, type Start } from './start.ts';

/** A mail that has come, as it is kept: its files are beside it, each under its address. */
const CameSchema = z.object({
  do: z.literal('came'),
  id: z.string(),
  /** When, in milliseconds since 1970. */
  at: z.number(),
  message: z.string(),
  from: z.object({ name: z.string(), address: z.string() }),
  to: z.string(),
  subject: z.string(),
  words: z.string(),
  whole: z.string(),
  thread: z.string(),
  pair: z.string(),
  by: z.enum(['person', 'machine', 'mail server']),
  returned: z.array(z.string()),
  files: z.array(z.string()),
});
/** A mail that went out, by its id; it belongs to a thread. */
const SentSchema = z.object({ do: z.literal('sent'), message: z.string(), thread: z.string(), pair: z.string() });
const MailLine = z.discriminatedUnion('do', [
  CameSchema,
  SentSchema,
  /** What a mail that came has started is kept. */
  z.object({ do: z.literal('begun'), id: z.string() }),
]);
type MailLine = z.infer<typeof MailLine>;
export type MailCame = z.infer<typeof CameSchema>;

/** So many mails that have come are listed. */
const LISTED = 200;
/** Files of mails are kept for so long, though no record holds them. */
const FILES_MS = 30 * 86_400_000;
/** Mails one sender may send in an hour, and all of them. */
const AN_HOUR = { sender: 120, all: 2000 };

export interface MailInPorts {
  app(): App;
  lines: RunsPort;
  now(): number;
  /** Keeps a file; rejects in words where there is no room. */
  keepFile(file: { hash: string; content: Uint8Array }): Promise<void>;
  /** Begins runs, each once by its id. Resolves when they are kept. */
  begin(starts: readonly Start[]): Promise<void>;
  /** A mail that the app sent came back, by its id and in the words of the mail server. */
  cameBack(id: string, words: string): Promise<void>;
  say(words: string): void;
}

/**
 * The mails that come to an app. Each is taken when it and what it starts are kept, and once however often a mail server
 * sends it.
 */
export class MailIn {
  /** The newest mails, and those that have begun nothing yet. */
  private readonly came = new Map<string, MailCame>();
  private readonly begun = new Set<string>();
  /** Threads by the ids of messages, and by pairs of a sender and a subject. */
  private readonly threads = new Map<string, string>();
  private readonly turns = new InTurn();
  /** Files of mails that came lately. */
  private readonly lately = new Set<string>();
  private hour = 0;
  private readonly counts = new Map<string, number>();

  constructor(private readonly ports: MailInPorts) {}

  /** Reads what was kept, and begins what was not begun. */
  async open(): Promise<void> {
    for await (const text of this.ports.lines.read()) {
      const line = readLine(MailLine, text);
      if (line) this.take(line);
      else this.ports.say('A line of its mails could not be read, and is left out.');
    }
    for (const mail of this.came.values()) await this.begin(mail);
  }

  private take(line: MailLine): void {
    if (line.do === 'begun') {
      this.begun.add(line.id);
      for (const id of this.came.keys()) {
        if (this.came.size <= LISTED || !this.begun.has(id)) break;
        this.came.delete(id);
      }
    } else {
      if (line.message) this.threads.set(line.message, line.thread);
      this.threads.set(line.pair, line.thread);
      this.threads.set(`mark ${markOf(line.thread)}`, line.thread);
      if (line.do !== 'came') return;
      this.came.set(line.id, line);
      if (line.at < this.ports.now() - FILES_MS) return;
      for (const file of line.files) this.lately.add(readKeptAddress(file)?.hash ?? '');
    }
  }

  private async keep(line: MailLine): Promise<void> {
    await this.turns.next(() => this.ports.lines.append([JSON.stringify(line)]));
    this.take(line);
  }

  /**
   * Takes a mail as it came, in bytes. `to` is the address it came to; `mark` what that has behind its plus. Throws a
   * {@link Refused} in words for what is not taken.
   */
  async takes(raw: Uint8Array, to: string, mark: string | null): Promise<void> {
    const id = runId('mail', hashOf(raw));
    if (this.begun.has(id)) return;
    const known = this.came.get(id);
    if (known) return this.begin(known);
    const mail = await readMail(raw).catch((e: Error) => {
      throw new Refused(422, `This mail cannot be read: ${e.message}`);
    });
    // What came back is taken by every app that sends.
    if (!this.isWanted && mail.by !== 'mail server') throw new Refused(404, 'This app takes no mails.');
    if (!mail.from.address) throw new Refused(422, 'This mail says no sender whom one could answer.');
    this.count(mail.from.address);
    const files: string[] = [];
    for (const file of mail.files) files.push(await this.keepFile(file));
    const message = mail.id || `${id}@nowhere.invalid`;
    const thread = threadOf({ ...mail, id: message }, (key) => this.threads.get(key), mark);
    const { from, subject, words, whole, by, returned } = mail;
    const came: MailCame = {
      do: 'came', id, at: this.ports.now(), message, from, to, subject, words, whole, thread, pair: pairOf(mail), by, returned, files,
    }; // prettier-ignore
    await this.keep(came);
    if (by === 'mail server')
      for (const id of returned) await this.ports.cameBack(id.split('@')[0]!, `It came back: ${inShort(words, 300)}`);
    await this.begin(came);
  }

  private count(sender: string): void {
    const hour = Math.floor(this.ports.now() / 3_600_000);
    if (hour !== this.hour) this.counts.clear();
    this.hour = hour;
    for (const [who, most] of [
      [sender, AN_HOUR.sender],
      ['', AN_HOUR.all],
    ] as const) {
      const n = (this.counts.get(who) ?? 0) + 1;
      if (n > most) throw new Refused(429, 'So many mails in an hour are not taken. Send it again later.');
      this.counts.set(who, n);
    }
  }

  private async keepFile({ name, type, content }: MailFile): Promise<string> {
    const hash = hashOf(content);
    await this.ports.keepFile({ hash, content });
    return keptAddress({ hash, type, size: content.length, name });
  }

  private async begin(mail: MailCame): Promise<void> {
    if (this.begun.has(mail.id)) return;
    await this.ports.begin(this.startsOf(mail));
    await this.keep({ do: 'begun', id: mail.id });
  }

  private startsOf(mail: MailCame): Start[] {
    const knows = {
      sender: mail.from.address,
      'name of the sender': mail.from.name || mail.from.address,
      subject: mail.subject,
      'words of the mail': mail.words,
      'whole mail': mail.whole,
      'files of the mail': { list: mail.files } as KeptValue,
      'id of the mail': mail.message,
      'thread of the mail': mail.thread,
    };
    return triggersOf(this.ports.app(), 'mail came').flatMap(({ routine, trigger, at }) =>
      trigger.by === mail.by
        ? [
            {
              id: runId('mail', mail.id, routine.id, at),
              routine: routine.id,
              given: null,
              values: inputsFrom(routine, knows),
              said: `A mail came from ${mail.from.address}: ${mail.subject}`,
              path: [routine.id],
            },
          ]
        : [],
    );
  }

  /** A mail goes out: answers to it belong to the same thread as what it answers. Nothing is noted where none can come. */
  async sent(mail: { message: string; to: readonly string[]; subject: string; answers?: string | undefined }): Promise<void> {
    if (!this.isWanted || this.threads.has(mail.message)) return;
    const answered = mail.answers?.replace(/[<>\s]/g, '');
    const thread = (answered && this.threads.get(answered)) || mail.message;
    const pair = pairOf({ from: { name: '', address: mail.to[0] ?? '' }, subject: mail.subject });
    await this.keep({ do: 'sent', message: mail.message, thread, pair });
  } // prettier-ignore

  /** Lets go of all mails from or to an address. Gives the files that came with them, by their hashes. */
  async forget(gone: readonly string[]): Promise<string[]> {
    const holds = holdsAnyOf(gone);
    const files: string[] = [];
    const { lines } = this.ports;
    await this.turns.next(async () => {
      for await (const text of lines.read()) {
        const line = holds(text) ? readLine(MailLine, text) : null;
        if (line?.do !== 'came') continue;
        this.came.delete(line.id);
        files.push(...line.files.map((f) => readKeptAddress(f)?.hash ?? ''));
      }
      await lines.rewrite(linesWithout(lines, holds));
    });
    for (const key of this.threads.keys()) if (holds(key)) this.threads.delete(key);
    for (const hash of files) this.lately.delete(hash);
    return files;
  }

  /** Does any routine wait for mails? */
  get isWanted(): boolean {
    return triggersOf(this.ports.app(), 'mail came').length > 0;
  }

  /** Is a file of a mail that came lately, and may not be in a record yet? */
  needsFile(hash: string): boolean {
    return this.lately.has(hash);
  }

  /** The newest mails that came, the last of them last; and the way to the thread of a message, by its id. */
  get newest(): { came: MailCame[]; threadOf(message: string): string | undefined } {
    return { came: [...this.came.values()], threadOf: (message) => this.threads.get(message) };
  }
}

/** What an address of the app has behind its plus, so that what is sent there belongs to a thread. */
export const markOf = (thread: string): string => runId('mark', thread).slice(0, 13);
