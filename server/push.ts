import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Request, Response } from 'express';
import proxyAddress from 'proxy-addr';
import { answerTo } from './answers.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { foreigner } from './borders.ts';
import { DOORS } from './door-table.ts';
import { callerOf } from './entrance.ts';
import { perMinute } from './rate.ts';

const PATH = /^\/api\/apps\/([a-z0-9-]{1,40})\/changes$/;
const JSON_TYPE = /^application\/json(;\s*charset="?utf-8"?)?$/i;
/** The largest push: what may be written together, in letters that take several bytes. */
export const PUSH_BYTES = 24 * 1024 * 1024;

/**
 * Answers pushes before Express sees them: they come most often by far, and most of their time went into what only
 * pages need. Gives false for what is anything else or unusual, which then goes the ordinary way.
 */
export function pushHandler(apps: Apps, bodies: Bodies, names: ReadonlySet<string>, proxies: readonly string[]) {
  const limit = perMinute(1200, { validate: false });
  const trusts = proxyAddress.compile([...proxies]);
  return (req: IncomingMessage, res: ServerResponse): boolean => {
    const name = req.method === 'POST' ? PATH.exec(req.url ?? '')?.[1] : undefined;
    const { headers } = req;
    if (name === undefined || headers['content-encoding'] || headers['x-forwarded-host']) return false;
    if (!JSON_TYPE.test(headers['content-type'] ?? '')) return false;
    const refused = foreigner(names, headers.host ?? '', headers.origin);
    if (refused) {
      fail(res, refused);
      return true;
    }
    const from = Object.assign(req, {
      ip: proxies.length ? proxyAddress(req, trusts) : req.socket.remoteAddress,
    }) as unknown as Request;
    void limit(from, asExpress(res), (error?: unknown) => {
      const work = error
        ? Promise.reject(error)
        : bodies
            .read(req, res, String(from.ip), PUSH_BYTES)
            .then((body) => apps.accept(callerOf(DOORS.push, name, headers), new Uint8Array(body)));
      work.then((receipt) => answer(res, 200, receipt)).catch((e: unknown) => fail(res, e));
    });
    return true;
  };
}

function answer(res: ServerResponse, status: number, body: object | string): void {
  if (res.headersSent || res.destroyed) return;
  const bytes = Buffer.from(typeof body === 'string' ? body : JSON.stringify(body));
  res.writeHead(status, {
    'content-type': 'application/json; charset=utf-8',
    'content-length': bytes.length,
    'cache-control': 'no-store',
    'x-content-type-options': 'nosniff',
  });
  res.end(bytes);
}

function fail(res: ServerResponse, error: unknown): void {
  const { status, message } = answerTo(error);
  answer(res, status, { error: message });
}

/** As much of Express's answer as the limit of requests uses. */
const asExpress = (res: ServerResponse): Response =>
  Object.assign(res, {
    status(code: number) {
      res.statusCode = code;
      return res;
    },
    send: (body: object) => answer(res, res.statusCode, body),
  }) as unknown as Response;
