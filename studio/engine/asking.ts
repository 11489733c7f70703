import type { App } from '../../core/app/schema.ts';
import { onDevice } from '../../core/formula/wall-clock.ts';
import {
  placeOf,
  serviceAnswer,
  type AskedMessage,
  type CameBack,
  type Outgoing,
  type ServiceAnswer,
} from '../../core/services/answer.ts';
import { answered, mayRepeat, type Answered } from '../../core/services/asking.ts';
import { fill, type Filled } from '../../core/services/fill.ts';
import { givenTo, type Inputs } from '../../core/services/given.ts';
import { goodSample, replyOf } from '../../core/services/samples.ts';
import { requestOf } from '../../core/services/requests-of.ts';
import type { OutsideReply } from '../../core/services/outside.ts';
import type { Service, ServiceRequest, Sign, Where } from '../../core/services/schema.ts';

/** What came of trying a request: what was sent, without secrets, and what came back. */
export interface Tried {
  filled: Filled;
  answer: Answered | null;
  /** Why no answer came, in words. */
  failed: string | null;
}

/** After these a service is away, rather than asked wrongly. */
const AWAY: ReadonlySet<string> = new Set(['not found', 'refused', 'too slow', 'cut off', 'certificate']);

const now = (): number => onDevice(Date.now());

/** Asks services for the studio: by the host, which has their secrets, at their addresses for trying. */
export class StudioAsking {
  constructor(
    private readonly app: () => App,
    private readonly key: string,
    /** Tells the trace. */
    private readonly told: (said: string) => void,
  ) {}

  /** Which sample answers a request in place of its service, by the ids of both. */
  private readonly chosen = new Map<string, string>();

  /** From now on a sample answers a request on the phone beside the work; null for the service itself. */
  answerWith(request: string, sample: string | null): void {
    if (sample === null) this.chosen.delete(request);
    else this.chosen.set(request, sample);
  }

  /** Answers the phone beside the work: by the service, or by a sample that was chosen or stands for it while it is away. */
  asks(message: AskedMessage): Promise<ServiceAnswer> {
    const request = requestOf(this.app(), message.request)?.request;
    const chosen = request?.samples?.find((s) => s.id === this.chosen.get(request.id));
    const send = async (asked: Outgoing): Promise<CameBack> => {
      if (chosen) return replyOf(chosen);
      const came = await this.send(asked);
      const good = request && goodSample(request);
      if (!good || !('failed' in came) || !AWAY.has(came.failed.sort)) return came;
      this.told(`${request.name}: the service is away (${came.failed.words}) The kept sample “${good.name}” answered.`);
      return replyOf(good);
    };
    return serviceAnswer(this.app(), message, 'test', { send, now, toLocal: onDevice });
  }

  /** Tries a request as it is now. Rejects in words where it cannot be asked with what it is given. */
  async try(service: Service, request: ServiceRequest, inputs: Inputs, where: Where): Promise<Tried> {
    const filled = fill(service, request, where, givenTo(request, inputs, now));
    const { id, limits } = service;
    const sign: Sign = request.open ? { how: 'none' } : service.sign;
    const came = await this.send({
      service: { id, sign, limits },
      filled,
      where: placeOf(service, where),
      mayRepeat: mayRepeat(request),
    });
    return 'failed' in came
      ? { filled, answer: null, failed: came.failed.words }
      : { filled, answer: answered(came), failed: null };
  }

  private async send(asked: Outgoing): Promise<CameBack> {
    let answer: Response;
    try {
      answer = await fetch(`/api/services/${this.app().id}/asked`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', accept: 'application/json', 'x-owner-key': this.key },
        body: JSON.stringify(asked),
        signal: AbortSignal.timeout(90_000),
      });
    } catch {
      return refused('The server of Mellow Kite cannot be reached. Look at your network, then try again.');
    }
    if (!answer.ok) {
      const { error } = (await answer.json().catch(() => ({}))) as { error?: string };
      return refused(error ?? `The server answered ${answer.status}.`);
    }
    return cameBack(new Uint8Array(await answer.arrayBuffer()));
  }
}

const refused = (words: string): CameBack => ({ failed: { sort: 'refused', words } });

/** A line that says what came, and the bytes of the answer behind it. */
function cameBack(bytes: Uint8Array): CameBack {
  const end = bytes.indexOf(10);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(0, end))) as
    { reply: Omit<OutsideReply, 'body'>; tries: number } | Extract<CameBack, { failed: unknown }>;
  return 'failed' in head ? head : { ...head, reply: { ...head.reply, body: bytes.subarray(end + 1) } };
}
