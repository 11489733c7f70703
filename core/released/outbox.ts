import { addressesIn, plainMail } from '../document/addresses.ts';
import { KeptMessage } from './messages.ts';
import { Refused } from '../document/refused.ts';

/** What the outbox of one app may hold in all, and in how many messages. */
const MOST_BYTES = 256 * 2 ** 20;
const MOST_MESSAGES = 20_000;
const DAY_MS = 86_400_000;
/** Where there is no room for another, messages that are older go. */
const LONG_MS = 60 * DAY_MS;
/** A list of messages ends at either of these. */
const LISTED = 200;
const LISTED_BYTES = 12 * 2 ** 20;
/** So many notices are told to somebody who comes back. */
const MOST_MISSED = 100;

/** Where messages are kept, each as a text under a name of its own. */
export interface MessagesPort {
  /** All that are here, the oldest first; `at` in milliseconds since 1970, as coarse as the clock of files is. */
  list(): Promise<{ name: string; at: number; bytes: number }[]>;
  /** Keeps a text, whole or not at all. */
  keep(name: string, text: string): Promise<void>;
  read(name: string): Promise<string>;
  /** Writes another text in place of one, whole or not at all. */
  replace(name: string, text: string): Promise<void>;
  drop(name: string): Promise<void>;
}

/** A mail as it would go out, or another message as it is kept. */
export interface OutboxEntry {
  id: string;
  eml?: string;
  message?: KeptMessage;
}

/** A message that is kept. */
interface Kept {
  name: string;
  /** It is being written: it counts, and cannot be read yet. */
  isComing?: boolean;
  at: number;
  bytes: number;
  /** Whom a notice is for, and when it was sent; null for what is none. Known once it was read. */
  notice?: { to: readonly string[]; at: string } | null;
}

const bytesOf = (text: string): number => new TextEncoder().encode(text).length;

/** What one app sends out, of bounded size. There is one keeper for an app, since it counts. */
export class Outbox {
  private all: Promise<Map<string, Kept>> | null = null;
  private bytes = 0;
  /** When mails were kept, the earliest first. */
  private mails: number[] = [];

  constructor(
    private readonly port: MessagesPort,
    private readonly now: () => number = Date.now,
    private readonly mostBytes = MOST_BYTES,
    private readonly mostMessages = MOST_MESSAGES,
  ) {}

  /** The messages that are here, the oldest first; they are looked through once. */
  private kept(): Promise<Map<string, Kept>> {
    this.all ??= this.look();
    // What could not be looked through is looked through again.
    this.all.catch(() => (this.all = null));
    return this.all;
  }

  private async look(): Promise<Map<string, Kept>> {
    const all = await this.port.list();
    this.bytes = all.reduce((n, k) => n + k.bytes, 0);
    this.mails = all.filter((k) => k.name.endsWith('.eml')).map((k) => k.at);
    return new Map(all.map((k) => [k.name, k]));
  }

  /** Looks through what is here. */
  async open(): Promise<void> {
    await this.kept();
  }
  /** How many mails were kept in the 24 hours up to now. */
  get mailsOfDay(): number {
    const since = this.now() - DAY_MS;
    const first = this.mails.findIndex((at) => at > since);
    this.mails = first < 0 ? [] : this.mails.slice(first);
    return this.mails.length;
  }
  async has(id: string, ending: 'eml' | 'json'): Promise<boolean> {
    return (await this.kept()).has(`${id}.${ending}`);
  }

  /** Keeps a message once for each id; says whether it is new. Throws a {@link Refused} when there is no room. */
  async add(id: string, ending: 'eml' | 'json', text: string): Promise<boolean> {
    const kept = await this.kept();
    const name = `${id}.${ending}`;
    if (kept.has(name)) return false;
    const bytes = bytesOf(text);
    const goes = this.mustGo(kept, bytes);
    if (!goes)
      throw new Refused(507, 'The outbox of this app is full. The message waits on this device until there is room.');
    for (const k of goes) if (kept.delete(k.name)) this.bytes -= k.bytes;
    // It counts from now on, so that others who come meanwhile do not fill it further than it goes.
    const coming: Kept = { name, at: this.now(), bytes, isComing: true };
    kept.set(name, coming);
    this.bytes += bytes;
    try {
      for (const k of goes) await this.port.drop(k.name);
      await this.port.keep(name, text);
      delete coming.isComing;
      if (ending === 'eml') this.mails.push(coming.at);
      return true;
    } catch (e) {
      kept.delete(name);
      this.bytes -= bytes;
      throw e;
    }
  }

  /** The oldest of those that went out long ago that must go for there to be room; null where there is none even so. */
  private mustGo(kept: ReadonlyMap<string, Kept>, bytes: number): Kept[] | null {
    const goes: Kept[] = [];
    let [count, left] = [kept.size + 1 - this.mostMessages, this.bytes + bytes - this.mostBytes];
    for (const k of kept.values()) {
      if ((count <= 0 && left <= 0) || k.at >= this.now() - LONG_MS) break;
      if (k.isComing) continue;
      goes.push(k);
      count--;
      left -= k.bytes;
    }
    return count <= 0 && left <= 0 ? goes : null;
  }

  /** The newest messages, the last of them last; fewer where they are large. `more` says how many older ones there are. */
  async newest(): Promise<{ messages: OutboxEntry[]; more: number }> {
    const all = [...(await this.kept()).values()].filter((k) => !k.isComing);
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
      messages.unshift(await this.read(next.name));
    }
    return { messages, more: at };
  }

  private async read(name: string): Promise<OutboxEntry> {
    const text = await this.port.read(name);
    const id = name.replace(/\.\w+$/, '');
    if (name.endsWith('.eml')) return { id, eml: text };
    const message = KeptMessage.safeParse(jsonOf(text));
    // A message that was damaged keeps nobody from the others; it is shown as it is.
    return message.success ? { id, message: message.data } : { id, eml: text };
  }

  /**
   * Takes somebody out of all messages, by their address and their record. What went to them alone goes; to others it
   * stays, without them.
   */
  async erase(mail: string, person: string): Promise<void> {
    const kept = await this.kept();
    for (const k of kept.values()) {
      if (k.isComing) continue;
      const text = await this.port.read(k.name);
      const without = k.name.endsWith('.eml') ? mailWithout(text, mail) : messageWithout(text, [mail, person]);
      if (without === text) continue;
      if (without === null) {
        await this.port.drop(k.name);
        kept.delete(k.name);
        this.bytes -= k.bytes;
      } else {
        await this.port.replace(k.name, without);
        const bytes = bytesOf(without);
        this.bytes += bytes - k.bytes;
        kept.set(k.name, { name: k.name, at: k.at, bytes });
      }
    }
  }

  /** The latest notices for a person since a time (ISO 8601), in their order. */
  async notices(person: string, after: string): Promise<KeptMessage[]> {
    // Clocks of files are coarse; what is read is looked at by its own time.
    const since = Date.parse(after) - 2000;
    const recent = [...(await this.kept()).values()].filter(
      (k) => k.name.endsWith('.json') && k.at >= since && !k.isComing,
    );
    const found: KeptMessage[] = [];
    for (const kept of recent.reverse()) {
      // Read once, it need not be read again to see that it is for somebody else.
      if (kept.notice === null || (kept.notice && !(kept.notice.at > after && kept.notice.to.includes(person))))
        continue;
      const { message } = await this.read(kept.name);
      kept.notice = message?.kind === 'notice' ? { to: message.to, at: message.at } : null;
      if (message?.kind === 'notice' && message.at > after && message.to.includes(person)) found.push(message);
      if (found.length >= MOST_MISSED) break;
    }
    return found.sort((a, b) => a.at.localeCompare(b.at));
  }
}

/** A message that is kept as JSON, without somebody among those it is for; null where it is for nobody else. */
function messageWithout(text: string, names: readonly string[]): string | null {
  const message = KeptMessage.safeParse(jsonOf(text)).data;
  const isThem = (to: string): boolean => names.some((n) => n !== '' && plainMail(n) === plainMail(to));
  if (!message?.to.some(isThem)) return text;
  const to = message.to.filter((t) => !isThem(t));
  return to.length ? JSON.stringify({ ...message, to }) : null;
}

/** A mail without an address; null where it went to nobody else. */
function mailWithout(eml: string, mail: string): string | null {
  const wanted = plainMail(mail);
  if (!wanted || !eml.toLowerCase().includes(wanted)) return eml;
  const end = /\r?\n\r?\n/.exec(eml)?.index ?? eml.length;
  const to = /^To:(.*(?:\r?\n[ \t].*)*)/im.exec(eml.slice(0, end))?.[1] ?? '';
  const addresses = addressesIn(to.replace(/\r?\n[ \t]/g, ' '));
  const others = addresses.filter((a) => !a.toLowerCase().includes(wanted));
  if (addresses.length > 0 && others.length === 0) return null;
  const quoted = wanted.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return eml
    .replace(/^To:.*(?:\r?\n[ \t].*)*/im, `To: ${others.join(', ')}`)
    .replace(new RegExp(quoted, 'gi'), 'erased@erased.invalid');
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
