import { Router, json, type Request } from 'express';
import type { Apps } from './apps.ts';
import { DOORS } from './door-table.ts';
import { MirrorMessage, MirrorParams, SettleMessage } from './messages.ts';
import { perMinute } from './rate.ts';
import { open } from './routes.ts';

/** Mirrored tables: only for the holder of the app's key. */
export function mirrorRoutes(apps: Apps): Router {
  const routes = Router();
  const small = json({ limit: '20kb' });
  const tableIn = (req: Request): string => MirrorParams.parse(req.params).table;
  open(routes, DOORS.mirrors, [perMinute(240)], async (_req, res, caller) => res.json(await apps.mirrors(caller)));
  open(routes, DOORS.mirror, [perMinute(60), small], async (req, res, caller) =>
    res.json(await apps.mirror(caller, tableIn(req), MirrorMessage.parse(req.body))),
  );
  open(routes, DOORS.unmirror, [perMinute(60)], async (req, res, caller) => {
    await apps.unmirror(caller, tableIn(req));
    return res.json({ stopped: true });
  });
  open(routes, DOORS.settle, [perMinute(240), small], async (req, res, caller) =>
    res.json(await apps.settle(caller, tableIn(req), SettleMessage.parse(req.body))),
  );
  return routes;
}
