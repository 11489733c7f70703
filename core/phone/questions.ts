import { InTurn } from '../document/in-turn.ts';
import { OfflineError } from '../host/link.ts';
import type { KeptValue } from '../records/kept-value.ts';
import type { OpenQuestion } from '../runs/questions.ts';
import type { Ears } from './ears.ts';
import type { HostSide } from './host-side.ts';

/** What was answered here and has not reached the host, by the names of questions: kept on the device. */
const UNSENT = 'answers';
type Unsent = Record<string, KeptValue>;

/** What whoever uses a phone is asked by runs of the host that wait for the answer. */
class QuestionsHere {
  /** By the name of a question what of it is on the page; null while nothing is. */
  private readonly shown = new Map<string, string | null>();
  private readonly turns = new InTurn();

  constructor(
    private readonly on: Ears,
    private readonly host: HostSide,
  ) {}

  /** The host says what is asked now. */
  take(list: readonly OpenQuestion[]): Promise<void> {
    return this.turns.next(async () => {
      for (const [key, id] of this.shown) {
        if (list.some((q) => q.key === key)) continue;
        this.shown.delete(key);
        if (id) void this.on.answered(id, { ok: false, reason: 'It is not asked any more.' });
      }
      const unsent = await this.unsent();
      for (const q of list) {
        if (this.shown.has(q.key)) continue;
        this.shown.set(q.key, null);
        if (q.key in unsent) await this.send(q, unsent[q.key]!);
        else void this.ask(q);
      }
      const lost = Object.keys(unsent).filter((key) => !list.some((q) => q.key === key));
      if (lost.length === 0) return;
      await this.note((all) => lost.forEach((key) => delete all[key]));
      this.on.say('What you answered came too late: it was answered already, or is not asked any more.');
    });
  }

  /** A card says that there is a question; pressed, it is asked, and the answer goes to the host. */
  private async ask(q: OpenQuestion): Promise<void> {
    const actions = await this.on.actions();
    const seen = (id: string): string => {
      if (this.shown.has(q.key)) this.shown.set(q.key, id);
      return id;
    };
    const title = q.question.words;
    let value: KeptValue | void;
    try {
      await actions.askPage((id) => ({ do: 'notice', id: seen(id), title, words: 'Press to answer', stays: true }));
      value = await actions.askPage((id) => ({ do: 'ask', id: seen(id), question: q.question }));
    } catch {
      return; // put aside until the app is opened next, or not asked any more
    }
    this.shown.set(q.key, null);
    await this.send(q, value ?? null);
  }

  private async send({ key, run }: OpenQuestion, value: KeptValue): Promise<void> {
    const { on, host } = this;
    try {
      await host.link.sends?.('/answers', {
        method: 'POST',
        json: { run, key, value, person: on.records.person ?? '', device: on.ear },
      });
      await this.note((all) => delete all[key]);
      on.say('Your answer was sent.');
    } catch (e) {
      // It is tried with the next list, which comes when there is a way again; what was refused is asked anew.
      this.shown.delete(key);
      const isOffline = e instanceof OfflineError;
      await this.note((all) => (isOffline ? (all[key] = value) : delete all[key]));
      on.say(isOffline ? 'Your answer is kept, and sent when there is a way to the server.' : (e as Error).message);
    }
  }

  private async unsent(): Promise<Unsent> {
    return { ...(await this.on.store.get<Unsent>(UNSENT)) };
  }
  private async note(change: (all: Unsent) => unknown): Promise<void> {
    const all = await this.unsent();
    change(all);
    await this.on.store.put(UNSENT, all);
  }
}

const ofPhones = new WeakMap<Ears, QuestionsHere>();

/** The host says what whoever uses the phone is asked. */
export function asked(on: Ears, host: HostSide, list: readonly OpenQuestion[]): void {
  const here = ofPhones.get(on) ?? new QuestionsHere(on, host);
  ofPhones.set(on, here);
  void here.take(list);
}
