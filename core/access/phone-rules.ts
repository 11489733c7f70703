import type { Rule } from '../app/access-schema.ts';
import type { ReadyRule } from '../app/access-rules.ts';
import { WHOLE, type Model } from '../records/model.ts';
import { readThrough, type Leaf } from '../records/read-through.ts';

/** A rule as phones get it that are used by somebody whom it is for. */
export interface PhoneRule extends Pick<Rule, 'may' | 'table' | 'fields'> {
  /** Null where it asks what this person does not see: whether it holds is known to the host alone. */
  where: Rule['where'] | null;
}

/** What a phone is told of what its person may do, so that it can go by it without a network. */
export interface PhoneRules {
  roles: string[];
  rules: PhoneRule[];
}

/** What a phone reads to know whether a rule holds. Whether a link leads to its person it knows without their record. */
function leavesOf(model: Model, { owned, reads }: ReadyRule): Leaf[] {
  const { leaves } = readThrough(model, owned?.link?.reads ?? reads);
  return owned?.link ? [...leaves, owned.link.leaf] : leaves;
}

/**
 * The rules that are for somebody, of those for writing. Conditions leave the host only where all that they read is seen by
 * whoever is told: what is asked of hidden fields or records says something of them.
 */
export function phoneRules(model: Model, roles: readonly string[], rules: Iterable<ReadyRule>): PhoneRules {
  const all = [...rules];
  const sees = all.filter((r) => r.rule.may.includes('see'));
  const isOpen = (r: ReadyRule): boolean => r.rule.where.conditions.length === 0 && !r.rule.where.groups?.length;
  const seesAll = (table: string, field: string): boolean =>
    sees.some((r) => r.rule.table === table && isOpen(r) && (field === WHOLE || r.fields.has(field)));
  const knows = (rule: ReadyRule): boolean =>
    rule.broken === null &&
    leavesOf(model, rule).every((leaf) =>
      leaf.isFar || leaf.field === WHOLE
        ? seesAll(leaf.table, leaf.field)
        : sees.some((r) => r.rule.table === leaf.table) &&
          sees.every((r) => r.rule.table !== leaf.table || r.fields.has(leaf.field)),
    );
  return {
    roles: [...roles],
    rules: all.flatMap((ready): PhoneRule[] => {
      const may = ready.rule.may.filter((m) => m !== 'see');
      // A rule that does not work holds for nothing.
      if (may.length === 0 || ready.broken !== null) return [];
      const { table, fields, where } = ready.rule;
      return [{ may, table, where: knows(ready) ? where : null, ...(fields && { fields }) }];
    }),
  };
}
