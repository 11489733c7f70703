import { z } from 'zod';
import { Id, Label } from '../document/pieces.ts';
import { CellSchema, CellsSchema } from '../records/change.ts';

/**
 * Scenes: what was done in a rehearsal, step by step, and what must be seen. A scene names things by id and by what people
 * read, so that it goes on where something was renamed, moved or made anew.
 */

/** What people read, up to so many letters. */
export const MOST_SCENE_WORDS = 2000;
const Words = z.string().max(MOST_SCENE_WORDS);
/** A file is kept with a scene up to so many bytes. */
export const MOST_SCENE_FILE = 200_000;
/** The id of a record that a scene makes: long enough not to be a word by chance. */
const MadeId = z.string().regex(/^[a-zA-Z0-9_-]{8,60}$/);

/** A record, and what it was called. The id of one that the scene itself makes is found in `made`. */
const OfSchema = z.object({ table: Id, record: z.string().max(60), name: Words });
export type Of = z.infer<typeof OfSchema>;

/** Where on a phone: a screen, an element and the record of the row around it, with what people read on it. */
const SpotSchema = z.object({
  screen: Id,
  /** With the place of a part before it where it stands in one. */
  element: z.string().max(260),
  of: OfSchema.optional(),
  words: Words,
});
export type Spot = z.infer<typeof SpotSchema>;

/** As whom a phone is used. */
const PersonaSchema = z.discriminatedUnion('is', [
  z.object({ is: z.literal('person'), record: z.string().max(60), name: Words.optional() }),
  z.object({ is: z.literal('nobody') }),
  z.object({ is: z.literal('invited'), mail: z.string().max(254), role: Id.optional() }),
]);
export type Persona = z.infer<typeof PersonaSchema>;

const CastSchema = z.object({ id: Id, persona: PersonaSchema });

const COMMON = {
  id: Id,
  /** What its maker says of it. */
  note: Words.optional(),
  /** It is left out when the scene is played. */
  off: z.literal(true).optional(),
  /** What went wrong when it was recorded, and therefore may again: refusals and what stopped, in words. */
  wrong: z.array(Words).max(20).optional(),
};
const who = { ...COMMON, who: Id };

const NETWORKS = ['on', 'slow', 'off', 'answers lost', 'twice'] as const;
const FAULTS = ['none', 'away', 'too slow', 'broken'] as const;
const File = z.object({
  name: z.string().max(255),
  type: z.string().max(100),
  data: z.string().max(MOST_SCENE_FILE * 1.5),
});
/** What of an answer is kept: a value, or that there was none. */
const AnswerSchema = z.union([
  z.object({ ok: z.literal(true), value: z.json().optional() }),
  z.object({ ok: z.literal(false), reason: Words, sort: Words.optional() }),
]);

const step = <D extends string, S extends z.ZodRawShape>(name: D, shape: S) =>
  z.object({ ...COMMON, do: z.literal(name), ...shape });
const act = <D extends string, S extends z.ZodRawShape>(name: D, shape: S) =>
  z.object({ ...who, do: z.literal(name), ...shape });

/** What is expected of something. */
export const HOWS = ['is there', 'is not there', 'reads'] as const;
export type How = (typeof HOWS)[number];

export const SceneStepSchema = z.discriminatedUnion('do', [
  // What people do on their phones.
  act('tap', {
    at: SpotSchema,
    property: z.string().max(40).optional(),
    knows: z.record(z.string(), z.json()).optional(),
  }),
  act('save', { at: SpotSchema, table: Id, of: OfSchema.optional(), values: CellsSchema }),
  act('fill', { at: SpotSchema, table: Id, of: OfSchema.optional(), values: CellsSchema }),
  act('type', { variable: Id, cell: CellSchema }),
  act('look', { at: SpotSchema, change: z.record(z.string().max(40), z.json()) }),
  act('move', { at: SpotSchema, before: OfSchema.optional() }),
  act('tab', { screen: Id }),
  act('back', {}),
  act('answer', { asked: Words, answer: AnswerSchema }),
  act('file', { ...File.shape, address: z.string().max(4000), isStandIn: z.literal(true).optional() }),
  // What becomes of the phones.
  act('network', { network: z.enum(NETWORKS) }),
  act('clock', { ahead: z.number().int() }),
  act('goes off', {}),
  act('opens', {}),
  act('comes', {}),
  act('goes', {}),
  act('signs in', { mail: z.string().max(254) }),
  // What happens around them.
  step('wait', {
    ms: z
      .number()
      .int()
      .min(0)
      .max(3_660 * 86_400_000),
  }),
  step('until', { days: z.number().int().min(0).max(3660), time: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/) }),
  step('mail', {
    from: z.string().max(254),
    name: Words,
    subject: Words,
    words: z.string().max(100_000),
    /** The mail of the app that it answers. */
    answers: z.object({ to: z.string().max(254), subject: Words }).optional(),
    files: z.array(File).max(10).optional(),
  }),
  step('call', { routine: Id, body: z.string().max(100_000) }),
  step('fault', { service: Id, fault: z.enum(FAULTS) }),
  // What must be so.
  act('expect seen', { at: SpotSchema, how: z.enum(HOWS), words: Words }),
  act('expect told', { how: z.enum(['is there', 'is not there']), words: Words }),
  act('expect refused', { words: Words }),
  step('expect sent', {
    sort: z.enum(['mail', 'text message', 'notice']),
    how: z.enum(['is there', 'is not there']),
    to: Words,
    words: Words,
  }),
  step('expect record', { of: OfSchema, how: z.enum(HOWS), field: Id.optional(), words: Words }),
  // What holds steps together.
  step('part', { name: Label }),
]);
export type SceneStep = z.infer<typeof SceneStepSchema>;
/** A step before it has its id. */
export type NewSceneStep = SceneStep extends infer S ? (S extends SceneStep ? Omit<S, 'id'> : never) : never;

/** How much a scene may have, and an app of scenes. */
export const MOST_SCENE_STEPS = 1000;
export const MOST_SCENES = 200;
export const MOST_OWN_RECORDS = 2000;
const MOST_CAST = 200;

export const SceneSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** When it begins, in milliseconds since 1970. */
  at: z.number().int(),
  cast: z.array(CastSchema).max(MOST_CAST),
  steps: z.array(SceneStepSchema).max(MOST_SCENE_STEPS),
  /** Records that it makes: which new one of their table each is, counted from a step on; `at` is null before the first. */
  made: z
    .array(
      z.object({
        record: MadeId,
        table: Id,
        at: Id.nullable(),
        nth: z.number().int().min(0),
      }),
    )
    .max(5000),
  /** The records it begins with; those of the app where it has none of its own. */
  records: z
    .array(z.object({ table: Id, id: z.string().regex(/^[a-zA-Z0-9_-]{1,60}$/), cells: CellsSchema }))
    .max(MOST_OWN_RECORDS)
    .optional(),
});
export type Scene = z.infer<typeof SceneSchema>;
