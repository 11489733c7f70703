import { z } from 'zod';
import { MAX_FILE_CELL } from '../fields/kind.ts';
import type { KeptValue } from './kept-value.ts';

/** A stamp of a hybrid clock: time, counter and device, as text that sorts. */
export const STAMP = /^[0-9a-z]{9}-[0-9a-z]{4}-[a-z0-9]{4,24}$/;

const FieldId = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
export const CellSchema = z.union([z.string().max(MAX_FILE_CELL), z.number(), z.boolean(), z.null()]);
export const CellsSchema = z.record(FieldId, CellSchema);

/** The run of a routine of the host that made a change, and the routines that led to it, the last its own. */
const MadeByRunSchema = z.object({ id: z.string().max(60), path: z.array(z.string().max(30)).min(1).max(60) });
export type MadeByRun = z.infer<typeof MadeByRunSchema>;

const base = {
  id: z.string().min(1).max(60),
  stamp: z.string().regex(STAMP),
  table: z.string().max(30),
  record: z.string().regex(/^[a-zA-Z0-9_-]{1,60}$/),
  /** The stamp it came with, where the host had to correct that. */
  sent: z.string().regex(STAMP).optional(),
  /** Who made it, by their record in the table of people: set by the host alone, and kept there. */
  author: z.string().max(60).optional(),
  /** It was made with the key of the app: set by the host alone as well. */
  owner: z.literal(true).optional(),
  /** It was made by a routine of the host: set by the host alone. */
  run: MadeByRunSchema.optional(),
  /** The maker brings it along from before the first release: it is nothing that has happened. Taken from the owner alone. */
  brought: z.literal(true).optional(),
  /** Changes with the same group are taken or refused as one. */
  group: z.string().min(1).max(60).optional(),
};

/** An amount that a host has added to a cell, or a value it was set to among amounts, with the stamp that came with it. */
const AmountSchema = z.union([
  z.object({ by: z.number(), at: z.string().regex(STAMP) }),
  z.object({ to: CellSchema, at: z.string().regex(STAMP) }),
]);
export type Amount = z.infer<typeof AmountSchema>;

/** One change to one record, as it travels and as it is kept. */
export const ChangeSchema = z.discriminatedUnion('do', [
  z.object({
    ...base,
    do: z.literal('set'),
    cells: CellsSchema,
    /** Set by the host alone, on cells that amounts are added to: what made them what they are. */
    amounts: z.record(FieldId, AmountSchema).optional(),
  }),
  /**
   * Adds amounts to number fields, wherever and in whatever order such changes are made. `cells` are what the app itself
   * writes along, such as the time of the change. The host keeps and passes on the `set` that comes of it.
   */
  z.object({
    ...base,
    do: z.literal('raise'),
    by: z.record(FieldId, z.number()),
    cells: CellsSchema.optional(),
    /** The record is made with these where there is none, once however many do so; see `keyedId`. */
    makes: CellsSchema.optional(),
  }),
  z.object({
    ...base,
    do: z.literal('remove'),
    /**
     * Set by the host alone: it never comes back, and nothing of it is kept anywhere. What links to it have in its place,
     * where it was somebody; otherwise empty.
     */
    erased: z.string().max(60).optional(),
  }),
  /** Brings a removed record back with these cells: what was removed leaves none behind. */
  z.object({ ...base, do: z.literal('restore'), cells: CellsSchema.optional() }),
]);
export type Change = z.infer<typeof ChangeSchema>;
/** A change as hosts keep and pass it on: what amounts come to is set. */
export type KeptChange = Exclude<Change, { do: 'raise' }>;

/** A change before it has its id and stamp. */
export type Draft =
  | { do: 'set'; table: string; record: string; cells: z.infer<typeof CellsSchema> }
  | {
      do: 'raise';
      table: string;
      record: string;
      by: Record<string, number>;
      cells?: z.infer<typeof CellsSchema> | undefined;
      makes?: z.infer<typeof CellsSchema> | undefined;
    }
  | { do: 'remove'; table: string; record: string }
  /** Without cells it comes back as it was when it was removed, as far as that is known. */
  | { do: 'restore'; table: string; record: string; cells?: z.infer<typeof CellsSchema> | undefined };

/** A cell that amounts are added to: what it was set to last, and the amounts since, by their stamps. */
const CountedSchema = z.object({
  base: CellSchema,
  at: z.string(),
  /** Amounts up to this stamp are part of the base. */
  upTo: z.string().optional(),
  later: z.array(z.tuple([z.string(), z.number()])),
});
export type Counted = z.infer<typeof CountedSchema>;

/** A record with the stamp of every cell: enough to merge it with any other state of the same record. */
export const RecordStateSchema = z.object({
  table: z.string().max(30),
  id: z.string().max(60),
  cells: CellsSchema,
  /** Stamp of every cell that has no stamp of its own in `stamps`. */
  stamp: z.string(),
  stamps: z.record(z.string(), z.string()).optional(),
  removed: z.string().optional(),
  restored: z.string().optional(),
  /** It was removed for good: nothing of it is kept aside, and it cannot be brought back. See `Change`. */
  erased: z.string().max(60).optional(),
  /** In a host's snapshot, what made up the cells that amounts are added to. */
  amounts: z.record(FieldId, CountedSchema).optional(),
});
export type RecordState = z.infer<typeof RecordStateSchema> & {
  /** On a device, what a removed record had, each cell with its stamp: it can be brought back from there, and is never sent. */
  was?: Record<string, [cell: z.infer<typeof CellsSchema>[string], stamp: string]>;
  /** On a device, values of formula fields that the host has worked out, since they read what is not here. */
  told?: Record<string, KeptValue>;
  /** On a device, fields that its person may not see: that they are empty here says nothing. */
  hidden?: string[];
  /** On a device, what stands in cells without the amounts that wait to be sent. */
  under?: z.infer<typeof CellsSchema>;
};
