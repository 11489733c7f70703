import { z } from 'zod';
import { Id, Label, WhereSchema } from '../document/pieces.ts';

/** Who may open an app, and who may do what in it. */

/** What can be done with records. */
export const MAY = ['see', 'add', 'change', 'remove', 'look back'] as const;
export type May = (typeof MAY)[number];
/** How sentences say it, before the name of a table. */
export const mayWords = (may: May): string => (may === 'look back' ? 'look back at' : may);

/** Whom a rule is for, besides those in a role: whoever has the app open, or whoever has signed in. */
export const EVERYBODY = ['anybody', 'signed in'] as const;

export const MOST_ROLES = 40;
export const MOST_RULES = 400;
export const MOST_DOMAINS = 50;
export const MOST_DAYS_KEPT = 365;
/** A domain as `domainIn` gives it. */
const DOMAIN = /^(?=.{4,253}$)(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9-]{2,63}$/;

/** People of the table of people for whom some conditions hold. */
const RoleSchema = z.object({ id: Id, name: Label.min(1), where: WhereSchema });

/** What some people may do with some records of a table. */
const RuleSchema = z.object({
  id: Id,
  /** Everybody, or a role by its id. */
  who: z.union([z.enum(EVERYBODY), Id]),
  may: z.array(z.enum(MAY)).min(1).max(MAY.length),
  table: Id,
  /** The records: as they are to see or remove them, as they were and as they become to change them. */
  where: WhereSchema,
  /** The fields that are seen and written: without it all of them. */
  fields: z.object({ are: z.enum(['only', 'all but']), of: z.array(Id).max(500) }).optional(),
  /** People may give roles by it, and that is meant. */
  meant: z.literal(true).optional(),
});

export const AccessSchema = z.object({
  /** Who may open it: anybody with the link, whoever signs in, or those alone who are in the table of people. */
  opens: z.enum(['anybody', 'signed in', 'people']),
  /** Where it is open to the table alone: domains whose addresses become people of it when they first sign in. */
  domains: z.array(z.string().regex(DOMAIN)).min(1).max(MOST_DOMAINS).optional(),
  /** So many days without a word from the host, and a phone lets go of all records that it keeps. */
  clears: z.number().int().min(1).max(MOST_DAYS_KEPT).optional(),
  /** The field of the table of people that holds the address by which people sign in. */
  mail: Id.optional(),
  /** A yes/no field of the table of people: who has signed in waits until it says yes. */
  approved: Id.optional(),
  roles: z.array(RoleSchema).max(MOST_ROLES),
  rules: z.array(RuleSchema).max(MOST_RULES),
});

export type AppAccess = z.infer<typeof AccessSchema>;
export type Role = z.infer<typeof RoleSchema>;
export type Rule = z.infer<typeof RuleSchema>;
