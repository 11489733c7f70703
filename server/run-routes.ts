import { json, Router } from 'express';
import { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import { newId } from '../core/document/ids.ts';
import { MAIL_DOMAIN } from '../core/document/addresses.ts';
import { compose } from '../core/formats/eml.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { DOORS } from './door-table.ts';
import { RunWishMessage } from './messages.ts';
import { perMinute } from './rate.ts';
import { open, sendJson } from './routes.ts';

/** What another system may send at once, in bytes. */
const HOOK_BYTES = 1 << 20;
const Routine = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
/** A mail that the maker writes as somebody outside, to try what comes of it. */
const WrittenMail = z.object({
  from: z.string().max(254),
  name: z.string().max(200),
  subject: z.string().max(500),
  words: z.string().max(100_000),
  answers: z.string().max(250).optional(),
});
const RunParams = z.object({ id: z.string().regex(/^h[0-9a-f]{20}$/) });

/** What the host runs of an app: only for the holder of the app's key. */
export function runRoutes(apps: Apps, bodies: Bodies): Router {
  const routes = Router();
  open(routes, DOORS.lately, [perMinute(240)], async (_req, res, caller) => sendJson(res, await apps.lately(caller)));
  open(routes, DOORS.board, [perMinute(600)], async (_req, res, caller) => sendJson(res, await apps.board(caller)));
  open(routes, DOORS.runTrace, [perMinute(240)], async (req, res, caller) => {
    const id = RunParams.safeParse(req.params).data?.id;
    if (!id) throw new Refused(404, 'There is no such run.');
    return sendJson(res, await apps.runTrace(caller, id));
  });
  open(routes, DOORS.runWish, [perMinute(240), json({ limit: '20kb' })], async (req, res, caller) =>
    res.json({ done: await apps.runWish(caller, RunWishMessage.parse(req.body)) }),
  );
  open(routes, DOORS.mailbox, [perMinute(600)], async (_req, res, caller) => sendJson(res, await apps.mailbox(caller)));
  open(routes, DOORS.writeMail, [perMinute(60), json({ limit: '1mb' })], async (req, res, caller) => {
    const { from, name, subject, words, answers } = WrittenMail.parse(req.body);
    const raw = compose({
      from: { name, address: from },
      to: [`${caller.name}@${MAIL_DOMAIN}`],
      subject,
      body: words,
      date: new Date(),
      id: newId('m'),
      answers,
    });
    // Only for the holder of the key: the entrance looks at that first.
    await apps.mailbox(caller);
    await apps.takeMail(caller.name, new TextEncoder().encode(raw), `${caller.name}@${MAIL_DOMAIN}`, null);
    return res.json({ sent: true });
  });
  open(routes, DOORS.hookSecret, [perMinute(240)], async (req, res, caller) =>
    res.json(await apps.hookSecret(caller, Routine.parse(req.params['routine']))),
  );
  const hookBody = bodies.taking('application/json', HOOK_BYTES, 'Send JSON in UTF-8.');
  open(routes, DOORS.tryHook, [perMinute(60), hookBody], async (req, res, caller) => {
    await apps.tryHook(caller, Routine.parse(req.params['routine']), new Uint8Array(req.body as Buffer));
    return res.status(202).json({ taken: true });
  });
  open(routes, DOORS.hook, [perMinute(600), hookBody], async (req, res, caller) => {
    const routine = Routine.safeParse(req.params['routine']).data;
    if (!routine) throw new Refused(404, 'There is nothing at this address.');
    const secret = String(req.params['secret'] ?? '');
    const headers = Object.fromEntries(
      Object.entries(req.headers).flatMap(([k, v]) => (typeof v === 'string' ? [[k, v] as const] : [])),
    );
    await apps.hook(caller, { routine, secret, headers, body: new Uint8Array(req.body as Buffer) });
    return res.status(202).json({ taken: true });
  });
  return routes;
}
