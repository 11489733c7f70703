import type { Role, Rule } from './access-schema.ts';
import type { Where } from '../document/pieces.ts';
import type { Compiled } from '../formula/compile.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere, everyCondition, isUnfinished } from '../records/conditions.ts';
import { SELF_SLOT, type Model } from '../records/model.ts';
import type { Row } from '../records/row.ts';
import type { Field } from '../tables/schema.ts';

/** Conditions of a rule or a role, ready to be asked of records. */
export interface ReadyConditions {
  /** Why they hold for nothing, in words; null where they can be asked. */
  broken: string | null;
  /** Do they hold for a record? The frame has the runtime of the person in its first place. */
  hold(row: Row, frame: Value[]): boolean;
  /** They ask who uses the app. */
  askPerson: boolean;
  /** They ask what time it is. */
  askTime: boolean;
  /** Tables of which other records than the one at hand are read. */
  far: ReadonlySet<string>;
}

export interface ReadyRule extends ReadyConditions {
  rule: Rule;
  /** The fields that it is about. */
  fields: ReadonlySet<string>;
}
export interface ReadyRole extends ReadyConditions {
  role: Role;
}

const PERSON = /\bperson *\(/;
const TIME = /\b(now|today) *\(/;
const CHANCE = /\b(random number|new id) *\(/;

/**
 * Conditions in whose place nothing may be guessed: where one is not filled in, cannot be read, or would be left out for
 * now, they hold for no record at all.
 */
export function readyConditions(model: Model, table: string, where: Where): ReadyConditions {
  const far = new Set<string>();
  const none = (broken: string): ReadyConditions => ({
    broken,
    hold: () => false,
    askPerson: false,
    askTime: false,
    far,
  });
  if (!model.tables.has(table)) return none('Its table is gone.');
  const conditions = everyCondition(where);
  if (conditions.some(isUnfinished)) return none('A condition is not filled in.');
  if (conditions.some((c) => c.whileFilled)) return none('A condition counts only while its right side is filled in.');
  const ready = compileWhere(where, model.optionsFor(table));
  const problem = ready.problems.find((p) => p.severity === 'error');
  if (problem) return none(problem.message);
  const read = readThrough(model, ready.reads, far);
  const own = conditions.map((c) => `${c.left} ${c.right}`).join(' ');
  if (read.broken) return none(`The formula of ${read.broken.name} does not work out.`);
  if (PERSON.test(read.formulas))
    return none('A formula field that it reads asks who uses the app. Ask that here instead.');
  if (CHANCE.test(`${own} ${read.formulas}`)) return none('It goes by chance.');
  return {
    broken: null,
    hold(row, frame) {
      frame[SELF_SLOT] = row;
      try {
        return ready.test(frame) && ready.stopped() === '';
      } catch {
        return false; // conditions that run away hold for nothing
      }
    },
    askPerson: PERSON.test(own),
    askTime: TIME.test(`${own} ${read.formulas}`),
    far,
  };
}

/**
 * What is read, through formula fields too: the formulas in one text, a formula field that does not work out, and in
 * `far` the tables of which other records are read than the one at hand.
 */
function readThrough(
  model: Model,
  reads: readonly Dependency[],
  far: Set<string>,
): { formulas: string; broken: Field | null } {
  const seen = new Set<string>();
  const formulas: string[] = [];
  let broken: Field | null = null;
  const follow = ({ table, field: id, origin }: Dependency, isFar: boolean): void => {
    const isOther = isFar || origin.from !== 'self' || origin.hops.length > 0;
    if (isOther) far.add(table);
    if (origin.from === 'self') for (const hop of origin.hops) for (const t of endsOf(model, hop)) far.add(t);
    const key = `${table} ${id} ${isOther}`;
    if (seen.has(key)) return;
    seen.add(key);
    const field = model.tables.get(table)?.fields.get(id);
    // What a link that matches leads to hangs on the records over there.
    if (!field || field.link?.kind === 'matched') for (const t of endsOf(model, id)) far.add(t);
    if (field?.type !== 'formula') return;
    formulas.push(field.formula ?? '');
    const compiled: Compiled = model.formula(table, field);
    if (compiled.problems.some((p) => p.severity === 'error')) broken ??= field;
    for (const d of compiled.dependencies) follow(d, isOther);
  };
  for (const d of reads) follow(d, false);
  return { formulas: formulas.join(' '), broken };
}

/** The tables at both ends of a link, by the id of either end. */
function endsOf(model: Model, link: string): string[] {
  for (const t of model.tables.values()) for (const end of t.links) if (end.id === link) return [end.table, end.target];
  return [];
}

/** The fields that a rule is about, of those that its table has. */
export function fieldsOfRule({ fields }: Rule, all: readonly string[]): Set<string> {
  if (!fields) return new Set(all);
  const named = new Set(fields.of);
  return new Set(all.filter((f) => named.has(f) === (fields.are === 'only')));
}

export function readyRule(model: Model, rule: Rule): ReadyRule {
  const all = model.tables.get(rule.table)?.table.fields.map((f) => f.id) ?? [];
  return { ...readyConditions(model, rule.table, rule.where), rule, fields: fieldsOfRule(rule, all) };
}
