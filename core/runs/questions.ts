import { z } from 'zod';
import { Refused } from '../document/refused.ts';
import type { PersonAsk } from '../routines/asks.ts';
import { keyOf } from '../routines/run.ts';
import { readAnswer } from '../routines/typed-answer.ts';
import { keptOf, type LiveRun } from './live-run.ts';

/** So many questions lie on the phone of one person at once; the others come when those are answered. */
const MOST_LISTED = 20;
/** Letters of an answer. */
const MOST_LETTERS = 4000;

/** A question as it lies on somebody's phone. */
export interface OpenQuestion {
  run: string;
  /** The name of the ask, the same as long as it is the same question. */
  key: string;
  question: PersonAsk['question'];
  /** When it was asked, and until when it can be answered, in milliseconds since 1970. */
  at: number;
  until: number;
}

/** What a phone answers. */
export const AnswerMessage = z.object({
  run: z.string().max(60),
  key: z.string().max(80),
  value: z.string().max(MOST_LETTERS),
  /** Who says so, where nobody signs in; and the secret of the device. */
  person: z.string().max(254).default(''),
  device: z.string().max(100).default(''),
});
export type AnswerMessage = z.infer<typeof AnswerMessage>;

/** The questions of the runs that wait for people. */
export class Questions {
  private readonly open = new Map<string, { question: OpenQuestion; people: readonly string[] }>();

  constructor(
    private readonly ports: {
      live: ReadonlyMap<string, LiveRun>;
      now(): number;
      reach(people: readonly string[], named: readonly string[]): string[];
      asksOthers(people: readonly string[]): void;
      /** Keeps an answer, and lets the run go on. */
      answer(run: LiveRun, answer: { value: string; by: string }): Promise<void>;
    },
  ) {}

  /** A run waits with a question. */
  add(run: LiveRun, ask: PersonAsk): void {
    const key = keyOf(keptOf(run)!.state);
    const people = this.ports.reach(ask.people, ask.to);
    const { question, at, until } = ask;
    this.open.set(run.id, { question: { run: run.id, key, question, at, until }, people });
    this.ports.asksOthers(people);
  }

  /** It waits no more. */
  remove(run: string): void {
    const known = this.open.get(run);
    if (!known) return;
    this.open.delete(run);
    this.ports.asksOthers(known.people);
  }

  /** What is asked of somebody since a time (milliseconds since 1970), the oldest first. */
  of(person: string, since = 0): OpenQuestion[] {
    const now = this.ports.now();
    const own = [...this.open.values()].filter(
      (o) => o.people.includes(person) && o.question.until > now && o.question.at >= since,
    );
    return own
      .map((o) => o.question)
      .sort((a, b) => a.at - b.at)
      .slice(0, MOST_LISTED);
  }

  /**
   * Somebody answers what they were asked since a time; the first answer counts. Throws a {@link Refused} in words for what
   * is none.
   */
  async answer(person: string, { run: id, key, value }: AnswerMessage, since = 0): Promise<void> {
    const known = this.open.get(id);
    const run = this.ports.live.get(id);
    // Of questions to others nobody hears that they are there.
    if (
      !known ||
      !run ||
      known.question.key !== key ||
      !known.people.includes(person) ||
      known.question.at < since ||
      run.answer
    )
      throw new Refused(409, 'This was answered already, or is not asked any more.');
    if (known.question.until <= this.ports.now()) throw new Refused(409, 'The time to answer this is over.');
    const wrong = problemOf(known.question.question, value);
    if (wrong) throw new Refused(422, wrong);
    const others = known.people;
    this.open.delete(id);
    try {
      await this.ports.answer(run, { value, by: person });
    } catch (e) {
      this.open.set(id, known);
      throw e;
    }
    this.ports.asksOthers(others);
  }
}

/** Why something is no answer to a question; null when it is one. */
function problemOf(question: PersonAsk['question'], value: string): string | null {
  if (question.wants === 'a choice')
    return question.choices.some((c) => c.value === value) ? null : 'This is none of the answers to choose from.';
  const read = readAnswer(question.as, value);
  return 'problem' in read ? read.problem : null;
}
