import '../fields/typed-texts.ts';
import type { Clock } from '../document/time.ts';
import { onDevice } from '../formula/wall-clock.ts';
import { serviceAnswer, type AskedMessage, type CameBack, type Outgoing, type ServiceAnswer } from './answer.ts';
import { askService } from './asking.ts';
import { NoAnswer, type FailureSort } from './failures.ts';
import type { OutsideReply, OutsideRequest } from './outside.ts';
import type { ServicesApp } from './requests-of.ts';

/** What came of asking from a page: an answer, or why there is none. `unreached`: no network, or pages may not ask it. */
export type FromPage = { reply: OutsideReply } | { failed: FailureSort | 'unreached' };

/**
 * Asks a request from here, without the server between. Null where the service could not be reached from a page, and the
 * server may try: nothing that changes something is sent a second time.
 */
export async function straightAnswer(
  app: ServicesApp,
  message: AskedMessage,
  ports: { clock: Clock; send(asked: OutsideRequest): Promise<FromPage> },
): Promise<ServiceAnswer | null> {
  let unreached = false;
  const send = async (asked: OutsideRequest): Promise<OutsideReply> => {
    const came = await ports.send(asked);
    if ('reply' in came) return came.reply;
    unreached ||= came.failed === 'unreached' && asked.method === 'GET';
    throw came.failed === 'unreached'
      ? new NoAnswer('cut off', 'The service cannot be reached from this phone, or lets no page ask it.')
      : new NoAnswer(came.failed);
  };
  const out = async ({ service, filled, where, mayRepeat, token }: Outgoing): Promise<CameBack> => {
    try {
      return await askService(service, filled, where, mayRepeat, {
        send,
        secret: async () => token ?? null,
        clock: ports.clock,
        random: Math.random,
      });
    } catch (e) {
      if (e instanceof NoAnswer) return { failed: { sort: e.sort, words: e.message } };
      throw e;
    }
  };
  const answer = await serviceAnswer(app, message, 'live', {
    send: out,
    now: () => onDevice(ports.clock.now()),
    instant: () => ports.clock.now(),
    toLocal: onDevice,
  });
  return unreached && answer.said !== null ? null : answer;
}
