import { open } from 'node:fs/promises';
import { contentSecurityPolicy } from 'helmet';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import { answerTo } from './answers.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { Streams } from './live.ts';
import { SentMessage, OwnerKey } from './messages.ts';
import { PUSH_BYTES } from './push.ts';
import { perMinute } from './rate.ts';
import { Refused } from './refused.ts';
import type { Pages } from './pages.ts';
import { policyOf } from './policy.ts';

type Handler = (req: Request, res: Response) => Promise<unknown>;
export const handle =
  (work: Handler) =>
  (req: Request, res: Response, next: (e: unknown) => void): void => {
    work(req, res).catch(next);
  };
export const keyOf = (req: Request): string | undefined => req.get('x-owner-key') ?? undefined;
export const nameOf = (req: Request): string => String(req.params['name']);

/** Lets only those on who mean the app that is at the address now; a phone says which one it has. */
export const sameApp =
  (apps: Apps): RequestHandler =>
  (req, _res, next) => {
    const said = req.get('x-app-id') ?? (typeof req.query['app'] === 'string' ? req.query['app'] : undefined);
    const name = /^\/apps\/([a-z0-9-]{1,40})\//.exec(req.path)?.[1];
    if (said === undefined || name === undefined) next();
    else apps.mustBe(name, said).then(() => next(), next);
  };

export function ownerKey(req: Request): string {
  const key = OwnerKey.safeParse(keyOf(req));
  if (!key.success) throw new Refused(401, 'The app’s owner key is missing.');
  return key.data;
}

/** Takes a body of JSON as bytes: it is read in the thread of its app. */
const jsonBytes = (bodies: Bodies, limit: number): RequestHandler =>
  bodies.taking('application/json', limit, 'Send JSON in UTF-8.');
function parsed(body: Buffer): unknown {
  try {
    return JSON.parse(body.toString());
  } catch {
    throw new Refused(400, 'The request is not JSON.');
  }
}
const bytesOf = (req: Request): Uint8Array => new Uint8Array(req.body as Buffer);
const sendJson = (res: Response, json: Uint8Array | string): Response =>
  res
    .set('cache-control', 'no-store')
    .type('json')
    .send(typeof json === 'string' ? json : Buffer.from(json.buffer, json.byteOffset, json.length));

/** Sends a document as it lies on the disk, behind what the release is. */
async function sendDocument(res: Response, release: object, path: string): Promise<void> {
  const file = await open(path);
  res.type('json');
  res.write(`${JSON.stringify(release).slice(0, -1)},"app":`);
  const stream = file.createReadStream();
  try {
    for await (const part of stream) if (!res.write(part)) await drained(res);
    res.end('}');
  } catch (e) {
    // Half an answer is none.
    if (!res.destroyed) res.destroy(e as Error);
  }
}

const drained = (res: Response): Promise<void> =>
  new Promise((resolve, reject) => {
    res.once('drain', resolve);
    res.once('close', () => reject(new Error('The phone has gone.')));
  });

/** Where devices send their changes, when {@link pushHandler} has left them to Express. */
export function pushRoutes(apps: Apps, bodies: Bodies): Router {
  const routes = Router();
  routes.post(
    '/apps/:name/changes',
    perMinute(1200),
    jsonBytes(bodies, PUSH_BYTES),
    handle(async (req, res) => sendJson(res, await apps.accept(nameOf(req), keyOf(req), bytesOf(req)))),
  );
  return routes;
}

/** Everything under `/api/apps`: release, check and remove for owners; changes, live news and mail for devices. */
export function apiRoutes(apps: Apps, bodies: Bodies, streams = new Streams()): Router {
  const routes = Router();

  routes.get(
    '/apps/:name/check',
    perMinute(240),
    handle(async (req, res) => res.json(await apps.check(nameOf(req), ownerKey(req)))),
  );

  routes.put(
    '/apps/:name',
    perMinute(60),
    jsonBytes(bodies, 40 * 1024 * 1024),
    handle(async (req, res) => res.json(await apps.put(nameOf(req), ownerKey(req), bytesOf(req)))),
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
    handle(async (req, res) => res.json((await apps.outbox(nameOf(req), ownerKey(req))).messages)),
  );

  routes.get(
    '/apps/:name/app',
    perMinute(600),
    handle(async (req, res) => {
      const { release, path } = await apps.document(nameOf(req));
      const { number, at } = release;
      // A phone that has this release already is not sent it again.
      const tag = `"${number}-${Date.parse(at).toString(36)}"`;
      res.set({ 'cache-control': 'no-cache', etag: tag });
      if (req.get('if-none-match') === tag) return res.status(304).end();
      await sendDocument(res, { number, at, hosts: release.facts.hosts }, path);
    }),
  );

  routes.get(
    '/apps/:name/changes',
    perMinute(1200),
    handle(async (req, res) => {
      const since = Number(req.query['since'] ?? 0);
      const from = Number(req.query['from'] ?? 0);
      if (![since, from].every((n) => Number.isInteger(n) && n >= 0))
        throw new Refused(422, '“since” is the number of a change, “from” the place of a record.');
      const view = typeof req.query['view'] === 'string' ? req.query['view'].slice(0, 60) : undefined;
      return sendJson(res, await apps.catchUp(nameOf(req), keyOf(req), { since, view, from }));
    }),
  );

  routes.post(
    '/apps/:name/compared',
    perMinute(600),
    jsonBytes(bodies, 2 * 1024 * 1024),
    handle(async (req, res) => sendJson(res, await apps.compare(nameOf(req), keyOf(req), bytesOf(req)))),
  );

  routes.post(
    '/apps/:name/mail',
    perMinute(60),
    jsonBytes(bodies, 8 * 1024 * 1024),
    handle(async (req, res) => {
      await apps.send(nameOf(req), SentMessage.parse(parsed(req.body as Buffer)));
      return res.json({ sent: true });
    }),
  );

  routes.get(
    '/apps/:name/live',
    perMinute(240),
    handle(async (req, res) => {
      const name = nameOf(req);
      const person = String(req.query['person'] ?? '').slice(0, 254);
      const heard = String(req.query['heard'] ?? '');
      if (heard && Number.isNaN(Date.parse(heard))) throw new Refused(422, '“heard” is a time as ISO 8601 has it.');
      const device = String(req.query['device'] ?? '').slice(0, 100);
      const { hello, listen, end } = await apps.live(name, keyOf(req), { person, heard, device });
      // Whoever has gone meanwhile, or finds no place, hears nothing.
      if (res.destroyed || res.closed) return end();
      try {
        listen(streams.open(res, name, req.ip ?? '', hello));
      } catch (e) {
        end();
        throw e;
      }
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
      const release = await apps.release(nameOf(req));
      return res.type('application/manifest+json').json(pages.manifest(nameOf(req), release));
    }),
  );
  routes.get(
    '/:name/icon-:size.png',
    handle(async (req, res) => {
      const release = await apps.release(nameOf(req));
      const data = release.icons?.[req.params['size'] === '512' ? 512 : 192];
      if (!data) throw new Refused(404, 'This app has no icon.');
      return res.type('image/png').set('cache-control', 'no-cache').send(Buffer.from(data, 'base64'));
    }),
  );
  routes.get(
    '/:name/sw.js',
    handle(async (req, res) => {
      const release = await apps.release(nameOf(req));
      return res
        .type('text/javascript')
        .set('cache-control', 'no-cache')
        .send(pages.worker(nameOf(req), release));
    }),
  );
  routes.get(
    '/:name/{*rest}',
    handle(async (req, res) => {
      const release = await apps.release(nameOf(req));
      contentSecurityPolicy({ directives: policyOf(release.facts) })(req, res, () =>
        res
          .type('html')
          .set('cache-control', 'no-cache')
          .send(pages.player(nameOf(req), release, `${req.protocol}://${req.get('host') ?? ''}`)),
      );
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
