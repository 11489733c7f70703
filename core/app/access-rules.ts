import type { Role, Rule } from './access-schema.ts';
import type { Condition, Where } from '../document/pieces.ts';
import { compile } from '../formula/compile.ts';
import { isPersonFormula } from '../formula/person.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { listCell } from '../fields/lists.ts';
import { compileWhere, everyCondition, isUnfinished, type CompiledWhere } from '../records/conditions.ts';
import { SELF_SLOT, type Model } from '../records/model.ts';
import { readThrough, type Leaf } from '../records/read-through.ts';
import { Row } from '../records/row.ts';

/** Conditions of a rule or a role, ready to be asked of records. */
export interface ReadyConditions {
  /** Why they hold for nothing, in words; null where they can be asked. */
  broken: string | null;
  /** Do they hold for a record? The frame has the runtime of the person in its first place. */
  hold(row: Row, frame: Value[]): boolean;
  /** They ask who uses the app. */
  askPerson: boolean;
  /** Where they ask it only by one value that must be that person: what it is, and whether all else holds. */
  owned: Owned | null;
  /** They ask what time it is. */
  askTime: boolean;
  /** What they read of records. */
  reads: readonly Dependency[];
}

/** A value that must be, or hold, the person who uses the app. It is the same whoever asks, and so is the rest. */
export interface Owned {
  value(row: Row, frame: Value[]): Value;
  rest(row: Row, frame: Value[]): boolean;
  /** Where the value is a link that was picked: what that says, also of records that are not here. */
  link: OwnerLink | null;
}

/** A link to the table of people, of the record at hand or of one that is reached from it. */
export interface OwnerLink {
  /** Is this the person whose record has the id? */
  isTo(person: string, row: Row, frame: Value[]): boolean;
  /** The field of the link. */
  leaf: Leaf;
  /** What is read besides, to come there and for the rest of the conditions. */
  reads: readonly Dependency[];
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
  const none = (broken: string): ReadyConditions => ({
    broken,
    hold: () => false,
    askPerson: false,
    owned: null,
    askTime: false,
    reads: [],
  });
  if (!model.tables.has(table)) return none('Its table is gone.');
  const conditions = everyCondition(where);
  if (conditions.some(isUnfinished)) return none('A condition is not filled in.');
  if (conditions.some((c) => c.whileFilled)) return none('A condition counts only while its right side is filled in.');
  const ready = compileWhere(where, model.optionsFor(table));
  const problem = ready.problems.find((p) => p.severity === 'error');
  if (problem) return none(problem.message);
  const read = readThrough(model, ready.reads);
  const own = conditions.map((c) => `${c.left} ${c.right}`).join(' ');
  if (read.broken) return none(`The formula of ${read.broken.name} does not work out.`);
  if (PERSON.test(read.formulas))
    return none('A formula field that it reads asks who uses the app. Ask that here instead.');
  if (CHANCE.test(`${own} ${read.formulas}`)) return none('It goes by chance.');
  return {
    broken: null,
    hold: testOf(ready),
    askPerson: PERSON.test(own),
    owned: ownedBy(model, table, where),
    askTime: TIME.test(`${own} ${read.formulas}`),
    reads: ready.reads,
  };
}

const testOf =
  (ready: CompiledWhere): ReadyConditions['hold'] =>
  (row, frame) => {
    frame[SELF_SLOT] = row;
    try {
      return ready.test(frame) && ready.stopped() === '';
    } catch {
      return false; // conditions that run away hold for nothing
    }
  };

/** The one condition that asks for the person, where all must hold and the others do not ask. */
function ownedBy(model: Model, table: string, where: Where): Owned | null {
  if (where.match !== 'all' && where.conditions.length + (where.groups?.length ?? 0) > 1) return null;
  const isOwn = ({ left, right, op }: Condition): boolean =>
    (op === 'is' || op === 'contains') && isPersonFormula(left) !== isPersonFormula(right);
  const own = where.conditions.find(isOwn);
  if (!own) return null;
  const rest = { ...where, conditions: where.conditions.filter((c) => c !== own) };
  const other = isPersonFormula(own.left) ? own.right : own.left;
  if ([...everyCondition(rest).flatMap((c) => [c.left, c.right]), other].some((f) => PERSON.test(f))) return null;
  const options = model.optionsFor(table);
  const { run } = compile(other, options);
  const compiledRest = compileWhere(rest, options);
  return {
    link: ownerLink(model, table, other, compiledRest.reads),
    value(row, frame) {
      frame[SELF_SLOT] = row;
      try {
        return run(frame);
      } catch {
        return null;
      }
    },
    rest: testOf(compiledRest),
  };
}

/** A stored path to a picked link, such as the keeper of a visit's hive. */
function ownerLink(model: Model, table: string, path: string, rest: readonly Dependency[]): OwnerLink | null {
  const at = path.lastIndexOf('.');
  const [way, id] = [path.slice(0, Math.max(at, 0)).trim(), path.slice(at + 1).trim()];
  const reached = way ? compile(way, model.optionsFor(table)) : null;
  const of = reached ? (reached.type.k === 'record' ? reached.type.table : null) : table;
  const field = of === null ? undefined : model.tables.get(of)?.fields.get(id);
  if (field?.link?.kind !== 'picked') return null;
  return {
    isTo(person, row, frame) {
      frame[SELF_SLOT] = row;
      let from: Value = row;
      try {
        if (reached) from = reached.run(frame);
      } catch {
        return false;
      }
      const cell = from instanceof Row ? from.cells[id] : null;
      return field.several ? listCell(cell).includes(person) : cell === person;
    },
    leaf: { table: of!, field: id, isFar: reached !== null },
    reads: [...rest, ...(reached?.dependencies ?? [])],
  };
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
