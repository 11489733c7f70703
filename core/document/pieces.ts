import { z } from 'zod';
import { CONDITION_OPS } from './condition-ops.ts';
import { MOST_CHOICES } from './limits.ts';

/** The pieces that an app document is made of, whatever kinds it holds. */

export const Id = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
export const Label = z.string().max(200);
/** A formula in its stored form: FEEL with ids in place of names. Empty means not filled in yet. */
export const Formula = z.string().max(20_000);
/** Words with `{formula}` places, the formulas in their stored form. */
export const Template = z.string().max(20_000);

export const ConditionSchema = z.object({
  left: Formula,
  op: z.enum(CONDITION_OPS),
  right: Formula,
  /** It counts only while its right side is filled in: an empty search box keeps nothing back. */
  whileFilled: z.literal(true).optional(),
});
/** Conditions of which all or any must hold, and groups of further ones among them. */
export interface Where {
  match: 'all' | 'any';
  conditions: z.infer<typeof ConditionSchema>[];
  groups?: Where[] | undefined;
}
export const WhereSchema: z.ZodType<Where> = z.object({
  match: z.enum(['all', 'any']),
  conditions: z.array(ConditionSchema).max(40),
  get groups() {
    return z.array(WhereSchema).max(12).optional();
  },
});
export const OrderSchema = z.array(z.object({ by: Formula, descending: z.boolean() })).max(6);

export const FieldValueSchema = z.object({ field: Id, value: Formula });

export const QuerySchema = z.object({
  /** A table's records, or those a formula such as `this hive.Visits` gives. */
  table: Id,
  via: Formula.optional(),
  where: WhereSchema,
  order: OrderSchema,
  /** How many at most: a number, or a formula that gives one. */
  limit: z.union([z.number().int().min(1).max(100_000), Formula]).nullable(),
  /** Of a fetched table: what the inputs of its request are given, and which of them takes what people look for. */
  asks: z.object({ values: z.array(FieldValueSchema).max(50), search: Id.optional() }).optional(),
});

/** A screen that opens: over the one before, in its place, or as a sheet of some height upon it. */
export const OPENS = ['over', 'instead', 'sheet'] as const;
export const HEIGHTS = ['low', 'half', 'full'] as const;

export const TapSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('nothing') }),
  z.object({
    do: z.literal('open'),
    screen: z.string(),
    give: Formula,
    as: z.enum(OPENS).optional(),
    height: z.enum(HEIGHTS).optional(),
    /** What the screen's own variables begin with. */
    values: z.array(FieldValueSchema).max(50).optional(),
  }),
  z.object({ do: z.literal('back') }),
  z.object({ do: z.literal('save') }),
  z.object({ do: z.literal('remove') }),
  z.object({
    do: z.literal('routine'),
    routine: z.string(),
    /** What the inputs of the routine are given. */
    values: z.array(FieldValueSchema).max(20).optional(),
  }),
  /** In a part: what the place of the part says. */
  z.object({ do: z.literal('input'), input: z.string() }),
]);

/** As large as its content, all the room there is, pixels, or percent of what is around. */
export const SizeSchema = z.union([
  z.enum(['fit', 'fill']),
  z.number().min(1).max(2000),
  z.templateLiteral([z.number().min(1).max(100), '%']),
]);

/** How an element stands among others, beyond its width and height. Lengths in pixels. */
export const StandsSchema = z.object({
  /** Of the room that several fill, so many parts. */
  share: z.number().int().min(1).max(12).optional(),
  leastWidth: z.number().min(0).max(2000).optional(),
  mostWidth: z.number().min(1).max(2000).optional(),
  leastHeight: z.number().min(0).max(2000).optional(),
  mostHeight: z.number().min(1).max(2000).optional(),
  /** Room around it. */
  outer: z.number().min(0).max(64).optional(),
  /** It is only there where the app is narrow, as on a phone, or only where it is wide. */
  seenOn: z.enum(['narrow', 'wide']).optional(),
  /** Percent that it covers what is behind it. */
  covers: z.number().min(10).max(99).optional(),
});

export const LinkSchema = z.object({
  /** Picked: the record is chosen. Matched: the record whose `to` field holds the value of `from`. */
  kind: z.enum(['picked', 'matched']),
  table: Id,
  from: Id.optional(),
  to: Id.optional(),
  /** What the records at the other end call the records that point at them. */
  backName: Label,
});

/** A field without its type: what any type of field may be told. */
export const FieldShapeSchema = z.object({
  id: Id,
  name: Label.min(1),
  type: z.string(),
  /** Behind a number: "kg", "days". Before money: "€". */
  unit: z.string().max(20).optional(),
  choices: z
    .array(z.object({ name: Label, colour: z.number().int().min(0).max(7) }))
    .max(MOST_CHOICES)
    .optional(),
  formula: Formula.optional(),
  link: LinkSchema.optional(),
  /** A choice of several values, or a picked link to several records. */
  several: z.boolean().optional(),
  /** A choice takes no other values than its own. */
  only: z.boolean().optional(),
  /** What a new record begins with. */
  default: Formula.optional(),
  /** What a text looks like: `#` a digit, `@` a letter, `?` any character, `*` any number of them. */
  pattern: z.string().max(200).optional(),
  /** A formula that must hold for the record, and what is said when it does not. */
  check: z.object({ formula: Formula, words: z.string().max(300) }).optional(),
  /** The picture a place on a plan is on: an address or `file:<id>`. */
  plan: z.string().max(2000).optional(),
  /** What the ids of a unique id begin with. */
  prefix: z.string().max(12).optional(),
  required: z.boolean().optional(),
  /** A yes/no that may be not answered; without this it is no as long as nobody has said yes. */
  unknown: z.boolean().optional(),
  /** No two records may hold the same value. */
  unique: z.boolean().optional(),
  /** Where its value is in a record of an answer, by a JSONPath (RFC 9535); of a field of a fetched table. */
  pick: z.string().max(1000).optional(),
  /** Digits behind the decimal point of a number, always shown; as many as it has when absent. */
  decimals: z.number().int().min(0).max(6).optional(),
  /** The least and most a number, money or percent may be. */
  least: z.number().optional(),
  most: z.number().optional(),
});

export type Condition = z.infer<typeof ConditionSchema>;
export type Query = z.infer<typeof QuerySchema>;
export type Tap = z.infer<typeof TapSchema>;
export type Size = z.infer<typeof SizeSchema>;
export type Stands = z.infer<typeof StandsSchema>;
export type FieldValue = z.infer<typeof FieldValueSchema>;
export type Link = z.infer<typeof LinkSchema>;
export type FieldShape = z.infer<typeof FieldShapeSchema>;
