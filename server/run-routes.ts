import { json, Router } from 'express';
import { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import type { Apps } from './apps.ts';
import { DOORS } from './door-table.ts';
import { RunHandMessage } from './messages.ts';
import { perMinute } from './rate.ts';
import { open, sendJson } from './routes.ts';

const RunParams = z.object({ id: z.string().regex(/^h[0-9a-f]{20}$/) });

/** What the host runs of an app: only for the holder of the app's key. */
export function runRoutes(apps: Apps): Router {
  const routes = Router();
  open(routes, DOORS.board, [perMinute(600)], async (_req, res, caller) => sendJson(res, await apps.board(caller)));
  open(routes, DOORS.runTrace, [perMinute(240)], async (req, res, caller) => {
    const id = RunParams.safeParse(req.params).data?.id;
    if (!id) throw new Refused(404, 'There is no such run.');
    return sendJson(res, await apps.runTrace(caller, id));
  });
  open(routes, DOORS.handRun, [perMinute(240), json({ limit: '20kb' })], async (req, res, caller) =>
    res.json({ done: await apps.handRun(caller, RunHandMessage.parse(req.body)) }),
  );
  return routes;
}
