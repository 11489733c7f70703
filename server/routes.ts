import { Router, json, type Request, type Response } from 'express';
import { readApp } from '../core/app/document.ts';
import { answerTo } from './answers.ts';
import type { Apps } from './apps.ts';
import { Streams } from './live.ts';
import { MailMessage, OwnerKey, ReleaseMessage } from './messages.ts';
import { PUSH_BYTES, takePush } from './push.ts';
import { perMinute } from './rate.ts';
import { Refused } from './refused.ts';
import type { Pages } from './pages.ts';

type Handler = (req: Request, res: Response) => Promise<unknown>;
export const handle =
  (work: Handler) =>
  (req: Request, res: Response, next: (e: unknown) => void): void => {
    work(req, res).catch(next);
  };
export const keyOf = (req: Request): string | undefined => req.get('x-owner-key') ?? undefined;
export const nameOf = (req: Request): string => String(req.params['name']);

export function ownerKey(req: Request): string {
  const key = OwnerKey.safeParse(keyOf(req));
  if (!key.success) throw new Refused(401, 'The app’s owner key is missing.');
  return key.data;
}

/** Where devices send their changes, when {@link pushHandler} has left them to Express. */
export function pushRoutes(apps: Apps): Router {
  const routes = Router();
  routes.post(
    '/apps/:name/changes',
    perMinute(1200),
    json({ limit: PUSH_BYTES }),
    handle(async (req, res) => res.json(await takePush(apps, nameOf(req), keyOf(req), req.body))),
  );
  return routes;
}

/** Everything under `/api/apps`: release, check and remove for owners; changes, live news and mail for devices. */
export function apiRoutes(apps: Apps, streams = new Streams()): Router {
  const routes = Router();

  routes.get(
    '/apps/:name/check',
    perMinute(240),
    handle(async (req, res) => res.json(await apps.check(nameOf(req), ownerKey(req)))),
  );

  routes.put(
    '/apps/:name',
    perMinute(60),
    json({ limit: '40mb' }),
    handle(async (req, res) => {
      const message = ReleaseMessage.parse(req.body);
      const app = readApp(message.app, 'The app');
      return res.json(await apps.release(nameOf(req), ownerKey(req), app, message.icons));
    }),
  );

  routes.delete(
    '/apps/:name',
    perMinute(60),
    handle(async (req, res) => {
      await apps.remove(nameOf(req), ownerKey(req));
      return res.json({ removed: true });
    }),
  );

  routes.get(
    '/apps/:name/outbox',
    perMinute(240),
    handle(async (req, res) => res.json(await apps.outbox(nameOf(req), ownerKey(req)))),
  );

  routes.get(
    '/apps/:name/app',
    perMinute(600),
    handle(async (req, res) => {
      const { release } = await apps.get(nameOf(req));
      const { app, number, at } = release;
      return res.set('cache-control', 'no-cache').json({ app, number, at });
    }),
  );

  routes.get(
    '/apps/:name/changes',
    perMinute(1200),
    handle(async (req, res) => {
      const { host } = await apps.get(nameOf(req));
      const since = Number(req.query['since'] ?? 0);
      const from = Number(req.query['from'] ?? 0);
      if (![since, from].every((n) => Number.isInteger(n) && n >= 0))
        throw new Refused(422, '“since” is the number of a change, “from” the place of a record.');
      const who = await apps.who(nameOf(req), keyOf(req));
      return res.set('cache-control', 'no-store').json(host.catchUp(since, who, from));
    }),
  );

  routes.post(
    '/apps/:name/mail',
    perMinute(60),
    json({ limit: '700kb' }),
    handle(async (req, res) => {
      await apps.mail(nameOf(req), MailMessage.parse(req.body));
      return res.json({ sent: true });
    }),
  );

  routes.get(
    '/apps/:name/live',
    perMinute(240),
    handle(async (req, res) => {
      const name = nameOf(req);
      const running = await apps.get(name);
      const who = await apps.who(name, keyOf(req));
      const stream = streams.open(res, name, req.ip ?? '', () => ({
        at: running.host.position,
        release: running.release.number,
      }));
      streams.tell(stream, running.host, who);
      const released = (number: number): void => stream.send('release', { number });
      running.listeners.add(released);
      // That a mirrored table stands differently now; how, only the owner may ask.
      const stopMirrors = running.mirrors.subscribe((status) => stream.send('mirror', { table: status.table }));
      res.once('close', () => {
        stopMirrors();
        running.listeners.delete(released);
      });
    }),
  );
  return routes;
}

/** The pages and files of released apps, under `/a/<name>/`. */
export function appRoutes(apps: Apps, pages: Pages): Router {
  const routes = Router();
  routes.get('/:name', (req, res, next) => (req.path.endsWith('/') ? next() : res.redirect(301, `/a/${nameOf(req)}/`)));
  routes.get(
    '/:name/manifest.webmanifest',
    handle(async (req, res) => {
      const { release } = await apps.get(nameOf(req));
      return res.type('application/manifest+json').json(pages.manifest(nameOf(req), release));
    }),
  );
  routes.get(
    '/:name/icon-:size.png',
    handle(async (req, res) => {
      const { release } = await apps.get(nameOf(req));
      const data = release.icons?.[req.params['size'] === '512' ? 512 : 192];
      if (!data) throw new Refused(404, 'This app has no icon.');
      return res.type('image/png').set('cache-control', 'no-cache').send(Buffer.from(data, 'base64'));
    }),
  );
  routes.get(
    '/:name/sw.js',
    handle(async (req, res) => {
      const { release } = await apps.get(nameOf(req));
      return res.type('text/javascript').set('cache-control', 'no-cache').send(pages.worker(release.app));
    }),
  );
  routes.get(
    '/:name/{*rest}',
    handle(async (req, res) => {
      const { release } = await apps.get(nameOf(req));
      return res
        .type('html')
        .set('cache-control', 'no-cache')
        .send(pages.player(nameOf(req), release));
    }),
  );
  return routes;
}

/** Turns errors into plain answers; nothing of the inside leaves the server. */
export function answerErrors(error: unknown, req: Request, res: Response, _next: unknown): void {
  const { status, message } = answerTo(error);
  if (res.headersSent) res.end();
  else if (!req.originalUrl.startsWith('/api/') && req.accepts(['json', 'html']) === 'html')
    res.status(status).type('html').send(plainPage(message));
  else res.status(status).json({ error: message });
}

const escape = (s: string): string => s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const plainPage = (message: string): string =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Mellow Kite</title><link rel="stylesheet" href="/plain.css"><main><h1>Nothing here</h1><p>${escape(message)}</p></main></html>`;
