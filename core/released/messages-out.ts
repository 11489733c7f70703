import { z } from 'zod';
import { addressesIn, plainMail } from '../document/addresses.ts';
import { InTurn } from '../document/in-turn.ts';
import { readLine } from '../document/kept-line.ts';
import type { Clock } from '../document/time.ts';

/** What an operator’s relay says of a message: it has it; or not, in words, for good or for now. */
export type RelayAnswer = { taken: true } | { taken: false; forGood: boolean; words: string };

const Line = z.discriminatedUnion('do', [
  /** A relay is named for the first time: what lay in the outbox before stays there. */
  z.object({ do: z.literal('begins'), before: z.array(z.string()) }),
  z.object({ do: z.literal('sent'), id: z.string() }),
  z.object({ do: z.literal('refused'), id: z.string() }),
]);
type Line = z.infer<typeof Line>;

/** What is refused for now is tried again after so long, each time twice as long, and given up after so long in all. */
const FIRST_MS = 60_000;
const LONGEST_MS = 4 * 3_600_000;
const GIVE_UP_MS = 2 * 86_400_000;

export interface MessagesOutPorts {
  clock: Clock;
  lines: { read(): AsyncIterable<string>; append(lines: readonly string[]): Promise<void> };
  /** The messages of this sort that lie in the outbox, by their ids. */
  ids(): Promise<string[]>;
  /** A message as it lies in the outbox; null where it is not there any more. */
  read(id: string): Promise<string | null>;
  /** Whom it is to. */
  to(text: string): string[];
  relay(text: string, to: readonly string[], id: string): Promise<RelayAnswer>;
  /** Hears that a message will not arrive, and why. */
  refused(id: string, words: string): Promise<void>;
  say(words: string): void;
}

/**
 * Gives the mails of an outbox, or its text messages, to the operator’s relay for them, one after another. Each is kept as
 * sent when the relay has it: one that was under way when the host was stopped may be given twice, with the same id.
 */
export class MessagesOut {
  private readonly done = new Set<string>();
  private readonly waiting = new Set<string>();
  /** The relay took none lately, and that was said. */
  private isAway = false;
  private readonly tries = new Map<string, { n: number; since: number }>();
  private readonly turns = new InTurn();
  private closed = false;

  constructor(private readonly ports: MessagesOutPorts) {}

  /** Goes on with what was not sent. */
  async open(): Promise<void> {
    let hasBegun = false;
    for await (const text of this.ports.lines.read()) {
      const line = readLine(Line, text);
      if (!line) continue;
      hasBegun ||= line.do === 'begins';
      for (const id of line.do === 'begins' ? line.before : [line.id]) this.done.add(id);
    }
    const ids = await this.ports.ids();
    if (!hasBegun) {
      await this.keep({ do: 'begins', before: ids });
      for (const id of ids) this.done.add(id);
    }
    for (const id of ids) this.add(id);
  }

  /** A message is to go out. */
  add(id: string): void {
    if (this.done.has(id) || this.waiting.has(id)) return;
    this.waiting.add(id);
    void this.turns.next(() => this.next());
  }

  private async next(): Promise<void> {
    const [id] = this.waiting;
    if (id === undefined || this.closed) return;
    this.waiting.delete(id);
    try {
      await this.send(id);
    } catch (e) {
      this.ports.say(`A message of it could not be given to the relay: ${(e as Error).message}`);
      this.later(id);
    }
  }

  private async send(id: string): Promise<void> {
    const text = await this.ports.read(id);
    const to = text === null ? [] : this.ports.to(text);
    const answer: RelayAnswer =
      text !== null && to.length ? await this.ports.relay(text, to, id) : { taken: false, forGood: true, words: 'It is to nobody any more.' };
    // Also where it is stopped meanwhile: what the relay has is not given to it again.
    if (answer.taken) {
      this.isAway = false;
      return this.ends({ do: 'sent', id });
    }
    if (this.closed) return;
    const tried = this.tries.get(id) ?? { n: 0, since: this.ports.clock.now() };
    const isOver = this.ports.clock.now() - tried.since > GIVE_UP_MS;
    if (!answer.forGood && !isOver) {
      if (!this.isAway) this.ports.say(`The relay does not take its messages now; they are tried again. ${answer.words}`);
      this.isAway = true;
      return this.later(id);
    }
    await this.ports.refused(id, answer.words);
    await this.ends({ do: 'refused', id });
  } // prettier-ignore

  private async ends(line: Extract<Line, { id: string }>): Promise<void> {
    await this.keep(line);
    this.done.add(line.id);
    this.tries.delete(line.id);
  }

  private later(id: string): void {
    const { clock } = this.ports;
    const { n, since } = this.tries.get(id) ?? { n: 0, since: clock.now() };
    this.tries.set(id, { n: n + 1, since });
    clock.after(Math.min(FIRST_MS * 2 ** n, LONGEST_MS), () => this.closed || this.add(id));
  }

  private keep(line: Line): Promise<void> {
    return this.ports.lines.append([JSON.stringify(line)]);
  }

  /** Sends nothing more; resolves when what is under way is over. */
  async close(): Promise<void> {
    this.closed = true;
    await this.turns.next(async () => undefined);
  }
}

/** Whom a mail (RFC 5322) is to, by its head. */
export function recipientsOf(eml: string): string[] {
  const end = /\r?\n\r?\n/.exec(eml)?.index ?? eml.length;
  const to = /^To:(.*(?:\r?\n[ \t].*)*)/im.exec(eml.slice(0, end))?.[1] ?? '';
  return addressesIn(to.replace(/\r?\n[ \t]/g, ' '))
    .map((a) => plainMail(/<([^<>]+)>/.exec(a)?.[1] ?? a))
    .filter((a) => a.includes('@'));
}
