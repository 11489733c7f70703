import { z } from 'zod';
import { ChangeSchema } from '../core/records/change.ts';
import { MAIL_BOUNDS, MOST_MAIL_BYTES, MOST_TOGETHER } from '../core/document/limits.ts';

/** The files of a mail in base 64. */
const MOST_FILE_LETTERS = Math.ceil(MOST_MAIL_BYTES / 3) * 4 + 4 * MAIL_BOUNDS.files;

/** What the server accepts. Sizes are bounded here and by the body limits of each route. */
export const PushMessage = z.object({ changes: z.array(ChangeSchema).max(MOST_TOGETHER) });
/** What a device has, to be compared with what it may have. */
export const HaveMessage = z.object({
  after: z.string().max(60).nullable(),
  upTo: z.string().max(60).nullable(),
  records: z.array(z.tuple([z.string().max(60), z.string().max(40)])).max(10_000),
});
export const ReleaseMessage = z.object({
  app: z.unknown(),
  icons: z.object({ 192: z.string().max(300_000), 512: z.string().max(1_000_000) }).nullable(),
});
export const SentMessage = z.object({
  id: z.string().regex(/^[a-zA-Z0-9_-]{6,60}$/),
  kind: z.enum(['text message', 'notice']).optional(),
  to: z.array(z.string().max(MAIL_BOUNDS.address)).min(1).max(MAIL_BOUNDS.to),
  subject: z.string().max(MAIL_BOUNDS.subject),
  body: z.string().max(MAIL_BOUNDS.body),
  answers: z
    .string()
    .regex(/^<?[^\s<>@]+@[^\s<>@]+>?$/)
    .max(250)
    .optional(),
  files: z
    .array(
      z.object({
        name: z.string().min(1).max(200),
        type: z.string().max(150),
        data: z.base64().max(MOST_FILE_LETTERS),
      }),
    )
    .max(MAIL_BOUNDS.files)
    .refine((files) => files.reduce((n, f) => n + f.data.length, 0) <= MOST_FILE_LETTERS, 'The files are too large.')
    .optional(),
});
export type SentMessage = z.infer<typeof SentMessage>;
/** What is kept of a text message or a notice, as it lies in the outbox. */
export const KeptMessage = SentMessage.pick({ id: true, kind: true, to: true, subject: true, body: true }).extend({
  at: z.string(),
});
export type KeptMessage = z.infer<typeof KeptMessage>;

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
