import { describe, expect, it } from 'vitest';
import type { AppAccess, Rule } from '../app/access-schema.ts';
import type { Where } from '../document/pieces.ts';
import { F, ODILE, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { ALL_RECORDS, ruledApp, signedIn } from './plain.fixture.ts';
import { RuledAccess } from './ruled.ts';

const where = (left: string, op: Where['conditions'][number]['op'], right = ''): Where => ({
  match: 'all',
  conditions: [{ left, op, right }],
});
let n = 0;
const rule = (table: string, may: Rule['may'], more: Partial<Rule> = {}): Rule => ({
  id: `u_${++n}`,
  who: 'signed in',
  may,
  table,
  where: ALL_RECORDS,
  ...more,
});
const sees = (table: string, more: Partial<Rule> = {}): Rule => rule(table, ['see'], more);
const but = (...of: string[]): Pick<Rule, 'fields'> => ({ fields: { are: 'all but', of } });
const only = (...of: string[]): Pick<Rule, 'fields'> => ({ fields: { are: 'only', of } });

/** What a phone is told of the rules for Odile, of those for writing. */
function told(...rules: Rule[]) {
  const access: AppAccess = { opens: 'people', mail: F.mail, roles: [], rules };
  const app = ruledApp(access);
  const records = new Records(app);
  records.load(T.keepers, [{ id: 'odile', cells: { ...ODILE } }]);
  const ruled = new RuledAccess(records, () => app);
  return ruled.forPhones(ruled.rights(signedIn('odile')))!.rules;
}
/** Is the condition of a rule told, beside these rules of seeing? */
const isTold = (asked: Where, ...seen: Rule[]): boolean =>
  told(rule(T.hives, ['change'], { where: asked }), ...seen).some((r) => r.where !== null);

describe('the rules that a phone is told', () => {
  it('are those for writing and looking back, without what is said of seeing', () => {
    const fields = but(F.weight);
    expect(told(rule(T.hives, ['see', 'change', 'look back'], fields), sees(T.visits))).toEqual([
      { may: ['change', 'look back'], table: T.hives, where: ALL_RECORDS, ...fields },
    ]);
  });
  it('leave out one that does not work, which holds for nothing', () => {
    expect(told(sees(T.hives), rule(T.hives, ['change'], { where: where('f_gone00000', 'is', '1') }))).toEqual([]);
  });

  it('say a condition of the record at hand where every rule by which it is seen shows what that asks', () => {
    const active = where(F.status, 'is', '"Active"');
    expect(isTold(active, sees(T.hives))).toBe(true);
    expect(isTold(active, sees(T.hives, only(F.name, F.status)))).toBe(true);
    expect(isTold(active, sees(T.hives, but(F.status)))).toBe(false);
    expect(isTold(active, sees(T.hives), sees(T.hives, but(F.status)))).toBe(false);
    // What is seen of other tables says nothing of these.
    expect(isTold(active, sees(T.visits))).toBe(false);
    expect(isTold(active, sees(T.hives), sees(T.visits, but(F.fed)))).toBe(true);
  });

  it('say a condition of far records only where all of them are seen, with that field', () => {
    const near = where(`${F.keeper}.${F.nearby}`, 'holds');
    const hives = sees(T.hives);
    expect(isTold(near, hives, sees(T.keepers))).toBe(true);
    expect(isTold(near, hives, sees(T.keepers, only(F.nearby)))).toBe(true);
    expect(isTold(near, hives)).toBe(false);
    expect(isTold(near, hives, sees(T.keepers, but(F.nearby)))).toBe(false);
    expect(isTold(near, hives, sees(T.visits))).toBe(false);
    // Some of them are not enough, whether conditions stand alone or in a group.
    const some = where(F.nearby, 'holds');
    const grouped: Where = { match: 'all', conditions: [], groups: [some] };
    expect(isTold(near, hives, sees(T.keepers, { where: some }))).toBe(false);
    expect(isTold(near, hives, sees(T.keepers, { where: grouped }))).toBe(false);
    // Nor is a rule for all without the field, beside one for some with it.
    expect(isTold(near, hives, sees(T.keepers, but(F.nearby)), sees(T.keepers, { where: some }))).toBe(false);
    expect(isTold(near, hives, sees(T.keepers), sees(T.keepers, { where: some }))).toBe(true);
    // The link that leads there must be seen as well.
    expect(isTold(near, sees(T.hives, but(F.keeper)), sees(T.keepers))).toBe(false);
  });

  it('say a condition that counts records only where all that count are seen', () => {
    const fed = where(F.total, 'over', '3');
    const hives = sees(T.hives);
    expect(isTold(fed, hives, sees(T.visits))).toBe(true);
    expect(isTold(fed, hives)).toBe(false);
    expect(isTold(fed, hives, sees(T.visits, but(F.fed)))).toBe(false);
    expect(isTold(fed, hives, sees(T.visits, { where: where(F.fed, 'over', '1') }))).toBe(false);
  });

  it('say that a record must be theirs where they see the link that says so', () => {
    const own = where(F.keeper, 'is', 'person()');
    expect(isTold(own, sees(T.hives))).toBe(true);
    expect(isTold(own, sees(T.hives, but(F.keeper)))).toBe(false);
    // Their own record need not be seen for that.
    expect(isTold(own, sees(T.hives), sees(T.keepers, but(F.mail)))).toBe(true);
  });
});
