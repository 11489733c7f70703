import { Router, json } from 'express';
import { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import { NoRequest } from '../core/services/curl.ts';
import { NoAnswer } from '../core/services/failures.ts';
import { fileNameOf } from '../core/services/fetched-file.ts';
import { CannotBeAsked, fill } from '../core/services/fill.ts';
import type { OutsideReply } from '../core/services/outside.ts';
import { fromPaste } from '../core/services/paste.ts';
import { statusSaid } from '../core/services/reply.ts';
import { signed } from '../core/services/sign.ts';
import type { Outside } from './outside.ts';
import { perMinute } from './rate.ts';
import { handle } from './routes.ts';

const FetchMessage = z.object({
  /** An address, or a curl line. */
  from: z.string().trim().min(1).max(20_000),
});
const LIMITS = { seconds: 20, megabytes: 20 };

/** Fetches data from an address for a maker, as a file. Nothing of it is kept here. */
export function fetchRoutes(outside: Outside): Router {
  const routes = Router();
  routes.post(
    '/api/fetched',
    perMinute(30),
    json({ limit: '64kb' }),
    handle(async (req, res) => {
      const { reply, leftOut } = await fetched(outside, FetchMessage.parse(req.body).from);
      // Whatever it says that it is, in this server's place it is nothing but bytes.
      res
        .set({
          'cache-control': 'no-store',
          'content-type': 'application/octet-stream',
          'x-file-name': encodeURIComponent(fileNameOf(reply)),
          'x-left-out': headerText(leftOut.join(', ')),
        })
        .send(Buffer.from(reply.body.buffer, reply.body.byteOffset, reply.body.length));
    }),
  );
  return routes;
}

/** The answer, and what of the line was not asked for. */
async function fetched(outside: Outside, from: string): Promise<{ reply: OutsideReply; leftOut: string[] }> {
  try {
    const { service, request, secret, leftOut } = fromPaste(from);
    // Whoever can reach this server can ask others by it: what removes or replaces is not sent on.
    if (request.method !== 'GET' && request.method !== 'POST')
      throw new Refused(422, `Data is fetched with GET or POST, not with ${request.method}.`);
    const whole = { ...service, id: 'w_fetched000', requests: [], limits: LIMITS };
    const filled = fill(whole, { ...request, id: 'n_fetched000' }, 'test', () => null);
    const reply = await outside.ask(signed(whole, filled, secret));
    const said = statusSaid(reply.status, reply.headers);
    if (said) throw new Refused(422, said);
    return { reply, leftOut };
  } catch (e) {
    if (e instanceof NoRequest || e instanceof CannotBeAsked || e instanceof NoAnswer)
      throw new Refused(422, e.message);
    throw e;
  }
}

/** A text as a header can hold it, without halves of letters, which no address can. */
const headerText = (text: string): string =>
  encodeURIComponent(text.replace(/\p{Cs}/gu, ' ').replace(/^(.{1000}).*$/su, '$1'));
