import { readFile } from 'node:fs/promises';
import { proxy, releaseProxy, transfer, type ProxyMarked } from 'comlink';
import { readApp } from '../core/app/document.ts';
import { openToLinkHolders, type Who } from '../core/access/access.ts';
import type { App } from '../core/app/schema.ts';
import '../core/formula/patterns-engine.ts';
import { Host, type LogPort } from '../core/host/host.ts';
import type { MirrorsMessage, MirrorStatus } from '../core/mirror/state.ts';
import { answerTo } from './answers.ts';
import { Broadcast } from './broadcast.ts';
import { factsOf } from './facts.ts';
import { FilesThere } from './kept-files.ts';
import { PushMessage, ReleaseMessage, type Settlement } from './messages.ts';
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
  /** A message for all who listen and may read the same, and the number of the last change in it. */
  | { kind: 'news'; to: Who['kind']; message: Uint8Array; at: number }
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
  private readonly broadcasts = new Map<Who['kind'], Broadcast>();
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

  catchUp(since: number, who: Who, from: number): Uint8Array {
    return inJson(this.host.catchUp(since, who, from));
  }

  mayReadFile(who: Who, hash: string): boolean {
    return this.host.mayReadFile(who, hash);
  }

  /**
   * Begins or ends to tell what happens, as far as people of this kind may read it. Gives the number of the last change
   * before what is told.
   */
  listen(kind: Who['kind'], on: boolean): number {
    const known = this.broadcasts.get(kind);
    if (on && !known)
      this.broadcasts.set(
        kind,
        new Broadcast(this.host, { kind }, (message, at) => this.tell({ kind: 'news', to: kind, message, at })),
      );
    if (!on && known) {
      known.close();
      this.broadcasts.delete(kind);
    }
    return this.host.position;
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
    for (const b of this.broadcasts.values()) b.close();
    this.broadcasts.clear();
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
