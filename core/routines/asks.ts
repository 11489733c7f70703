import { InTurn } from '../document/in-turn.ts';
import type { Cell } from '../fields/lists.ts';
import type { KeptValue } from '../records/kept-value.ts';
import type { Fact } from '../words/draft.ts';
import type { Choice } from '../words/judge.ts';
import type { Pulled } from '../words/pull-out.ts';
import type { MadeFile } from './made.ts';
import type { Draft } from '../records/change.ts';

/** How a screen opens, and what its own variables begin with, by their ids. */
export interface Opened {
  as?: 'over' | 'instead' | 'sheet' | undefined;
  height?: 'low' | 'half' | 'full' | undefined;
  values?: Record<string, Cell> | undefined;
}

/**
 * Work with words, behind a port: here it is done by plain counting (`core/words`), and something that understands
 * language could stand in its place.
 */
export type WordsAsk =
  | { do: 'sum up'; text: string; most: number }
  | { do: 'judge'; text: string; choices: Choice[] }
  | { do: 'draft'; prompt: string; to: string; facts: Fact[]; from: string }
  | { do: 'pull out'; text: string; kind: Pulled; year: number };

/** What is done with an element of the screen that is seen. */
export type ElementHow = 'show' | 'hide' | 'enable' | 'disable' | 'focus' | 'scroll' | 'fill';

/** What goes out to people: a mail, a text message or a notice. */
export interface Sent {
  id: string;
  /** Absent for a mail. */
  kind?: 'text message' | 'notice' | undefined;
  /** Mail addresses; telephone numbers; people, as person fields have them. */
  to: string[];
  /** The records of those whom a notice is for, where they were named by records. */
  people?: string[] | undefined;
  /** Empty for a text message. */
  subject: string;
  body: string;
  /** The message that a mail answers, by its id (RFC 5322, 3.6.4). */
  answers?: string | undefined;
}

/**
 * What a routine asks of the world, as data. Each is answered before the routine goes on, so that the same routine
 * runs in a page, on a server and in a test, and can be put away between an ask and its answer.
 */
export type Ask =
  /** Changes to records. `together` are taken or refused as one. */
  | { ask: 'write'; drafts: Draft[]; together: boolean }
  | ({ ask: 'open'; screen: string; record: string | null } & Opened)
  | { ask: 'back'; to?: 'start' | 'under' | undefined }
  /** Shows a message. `button` stands in it, and what it does is said by `undo` or the id of a routine in `runs`. */
  | {
      ask: 'message';
      words: string;
      button?: string | undefined;
      undo?: boolean | undefined;
      runs?: string | undefined;
    }
  | { ask: 'element'; how: ElementHow; element: string; cell?: Cell | undefined }
  /** Sends what waits, and fetches what is new. */
  | { ask: 'refresh' }
  /** Work with words that takes some judgement. The answer is what came of it. */
  | { ask: 'words'; what: WordsAsk }
  /** Asks a request of a service; the answer is what it picks, with the records that came. */
  | {
      ask: 'service';
      request: string;
      inputs: Record<string, Cell>;
      /** It is not asked again where nobody knows whether it was. */
      onceAtMost?: true | undefined;
    }
  /** Shows what happened to a record, and puts back a value of it where the person wants that. */
  | { ask: 'history'; table: string; record: string }
  /** Whoever uses the app is signed out of the maker's service. */
  | { ask: 'sign out' }
  | { ask: 'variable'; variable: string; cell: Cell }
  /** Something that goes out to people. `files` are addresses. */
  | ({ ask: 'send'; files?: string[] | undefined } & Sent)
  /**
   * Nothing until a time, in milliseconds as the world's clock counts them. With `looksUntil` the step looks again then,
   * and whoever knows when anything may have changed need not look before, nor later than that time.
   */
  | { ask: 'wait'; until: number; looksUntil?: number | undefined }
  | PersonAsk
  /** The timer of a routine begins, or ends. */
  | { ask: 'timer'; routine: string; on: boolean }
  /** Something only the person can say. The answer is the value. */
  | { ask: 'question'; question: Question }
  /** Something the device does or finds out; the answer is what it gave. */
  | { ask: 'device'; what: DeviceAsk };

/**
 * A question that lies on the phones of people until one of them answers it, or the time is over. The answer is a list of
 * what was answered and who did; without one nobody has.
 */
export interface PersonAsk {
  ask: 'person';
  /** What they are called, as person fields have them. */
  to: string[];
  /** Their records, where they were named by records. */
  people: string[];
  question: Extract<Question, { wants: 'a choice' | 'a value' }>;
  /** When it was asked, and until when it can be answered, in milliseconds since 1970. */
  at: number;
  until: number;
}

/** Which side can answer an ask: the phone of somebody, the host, or either. A phone’s are never sent to a host. */
export const ANSWERED_BY: { readonly [A in Ask['ask']]: 'phone' | 'either' | 'host' } = {
  write: 'either',
  send: 'either',
  wait: 'either',
  words: 'either',
  service: 'either',
  refresh: 'either',
  'sign out': 'phone',
  history: 'phone',
  open: 'phone',
  back: 'phone',
  message: 'phone',
  element: 'phone',
  variable: 'phone',
  timer: 'phone',
  question: 'phone',
  person: 'host',
  device: 'phone',
};

/** A change of a record in words; `back` is the number by which a cell is put back, where it can be. */
export interface PastShown {
  id: string;
  at: string;
  said: string;
  cells: { name: string; was: string; is: string; back: number | null }[];
}

/** What a person is asked. */
export type Question = { words: string } & (
  | { wants: 'yes or no'; yes: string; no: string }
  | {
      wants: 'a choice';
      choices: { value: KeptValue; label: string; hint?: string }[];
      /** It can be answered later. */
      later?: true;
    }
  /** What happened, the latest first. The answer is the number of a cell to be put back, or “earlier” for more. */
  | { wants: 'a look back'; changes: PastShown[]; earlier: number }
  | { wants: 'a value'; as: 'text' | 'long text' | 'number' | 'date'; hint: string; first: string; later?: true }
);

/** What a device is asked, by standards of the web; each can fail where the device has not what it takes. */
export type DeviceAsk =
  | { do: 'speak'; words: string; language: string }
  | { do: 'buzz'; ms: number[] }
  | { do: 'share'; title: string; words: string; address: string; file?: string | undefined }
  | { do: 'copy'; words: string }
  | { do: 'address'; address: string }
  | { do: 'picture'; from: 'camera' | 'gallery' | 'any' }
  | { do: 'sound'; source: string; volume: number; loop: boolean }
  | { do: 'silence' }
  /** Records a sound, of so many seconds at most; the answer is its address. */
  | { do: 'record'; most: number }
  | { do: 'place' }
  | { do: 'scan' }
  | { do: 'save'; name: string; type: string; content: string; file?: string | undefined }
  /** Says what is on a picture, and how sure that is; `samples` are pictures that are known by name. */
  | { do: 'describe'; picture: string; samples: { name: string; address: string }[] }
  /** Lays words over a picture and keeps that as one; the answer is its address. */
  | { do: 'caption'; picture: string; top: string; foot: string }
  /** Makes a file and keeps it; the answer is its address. */
  | { do: 'make'; file: MadeFile }
  | { do: 'notice'; title: string; words: string }
  | { do: 'awake'; on: boolean }
  /** Goes to the page where people sign in, and is left by that. */
  | { do: 'sign in'; page?: SignInPage | undefined };

/** A page where people sign in, as the app knows it. */
export interface SignInPage {
  authorize: string;
  client: string;
  scope?: string | undefined;
}

/** An ask failed, and routines can tell what sort of failure it was. */
export class Failed extends Error {
  override name = 'Failed';
  constructor(
    message: string,
    readonly sort: string,
  ) {
    super(message);
  }
}

/** `each` are the answers to what was asked at once, in its order. */
export type Answer = { ok: true; value?: KeptValue; each?: Answer[] } | { ok: false; reason: string; sort?: string };

/** What turns that are under way at once ask, each with the answer it has had. */
export interface SeveralAsk {
  ask: 'several';
  asks: RunAsk[];
  answers: (Answer | null)[];
}
/** What a run waits for. */
export type RunAsk = Ask | SeveralAsk;

/**
 * Does what routines ask; `key` is the name of the ask, the same when it is asked again after a reload. Each promise
 * resolves when it is done, to a value where one was asked for, and rejects with
 * words when it cannot be.
 */
export type Ports = {
  [A in Ask['ask']]: (ask: Extract<Ask, { ask: A }>, key: string) => Promise<KeptValue | void> | KeptValue | void;
};

/** Answers an ask by the port for it. Never rejects: what went wrong is in the answer. */
async function answerTo(ask: Ask, ports: Ports, key: string): Promise<Answer> {
  try {
    const port = ports[ask.ask] as (ask: Ask, key: string) => Promise<KeptValue | void> | KeptValue | void;
    const value = await port(ask, key);
    return value === undefined ? { ok: true } : { ok: true, value };
  } catch (e) {
    return { ok: false, reason: (e as Error).message, ...(e instanceof Failed && { sort: e.sort }) };
  }
}

/** Asks that go on beside others; what the person or the screen is asked comes one after another. */
const BESIDE: ReadonlySet<RunAsk['ask']> = new Set([
  'write',
  'send',
  'words',
  'service',
  'wait',
  'variable',
  'several',
]);

/**
 * Answers what a run asks, at once where it asks several things. `had` is told of each answer to a part, with all of
 * them so far, so that nothing answered is asked again after a reload. Never rejects.
 */
export async function answersTo(
  ask: RunAsk,
  ports: Ports,
  had: (soFar: RunAsk) => Promise<void> = async () => {},
  people: InTurn = new InTurn(),
  key = '',
): Promise<Answer> {
  if (ask.ask !== 'several') return answerTo(ask, ports, key);
  const asks = [...ask.asks];
  const answers = [...ask.answers];
  const tell = (): Promise<void> => had({ ask: 'several', asks: [...asks], answers: [...answers] });
  const one = async (part: RunAsk, i: number): Promise<Answer> => {
    const known = answers[i];
    if (known) return known;
    const work = (): Promise<Answer> =>
      answersTo(
        part,
        ports,
        async (soFar) => {
          asks[i] = soFar;
          await tell();
        },
        people,
        `${key}.${i}`,
      );
    const answer = await (BESIDE.has(part.ask) ? work() : people.next(work));
    answers[i] = answer;
    await tell();
    return answer;
  };
  return { ok: true, each: await Promise.all(asks.map(one)) };
}
