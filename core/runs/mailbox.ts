import { z } from 'zod';

/** The newest mails of an app, those that came and those that went, in the order of their times. */
export const MailboxMessage = z.object({
  /** Does any routine wait for mails? */
  takes: z.boolean(),
  mails: z.array(
    z.object({
      came: z.boolean(),
      message: z.string(),
      /** Milliseconds since 1970. */
      at: z.number(),
      /** Who wrote it, or whom it went to. */
      who: z.string(),
      address: z.string(),
      subject: z.string(),
      words: z.string(),
      thread: z.string(),
      by: z.enum(['person', 'machine', 'mail server']),
      /** The names of its files. */
      files: z.array(z.string()),
    }),
  ),
});
export type MailboxMessage = z.infer<typeof MailboxMessage>;
