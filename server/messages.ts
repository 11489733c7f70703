import { z } from 'zod';
import { ChangeSchema } from '../core/host/change.ts';

/** What the server accepts. Sizes are bounded here and by the body limits of each route. */
export const PushMessage = z.object({ changes: z.array(ChangeSchema).max(1000) });
export const ReleaseMessage = z.object({
  app: z.unknown(),
  icons: z.object({ 192: z.string().max(300_000), 512: z.string().max(1_000_000) }).nullable(),
});
export const MailMessage = z.object({
  id: z.string().regex(/^[a-zA-Z0-9_-]{6,60}$/),
  to: z.array(z.string().max(254)).min(1).max(100),
  subject: z.string().max(1000),
  body: z.string().max(100_000),
});
export const OwnerKey = z.string().min(20).max(100);
