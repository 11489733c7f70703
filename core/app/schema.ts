import { z } from 'zod';
import { FORMAT, VERSION } from './version.ts';

/**
 * The app document: everything a maker decides, as one JSON value. Things refer to each other by id.
 * `docs/app.schema.json` is made from it.
 */

const Id = z.string().regex(/^[a-z]_[a-z0-9]{6,24}$/);
const Label = z.string().max(200);
/** A formula in its stored form: FEEL with ids in place of names. Empty means not filled in yet. */
const Formula = z.string().max(20_000);
/** Words with `{formula}` places, the formulas in their stored form. */
const Template = z.string().max(20_000);

export const FIELD_TYPES = [
  'text',
  'longtext',
  'number',
  'money',
  'percent',
  'yesno',
  'date',
  'time',
  'datetime',
  'duration',
  'choice',
  'mail',
  'phone',
  'web',
  'picture',
  'file',
  'sound',
  'place',
  'plan',
  'code',
  'person',
  'id',
  'created',
  'changed',
  'link',
  'formula',
] as const;
export const FieldTypeSchema = z.enum(FIELD_TYPES);

export const LinkSchema = z.object({
  /** Picked: the record is chosen. Matched: the record whose `to` field holds the value of `from`. */
  kind: z.enum(['picked', 'matched']),
  table: Id,
  from: Id.optional(),
  to: Id.optional(),
  /** What the records at the other end call the records that point at them. */
  backName: Label,
});

export const FieldSchema = z.object({
  id: Id,
  name: Label.min(1),
  type: FieldTypeSchema,
  /** Behind a number: "kg", "days". Before money: "€". */
  unit: z.string().max(20).optional(),
  choices: z
    .array(z.object({ name: Label, colour: z.number().int().min(0).max(7) }))
    .max(500)
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
  /** No two records may hold the same value. */
  unique: z.boolean().optional(),
  /** Digits behind the decimal point of a number, always shown; as many as it has when absent. */
  decimals: z.number().int().min(0).max(6).optional(),
  /** The least and most a number, money or percent may be. */
  least: z.number().optional(),
  most: z.number().optional(),
});

export const ConditionSchema = z.object({
  left: Formula,
  op: z.enum(['is', 'is not', 'over', 'under', 'at least', 'at most', 'contains', 'is empty', 'is filled', 'holds']),
  right: Formula,
});
export const WhereSchema = z.object({ match: z.enum(['all', 'any']), conditions: z.array(ConditionSchema).max(40) });
const OrderSchema = z.array(z.object({ by: Formula, descending: z.boolean() })).max(6);

export const FIGURES = ['count', 'filled', 'sum', 'average', 'lowest', 'highest'] as const;

/** How a table is looked at in the studio. It changes no record and nothing on the phone. */
export const ViewSchema = z.object({
  where: WhereSchema,
  order: OrderSchema,
  /** The field that records are put together by. */
  group: Id.nullable(),
  hidden: z.array(Id).max(300),
  /** Width of a column in pixels, by field. */
  widths: z.record(Id, z.number().min(48).max(900)),
  /** How many columns stay in view on the left. */
  frozen: z.number().int().min(0).max(12),
  /** The figure below a column, by field. */
  figures: z.record(Id, z.enum(FIGURES)),
});

export const TableSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** What one record is called, in small letters: "hive". */
  one: Label.min(1),
  fields: z.array(FieldSchema).max(300),
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
});

export const QuerySchema = z.object({
  /** A table's records, or those a formula such as `this hive.Visits` gives. */
  table: Id,
  via: Formula.optional(),
  where: WhereSchema,
  order: OrderSchema,
  limit: z.number().int().min(1).max(100_000).nullable(),
});

export const TapSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('nothing') }),
  z.object({ do: z.literal('open'), screen: z.string(), give: Formula }),
  z.object({ do: z.literal('back') }),
  z.object({ do: z.literal('save') }),
  z.object({ do: z.literal('remove') }),
  z.object({ do: z.literal('routine'), routine: z.string() }),
]);

export const TEXT_STYLES = ['title', 'heading', 'strong', 'body', 'small', 'figure'] as const;
export const COLOURS = ['ink', 'soft', 'accent', 'good', 'look', 'bad'] as const;
const Size = z.union([z.enum(['fit', 'fill']), z.number().min(1).max(2000)]);

const common = {
  id: Id,
  name: Label.optional(),
  seenWhen: Formula.optional(),
  width: Size.optional(),
  height: Size.optional(),
};

const TextElement = z.object({
  ...common,
  kind: z.literal('text'),
  words: Template,
  style: z.enum(TEXT_STYLES),
  colour: z.enum(COLOURS),
  align: z.enum(['start', 'middle', 'end']).optional(),
});
const PictureElement = z.object({
  ...common,
  kind: z.literal('picture'),
  /** A formula that gives an address or `file:<id>`. */
  source: Formula,
  shape: z.enum(['wide', 'square', 'round']),
});
const ButtonElement = z.object({
  ...common,
  kind: z.literal('button'),
  words: Template,
  look: z.enum(['main', 'quiet', 'plain']),
  icon: z.string().max(40).optional(),
  tap: TapSchema,
});
const ReadingElement = z.object({ ...common, kind: z.literal('reading'), label: Template, value: Formula });
const InputElement = z.object({ ...common, kind: z.literal('input'), field: Id, label: Template.optional() });
const BoxElement = z.object({
  ...common,
  kind: z.literal('box'),
  runs: z.enum(['down', 'across', 'grid', 'layered']),
  gap: z.number().min(0).max(64),
  inside: z.number().min(0).max(64),
  surface: z.enum(['none', 'card', 'tint']),
  across: z.enum(['start', 'middle', 'end', 'spread']).optional(),
  tap: TapSchema.optional(),
  get children() {
    return z.array(ElementSchema).max(200);
  },
});
const ListElement = z.object({
  ...common,
  kind: z.literal('list'),
  query: QuerySchema,
  runs: z.enum(['down', 'grid', 'across']),
  gap: z.number().min(0).max(64),
  surface: z.enum(['none', 'card', 'tint']),
  search: z.boolean(),
  empty: Template,
  tap: TapSchema,
  get children() {
    return z.array(ElementSchema).max(50);
  },
});
const FormElement = z.object({
  ...common,
  kind: z.literal('form'),
  table: Id,
  /** The record that is edited; empty for a new one. */
  record: Formula,
  get children() {
    return z.array(ElementSchema).max(200);
  },
});

/** A thing on a screen. */
export const ElementSchema: z.ZodType<Element> = z.discriminatedUnion('kind', [
  TextElement,
  PictureElement,
  ButtonElement,
  ReadingElement,
  InputElement,
  BoxElement,
  ListElement,
  FormElement,
]) as unknown as z.ZodType<Element>;

export const ScreenSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** The table whose record must be given when the screen is opened. */
  given: Id.nullable(),
  /** True when it opens without a record too, as a form does for a new one. */
  optional: z.boolean().optional(),
  icon: z.string().max(40),
  root: BoxElement,
});

export const ValueOfFieldSchema = z.object({ field: Id, value: Formula });
const stepBase = { id: Id };
export const StepSchema: z.ZodType<Step> = z.discriminatedUnion('do', [
  z.object({ ...stepBase, do: z.literal('set'), record: Formula, values: z.array(ValueOfFieldSchema).max(100) }),
  z.object({
    ...stepBase,
    do: z.literal('add'),
    table: z.string(),
    values: z.array(ValueOfFieldSchema).max(100),
    /** Changes the record with the same key where there is one. */
    update: z.boolean().optional(),
    result: Id,
    resultName: Label,
  }),
  z.object({ ...stepBase, do: z.literal('remove'), record: Formula }),
  z.object({ ...stepBase, do: z.literal('open'), screen: z.string(), give: Formula }),
  z.object({ ...stepBase, do: z.literal('back') }),
  z.object({ ...stepBase, do: z.literal('message'), words: Template }),
  z.object({ ...stepBase, do: z.literal('mail'), to: Formula, subject: Template, body: Template }),
  z.object({
    ...stepBase,
    do: z.literal('if'),
    when: WhereSchema,
    get then() {
      return z.array(StepSchema).max(200);
    },
    get otherwise() {
      return z.array(StepSchema).max(200);
    },
  }),
]) as unknown as z.ZodType<Step>;

export const RoutineSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** The table whose record the routine is given. */
  given: Id.nullable(),
  steps: z.array(StepSchema).max(500),
});

export const LookSchema = z.object({
  theme: z.string().max(40),
  accent: z
    .string()
    .regex(/^#[0-9a-fA-F]{6}$/)
    .nullable(),
  icon: z.object({
    letters: z.string().max(3),
    colour: z.string().regex(/^#[0-9a-fA-F]{6}$/),
    picture: z.string().max(400_000).nullable(),
  }),
});

export const FileSchema = z.object({ id: Id, name: Label, type: z.string().max(100), data: z.string().max(1_500_000) });

export const AppSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  id: Id,
  name: Label.min(1),
  tables: z.array(TableSchema).max(200),
  screens: z.array(ScreenSchema).max(500),
  tabs: z.array(z.object({ screen: Id, name: Label, icon: z.string().max(40) })).max(5),
  routines: z.array(RoutineSchema).max(500),
  look: LookSchema,
  files: z.array(FileSchema).max(200),
});

export type App = z.infer<typeof AppSchema>;
export type View = z.infer<typeof ViewSchema>;
export type Figure = (typeof FIGURES)[number];
export type Table = z.infer<typeof TableSchema>;
export type Field = z.infer<typeof FieldSchema>;
export type FieldType = z.infer<typeof FieldTypeSchema>;
export type Link = z.infer<typeof LinkSchema>;
export type Query = z.infer<typeof QuerySchema>;
export type Where = z.infer<typeof WhereSchema>;
export type Condition = z.infer<typeof ConditionSchema>;
export type Tap = z.infer<typeof TapSchema>;
export type Screen = z.infer<typeof ScreenSchema>;
export type Routine = z.infer<typeof RoutineSchema>;
export type Look = z.infer<typeof LookSchema>;
export type FieldValue = z.infer<typeof ValueOfFieldSchema>;
export type TextStyle = (typeof TEXT_STYLES)[number];
export type Colour = (typeof COLOURS)[number];

interface Common {
  id: string;
  name?: string | undefined;
  seenWhen?: string | undefined;
  width?: 'fit' | 'fill' | number | undefined;
  height?: 'fit' | 'fill' | number | undefined;
}
export type TextElement = Common & {
  kind: 'text';
  words: string;
  style: TextStyle;
  colour: Colour;
  align?: 'start' | 'middle' | 'end' | undefined;
};
export type PictureElement = Common & { kind: 'picture'; source: string; shape: 'wide' | 'square' | 'round' };
export type ButtonElement = Common & {
  kind: 'button';
  words: string;
  look: 'main' | 'quiet' | 'plain';
  icon?: string | undefined;
  tap: Tap;
};
export type ReadingElement = Common & { kind: 'reading'; label: string; value: string };
export type InputElement = Common & { kind: 'input'; field: string; label?: string | undefined };
export type Surface = 'none' | 'card' | 'tint';
export type BoxElement = Common & {
  kind: 'box';
  runs: 'down' | 'across' | 'grid' | 'layered';
  gap: number;
  inside: number;
  surface: Surface;
  across?: 'start' | 'middle' | 'end' | 'spread' | undefined;
  tap?: Tap | undefined;
  children: Element[];
};
export type ListElement = Common & {
  kind: 'list';
  query: Query;
  runs: 'down' | 'grid' | 'across';
  gap: number;
  surface: Surface;
  search: boolean;
  empty: string;
  tap: Tap;
  children: Element[];
};
export type FormElement = Common & { kind: 'form'; table: string; record: string; children: Element[] };
export type Element =
  TextElement | PictureElement | ButtonElement | ReadingElement | InputElement | BoxElement | ListElement | FormElement;
export type ElementKind = Element['kind'];

export type Step = { id: string } & (
  | { do: 'set'; record: string; values: FieldValue[] }
  | {
      do: 'add';
      table: string;
      values: FieldValue[];
      update?: boolean | undefined;
      result: string;
      resultName: string;
    }
  | { do: 'remove'; record: string }
  | { do: 'open'; screen: string; give: string }
  | { do: 'back' }
  | { do: 'message'; words: string }
  | { do: 'mail'; to: string; subject: string; body: string }
  | { do: 'if'; when: Where; then: Step[]; otherwise: Step[] }
);
export type StepKind = Step['do'];
