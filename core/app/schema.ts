import { z } from 'zod';
import {
  MOST_ELSEWHERE,
  MOST_PARTS,
  MOST_SCREENS,
  MOST_SERVICES,
  MOST_TABLES,
  MOST_VARIABLES,
  MOST_WAYS,
} from '../document/limits.ts';
import type { ELEMENTS } from '../../kinds/elements/index.ts';
import type { STEPS } from '../../kinds/steps/index.ts';
import type { TRIGGERS } from '../../kinds/triggers/index.ts';
import type { AnyElement, AnyStep, Held } from '../document/meaning.ts';
import { Formula, Id, Label, Template } from '../document/pieces.ts';
import { FORMAT, VERSION } from '../document/version.ts';
import { stepKinds, triggerKinds } from '../routines/kinds.ts';
import { elementKinds } from '../screens/kinds.ts';
import type { StepDefinition } from '../routines/step.ts';
import type { TriggerDefinition } from '../routines/trigger.ts';
import type { ElementDefinition } from '../screens/element.ts';
import { TRIGGER_VALUES } from '../routines/trigger-values.ts';
import { ClaimsSchema, ServiceSchema } from '../services/schema.ts';
import { TableSchema, VariableSchema } from '../tables/schema.ts';
import { MOST_SCENES, SceneSchema } from './scene-schema.ts';
import { WorkSchema } from './work-schema.ts';
import { AccessSchema, MOST_ROLES } from './access-schema.ts';
import { COLOUR_ROLES, FONT_IDS, SURFACES, TITLES, type Palette } from './theme.ts';
import { COMMON, shapeOf, STEP_COMMON, type Inner } from './schema-of.ts';

/**
 * The app document: everything a maker decides, as one JSON value. Things refer to each other by id. What elements,
 * steps and triggers hold is declared by their kinds. `docs/app.schema.json` is made from this.
 */

interface InDocument {
  element: Element;
  step: Step;
}

/** A thing on a screen, of the kinds that there are. */
export type Element = ElementOf<(typeof ELEMENTS)[number]>;
type ElementOf<D> =
  D extends ElementDefinition<infer K, infer P, infer _>
    ? Omit<AnyElement, 'kind'> & { kind: K } & Held<P, InDocument>
    : never;
export type ElementKind = Element['kind'];
export type BoxElement = Extract<Element, { kind: 'box' }>;
export type ListElement = Extract<Element, { kind: 'list' }>;

/** A step of a routine, of the kinds that there are. */
export type Step = StepOf<(typeof STEPS)[number]>;
type StepOf<D> =
  D extends StepDefinition<infer K, infer P>
    ? Omit<AnyStep, 'do' | 'ifFails'> & { do: K; ifFails?: Step[] | undefined } & Held<P, InDocument>
    : never;
export type StepKind = Step['do'];

/** What starts a routine and is kept with it. */
export type Trigger = TriggerOf<(typeof TRIGGERS)[number]>;
type TriggerOf<D> = D extends TriggerDefinition<infer K, infer P> ? { on: K } & Held<P, InDocument> : never;

const inner: Inner = { element: () => ElementSchema, step: () => StepSchema };
type Options = [z.ZodObject, ...z.ZodObject[]];

export const ElementSchema: z.ZodType<Element> = z.lazy(
  () =>
    z.discriminatedUnion(
      'kind',
      [...elementKinds.values()].map((d) =>
        z.object({ ...COMMON, kind: z.literal(d.kind) }).extend(shapeOf(d.properties, inner)),
      ) as unknown as Options,
    ) as unknown as z.ZodType<Element>,
);

export const StepSchema: z.ZodType<Step> = z.lazy(
  () =>
    z.discriminatedUnion(
      'do',
      [...stepKinds.values()].map((d) =>
        z
          .object({
            ...STEP_COMMON,
            do: z.literal(d.do),
            get ifFails() {
              return z.array(StepSchema).max(200).optional();
            },
          })
          .extend(shapeOf(d.properties, inner)),
      ) as unknown as Options,
    ) as unknown as z.ZodType<Step>,
);

const TriggerSchema: z.ZodType<Trigger> = z.lazy(
  () =>
    z.discriminatedUnion(
      'on',
      [...triggerKinds.values()]
        .filter((d) => 'begin' in d)
        .map((d) => z.object({ on: z.literal(d.on) }).extend(shapeOf(d.properties, inner))) as unknown as Options,
    ) as unknown as z.ZodType<Trigger>,
);

const BoxSchema = z.custom<BoxElement>().pipe(ElementSchema as unknown as z.ZodType<BoxElement, BoxElement>);

export const ScreenSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** The table whose record must be given when the screen is opened. */
  given: Id.nullable(),
  /** True when it opens without a record too, as a form does for a new one. */
  optional: z.boolean().optional(),
  /** The record it shows when it is opened without one, as by its address alone. */
  finds: Formula.optional(),
  /** Only people with one of these roles may open it; without it, whoever may open the app. */
  roles: z.array(Id).max(MOST_ROLES).optional(),
  /** Where it stands on the map of the app. */
  place: z.object({ x: z.number(), y: z.number() }).optional(),
  icon: z.string().max(40),
  root: BoxSchema,
});

/** An input of a part: a value of the types that fields have, or what a tap does. */
export const PartInputSchema = VariableSchema.omit({ lasts: true, screen: true }).extend({
  isTap: z.literal(true).optional(),
});

/** A box that stands at several places, drawn with what each gives to its inputs. */
export const PartSchema = ScreenSchema.extend({ inputs: z.array(PartInputSchema).max(50) });

/** A value that a routine is given by what starts it. */
export const RoutineInputSchema = VariableSchema.omit({ lasts: true, screen: true }).extend({
  /** Something that what starts it knows, and gives by itself. */
  from: z.enum(TRIGGER_VALUES).optional(),
});

export const RoutineSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** The table whose record the routine is given. */
  given: Id.nullable(),
  /** What else it is given. */
  inputs: z.array(RoutineInputSchema).max(20).optional(),
  /** What starts it, besides taps on elements. */
  starts: z.array(TriggerSchema).max(20).optional(),
  /** A tap starts it also while it still runs for the same record. */
  overlaps: z.literal(true).optional(),
  /** Where a run goes that waits at a step which a release removes: to the next one left, or where absent to its end. */
  ifStepGone: z.literal('next').optional(),
  steps: z.array(StepSchema).max(500),
});

const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);
const OwnColours = z.object(
  Object.fromEntries(COLOUR_ROLES.map((r) => [r, Colour.optional()])),
) as unknown as z.ZodType<Partial<Palette>>;

/** What is changed of the theme. */
const OwnLookSchema = z.object({
  light: OwnColours.optional(),
  dark: OwnColours.optional(),
  /** Pixels. */
  corners: z.number().min(0).max(28).optional(),
  /** A factor on gaps. */
  density: z.number().min(0.7).max(1.4).optional(),
  text: z.enum(FONT_IDS).optional(),
  head: z.enum(FONT_IDS).optional(),
  surfaces: z.enum(SURFACES).optional(),
  titles: z.enum(TITLES).optional(),
});

export const LookSchema = z.object({
  theme: z.string().max(40),
  /** The main colour, in place of the theme's. */
  accent: Colour.nullable(),
  own: OwnLookSchema.optional(),
  /** A picture of the app's own: `file:<id>`. */
  logo: z.string().max(60).optional(),
  icon: z.object({
    letters: z.string().max(3),
    colour: Colour,
    picture: z.string().max(400_000).nullable(),
  }),
});

/** A screen that is one tap away. */
export const WaySchema = z.object({
  screen: Id,
  name: Label,
  icon: z.string().max(40),
  /** What stands beside it, as a count does; nothing for none and for 0. */
  badge: Formula.optional(),
  seenWhen: Formula.optional(),
});

export const FileSchema = z.object({ id: Id, name: Label, type: z.string().max(100), data: z.string().max(1_500_000) });

/** Letters that previews of links show of what an app is for. */
export const MOST_ABOUT = 200;

/** How people sign in with the maker's own service. */
export const SignInSchema = z.object({
  /** The request that signs in, and what its answer has: the token, what renews it, and for how many seconds it is good. */
  enter: Id,
  token: Id,
  renewal: Id.optional(),
  seconds: Id.optional(),
  /** The request that renews the token, the input that takes what renews it, and what its answer has. */
  renew: z.object({ request: Id, input: Id, token: Id, renewal: Id.optional(), seconds: Id.optional() }).optional(),
  /** The requests that tell who somebody is, and sign them out. */
  who: Id.optional(),
  leave: Id.optional(),
  /**
   * They sign in at a page of the service (RFC 6749, 4.1, with RFC 7636): where that is, by what name the service knows this
   * app, and which inputs of the request take what they come back with.
   */
  page: z
    .object({
      authorize: z.string().max(1000),
      client: z.string().max(300),
      scope: z.string().max(500).optional(),
      code: Id,
      verifier: Id,
      back: Id,
    })
    .optional(),
  /** What is told of them, each kept in a variable until they sign out. */
  facts: z.array(z.object({ pick: Id, variable: Id })).max(30),
  /** What the token itself says of them; without it nothing that it says is believed. */
  claims: ClaimsSchema.optional(),
  /** The screen for whoever has not signed in; the others are closed to them, but for those that are open. */
  screen: Id,
  open: z.array(Id).max(MOST_SCREENS),
  /** They stay signed in when the app is closed. */
  stays: z.boolean(),
});

/** Work with words and pictures that a service can do in place of the app's own counting. */
export const WORKS = ['sum up', 'judge', 'draft', 'pull out', 'describe'] as const;
export type Work = (typeof WORKS)[number];

/** How a service does a work: its request, which input takes what, and which pick gives what. */
const HelperSchema = z.object({
  request: Id,
  takes: z.record(z.string().max(20), Id),
  gives: z.record(z.string().max(20), Id),
});
export type Helper = z.infer<typeof HelperSchema>;

export const AppSchema = z.object({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  id: Id,
  name: Label.min(1),
  /** What it is for, in a sentence: told where a link to it is sent on. */
  about: z.string().max(MOST_ABOUT).optional(),
  tables: z.array(TableSchema).max(MOST_TABLES),
  screens: z.array(ScreenSchema).max(MOST_SCREENS),
  parts: z.array(PartSchema).max(MOST_PARTS).optional(),
  tabs: z.array(WaySchema).max(MOST_WAYS),
  /** What opens at the side: a head in words, and ways to screens. */
  drawer: z.object({ head: Template, ways: z.array(WaySchema).max(MOST_WAYS) }).optional(),
  /** Screens that come before the first: once on a device, or whenever the app starts. */
  starts: z.object({ first: Id.optional(), every: Id.optional() }).optional(),
  routines: z.array(RoutineSchema).max(500),
  look: LookSchema,
  files: z.array(FileSchema).max(200),
  variables: z.array(VariableSchema).max(MOST_VARIABLES).optional(),
  /** Other people’s systems that it asks. */
  services: z.array(ServiceSchema).max(MOST_SERVICES).optional(),
  signIn: SignInSchema.optional(),
  helpers: z.partialRecord(z.enum(WORKS), HelperSchema).optional(),
  /** Its own time zone (IANA name), which its host goes by; phones go by their own. */
  zone: z
    .string()
    .regex(/^[A-Za-z0-9_+/-]{1,60}$/)
    .optional(),
  /** When work is done, by the clocks of that zone: of each weekday, Monday first, in minutes; and days without work. */
  work: WorkSchema.optional(),
  /** The table of the people who use the app. */
  people: Id.optional(),
  /** Who may open it and who may do what; without it whoever has its link sees and changes everything. */
  access: AccessSchema.optional(),
  /** Hosts of which it may ask pictures, sounds and pages, besides those that it names itself. */
  elsewhere: z.array(z.string().min(1).max(260)).max(MOST_ELSEWHERE).optional(),
  /** What was rehearsed, and is played again before each release. */
  scenes: z.array(SceneSchema).max(MOST_SCENES).optional(),
});

export type App = z.infer<typeof AppSchema>;
export type Screen = z.infer<typeof ScreenSchema>;
export type Part = z.infer<typeof PartSchema>;
export type Routine = z.infer<typeof RoutineSchema>;
export type SignIn = z.infer<typeof SignInSchema>;
export type Look = z.infer<typeof LookSchema>;
