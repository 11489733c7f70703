import { z } from 'zod';
import { Id, Label, Template } from '../document/pieces.ts';
import { FieldTypeSchema } from '../tables/schema.ts';

/** Other people’s systems, as an app knows them: where they are, how one signs, what can be asked. Secrets are not here. */

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
export type Method = (typeof METHODS)[number];

/** The name of a header: a token (RFC 9110, 5.6.2). */
export const HeaderName = z.string().regex(/^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,100}$/);

const Part = z.object({ name: z.string().min(1).max(200), value: Template });
const Header = Part.extend({ name: HeaderName });

/** What goes along in the body of a request. */
export const BodySchema = z.discriminatedUnion('is', [
  /** JSON whose texts have `{formula}` places; a text that is one place alone becomes its value, with its type. */
  z.object({ is: z.literal('json'), json: z.string().max(200_000) }),
  z.object({ is: z.literal('form'), parts: z.array(Part).max(200) }),
  z.object({ is: z.literal('text'), type: z.string().min(1).max(120), text: Template }),
]);

/** How one signs. The secrets that go with it are with the host. */
export const SignSchema = z.discriminatedUnion('how', [
  z.object({ how: z.literal('none') }),
  z.object({ how: z.literal('header'), name: HeaderName }),
  z.object({ how: z.literal('query'), name: z.string().min(1).max(200) }),
  z.object({ how: z.literal('basic') }),
  z.object({ how: z.literal('bearer') }),
]);

/** What is given to a request when it is asked. */
export const RequestInputSchema = z.object({
  id: Id,
  name: Label.min(1),
  type: FieldTypeSchema,
  /** It may be left out. */
  optional: z.literal(true).optional(),
  /** What it is tried with: a cell of its type. */
  test: z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]).optional(),
});

/** Something that is taken out of an answer, by a JSONPath (RFC 9535). */
export const PickSchema = z.object({
  id: Id,
  name: Label.min(1),
  path: z.string().min(1).max(1000),
  type: FieldTypeSchema,
});

export const RequestSchema = z.object({
  id: Id,
  name: Label.min(1),
  method: z.enum(METHODS),
  /** Behind the address of the service; what is in its places becomes one segment each. */
  path: Template,
  query: z.array(Part).max(100),
  headers: z.array(Header).max(50),
  body: BodySchema.optional(),
  inputs: z.array(RequestInputSchema).max(50),
  picks: z.array(PickSchema).max(100),
});

export const ServiceSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** Where it is while it is tried, and where for the people who use the app; the first for both where that is absent. */
  test: z.string().max(1000),
  live: z.string().max(1000).optional(),
  headers: z.array(Header).max(50),
  sign: SignSchema,
  /** How long an answer may take, in seconds, and how large it may be, in megabytes. */
  limits: z.object({ seconds: z.number().min(1).max(60), megabytes: z.number().min(0.01).max(20) }),
  requests: z.array(RequestSchema).max(1000),
});

export type Service = z.infer<typeof ServiceSchema>;
export type ServiceRequest = z.infer<typeof RequestSchema>;
export type RequestBody = z.infer<typeof BodySchema>;
export type Sign = z.infer<typeof SignSchema>;
export type Pick = z.infer<typeof PickSchema>;
export type RequestPart = z.infer<typeof Part>;

export const USUAL_LIMITS: Service['limits'] = { seconds: 15, megabytes: 5 };
