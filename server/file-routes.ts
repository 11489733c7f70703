import { Router, type Request } from 'express';
import { z } from 'zod';
import { PIECE_BYTES } from '../core/fields/kept-file.ts';
import type { Apps } from './apps.ts';
import type { Bodies } from './bodies.ts';
import { perMinute } from './rate.ts';
import { Refused } from '../core/document/refused.ts';
import { open } from './routes.ts';
import { DOORS } from './door-table.ts';

const Piece = z.object({ offset: z.coerce.number().int().nonnegative(), size: z.coerce.number().int().nonnegative() });

/** The files that records hold, by their hash: sent in pieces, read whole. */
export function fileRoutes(apps: Apps, bodies: Bodies): Router {
  const routes = Router();
  const hashIn = (req: Request): string => String(req.params['hash']);
  open(routes, DOORS.arrived, [perMinute(1200)], async (req, res, caller) =>
    res.set('cache-control', 'no-store').json(await apps.fileArrival(caller, hashIn(req))),
  );
  const pieces = 'A piece of a file is sent as application/octet-stream.';
  const read = bodies.taking('application/octet-stream', PIECE_BYTES, pieces);
  open(routes, DOORS.piece, [perMinute(2400), read], async (req, res, caller) => {
    const { offset, size } = Piece.parse(req.query);
    const piece = { hash: hashIn(req), size, offset, content: new Uint8Array(req.body as Buffer), from: req.ip ?? '' };
    return res.json(await apps.takePiece(caller, piece));
  });
  open(routes, DOORS.file, [perMinute(2400)], async (req, res, caller) => {
    const file = await apps.file(caller, hashIn(req));
    if (file === null) throw new Refused(404, 'This file is not here, or not for you.');
    // Whoever asks knows its type from the record. Opened by itself it is saved, and never a page.
    return res
      .set({
        'content-type': 'application/octet-stream',
        'content-disposition': 'attachment',
        // Where not everybody may read everything, a browser keeps nothing of what somebody may read now.
        'cache-control': file.isOpen ? 'private, max-age=31536000, immutable' : 'no-store',
      })
      .sendFile(file.path, { dotfiles: 'allow', cacheControl: false, lastModified: false });
  });
  return routes;
}
