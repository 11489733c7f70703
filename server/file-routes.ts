import { Router } from 'express';
import { z } from 'zod';
import { PIECE_BYTES } from '../core/fields/kept-file.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { perMinute } from './rate.ts';
import { Refused } from './refused.ts';
import { handle, keyOf, nameOf } from './routes.ts';

const Piece = z.object({ offset: z.coerce.number().int().nonnegative(), size: z.coerce.number().int().nonnegative() });

/** The files that records hold, under `/api/apps/:name/files`, by their hash: sent in pieces, read whole. */
export function fileRoutes(apps: Apps, bodies: Bodies): Router {
  const routes = Router();
  routes.get(
    '/apps/:name/files/:hash/arrived',
    perMinute(1200),
    handle(async (req, res) => {
      const arrival = await apps.fileArrival(nameOf(req), String(req.params['hash']));
      return res.set('cache-control', 'no-store').json(arrival);
    }),
  );
  routes.patch(
    '/apps/:name/files/:hash',
    perMinute(2400),
    bodies.taking('application/octet-stream', PIECE_BYTES, 'A piece of a file is sent as application/octet-stream.'),
    handle(async (req, res) => {
      const { offset, size } = Piece.parse(req.query);
      const hash = String(req.params['hash']);
      return res.json(await apps.takePiece(nameOf(req), hash, size, offset, req.body as Buffer, req.ip ?? ''));
    }),
  );
  routes.get(
    '/apps/:name/files/:hash',
    perMinute(2400),
    handle(async (req, res) => {
      const path = await apps.file(nameOf(req), keyOf(req), String(req.params['hash']));
      if (path === null) throw new Refused(404, 'This file is not here, or not for you.');
      // Whoever asks knows its type from the record. Opened by itself it is saved, and never a page.
      return res
        .set({
          'content-type': 'application/octet-stream',
          'content-disposition': 'attachment',
          'cache-control': 'private, max-age=31536000, immutable',
        })
        .sendFile(path, { dotfiles: 'allow', cacheControl: false, lastModified: false });
    }),
  );
  return routes;
}
