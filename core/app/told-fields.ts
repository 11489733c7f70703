import type { AppAccess, Rule } from './access-schema.ts';
import { fieldsOfRule } from './access-rules.ts';
import { grouped } from '../document/grouped.ts';
import type { Type } from '../formula/types.ts';
import { WHOLE, type Model } from '../records/model.ts';
import { readThrough } from '../records/read-through.ts';
import type { Field } from '../tables/schema.ts';

/** A formula field that reads what not everybody sees who sees the field. */
export interface HiddenReads {
  table: string;
  field: Field;
  /** What is read: a field of a table, or with {@link WHOLE} which records there are. */
  of: { table: string; field: string }[];
  /** Why its value cannot be the same for all who see it; null where the host works it out for them. */
  differs: 'person' | 'records' | null;
}

const PERSON = /\bperson *\(/;

/** The rules of seeing, with the fields that each gives. */
function seeing(model: Model, access: AppAccess) {
  const sees = access.rules.filter((r) => r.may.includes('see'));
  const fieldsBy = new Map<Rule, ReadonlySet<string>>(
    sees.map((r) => [r, fieldsOfRule(r, model.tables.get(r.table)?.table.fields.map((f) => f.id) ?? [])]),
  );
  return { fieldsBy, rulesFor: grouped(sees, (r) => r.table) };
}

/** Says whether everybody for whom a rule is sees a field of every record of a table; with {@link WHOLE} every record. */
export function seesAll(
  model: Model,
  access: AppAccess,
): (rule: Pick<Rule, 'who'>, table: string, field: string) => boolean {
  const { fieldsBy, rulesFor } = seeing(model, access);
  return (rule, table, field) =>
    (rulesFor.get(table) ?? []).some(
      (r) =>
        r.where.conditions.length === 0 &&
        !r.where.groups?.length &&
        (field === WHOLE || fieldsBy.get(r)!.has(field)) &&
        (r.who === 'anybody' ||
          r.who === rule.who ||
          (r.who === 'signed in' && (rule.who !== 'anybody' || access.opens !== 'anybody'))),
    );
}

/** The formula fields of an app that some people see who do not see all that they are worked out from. */
export function hiddenReads(model: Model, access: AppAccess): HiddenReads[] {
  const { fieldsBy, rulesFor } = seeing(model, access);
  const isOpenTo = seesAll(model, access);
  const found: HiddenReads[] = [];
  for (const [id, { table }] of model.tables) {
    const rules = rulesFor.get(id) ?? [];
    for (const field of rules.length ? table.fields : []) {
      if (field.type !== 'formula') continue;
      const compiled = model.formula(id, field);
      if (compiled.problems.some((p) => p.severity === 'error')) continue;
      const { leaves, formulas, broken } = readThrough(model, compiled.dependencies);
      if (broken) continue;
      const of = leaves.filter((leaf) =>
        rules.some(
          (r) =>
            fieldsBy.get(r)!.has(field.id) &&
            !(leaf.isFar || leaf.field === WHOLE
              ? isOpenTo(r, leaf.table, leaf.field)
              : fieldsBy.get(r)!.has(leaf.field)),
        ),
      );
      if (of.length === 0) continue;
      const differs = PERSON.test(`${field.formula ?? ''} ${formulas}`)
        ? 'person'
        : holdsRecords(compiled.type)
          ? 'records'
          : null;
      found.push({ table: id, field, of: of.map((l) => ({ table: l.table, field: l.field })), differs });
    }
  }
  return found;
}

/** Does a value of this type hold records, which each person has or has not? */
function holdsRecords(type: Type): boolean {
  if (type.k === 'record' || type.k === 'function') return true;
  if (type.k === 'list' || type.k === 'range') return holdsRecords(type.of);
  return type.k === 'context' && Object.values(type.entries).some(holdsRecords);
}
