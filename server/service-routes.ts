import { Router, json } from 'express';
import { z } from 'zod';
import { Refused } from '../core/document/refused.ts';
import { Id } from '../core/document/pieces.ts';
import { isContent } from '../core/services/parts.ts';
import { HeaderName, METHODS, ServiceSchema } from '../core/services/schema.ts';
import { hashOfKey, keyIn } from './keys.ts';
import { perMinute } from './rate.ts';
import { handle } from './routes.ts';
import type { Services } from './services.ts';

const Place = z.enum(['test', 'live']);
const Origin = z.string().regex(/^https?:\/\/[^/?#@\s]{1,300}$/);

const SecretMessage = z.object({
  service: Id,
  where: Place,
  origin: Origin,
  /** Null takes it away. */
  secret: z.string().min(1).max(8000).nullable(),
});

/** A request that the studio has filled in, for the host to sign and send. */
const TryMessage = z.object({
  service: ServiceSchema.pick({ id: true, sign: true, limits: true }),
  filled: z.object({
    method: z.enum(METHODS),
    url: z.string().max(20_000),
    headers: z.array(z.tuple([HeaderName, z.string().max(20_000)])).max(100),
    body: z.string().max(2_000_000).optional(),
    parts: z
      .array(
        z.union([
          z.object({ name: z.string().max(200), text: z.string().max(2_000_000) }),
          z.object({ name: z.string().max(200), file: z.string().max(12_000_000).refine(isContent) }),
        ]),
      )
      .max(200)
      .optional(),
  }),
  where: Place,
  mayRepeat: z.boolean(),
  token: z.string().max(16_000).optional(),
});

/** Where the studio keeps the secrets of an app’s services, and tries its requests before they are released. */
export function serviceRoutes(services: Services): Router {
  const routes = Router();
  const who = (req: { params: Record<string, unknown>; get(name: string): string | undefined }): [string, string] => [
    Id.parse(req.params['app']),
    hashOfKey(keyIn(req.get('x-owner-key'))),
  ];
  routes.get(
    '/api/services/:app/secrets',
    perMinute(240),
    handle(async (req, res) => res.set('cache-control', 'no-store').json(await services.secrets(...who(req)))),
  );
  routes.put(
    '/api/services/:app/secrets',
    perMinute(60),
    json({ limit: '32kb' }),
    handle(async (req, res) => {
      const { secret, ...about } = SecretMessage.parse(req.body);
      await services.keep(...who(req), about, secret).catch((e: Error) => {
        throw new Refused(422, e.message);
      });
      return res.json({ kept: secret !== null });
    }),
  );
  routes.post(
    '/api/services/:app/asked',
    perMinute(120),
    json({ limit: '12mb' }),
    handle(async (req, res) => {
      const came = await services.ask(...who(req), TryMessage.parse(req.body));
      res.set({ 'cache-control': 'no-store', 'content-type': 'application/octet-stream' });
      if ('failed' in came) return res.send(Buffer.from(`${JSON.stringify(came)}\n`));
      // What it is, in a line; then the answer as it came, which is nothing but bytes in this server’s place.
      const { body, ...reply } = came.reply;
      return res.send(Buffer.concat([Buffer.from(`${JSON.stringify({ reply, tries: came.tries })}\n`), body]));
    }),
  );
  return routes;
}
