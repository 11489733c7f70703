import { Router, json } from 'express';
import type { Apps } from './apps.ts';
import { MirrorMessage, MirrorParams, SettleMessage } from './messages.ts';
import { perMinute } from './rate.ts';
import { handle, nameOf, ownerKey } from './routes.ts';

/** Mirrored tables, under `/api/apps/:name/mirrors`: only for the holder of the app's key. */
export function mirrorRoutes(apps: Apps): Router {
  const routes = Router();
  const small = json({ limit: '20kb' });
  routes.get(
    '/apps/:name/mirrors',
    perMinute(240),
    handle(async (req, res) => res.json(await apps.mirrors(nameOf(req), ownerKey(req)))),
  );
  routes.put(
    '/apps/:name/mirrors/:table',
    perMinute(60),
    small,
    handle(async (req, res) => {
      const { name, table } = MirrorParams.parse(req.params);
      const request = MirrorMessage.parse(req.body);
      return res.json(await apps.mirror(name, ownerKey(req), table, request));
    }),
  );
  routes.delete(
    '/apps/:name/mirrors/:table',
    perMinute(60),
    handle(async (req, res) => {
      const { name, table } = MirrorParams.parse(req.params);
      await apps.unmirror(name, ownerKey(req), table);
      return res.json({ stopped: true });
    }),
  );
  routes.post(
    '/apps/:name/mirrors/:table/settle',
    perMinute(240),
    small,
    handle(async (req, res) => {
      const { name, table } = MirrorParams.parse(req.params);
      const message = SettleMessage.parse(req.body);
      return res.json(await apps.settle(name, ownerKey(req), table, message));
    }),
  );
  return routes;
}
