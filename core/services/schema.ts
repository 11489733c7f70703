import { z } from 'zod';
import { Id, Label, Template } from '../document/pieces.ts';
import { FieldTypeSchema } from '../tables/schema.ts';

/** Other people’s systems, as an app knows them: where they are, how one signs, what can be asked. Secrets are not here. */

/** Where a service is asked: while it is tried, or for the people who use the app. */
export type Where = 'test' | 'live';

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
  /** Parts with files among them (RFC 7578: multipart/form-data): a part that is one place of a file alone is that file. */
  z.object({ is: z.literal('parts'), parts: z.array(Part).max(200) }),
  z.object({ is: z.literal('text'), type: z.string().min(1).max(120), text: Template }),
]);

/** How one signs. The secrets that go with it are with the host. */
export const SignSchema = z.discriminatedUnion('how', [
  z.object({ how: z.literal('none') }),
  z.object({ how: z.literal('header'), name: HeaderName }),
  z.object({ how: z.literal('query'), name: z.string().min(1).max(200) }),
  z.object({ how: z.literal('basic') }),
  z.object({ how: z.literal('bearer') }),
  /** By a token that the host gets for the app itself (RFC 6749, 4.4: client credentials), from this address. */
  z.object({ how: z.literal('client'), tokens: z.string().max(1000), scope: z.string().max(500).optional() }),
  /** By the token that whoever uses the app has got by signing in. */
  z.object({ how: z.literal('person') }),
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

/** How the next records of a long list are asked for. */
export const PagingSchema = z.discriminatedUnion('by', [
  /** An input takes the number of the page; the first has this one. */
  z.object({ by: z.literal('page'), input: Id, first: z.number().int().min(0).max(1) }),
  /** An input takes how many records there are before. */
  z.object({ by: z.literal('offset'), input: Id }),
  /** An input takes a mark that the answer before holds at this path. */
  z.object({ by: z.literal('mark'), input: Id, at: z.string().min(1).max(1000) }),
  /** The `Link` header of the answer leads to the next (RFC 8288). */
  z.object({ by: z.literal('link') }),
  /** The answer holds the address of the next at this path, as OData does. */
  z.object({ by: z.literal('address'), at: z.string().min(1).max(1000) }),
]);

/** An answer that is kept with the app: good, or a refusal. */
export const SampleSchema = z.object({
  id: Id,
  name: Label.min(1),
  status: z.number().int().min(100).max(599),
  /** Its media type. */
  type: z.string().max(200),
  body: z.string().max(60_000),
  /** The answer was longer. */
  cut: z.literal(true).optional(),
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
  paging: PagingSchema.optional(),
  /** It needs no key, though others of its service do. */
  open: z.literal(true).optional(),
  /** Phones ask it themselves, without the server between: it needs no key, and the service lets pages ask it (CORS). */
  straight: z.literal(true).optional(),
  samples: z.array(SampleSchema).max(6).optional(),
  /** What it is for, as its maker or its document says. */
  about: z.string().max(2000).optional(),
});

/** What a token of the maker's service says, after its signature was checked (RFC 7515) with a set of keys (RFC 7517). */
export const ClaimsSchema = z.object({
  /** Where the keys are. */
  keys: z.string().max(1000),
  /** The pick that holds what is checked, where it is another than the token that is sent (OpenID Connect: the ID token). */
  pick: Id.optional(),
  /** Who must have given it, and for whom it must be (RFC 7519, 4.1.1 and 4.1.3). */
  issuer: z.string().max(1000).optional(),
  audience: z.string().max(1000).optional(),
  /** Which claim is kept in which variable. */
  facts: z.array(z.object({ claim: z.string().min(1).max(200), variable: Id })).max(30),
});

export const ServiceSchema = z.object({
  id: Id,
  name: Label.min(1),
  /** Where it is while it is tried, and where for the people who use the app; the first for both where that is absent. */
  test: z.string().max(1000),
  live: z.string().max(1000).optional(),
  headers: z.array(Header).max(50),
  sign: SignSchema,
  /** How long an answer may take, in seconds, how large it may be, in megabytes, and how often it is asked. */
  limits: z.object({
    seconds: z.number().min(1).max(60),
    megabytes: z.number().min(0.01).max(20),
    /** So many requests a minute are asked of it by the whole app; as many as the host allows where that is absent. */
    aMinute: z.number().int().min(1).max(1200).optional(),
  }),
  requests: z.array(RequestSchema).max(1000),
});

/** Inputs and picks of these types are whole files: a cell is the address of one, with its content while it is sent (RFC 2397). */
export const FILES: ReadonlySet<string> = new Set(['file', 'picture', 'sound']);

export type Claims = z.infer<typeof ClaimsSchema>;
export type Paging = z.infer<typeof PagingSchema>;
export type Service = z.infer<typeof ServiceSchema>;
export type ServiceRequest = z.infer<typeof RequestSchema>;
export type RequestBody = z.infer<typeof BodySchema>;
export type Sign = z.infer<typeof SignSchema>;
export type Pick = z.infer<typeof PickSchema>;
export type Sample = z.infer<typeof SampleSchema>;
export type RequestPart = z.infer<typeof Part>;

export const USUAL_LIMITS: Service['limits'] = { seconds: 15, megabytes: 5 };
