import { z } from 'zod';

/** A mirrored table as it is set up: which sheet of which file, and which column belongs to which field. */
export const MirrorSpecSchema = z.object({
  table: z.string(),
  file: z.string(),
  sheet: z.string(),
  columns: z.array(z.object({ name: z.string(), field: z.string() })).min(1),
});
export type MirrorSpec = z.infer<typeof MirrorSpecSchema>;

const Cell = z.union([z.string(), z.number(), z.boolean(), z.null()]);

/** Two edits of one cell, settled by the rule that the later stands; the other can still be taken. */
export const MirrorConflictSchema = z.object({
  id: z.string(),
  record: z.string(),
  /** What the record is called, and the field; empty when it is about a whole row. */
  title: z.string(),
  field: z.string(),
  fieldName: z.string(),
  file: Cell,
  app: Cell,
  fileShown: z.string(),
  appShown: z.string(),
  kept: z.enum(['file', 'app']),
  /** ISO 8601. */
  at: z.string(),
});
export type MirrorConflict = z.infer<typeof MirrorConflictSchema>;

/**
 * How a table stands with what it follows: a mirrored one with its file, one that is kept in step with its service.
 * `in step`: both say the same. `open`: another program holds the file, or the service has not taken everything, so edits
 * of the app wait. `broken`: the file cannot be read, the service gives nothing. `gone`, `renamed`: the file is not where
 * it was. `held`: so many rows vanished that a person should say whether they are meant to.
 */
export const MirrorStatusSchema = z.object({
  table: z.string(),
  from: z.enum(['file', 'service']),
  /** The file with its sheet; or the request that lists the records, with its service. */
  file: z.string(),
  sheet: z.string(),
  state: z.enum(['in step', 'open', 'broken', 'gone', 'renamed', 'held']),
  words: z.string(),
  /** When both agreed last, ISO 8601. */
  at: z.string().nullable(),
  rows: z.number(),
  /** Edits of the app that are not in the file yet, or not with the service. */
  waiting: z.number(),
  conflicts: z.array(MirrorConflictSchema),
  /** Cells of the file that do not fit, in words. */
  misfits: z.array(z.string()),
  renamedTo: z.string().nullable(),
  /** What was sent to a service to be added without an answer: nobody knows whether it is there. */
  unsure: z.array(z.object({ record: z.string(), title: z.string() })),
});
export type MirrorStatus = z.infer<typeof MirrorStatusSchema>;

export const MirrorsMessage = z.object({
  files: z.array(z.object({ name: z.string(), sheets: z.array(z.string()), problem: z.string().nullable() })),
  mirrors: z.array(MirrorStatusSchema),
});
export type MirrorsMessage = z.infer<typeof MirrorsMessage>;
