import { MOST_FIELDS } from '../document/limits.ts';
import { z } from 'zod';
import { Id, FieldShapeSchema, Formula, Label, OrderSchema, WhereSchema } from '../document/pieces.ts';
import type { FIELDS } from '../../kinds/fields/index.ts';
import { fieldTypes } from '../fields/kinds.ts';

/** The types that fields have. They are known when a first document is read. */
export type FieldType = (typeof FIELDS)[number]['type'];
export const FieldTypeSchema: z.ZodType<FieldType> = z.lazy(() =>
  z.enum(fieldTypes().map((d) => d.type) as FieldType[]),
);
export const FieldSchema = FieldShapeSchema.extend({ type: FieldTypeSchema });

export const FIGURES = ['count', 'filled', 'sum', 'average', 'lowest', 'highest'] as const;

/** How a table is looked at in the studio. It changes no record and nothing on the phone. */
export const ViewSchema = z.object({
  where: WhereSchema,
  order: OrderSchema,
  /** The field that records are put together by. */
  group: Id.nullable(),
  hidden: z.array(Id).max(MOST_FIELDS),
  /** Width of a column in pixels, by field. */
  widths: z.record(Id, z.number().min(48).max(900)),
  /** How many columns stay in view on the left. */
  frozen: z.number().int().min(0).max(12),
  /** The figure below a column, by field. */
  figures: z.record(Id, z.enum(FIGURES)),
});

/** Where something is in an answer: a JSONPath (RFC 9535). */
const AnswerPath = z.string().min(1).max(1000);

/** A request by which a record is written at its service: which input takes which field, and where the answer has the record. */
const WritesSchema = z.object({
  request: Id,
  values: z.array(z.object({ input: Id, field: Id })).max(50),
  at: AnswerPath.optional(),
  /** Without a network it waits on the phone. */
  waits: z.literal(true).optional(),
});

/** What makes a table a fetched one: its records are what a request of a service answers. */
export const FetchedSchema = z.object({
  /** The request that lists them, by its id. */
  request: Id,
  /** Where they are in its answer. */
  rows: AnswerPath,
  /** The field that tells them apart. */
  key: Id,
  /** So many seconds an answer counts as fresh. */
  fresh: z.number().int().min(0).max(604_800),
  /** The request that answers one of them, the input that takes its key, and where it is in the answer. */
  one: z.object({ request: Id, input: Id, at: AnswerPath }).optional(),
  /** The requests that add one and change one, by which forms save. */
  adds: WritesSchema.optional(),
  changes: WritesSchema.optional(),
  /** The request that removes one, with the input that takes its key. */
  removes: z.object({ request: Id, input: Id }).optional(),
});

/**
 * What keeps a table in step with a service: its records are the app’s own, and a request fetches them again and again;
 * what is changed here is sent back by the others.
 */
export const InStepSchema = FetchedSchema.omit({ fresh: true }).extend({
  /** So many minutes pass between two times; 0 where it is fetched only when the maker says so. */
  every: z.number().int().min(0).max(10_080),
  /** What the request that lists them is given, by input. */
  inputs: z.record(Id, z.union([z.string().max(1000), z.number(), z.boolean()])),
});

export const TableSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** What one record is called, in small letters: "hive". */
  one: Label.min(1),
  fields: z.array(FieldSchema).max(MOST_FIELDS),
  titleField: Id.nullable(),
  pictureField: Id.nullable(),
  /** Where the table stands in the diagram of links. */
  place: z.object({ x: z.number(), y: z.number() }).optional(),
  /** The fields that together name a record: no two records hold the same in all of them. */
  key: z.array(Id).max(6).optional(),
  /** The number field that holds the order people drag records into. */
  ownOrder: Id.optional(),
  /** The app facts: a table of one record, at hand everywhere. */
  facts: z.boolean().optional(),
  view: ViewSchema.optional(),
  fetched: FetchedSchema.optional(),
  inStep: InStepSchema.optional(),
});

/** How long a variable keeps its value: while its screen is open, until the app is closed, or on this device. */
export const LASTS = ['screen', 'app', 'device'] as const;

/** A value with a name that belongs to the use of an app, not to its records. It is of the same types as fields are. */
export const VariableSchema = FieldSchema.pick({
  id: true,
  name: true,
  type: true,
  unit: true,
  choices: true,
  link: true,
  several: true,
  decimals: true,
  least: true,
  most: true,
  unknown: true,
}).extend({
  lasts: z.enum(LASTS),
  /** The screen it belongs to, when it lasts as long as that is open. */
  screen: Id.optional(),
  /** What it begins with; empty for nothing. */
  first: Formula,
});

export type Variable = z.infer<typeof VariableSchema>;
export type Lasts = (typeof LASTS)[number];
export type View = z.infer<typeof ViewSchema>;
export type Figure = (typeof FIGURES)[number];
export type Table = z.infer<typeof TableSchema>;
export type Writes = z.infer<typeof WritesSchema>;
export type FetchedTable = z.infer<typeof FetchedSchema>;
export type TableInStep = z.infer<typeof InStepSchema>;
export type Field = z.infer<typeof FieldSchema>;
