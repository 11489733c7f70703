import type { Clock } from '../document/time.ts';
import { pause } from '../document/time.ts';
import { NoAnswer, type FailureSort } from './failures.ts';
import type { Filled } from './fill.ts';
import { partsBody } from './parts.ts';
import type { OutsideReply, OutsideRequest } from './outside.ts';
import { readReply, statusSaid, type Read } from './reply.ts';
import type { Service, ServiceRequest, Where } from './schema.ts';
import { signed, withoutSecret, type Unsigned } from './sign.ts';

/** What asking needs of where it is done. */
export interface AskingPorts {
  /** Sends a request. Rejects with a {@link NoAnswer}. */
  send(request: OutsideRequest): Promise<OutsideReply>;
  /** The secret of a service that was given for this origin; null where none was. */
  secret(service: string, where: Where, origin: string): Promise<string | null>;
  clock: Clock;
  /** A number from 0 up to 1. */
  random(): number;
}

/** What came of asking a service. Nothing of a secret is in it. */
export interface Answered {
  status: number;
  /** What went wrong, with what to do; null where nothing did. */
  said: string | null;
  headers: [name: string, value: string][];
  read: Read;
  bytes: number;
  /** Of the try that was answered. */
  ms: number;
  url: string;
  tries: number;
}

const MOST_TRIES = 3;
const FIRST_PAUSE_MS = 300;
/** A service that wants a longer rest than this is not waited for. */
const LONGEST_PAUSE_MS = 5000;
const MAY_PASS: ReadonlySet<FailureSort> = new Set(['refused', 'cut off', 'too slow']);
const MAY_PASS_STATUS = new Set([429, 502, 503, 504]);

/** What of a service decides how it is asked. */
export type AskedService = Pick<Service, 'id' | 'sign' | 'limits'>;

/**
 * Asks a service what was filled in. With `mayRepeat` it is tried again where that may help, after growing pauses that are
 * not the same for all, as long as the time of the service allows. The secret is in nothing that it gives. Rejects with a
 * {@link NoAnswer}.
 */
export async function askService(
  service: AskedService,
  filled: Filled,
  where: Where,
  mayRepeat: boolean,
  ports: AskingPorts,
): Promise<{ reply: OutsideReply; tries: number }> {
  const secret = service.sign.how === 'none' ? null : await ports.secret(service.id, where, new URL(filled.url).origin);
  const asked = signed(service, await whole(filled), secret);
  const until = ports.clock.now() + asked.limits.ms;
  for (let tries = 1; ; tries++) {
    let reply: OutsideReply | null = null;
    let failure: NoAnswer | null = null;
    try {
      reply = await ports.send({ ...asked, limits: { ...asked.limits, ms: Math.max(1, until - ports.clock.now()) } });
    } catch (e) {
      failure = e instanceof NoAnswer ? e : new NoAnswer('cut off');
    }
    const mayPass = reply ? MAY_PASS_STATUS.has(reply.status) : MAY_PASS.has(failure!.sort);
    const rest = restBefore(tries, reply, ports.random());
    const goesOn = mayPass && mayRepeat && tries < MOST_TRIES;
    if (goesOn && rest <= LONGEST_PAUSE_MS && ports.clock.now() + rest < until) await pause(ports.clock, rest);
    else if (failure) throw failure;
    else return { reply: withoutSecret(reply!, secret), tries };
  }
}

/** A request with its parts put together. What the app says of their type gives way, as it cannot know where they end. */
async function whole({ parts, ...filled }: Filled): Promise<Unsigned> {
  if (!parts) return filled;
  const { body, type } = await partsBody(parts);
  const headers = filled.headers.filter(([name]) => name.toLowerCase() !== 'content-type');
  return { ...filled, headers: [...headers, ['content-type', type]], body };
}

/** An answer, read. */
export function answered({ reply, tries }: { reply: OutsideReply; tries: number }): Answered {
  const { status, headers, body, ms, url } = reply;
  const type = headers.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? '';
  return {
    status,
    said: statusSaid(status, headers),
    headers,
    read: readReply(type, body),
    bytes: body.length,
    ms,
    url,
    tries,
  };
}

/** May a request come twice without harm? It is one that reads, or it carries a key by which the service knows it again. */
export const mayRepeat = ({ method, headers }: Pick<ServiceRequest, 'method' | 'headers'>): boolean =>
  method === 'GET' || headers.some((h) => h.name.toLowerCase() === 'idempotency-key');

/** How long to wait before the next try: as the service says, else longer each time and never the same for all. */
function restBefore(tries: number, reply: OutsideReply | null, random: number): number {
  const said = reply?.headers.find(([name]) => name.toLowerCase() === 'retry-after')?.[1];
  if (said && /^\d+$/.test(said)) return Number(said) * 1000;
  return FIRST_PAUSE_MS * 2 ** (tries - 1) * (0.5 + random);
}
