import { describe, expect, it } from 'vitest';
import { toFormula, toSentence } from '../formula/guided.ts';
import { F, hiveApp, T, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { make, routine, where } from '../runs/fixture.ts';
import { thisId } from '../document/ids.ts';
import type { App, Step } from './schema.ts';
import { pairsIn, pairsOf, totalBy } from './total-by.ts';
import { whatFits } from './total-fits.ts';

const visit = thisId(T.visits);
const table = (app: App, id: string) => app.tables.find((t) => t.id === id)!;

/** What fits a step of a routine that runs for each visit that is added. */
function fits(step: Step, change: (r: ReturnType<typeof routine>) => void = () => undefined) {
  const app = hiveApp();
  const r = routine('Count', 'record changed', { how: 'added', table: T.visits }, [step], { given: T.visits });
  change(r);
  return whatFits(app, r, step as Extract<Step, { do: 'total' | 'raise' }>);
}
const keyed = (value: string, how: 'raise' | 'lower' = 'raise') =>
  make.step('total', { how, table: T.hives, keys: [{ field: F.tag, value: `${visit}.${F.hiveTag}` }], values: [{ field: F.weight, value }] }); // prettier-ignore

describe('which way to keep a total fits', () => {
  it('is a formula field where every record of a table is an amount', () => {
    const found = fits(keyed(`${visit}.${F.fed}`));
    expect(found).toMatchObject({ fits: 'formula', table: { id: T.hives }, amounts: { id: T.visits } });
    const [first] = found?.fits === 'formula' ? found.formulas : [];
    expect(toFormula(first!.sentence)).toBe(`sum(all_${T.visits}[${F.hiveTag} = this_${T.hives}.${F.tag}].${F.fed})`);
    // By a link, it is the other end of that.
    const linked = fits(make.step('raise', { how: 'raise', record: `${visit}.${F.hive}`, values: [{ field: F.weight, value: `${visit}.${F.fed}` }] })); // prettier-ignore
    expect(linked?.fits === 'formula' && toFormula(linked.formulas[0]!.sentence)).toBe(`sum(${F.hive}_back.${F.fed})`);
  });
  it('is the step where no record keeps the amounts', () => {
    expect(fits(keyed('3'))).toEqual({ fits: 'step' });
    expect(fits(keyed(`${visit}.${F.fed}`), (r) => (r.given = null))).toEqual({ fits: 'step' });
  });
  it('is not said where the routine writes the amount into a record itself, as a move', () => {
    const amount = 'v_many00000';
    const move = make.step('add', { table: T.visits, values: [{ field: F.fed, value: amount }] });
    expect(fits(keyed(amount), (r) => r.steps.unshift(make.step('together', { steps: [move] })))).toBeNull();
    expect(fits(keyed(amount))).toEqual({ fits: 'step' });
  });
  it('is not said where only some records count, for what lowers, or for keys from elsewhere', () => {
    expect(fits(keyed(`${visit}.${F.fed}`, 'lower'))).toBeNull();
    const some = where(F.fed, 'over', '1');
    expect(fits(keyed(`${visit}.${F.fed}`), (r) => Object.assign(r.starts![0]!, { where: some }))).toBeNull();
    expect(fits(keyed(`${visit}.${F.fed}`), (r) => delete r.starts)).toBeNull();
    const elsewhere = keyed(`${visit}.${F.fed}`);
    Object.assign(elsewhere, { keys: [{ field: F.tag, value: '"HB-1"' }] });
    expect(fits(elsewhere)).toBeNull();
  });
  it('adds up the same, whichever pairs it is by', () => {
    const app = hiveApp();
    const pairs = pairsOf(table(app, T.hives), table(app, T.visits));
    expect(pairs).toContainEqual({ here: F.tag, there: F.hiveTag });
    const sentence = totalBy(table(app, T.hives), table(app, T.visits), 'sum', F.fed, [{ here: F.tag, there: F.hiveTag }]); // prettier-ignore
    expect(toSentence(toFormula(sentence)!)).toEqual(sentence);
    expect(pairsIn(sentence)).toEqual([{ here: F.tag, there: F.hiveTag }]);
    app.tables[0]!.fields.push({ id: 'f_sum00000', name: 'Sum', type: 'formula', formula: toFormula(sentence)! });
    const r = new Records(app, () => 0);
    someRecords(r);
    for (const hive of r.rows(T.hives)) {
      const same = r.rows(T.visits).filter((v) => v.cells[F.hiveTag] === hive.cells[F.tag]);
      const sum = same.reduce((n, v) => n + Number(v.cells[F.fed] ?? 0), 0);
      expect(Number(hive.get('Sum') ?? 0)).toBeCloseTo(sum, 10);
    }
  });
  it('offers what can be the same: neither files nor formulas, and other types only by the same name', () => {
    const app = hiveApp();
    const [hives, visits] = [table(app, T.hives), table(app, T.visits)];
    const put = (to: typeof hives, ...fields: object[]): void => void to.fields.push(...(fields as typeof to.fields));
    put(hives, { id: 'f_pic100000', name: 'Seen', type: 'picture' }, { id: 'f_sum100000', name: 'Sum', type: 'formula', formula: '1' }, { id: 'f_code10000', name: 'Code', type: 'code' }); // prettier-ignore
    put(visits, { id: 'f_pic200000', name: 'Seen', type: 'picture' }, { id: 'f_sum200000', name: 'Sum', type: 'formula', formula: '1' }, { id: 'f_code20000', name: 'Code', type: 'text' }); // prettier-ignore
    const pairs = pairsOf(hives, visits).map((p) => `${p.here} ${p.there}`);
    expect(pairs.filter((p) => /pic|sum/.test(p))).toEqual([]);
    expect(pairs).toContain('f_code10000 f_code20000');
    expect(pairs).not.toContain(`f_code10000 ${F.hiveTag}`);
  });
  it('goes by a link where both tables have one to the same', () => {
    const app = hiveApp();
    const link = { kind: 'picked' as const, table: T.keepers, backName: 'Seen' };
    table(app, T.visits).fields.push({ id: 'f_by000000', name: 'Keeper', type: 'link', link } as never);
    const pair = { here: F.keeper, there: 'f_by000000' };
    const [hives, visits] = [table(app, T.hives), table(app, T.visits)];
    expect(pairsOf(hives, visits)[0]).toEqual(pair);
    const sentence = totalBy(hives, visits, 'count', '', [{ here: F.tag, there: F.hiveTag }, pair]);
    expect(toFormula(sentence)).toBe(`count(${F.keeper}.f_by000000_back[${F.hiveTag} = this_${T.hives}.${F.tag}])`);
    expect(toSentence(toFormula(sentence)!)).toEqual(sentence);
    expect(pairsIn(sentence)).toEqual([pair, { here: F.tag, there: F.hiveTag }]);
  });
});
