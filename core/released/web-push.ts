import { z } from 'zod';
import { plainMail } from '../document/addresses.ts';
import { InTurn } from '../document/in-turn.ts';
import { readLine } from '../document/kept-line.ts';
import { inShort } from '../document/in-short.ts';
import type { Clock } from '../document/time.ts';

/** Where a browser is told something while the app is closed, as its `PushSubscription` says it (W3C Push API). */
export const Subscription = z.object({
  endpoint: z.url({ protocol: /^https?$/ }).max(1000),
  keys: z.object({ p256dh: z.string().regex(/^[\w-]{87}=?$/), auth: z.string().regex(/^[\w-]{22}(==)?$/) }),
});
export type Subscription = z.infer<typeof Subscription>;

/** A phone that is told what is for a person. */
export interface Subscriber {
  person: string;
  /** By which session they are signed in on it; absent where nobody signs in. */
  session?: string | undefined;
  /** Since when, in milliseconds since 1970: what was for the person before is not for this phone. */
  since: number;
  subscription: Subscription;
}

/** What a push service says: it has the message; or not, for now or because the phone is not there any more. */
export type PushAnswer = { taken: true } | { taken: false; gone: boolean; words: string };

/** Something for a person; `at` in milliseconds since 1970. */
export interface Note {
  id: string;
  title: string;
  words: string;
  at: number;
}

const Line = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('has'),
    person: z.string(),
    session: z.string().optional(),
    since: z.number(),
    subscription: Subscription,
  }),
  z.object({ do: z.literal('ends'), endpoint: z.string() }),
  /** A note was sent to a phone, or is not sent to it any more. */
  z.object({ do: z.literal('told'), id: z.string(), endpoint: z.string(), at: z.number() }),
]);
type Line = z.infer<typeof Line>;

/** A note that is older is not sent any more: it is seen when the app is opened. */
const DAY_MS = 86_400_000;
/** What was told is known for so long. */
const KNOWN_MS = 40 * DAY_MS;
/** So many phones of one person are told, and of all people; the ones that came first go. */
const MOST_OF_ONE = 10;
const MOST = 20_000;
/** So many are told at once. */
const LANES = 4;
const FIRST_MS = 30_000;
const LONGEST_MS = 3_600_000;
/** A message may have 4096 bytes (RFC 8030, 7.2); a letter takes up to six of them in JSON. */
const TITLE = 150;
const WORDS = 400;

export interface WebPushPorts {
  clock: Clock;
  lines: {
    read(): AsyncIterable<string>;
    append(lines: readonly string[]): Promise<void>;
    rewrite(lines: AsyncIterable<string>): Promise<void>;
  };
  /** What has been for a person since a time. */
  notes(person: string, since: number): Promise<Note[]>;
  /** May whoever uses this phone be told what is for the person? */
  mayBeTold(subscriber: Subscriber): boolean;
  /** Gives a message to the push service of a phone. */
  push(subscriber: Subscriber, message: string): Promise<PushAnswer>;
  say(words: string): void;
}

/**
 * Tells people on phones where the app is closed (Web Push, RFC 8030). A note is kept as told when the push service has it;
 * one that was under way at a stop may be sent twice, with one id, and phones show it once.
 */
export class WebPush {
  /** By endpoint; the latest last. */
  private readonly subscribers = new Map<string, Subscriber>();
  private readonly told = new Map<string, number>();
  private readonly queue: { note: Note; endpoint: string; tries: number }[] = [];
  private readonly underWay = new Set<string>();
  private readonly turns = new InTurn();
  private lanes = 0;
  private closed = false;

  constructor(private readonly ports: WebPushPorts) {}

  /** Goes on with what was not sent. */
  async open(): Promise<void> {
    let count = 0;
    for await (const text of this.ports.lines.read()) {
      count++;
      const line = readLine(Line, text);
      if (line) this.take(line);
    }
    const old = this.ports.clock.now() - KNOWN_MS;
    for (const [key, at] of this.told) if (at < old) this.told.delete(key);
    if (count > 2 * (this.subscribers.size + this.told.size) + 100) await this.writeAnew();
    const since = this.ports.clock.now() - DAY_MS;
    for (const person of new Set(Array.from(this.subscribers.values(), (s) => s.person)))
      for (const note of await this.ports.notes(person, since)) this.tell(note, [person]);
  }

  /** A phone is told from now on what is for a person, and for nobody else. Resolves when that is kept. */
  async add(given: Omit<Subscriber, 'since'>): Promise<void> {
    const { person, subscription } = given;
    const known = this.subscribers.get(subscription.endpoint);
    const subscriber = { ...given, since: known?.person === person ? known.since : this.ports.clock.now() };
    const own = [...this.subscribers].filter(([e, s]) => s.person === person && e !== subscription.endpoint);
    const [first] = this.subscribers.keys();
    const goes = [
      ...own.slice(0, Math.max(0, own.length - MOST_OF_ONE + 1)).map(([e]) => e),
      ...(this.subscribers.size >= MOST && first !== undefined ? [first] : []),
    ];
    await this.keep(goes.map((endpoint): Line => ({ do: 'ends', endpoint })));
    await this.keep([{ do: 'has', ...subscriber }]);
  }

  /** A phone is told nothing any more. */
  async remove(endpoint: string): Promise<void> {
    if (this.subscribers.has(endpoint)) await this.keep([{ do: 'ends', endpoint }]);
  }

  /** Something is for these people: their phones are told, each once. */
  tell(note: Note, people: readonly string[]): void {
    for (const [endpoint, s] of this.subscribers) {
      if (!people.includes(s.person) || note.at < s.since) continue;
      const key = keyOf(note.id, endpoint);
      if (this.told.has(key) || this.underWay.has(key)) continue;
      this.underWay.add(key);
      this.queue.push({ note, endpoint, tries: 0 });
    }
    this.begin();
  }

  private begin(): void {
    while (this.lanes < LANES && this.queue.length && !this.closed) {
      this.lanes++;
      void this.lane().finally(() => {
        this.lanes--;
        // What came while it ended is not left behind.
        this.begin();
      });
    }
  }

  private async lane(): Promise<void> {
    for (let next = this.queue.shift(); next && !this.closed; next = this.queue.shift()) {
      try {
        await this.send(next);
      } catch (e) {
        this.ports.say(`A notice for a closed phone was not sent: ${(e as Error).message}`);
        this.later(next);
      }
    }
  }

  private async send(of: { note: Note; endpoint: string; tries: number }): Promise<void> {
    const { note, endpoint } = of;
    const { clock } = this.ports;
    const key = keyOf(note.id, endpoint);
    const subscriber = this.subscribers.get(endpoint);
    if (!subscriber) return void this.underWay.delete(key);
    if (!this.ports.mayBeTold(subscriber)) return this.isGone(endpoint, key);
    if (clock.now() - note.at <= DAY_MS) {
      const { id, title, words } = note;
      const message = JSON.stringify({ id, title: inShort(title, TITLE), words: inShort(words, WORDS) });
      const answer = await this.ports.push(subscriber, message);
      if (!answer.taken && answer.gone) return this.isGone(endpoint, key);
      if (!answer.taken) {
        if (of.tries === 0) this.ports.say(`A push service does not take a notice now; it is tried again. ${answer.words}`);
        return this.later(of);
      }
    }
    await this.keep([{ do: 'told', id: note.id, endpoint, at: clock.now() }]);
    this.underWay.delete(key);
  } // prettier-ignore

  private async isGone(endpoint: string, key: string): Promise<void> {
    this.underWay.delete(key);
    await this.remove(endpoint);
  }

  private later(of: { note: Note; endpoint: string; tries: number }): void {
    this.ports.clock.after(Math.min(FIRST_MS * 2 ** of.tries, LONGEST_MS), () => {
      this.queue.push({ ...of, tries: of.tries + 1 });
      this.begin();
    });
  }

  private take(line: Line): void {
    if (line.do === 'told') this.told.set(keyOf(line.id, line.endpoint), line.at);
    else if (line.do === 'ends') this.subscribers.delete(line.endpoint);
    else {
      const { do: _do, ...subscriber } = line;
      this.subscribers.delete(line.subscription.endpoint);
      this.subscribers.set(line.subscription.endpoint, subscriber);
    }
  }

  private keep(lines: readonly Line[]): Promise<void> {
    return this.turns.next(async () => {
      if (lines.length) await this.ports.lines.append(lines.map((l) => JSON.stringify(l)));
      for (const line of lines) this.take(line);
    });
  }

  /** Lets go of the phones of somebody, also of what is kept of those they had. */
  async forget(names: readonly string[]): Promise<void> {
    await this.turns.next(async () => {
      const gone = new Set(names.map(plainMail));
      for (const [endpoint, s] of this.subscribers)
        if (gone.has(plainMail(s.person))) this.subscribers.delete(endpoint);
      for (const key of this.told.keys()) if (!this.subscribers.has(endpointOf(key))) this.told.delete(key);
      await this.writeAnew();
    });
  }

  private writeAnew(): Promise<void> {
    const { subscribers, told } = this;
    return this.ports.lines.rewrite(
      (async function* () {
        for (const s of subscribers.values()) yield JSON.stringify({ do: 'has', ...s } satisfies Line);
        for (const [key, at] of told)
          yield JSON.stringify({ do: 'told', id: idOf(key), endpoint: endpointOf(key), at } satisfies Line);
      })(),
    );
  }

  /** Sends nothing more; resolves when what is being kept is kept. */
  async close(): Promise<void> {
    this.closed = true;
    await this.turns.next(async () => undefined);
  }
}

/** An endpoint has no space in it. */
const keyOf = (id: string, endpoint: string): string => `${endpoint} ${id}`;
const endpointOf = (key: string): string => key.slice(0, key.indexOf(' '));
const idOf = (key: string): string => key.slice(key.indexOf(' ') + 1);
