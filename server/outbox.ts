import { randomUUID } from 'node:crypto';
import { link, mkdir, readFile, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { KeptMessage } from './messages.ts';
import { Refused } from './refused.ts';

/** What the outbox of one app may hold in all, and in how many messages. */
const MOST_BYTES = 256 * 2 ** 20;
const MOST_MESSAGES = 20_000;
/** A list of messages ends at either of these. */
const LISTED = 200;
const LISTED_BYTES = 12 * 2 ** 20;
/** So many notices are told to somebody who comes back. */
const MOST_MISSED = 100;

/** A mail as it would go out, or another message as it is kept. */
export interface OutboxEntry {
  id: string;
  eml?: string;
  message?: KeptMessage;
}

/** A message on the disk. */
interface Kept {
  file: string;
  at: number;
  bytes: number;
  /** Whom a notice is for, and when it was sent; null for what is none. Known once it was read. */
  notice?: { to: readonly string[]; at: string } | null;
}

/** What one app sends out: a folder with a file for each message, of bounded size. */
export class Outbox {
  private list: Promise<Map<string, Kept>> | null = null;
  private bytes = 0;

  constructor(
    private readonly folder: string,
    private readonly mostBytes = MOST_BYTES,
    private readonly mostMessages = MOST_MESSAGES,
  ) {}

  /** The messages that are here, the oldest first; the folder is looked through once. */
  private kept(): Promise<Map<string, Kept>> {
    this.list ??= this.look();
    // What could not be looked through is looked through again.
    this.list.catch(() => (this.list = null));
    return this.list;
  }

  private async look(): Promise<Map<string, Kept>> {
    const files = await readdir(this.folder).catch((e: unknown) => {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return [];
      throw e;
    });
    const all: Kept[] = [];
    // One after the other: a folder may have more files than a process may open.
    for (const file of files)
      if (/\.(eml|json)$/.test(file)) {
        const { mtimeMs, size } = await stat(join(this.folder, file));
        all.push({ file, at: mtimeMs, bytes: size });
      }
    all.sort((a, b) => a.at - b.at || a.file.localeCompare(b.file));
    this.bytes = all.reduce((n, k) => n + k.bytes, 0);
    return new Map(all.map((k) => [k.file, k]));
  }

  /** Keeps a message once for each id; says whether it is new. Throws a {@link Refused} when there is no room. */
  async add(id: string, ending: 'eml' | 'json', text: string): Promise<boolean> {
    const kept = await this.kept();
    const file = `${id}.${ending}`;
    if (kept.has(file)) return false;
    const bytes = Buffer.byteLength(text);
    if (kept.size >= this.mostMessages || this.bytes + bytes > this.mostBytes)
      throw new Refused(507, 'The outbox of this app is full. The message waits on this device until there is room.');
    // It counts from now on, so that others who come meanwhile do not fill it further than it goes.
    kept.set(file, { file, at: Date.now(), bytes });
    this.bytes += bytes;
    const part = join(this.folder, `${file}.${randomUUID()}.part`);
    try {
      await mkdir(this.folder, { recursive: true });
      await writeFile(part, text);
      await link(part, join(this.folder, file));
      return true;
    } catch (e) {
      kept.delete(file);
      this.bytes -= bytes;
      throw e;
    } finally {
      await rm(part, { force: true });
    }
  }

  /** The newest messages, the last of them last; fewer where they are large. `more` says how many older ones there are. */
  async newest(): Promise<{ messages: OutboxEntry[]; more: number }> {
    const all = [...(await this.kept()).values()];
    const messages: OutboxEntry[] = [];
    let bytes = 0;
    let at = all.length;
    while (
      at > 0 &&
      messages.length < LISTED &&
      (messages.length === 0 || bytes + all[at - 1]!.bytes <= LISTED_BYTES)
    ) {
      const next = all[--at]!;
      bytes += next.bytes;
      messages.unshift(await this.read(next.file));
    }
    return { messages, more: at };
  }

  private async read(file: string): Promise<OutboxEntry> {
    const text = await readFile(join(this.folder, file), 'utf8');
    const id = file.replace(/\.\w+$/, '');
    if (file.endsWith('.eml')) return { id, eml: text };
    const message = KeptMessage.safeParse(jsonOf(text));
    // A file that was damaged keeps nobody from the others; it is shown as it is.
    return message.success ? { id, message: message.data } : { id, eml: text };
  }

  /** The latest notices for a person since a time (ISO 8601), in their order. */
  async notices(person: string, after: string): Promise<KeptMessage[]> {
    // Clocks of files are coarse; what is read is looked at by its own time.
    const since = Date.parse(after) - 2000;
    const files = [...(await this.kept()).values()].filter((k) => k.file.endsWith('.json') && k.at >= since);
    const found: KeptMessage[] = [];
    for (const kept of files.reverse()) {
      // Read once, it need not be read again to see that it is for somebody else.
      if (kept.notice === null || (kept.notice && !(kept.notice.at > after && kept.notice.to.includes(person))))
        continue;
      const { message } = await this.read(kept.file);
      kept.notice = message?.kind === 'notice' ? { to: message.to, at: message.at } : null;
      if (message?.kind === 'notice' && message.at > after && message.to.includes(person)) found.push(message);
      if (found.length >= MOST_MISSED) break;
    }
    return found.sort((a, b) => a.at.localeCompare(b.at));
  }
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
