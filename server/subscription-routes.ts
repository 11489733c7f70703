import { Router, type Request } from 'express';
import type { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { DOORS } from './door-table.ts';
import { SubscribeMessage, UnsubscribeMessage } from './messages.ts';
import { perMinute } from './rate.ts';
import { open } from './routes.ts';

function read<T>(schema: z.ZodType<T>, req: Request): T {
  try {
    return schema.parse(JSON.parse((req.body as Buffer).toString('utf8')));
  } catch {
    throw new Refused(422, 'This is not what a browser says of its push service.');
  }
}

/** How phones come to be told something while the app is closed; `key` shows them who this server is. */
export function subscriptionRoutes(apps: Apps, bodies: Bodies, key: string): Router {
  const json = bodies.taking('application/json', 8000, 'Send JSON in UTF-8.');
  const routes = Router();
  open(routes, DOORS.pushKey, [perMinute(120)], async (_req, res, caller) => {
    await apps.release(caller);
    return res.json({ key });
  });
  open(routes, DOORS.subscribe, [perMinute(30), json], async (req, res, caller) => {
    await apps.subscribe(caller, read(SubscribeMessage, req));
    return res.json({ told: true });
  });
  open(routes, DOORS.unsubscribe, [perMinute(30), json], async (req, res, caller) => {
    await apps.unsubscribe(caller, read(UnsubscribeMessage, req).endpoint);
    return res.json({ told: false });
  });
  return routes;
}
