import type { App } from '../app/schema.ts';
import type { Who } from '../access/access.ts';
import type { Host } from '../host/host.ts';
import { Refused } from '../document/refused.ts';
import { until, type Clock } from '../document/time.ts';
import { completed } from '../records/begin.ts';
import type { Change, Draft, MadeByRun } from '../records/change.ts';
import { DAY_IS_OVER } from './day.ts';
import { Failed, type Ports } from '../routines/asks.ts';
import { plainWords } from '../routines/plain-words.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import type { Outgoing } from '../session/effects.ts';
import { sendOut } from '../session/outgoing.ts';
import type { SessionPorts, ServicesHere } from '../session/ports.ts';
import { askFor, helped, writeToServices } from '../session/services-here.ts';

/** What runs on the host ask of it. */
export interface HostSide {
  app(): App;
  clock: Clock;
  host: Host;
  /** Puts a message that nobody has written into the outbox, once for each id. */
  send(message: Outgoing): Promise<void>;
  /** Asks a service with the app’s own rights. */
  asks(message: AskedMessage): Promise<ServiceAnswer>;
  /** By which names people are reached: by their records, and by what they are called. */
  reach(people: readonly string[], named: readonly string[]): string[];
  /** What is asked of these people is another. */
  asksOthers(people: readonly string[]): void;
  /** The content of a kept file; null where it is not here. */
  file(address: string): Promise<Blob | null>;
}

const PHONE = 'This needs somebody’s phone, and the routine runs on the host.';

/** Answers what a run on the host asks: with the rights of the app itself, each thing once however often it is asked. */
export function hostAsks(side: HostSide, run: MadeByRun): Ports {
  const services = (key: string): ServicesHere => ({
    // Asked again after a stop, it is known by the name of the ask.
    askService: (message) => side.asks({ once: `${key}`.slice(0, 60), ...message }),
    signOut: async () => undefined,
    markOf: () => null,
    unmark: () => undefined,
  });
  const ports = (key: string): Pick<SessionPorts, 'services'> => ({ services: () => services(key) });
  const needsPhone = (): never => {
    throw new Error(PHONE);
  };
  return {
    write: async ({ drafts, together }, key) => {
      const { records } = side.host.replica;
      const outside = await writeToServices(records, ports(key), drafts, together);
      if (outside !== undefined) return outside ?? undefined;
      await writeOnce(side.host, run, drafts, together, key);
    },
    // Its id says which run it is of, to which it is told when the mail comes back.
    send: async (a, key) => {
      const { file, send } = side;
      await sendOut(side.app(), { file, send }, { ...a, id: messageId(key) }).catch((e: unknown) => {
        throw e instanceof Refused && e.status === 429 ? new Failed(e.message, DAY_IS_OVER) : e;
      });
    },
    words: async ({ what }, key) => (await helped(side.app(), ports(key), what)) ?? plainWords(what),
    service: (a, key) => askFor(side.app(), ports(key), a),
    // What comes from services is fetched when it is asked for.
    refresh: () => undefined,
    // Waited for where runs are kept; turns that are under way at once wait here.
    wait: (a) => until(side.clock, a.until),
    // Waited for where runs are kept, until its time is over.
    person: (a) => {
      if (a.until > side.clock.now()) throw new Error('Nobody can be asked in turns that are under way at once.');
    },
    open: needsPhone,
    back: needsPhone,
    message: needsPhone,
    element: needsPhone,
    history: needsPhone,
    'sign out': needsPhone,
    variable: needsPhone,
    timer: needsPhone,
    question: needsPhone,
    device: needsPhone,
  };
}

/** The id of what a run sends, from the name of the ask: the same however often it is asked. */
const messageId = (key: string): string => key.replace(/[^A-Za-z0-9]/g, '-').slice(0, 60);
/** The run that a message was sent by; null for one that none has sent. */
export const runOfMessage = (id: string): string | null => /^(h[0-9a-f]{20})-/.exec(id)?.[1] ?? null;

/** Makes changes for a run; those that were made before under the same name of the ask are not made again. */
async function writeOnce(
  host: Host,
  run: MadeByRun,
  drafts: readonly Draft[],
  together: boolean,
  key: string,
): Promise<void> {
  const { records } = host.replica;
  const who: Who = { kind: 'owner', person: null, run };
  const idOf = (i: number): string => `${key}.${i}`;
  if (drafts.length > 0 && drafts.every((_, i) => host.recent.wasMade(run.id, idOf(i)))) return;
  const changes = completed(records, [...drafts]).flatMap((draft, i): Change[] => {
    const id = idOf(i);
    if (host.recent.wasMade(run.id, id)) return [];
    return [{ ...draft, id, stamp: host.stamp(), ...(together && drafts.length > 1 && { group: key }) }];
  });
  if (changes.length === 0) return;
  const { refused, wanted } = await host.accept(changes, who);
  if (wanted?.length) throw new Error('A file that this writes is not on the host.');
  const [first] = refused;
  if (first) throw new Failed(first.reason, 'refused');
}
