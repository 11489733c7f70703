import { z } from 'zod';
import { MAIL_BOUNDS, MOST_MAIL_BYTES } from '../document/limits.ts';

/** The files of a mail in base 64. */
const MOST_FILE_LETTERS = Math.ceil(MOST_MAIL_BYTES / 3) * 4 + 4 * MAIL_BOUNDS.files;

/** A message that a device sends out: a mail, or of the kind that it says. */
export const SentMessage = z.object({
  id: z.string().regex(/^[a-zA-Z0-9_-]{6,60}$/),
  kind: z.enum(['text message', 'notice']).optional(),
  to: z.array(z.string().max(MAIL_BOUNDS.address)).min(1).max(MAIL_BOUNDS.to),
  people: z.array(z.string().max(60)).max(MAIL_BOUNDS.to).optional(),
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
