import { open as openFile } from 'node:fs/promises';
import { contentSecurityPolicy } from 'helmet';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import { answerTo } from './answers.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { DOORS, type Door } from './door-table.ts';
import { callerOf, type Caller } from './entrance.ts';
import { Streams } from './live.ts';
import { PUSH_BYTES } from './push.ts';
import { RunsAfter } from './messages.ts';
import { perMinute } from './rate.ts';
import { Refused } from '../core/document/refused.ts';
import type { Pages } from './pages.ts';
import { policyOf } from './policy.ts';

type Handler = (req: Request, res: Response) => Promise<unknown>;
export const handle =
  (work: Handler) =>
  (req: Request, res: Response, next: (e: unknown) => void): void => {
    work(req, res).catch(next);
  };
/** What is done for somebody at a door, when the request is read. */
type Work = (req: Request, res: Response, caller: Caller) => Promise<unknown>;

/**
 * Opens a door of the table. `before` bounds and reads requests; who asks is found out by the entrance, when the work
 * begins.
 */
export function open(routes: Router, door: Door, before: RequestHandler[], work: Work): void {
  routes[door.method](
    door.path,
    ...before,
    handle((req, res) => {
      // Nothing is said in an address that would be written down on the way, but which app a page means.
      const { app } = req.query;
      const caller = callerOf(door, String(req.params['name']), req.headers);
      return work(req, res, { ...caller, app: caller.app ?? (typeof app === 'string' ? app : undefined) });
    }),
  );
}

/** Takes a body of JSON as bytes: it is read in the thread of its app. */
const jsonBytes = (bodies: Bodies, limit: number): RequestHandler =>
  bodies.taking('application/json', limit, 'Send JSON in UTF-8.');
const bytesOf = (req: Request): Uint8Array => new Uint8Array(req.body as Buffer);
export const sendJson = (res: Response, json: Uint8Array | string): Response =>
  res
    .set('cache-control', 'no-store')
    .type('json')
    .send(typeof json === 'string' ? json : Buffer.from(json.buffer, json.byteOffset, json.length));

/** Sends a document as it lies on the disk, behind what the release is. */
async function sendDocument(res: Response, release: object, path: string): Promise<void> {
  const file = await openFile(path);
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
  open(routes, DOORS.push, [perMinute(1200), jsonBytes(bodies, PUSH_BYTES)], async (req, res, caller) =>
    sendJson(res, await apps.accept(caller, bytesOf(req))),
  );
  return routes;
}

/** Release, check and remove for owners; changes, live news and mail for devices. */
export function apiRoutes(apps: Apps, bodies: Bodies, streams = new Streams()): Router {
  const routes = Router();
  open(routes, DOORS.check, [perMinute(240)], async (_req, res, caller) => res.json(await apps.check(caller)));
  open(routes, DOORS.release, [perMinute(60), jsonBytes(bodies, 40 * 1024 * 1024)], async (req, res, caller) =>
    res.json(await apps.put(caller, bytesOf(req), RunsAfter.parse(req.query['runs'] ?? 'newest'))),
  );
  open(routes, DOORS.remove, [perMinute(60)], async (_req, res, caller) => {
    await apps.remove(caller);
    return res.json({ removed: true });
  });
  open(routes, DOORS.outbox, [perMinute(240)], async (_req, res, caller) => sendJson(res, await apps.outbox(caller)));
  open(routes, DOORS.document, [perMinute(600)], async (req, res, caller) => {
    const { release, path } = await apps.document(caller);
    const { number, at } = release;
    // A phone that has this release already is not sent it again.
    const tag = `"${number}-${Date.parse(at).toString(36)}"`;
    res.set({ 'cache-control': 'no-cache', etag: tag });
    if (req.get('if-none-match') === tag) return res.status(304).end();
    return sendDocument(res, { number, at, hosts: release.facts.hosts, look: release.facts.look }, path);
  });
  open(routes, DOORS.pull, [perMinute(1200)], async (req, res, caller) => {
    const since = Number(req.query['since'] ?? 0);
    const from = Number(req.query['from'] ?? 0);
    if (![since, from].every((n) => Number.isInteger(n) && n >= 0))
      throw new Refused(422, '“since” is the number of a change, “from” the place of a record.');
    const view = typeof req.query['view'] === 'string' ? req.query['view'].slice(0, 60) : undefined;
    return sendJson(res, await apps.catchUp(caller, { since, view, from }));
  });
  open(routes, DOORS.compare, [perMinute(600), jsonBytes(bodies, 2 * 1024 * 1024)], async (req, res, caller) =>
    sendJson(res, await apps.compare(caller, bytesOf(req))),
  );
  open(routes, DOORS.history, [perMinute(60)], async (req, res, caller) => {
    const from = Number(req.query['from'] ?? 0);
    if (!Number.isInteger(from) || from < 0) throw new Refused(422, '“from” is the place of a change.');
    const { table, record } = req.params;
    return sendJson(res, await apps.history(caller, { table: String(table), record: String(record), from }));
  });
  open(routes, DOORS.mail, [perMinute(60), jsonBytes(bodies, 8 * 1024 * 1024)], async (req, res, caller) => {
    await apps.send(caller, bytesOf(req));
    return res.json({ sent: true });
  });
  open(routes, DOORS.asked, [perMinute(300), jsonBytes(bodies, 12 * 1024 * 1024)], async (req, res, caller) =>
    sendJson(res, await apps.asks(caller, bytesOf(req))),
  );
  open(routes, DOORS.answer, [perMinute(60), jsonBytes(bodies, 20 * 1024)], async (req, res, caller) => {
    await apps.answer(caller, bytesOf(req));
    return res.json({ taken: true });
  });
  open(routes, DOORS.live, [perMinute(240)], async (req, res, caller) => {
    const person = String(req.query['person'] ?? '').slice(0, 254);
    const heard = String(req.query['heard'] ?? '');
    if (heard && Number.isNaN(Date.parse(heard))) throw new Refused(422, '“heard” is a time as ISO 8601 has it.');
    const device = String(req.query['device'] ?? '').slice(0, 100);
    const { hello, listen, end } = await apps.live(caller, { person, heard, device });
    // Whoever has gone meanwhile, or finds no place, hears nothing.
    if (res.destroyed || res.closed) return end();
    try {
      listen(streams.open(res, caller.name, req.ip ?? '', hello));
    } catch (e) {
      end();
      throw e;
    }
  });
  return routes;
}

/** The pages and files of released apps. */
export function appRoutes(apps: Apps, pages: Pages): Router {
  const routes = Router();
  routes.get('/a/:name', (req, res, next) =>
    req.path.endsWith('/')
      ? next()
      : res.redirect(301, `/a/${String(req.params.name)}/${new URL(req.originalUrl, 'http://x').search}`),
  );
  open(routes, DOORS.manifest, [], async (_req, res, caller) =>
    res.type('application/manifest+json').json(pages.manifest(caller.name, await apps.release(caller))),
  );
  open(routes, DOORS.icon, [], async (req, res, caller) => {
    const release = await apps.release(caller);
    const data = release.icons?.[req.params['size'] === '512' ? 512 : 192];
    if (!data) throw new Refused(404, 'This app has no icon.');
    return res.type('image/png').set('cache-control', 'no-cache').send(Buffer.from(data, 'base64'));
  });
  open(routes, DOORS.worker, [], async (_req, res, caller) =>
    res
      .type('text/javascript')
      .set('cache-control', 'no-cache')
      .send(pages.worker(caller.name, await apps.release(caller))),
  );
  open(routes, DOORS.page, [], async (req, res, caller) => {
    const release = await apps.release(caller);
    contentSecurityPolicy({ directives: policyOf(release.facts) })(req, res, () =>
      res
        .type('html')
        .set('cache-control', 'no-cache')
        .send(pages.player(caller.name, release, `${req.protocol}://${req.get('host') ?? ''}`)),
    );
  });
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
