import fc from 'fast-check';
import type { AppAccess, May, Rule } from '../app/access-schema.ts';
import type { App } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import type { Where } from '../document/pieces.ts';
import type { Cell } from '../fields/lists.ts';
import type { Draft } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import type { Who } from './access.ts';

/**
 * For tests: rules made by chance, each with a plain reading of it in JavaScript that shares nothing with how rules are
 * compiled, indexed and kept.
 */

export interface Plain {
  table: string;
  id: string;
  cells: Record<string, Cell | undefined>;
}
type Records = ReadonlyMap<string, Plain>;
interface PlainCondition {
  table: string;
  where: Where;
  holds(r: Plain, records: Records, person: string | null): boolean;
}

const where = (left: string, op: Where['conditions'][number]['op'], right: string): Where => ({
  match: 'all',
  conditions: [{ left, op, right }],
});
export const ALL_RECORDS: Where = { match: 'all', conditions: [] };
const text = (c: Cell | undefined): string => String(c ?? '').toLowerCase();
const key = (c: Cell | undefined): string =>
  String(c ?? '')
    .trim()
    .toLowerCase();
const hiveOf = (visit: Plain, records: Records): Plain | undefined =>
  key(visit.cells[F.hiveTag])
    ? [...records.values()].find((h) => h.table === T.hives && key(h.cells[F.tag]) === key(visit.cells[F.hiveTag]))
    : undefined;
const isPerson = (id: Cell | undefined, person: string | null): boolean => person !== null && id === person;

/** The conditions that rules are made of. Tags of hives differ, so that a visit is to one hive. */
export const CONDITIONS: readonly PlainCondition[] = [
  { table: T.hives, where: ALL_RECORDS, holds: () => true },
  { table: T.hives, where: where(F.status, 'is', '"Active"'), holds: (h) => text(h.cells[F.status]) === 'active' },
  { table: T.hives, where: where(F.keeper, 'is', 'person()'), holds: (h, _, p) => isPerson(h.cells[F.keeper], p) },
  {
    table: T.hives,
    where: where(`${F.keeper}.${F.nearby}`, 'holds', ''),
    holds: (h, all) => all.get(String(h.cells[F.keeper]))?.cells[F.nearby] === true,
  },
  {
    table: T.hives,
    where: where(F.total, 'over', '3'),
    holds: (h, all) =>
      [...all.values()]
        .filter((v) => v.table === T.visits && hiveOf(v, all)?.id === h.id)
        .reduce((sum, v) => sum + Number(v.cells[F.fed] ?? 0), 0) > 3,
  },
  { table: T.visits, where: ALL_RECORDS, holds: () => true },
  { table: T.visits, where: where(F.fed, 'over', '4'), holds: (v) => Number(v.cells[F.fed] ?? 0) > 4 },
  {
    table: T.visits,
    where: where(`${F.hive}.${F.keeper}`, 'is', 'person()'),
    holds: (v, all, p) => isPerson(hiveOf(v, all)?.cells[F.keeper], p),
  },
  {
    table: T.visits,
    where: where(`${F.hive}.${F.status}`, 'is', '"Active"'),
    holds: (v, all) => text(hiveOf(v, all)?.cells[F.status]) === 'active',
  },
  { table: T.keepers, where: ALL_RECORDS, holds: () => true },
  { table: T.keepers, where: where(F.nearby, 'holds', ''), holds: (k) => k.cells[F.nearby] === true },
  { table: T.keepers, where: where(thisId(T.keepers), 'is', 'person()'), holds: (k, _, p) => isPerson(k.id, p) },
];
const conditionOf = (rule: Rule): PlainCondition =>
  CONDITIONS.find((c) => c.table === rule.table && JSON.stringify(c.where) === JSON.stringify(rule.where))!;

export const NEAR = 'r_near00000';
export const AFAR = 'r_afar00000';
const ROLES: AppAccess['roles'] = [
  { id: NEAR, name: 'Near', where: where(F.nearby, 'holds', '') },
  { id: AFAR, name: 'Afar', where: where(F.nearby, 'is not', 'true') },
];

const FIELDS: Record<string, string[]> = {
  [T.hives]: [F.name, F.tag, F.weight, F.status, F.keeper, F.total, F.perVisit],
  [T.visits]: [F.hiveTag, F.fed, F.label],
  [T.keepers]: [F.keeperName, F.mail, F.nearby],
};

export const rule: fc.Arbitrary<Rule> = fc
  .record({
    who: fc.constantFrom('anybody', 'signed in', NEAR, AFAR),
    may: fc.subarray<May>(['see', 'add', 'change', 'remove'], { minLength: 1 }),
    at: fc.nat(CONDITIONS.length - 1),
    fields: fc.option(fc.record({ are: fc.constantFrom('only' as const, 'all but' as const), some: fc.nat(127) }), {
      nil: undefined,
      freq: 2,
    }),
  })
  .map(({ who, may, at, fields }) => {
    const { table, where: w } = CONDITIONS[at]!;
    return {
      id: `u_rule${String(at).padStart(4, '0')}`,
      who,
      may,
      table,
      where: w,
      ...(fields && { fields: { are: fields.are, of: FIELDS[table]!.filter((_, i) => fields.some & (1 << i)) } }),
    };
  });

export const access: fc.Arbitrary<AppAccess> = fc.record({
  opens: fc.constantFrom('anybody' as const, 'signed in' as const, 'people' as const),
  mail: fc.constant(F.mail),
  roles: fc.constant(ROLES),
  rules: fc.array(rule, { maxLength: 8 }),
});

export const ruledApp = (rules: AppAccess): App => ({ ...hiveApp(), people: T.keepers, access: rules });

/** The person that somebody is by the records as they are. */
export const personOf = (who: Who, records: Records): string | null => {
  const own = who.kind === 'somebody' && who.person !== null ? records.get(who.person) : undefined;
  return own?.table === T.keepers && key(own.cells[F.mail]) !== '' && key(own.cells[F.mail]) === key(who.mail)
    ? own.id
    : null;
};

/** The fields that somebody may see or write of a record as it is among these; null where none of it. */
export function plainFields(
  { opens, rules }: AppAccess,
  who: Who,
  may: May,
  record: Plain,
  records: Records,
): Set<string> | null {
  if (who.kind === 'owner') return new Set(FIELDS[record.table]);
  const person = personOf(who, records);
  if (person === null && opens !== 'anybody') return null;
  const near = person !== null && records.get(person)!.cells[F.nearby] === true;
  const fields = new Set<string>();
  let any = false;
  for (const r of rules) {
    const isFor = r.who === 'anybody' || (person !== null && (r.who === 'signed in' || r.who === (near ? NEAR : AFAR)));
    if (!isFor || r.table !== record.table || !r.may.includes(may)) continue;
    if (!conditionOf(r).holds(record, records, person)) continue;
    any = true;
    for (const f of FIELDS[record.table]!)
      if (!r.fields || r.fields.of.includes(f) === (r.fields.are === 'only')) fields.add(f);
  }
  return any ? fields : null;
}

/** May somebody make a change, as plain reading has it? The record as it was is among the records. */
export function plainMay(
  rules: AppAccess,
  who: Who,
  change: { table: string; record: string; cells: Record<string, Cell> | null },
  records: Records,
): boolean {
  const was = records.get(change.record);
  if (change.cells === null)
    return who.kind === 'owner' || (was !== undefined && plainFields(rules, who, 'remove', was, records) !== null);
  const is: Plain = { table: change.table, id: change.record, cells: { ...was?.cells, ...change.cells } };
  const may: May = was ? 'change' : 'add';
  // The other records are as they were: a record is judged by what it becomes, not by what that makes of others.
  const after = plainFields(rules, who, may, is, records);
  const before = was ? plainFields(rules, who, may, was, records) : after;
  return (
    after !== null &&
    before !== null &&
    Object.entries(change.cells).every(([f, c]) => (!was && c === null) || (after.has(f) && before.has(f)))
  );
}

export const mailOf = (name: string): string => `${name}@heatherfield.example`;
export const signedIn = (person: string, mail = mailOf(person)): Who => ({ kind: 'somebody', person, mail });

export const set = (table: string, record: string, cells: Record<string, Cell>): Extract<Draft, { do: 'set' }> => ({
  do: 'set',
  table,
  record,
  cells,
});

/** The records that tests of rules begin with. */
export const beginning = (): Extract<Draft, { do: 'set' }>[] => [
  ...['odile', 'ines', 'tom'].map((k, i) =>
    set(T.keepers, k, { [F.keeperName]: k, [F.mail]: mailOf(k), [F.nearby]: i === 0 }),
  ),
  set(T.hives, 'bramble', {
    [F.name]: 'Bramble',
    [F.tag]: 'a',
    [F.status]: 'Active',
    [F.keeper]: 'ines',
    [F.weight]: 20,
  }),
  set(T.hives, 'clover', {
    [F.name]: 'Clover',
    [F.tag]: 'b',
    [F.status]: 'Retired',
    [F.keeper]: 'tom',
    [F.weight]: 3,
  }),
  set(T.visits, 'v1', { [F.hiveTag]: 'a', [F.fed]: 2 }),
  set(T.visits, 'v2', { [F.hiveTag]: 'b', [F.fed]: 6 }),
];
