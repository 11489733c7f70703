import { z } from 'zod';
import { ChangeSchema } from '../core/records/change.ts';
import { MAIL_BOUNDS, MOST_TOGETHER } from '../core/document/limits.ts';

/** What the server accepts. Sizes are bounded here and by the body limits of each route. */
export const PushMessage = z.object({ changes: z.array(ChangeSchema).max(MOST_TOGETHER) });
export const ReleaseMessage = z.object({
  app: z.unknown(),
  icons: z.object({ 192: z.string().max(300_000), 512: z.string().max(1_000_000) }).nullable(),
});
export const MailMessage = z.object({
  id: z.string().regex(/^[a-zA-Z0-9_-]{6,60}$/),
  to: z.array(z.string().max(MAIL_BOUNDS.address)).min(1).max(MAIL_BOUNDS.to),
  subject: z.string().max(MAIL_BOUNDS.subject),
  body: z.string().max(MAIL_BOUNDS.body),
});
export const OwnerKey = z.string().min(20).max(100);

const TableId = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
export const MirrorParams = z.object({ name: z.string(), table: TableId });
export const MirrorMessage = z.object({
  file: z.string().min(1).max(200),
  sheet: z.string().max(200).nullable(),
  first: z.enum(['file', 'app']),
  create: z.boolean(),
});
export const SettleMessage = z.discriminatedUnion('about', [
  z.object({ about: z.literal('conflict'), id: z.string().max(60), take: z.enum(['other', 'leave']) }),
  z.object({ about: z.literal('rows'), take: z.enum(['remove', 'write again']) }),
  z.object({ about: z.literal('name') }),
]);
export type Settlement = z.infer<typeof SettleMessage>;
