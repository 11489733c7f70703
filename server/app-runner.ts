import { readFile } from 'node:fs/promises';
import { proxy, releaseProxy, transfer, type ProxyMarked } from 'comlink';
import { readApp } from '../core/app/document.ts';
import { openToLinkHolders, type Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import '../core/formula/patterns-engine.ts';
import { Host, type LogPort } from '../core/host/host.ts';
import type { Asked } from '../core/host/protocol.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import { answerTo } from './answers.ts';
import { Broadcasts, type Message } from './broadcast.ts';
import { factsOf } from './facts.ts';
import { FilesThere } from './kept-files.ts';
import { HaveMessage, PushMessage, ReleaseMessage, type Settlement } from './messages.ts';
import { Mirrors, type MirrorRequest } from './mirrors.ts';
import { RecordsLog } from './records-log.ts';
import { Refused } from './refused.ts';
import { OwnSheets, type OwnersPort } from './sheet-owners.ts';
import { SheetsFolder } from './sheets-folder.ts';

/** What an app is run with. */
export interface Running {
  name: string;
  /** Where its document lies. */
  document: string;
  /** Its folder, with its records, files and mirrors. */
  folder: string;
  /** The folder of the files that tables can mirror. */
  sheets: string;
}

/** What a running app says by itself. */
export type AppNews =
  | ({ kind: 'news' } & Message)
  /** A mirrored table stands differently with its file. */
  | { kind: 'mirror'; table: string }
  /** Files that no record holds were removed. */
  | { kind: 'swept' }
  /** For the operator. */
  | { kind: 'said'; words: string };

type Port = { [releaseProxy]?(): void };

const inBytes = (value: unknown): Uint8Array<ArrayBuffer> => new TextEncoder().encode(JSON.stringify(value));
const inJson = (value: unknown): Uint8Array => {
  const bytes = inBytes(value);
  return transfer(bytes, [bytes.buffer]);
};

const documentAt = async (path: string): Promise<App> => readApp(JSON.parse(await readFile(path, 'utf8')), 'The app');

function parsed(body: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.length).toString('utf8'));
  } catch {
    throw new Refused(400, 'The request is not JSON.');
  }
}

/**
 * Runs one released app: its records with their log, its files and mirrored tables. It stands in a thread of its own,
 * and is spoken to in messages; what it takes and gives in bulk is JSON in bytes, read and written here.
 */
export class AppRunner {
  private app!: App;
  private host!: Host;
  private log!: RecordsLog;
  private mirroring!: Mirrors;
  private tell: (news: AppNews) => void = () => {};
  private broadcasts!: Broadcasts;
  /** What leads back to the server, to be let go at the end. */
  private ports: Port[] = [];

  async open(running: Running, owners: OwnersPort, tell: (news: AppNews) => unknown): Promise<void> {
    this.ports = [owners, tell] as unknown as Port[];
    this.tell = (news) => void tell(news.kind === 'news' ? transfer(news, [news.message.buffer]) : news);
    this.app = await documentAt(running.document);
    const { log, kept } = await RecordsLog.open(running.folder);
    for (const words of kept.damage) this.tell({ kind: 'said', words });
    this.log = log;
    const files = new FilesThere(`${running.folder}/files`);
    const keep: LogPort = {
      append: async (changes) => {
        await log.append(changes);
        if (log.isLong) void this.fold(files);
      },
    };
    this.host = new Host(this.app, keep, openToLinkHolders, Date.now, files);
    this.host.restore(kept.states, kept.changes, kept.at, kept);
    this.broadcasts = new Broadcasts(this.host, (m) => this.tell({ kind: 'news', ...m }));
    const sheets = new OwnSheets(new SheetsFolder(running.sheets), owners);
    this.mirroring = new Mirrors(`${running.folder}/mirrors.json`, () => this.app, this.host, sheets);
    this.mirroring.subscribe((status) => this.tell({ kind: 'mirror', table: status.table }));
    await this.mirroring.start();
    void this.sweep(files).catch((e: Error) =>
      this.tell({ kind: 'said', words: `Its files cannot be looked through: ${e.message}` }),
    );
  }

  /** While the app goes on: changes are held up only while a new segment of the log is begun. */
  private async fold(files: FilesThere): Promise<void> {
    try {
      await this.host.pause(() => this.log.turn(this.host.position));
      await this.log.fold(this.host.snapshot());
      await this.sweep(files);
    } catch (e) {
      this.tell({ kind: 'said', words: `Its log cannot be folded now: ${(e as Error).message}` });
    }
  }

  private async sweep(files: FilesThere): Promise<void> {
    const { host } = this;
    const swept = await files.sweep(async (hash, drop) => {
      if (!host.usesFile(hash)) await host.pause(async () => (host.usesFile(hash) ? undefined : drop()));
    });
    if (swept) this.tell({ kind: 'swept' });
  }

  /** Answers as long as the thread is not stuck in some work. */
  ping(): void {}

  /** Takes the document of a newer release. */
  async setApp(path: string): Promise<void> {
    this.app = await documentAt(path);
    this.host.setApp(this.app);
  }

  /** Number of the last change. */
  at(): number {
    return this.host.position;
  }

  /** Keeps what devices send, each a {@link PushMessage}; for each the receipt in JSON, or why there is none. */
  acceptAll(pushes: readonly { body: Uint8Array; who: Who }[]): Promise<(string | ReturnType<typeof answerTo>)[]> {
    return Promise.all(pushes.map(({ body, who }) => this.accept(body, who).catch(answerTo)));
  }

  private async accept(body: Uint8Array, who: Who): Promise<string> {
    return JSON.stringify(await this.host.accept(PushMessage.parse(parsed(body)).changes, who));
  }

  async catchUp(asked: Asked, who: Who): Promise<Uint8Array> {
    return inJson(await this.host.catchUp(asked, who));
  }

  /** What a device must have in place of what it has, a {@link HaveMessage} in JSON. */
  async compare(body: Uint8Array, who: Who): Promise<Uint8Array> {
    if (this.host.access.isOpen) throw new Refused(409, 'This app is open to all: ask for its changes instead.');
    return inJson(await this.host.compare(HaveMessage.parse(parsed(body)), who));
  }

  mayReadFile(who: Who, hash: string): boolean {
    return this.host.mayReadFile(who, hash);
  }

  /** Begins or ends to tell somebody what happens. Gives the number of the last change before what is told, and their view. */
  listen(who: Who, on: boolean): { at: number; view: string | undefined } {
    const view = on ? this.broadcasts.begin(who) : undefined;
    if (!on) this.broadcasts.end(who);
    return { at: this.host.position, view };
  }

  // Mirrored tables

  mirrors(): Promise<MirrorsMessage> {
    return this.mirroring.state();
  }
  mirror(table: string, request: MirrorRequest): Promise<MirrorStatus> {
    return this.mirroring.add(table, request);
  }
  async unmirror(table: string): Promise<void> {
    await this.mirroring.stop(table);
  }
  async settle(table: string, answer: Settlement): Promise<MirrorStatus> {
    const mirror = this.mirroring.get(table);
    if (answer.about === 'conflict') await mirror.settle(answer.id, answer.take);
    else if (answer.about === 'rows') await mirror.settleHeld(answer.take);
    else await mirror.follow();
    return mirror.now;
  }
  /** Does it follow files, so that it must run without being asked? */
  follows(): boolean {
    return this.mirroring.any;
  }

  /** Ends it. What was sent before is answered before; what comes after is refused with this. */
  async close(status: number, words: string): Promise<void> {
    await this.mirroring.close();
    await this.host.close(new Refused(status, words));
    this.broadcasts.close();
    await this.log.close();
    for (const port of this.ports) port[releaseProxy]?.();
  }
}

/** What a thread does: it runs apps, one after the other, and looks through what is to be released. */
export const threadApi = {
  newApp: (): AppRunner & ProxyMarked => proxy(new AppRunner()),

  /**
   * What is to be released, a {@link ReleaseMessage} in JSON, checked: its document as JSON, and in JSON what the server
   * knows of it. Throws in words when it is not right.
   */
  readRelease(body: Uint8Array): ReadRelease {
    const message = ReleaseMessage.parse(parsed(body));
    return read(readApp(message.app, 'The app'), { icons: message.icons });
  },

  /** The same of a release as it was kept before, in one file with its document, or of an earlier form of documents. */
  async readKept(path: string, name: string): Promise<ReadRelease> {
    const file = JSON.parse(await readFile(path, 'utf8')) as Record<string, unknown>;
    const { app, ...rest } = 'app' in file ? file : { app: file };
    return read(readApp(app, `The release at ${name}`), rest);
  },
};

/** A document as JSON, and in JSON its facts beside other things that are known of it. */
export interface ReadRelease {
  document: Uint8Array;
  about: Uint8Array;
}

function read(app: App, more: object): ReadRelease {
  const bytes = {
    document: new TextEncoder().encode(JSON.stringify(app)),
    about: inBytes({ ...more, facts: factsOf(app) }),
  };
  return transfer(bytes, [bytes.document.buffer, bytes.about.buffer]);
}
