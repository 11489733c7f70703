import { z } from 'zod';
import {
  FieldValueSchema,
  Formula,
  Id,
  Label,
  QuerySchema,
  SizeSchema,
  StandsSchema,
  TapSchema,
  Template,
  WhereSchema,
} from '../document/pieces.ts';
import type { Properties, Property } from '../document/meaning.ts';

/** The schemas of what slots hold; asked for when needed, since elements hold elements. */
export interface Inner {
  element(): z.ZodType;
  step(): z.ZodType;
}

/** What a document may hold for a property, from its meaning. */
function schemaOf(p: Property, inner: Inner): z.ZodType {
  switch (p.is) {
    case 'words':
      return Template;
    case 'formula':
      return Formula;
    case 'query':
      return QuerySchema;
    case 'where':
      return WhereSchema;
    case 'values':
      return z.array(FieldValueSchema).max(100);
    case 'tap':
      return TapSchema;
    case 'taps':
      return z.array(z.object({ input: Id, tap: TapSchema })).max(50);
    case 'sides':
      return z.array(z.number().min(p.least!).max(p.most!)).length(4);
    case 'oneOf':
      return z.enum(p.values as [string, ...string[]]);
    case 'number': {
      const n = z.number().min(p.least!).max(p.most!);
      return p.whole ? n.int() : n;
    }
    case 'yesNo':
      return z.boolean();
    case 'text':
      return z.string().max(p.most!);
    case 'size':
      return SizeSchema;
    case 'icon':
      return z.string().max(40);
    case 'table':
    case 'screen':
      return z.string().max(40);
    case 'field':
    case 'variable':
    case 'part':
    case 'routine':
    case 'request':
    case 'element':
      return z.string().max(40);
    case 'fields':
      return z.array(Id).max(60);
    case 'result':
      return Id;
    case 'elements':
      return z.array(inner.element()).max(p.most!);
    case 'steps':
      return z.array(inner.step()).max(p.most!);
  }
}

/** The shape of a kind's properties. Slots are getters, as Zod wants it where schemas hold themselves. */
export function shapeOf(properties: Properties, inner: Inner): z.ZodRawShape {
  const shape: Record<string, z.ZodType> = {};
  for (const [name, p] of Object.entries(properties))
    Object.defineProperty(shape, name, {
      enumerable: true,
      get: () => {
        const schema = schemaOf(p, inner);
        return p.optional ? schema.optional() : schema;
      },
    });
  return shape;
}

/** What every step has besides the properties of its kind, and the steps of “If it fails”. */
export const STEP_COMMON = {
  id: Id,
  off: z.literal(true).optional(),
  note: z.string().max(2000).optional(),
  again: z.number().int().min(1).max(10).optional(),
  reason: Id.optional(),
  sort: Id.optional(),
};

/** What every element has besides the properties of its kind. */
export const COMMON = {
  id: Id,
  name: Label.optional(),
  seenWhen: Formula.optional(),
  worked: z.record(z.string().regex(/^[a-zA-Z]{1,30}$/), Formula).optional(),
  width: SizeSchema.optional(),
  height: SizeSchema.optional(),
  stands: StandsSchema.optional(),
};
