import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { F, T, hiveApp, someRecords } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import { toJson } from './json.ts';
import { GUIDED_OPS, SIGNS, toFormula, toSentence, type Sentence } from './guided.ts';
import type { Condition } from '../document/pieces.ts';

const path = fc.constantFrom(F.name, F.weight, `${F.keeper}.${F.mail}`);
const value = fc.oneof(path, fc.constantFrom('3', '-1.5', '"Active"', 'true', '@"2026-11-23"', 'today()'));
const condition = fc
  .record({ left: path, op: fc.constantFrom(...GUIDED_OPS), right: value })
  .map((c): Condition => (['is empty', 'is filled', 'holds'].includes(c.op) ? { ...c, right: '' } : c));
const where = fc
  .array(condition, { maxLength: 3 })
  .chain((conditions) =>
    fc
      .constantFrom('all' as const, 'any' as const)
      .map((match) => ({ match: conditions.length > 1 ? match : ('all' as const), conditions })),
  );
const list = fc.constantFrom(`${F.hive}_back`, `all_${T.visits}`, `${F.keeper}.${F.keeper}_back`);
/** Keepers’ hives of hives are read as those with the same keeper. */
const sameKeeper = `${F.keeper}.${F.keeper}_back`;
const isTotal = (s: { list: string; where: { conditions: unknown[] } }): boolean =>
  s.list !== sameKeeper || s.where.conditions.length > 0;
const sameValue = fc.record({ there: fc.constantFrom(F.hiveTag, F.label), here: fc.constantFrom(`this_${T.hives}.${F.tag}`, `this_${T.hives}.${F.name}`) }); // prettier-ignore
const totalBy = fc
  .record({
    kind: fc.constant('total by' as const),
    list: fc.constantFrom(`all_${T.visits}`, sameKeeper),
    same: fc.array(sameValue, { maxLength: 3 }),
    figure: fc.constantFrom({ how: 'count' as const, field: '' }, { how: 'sum' as const, field: F.fed }),
  })
  .filter((s) => s.same.length > 0 || s.list === sameKeeper)
  .map(({ figure, ...s }): Sentence => ({ ...s, ...figure }));
const sentence: fc.Arbitrary<Sentence> = fc.oneof(
  totalBy,
  fc.record({ kind: fc.constant('bring' as const), path: fc.constant(`${F.keeper}.${F.mail}`) }),
  fc
    .record({
      kind: fc.constant('total' as const),
      how: fc.constantFrom('sum' as const, 'mean' as const, 'min' as const, 'max' as const),
      list,
      field: fc.constant(F.fed),
      where,
    })
    .filter(isTotal),
  fc
    .record({
      kind: fc.constant('total' as const),
      how: fc.constant('count' as const),
      list,
      field: fc.constant(''),
      where,
    })
    .filter(isTotal),
  fc.record({
    kind: fc.constant('join' as const),
    list,
    field: fc.constant(F.label),
    separator: fc.constantFrom(', ', '\n', ' "and" '),
  }),
  fc.record({
    kind: fc.constant('choose' as const),
    when: where.filter((w) => w.conditions.length > 0),
    then: value,
    otherwise: value,
  }),
  fc.record({
    kind: fc.constant('since' as const),
    from: path,
    until: fc.constantFrom('today()', F.when),
    unit: fc.constantFrom('days' as const, 'hours' as const, 'minutes' as const, 'months' as const, 'years' as const),
  }),
  fc.record({ kind: fc.constant('percent' as const), part: path, whole: path, places: fc.nat(3) }),
  fc.record({
    kind: fc.constant('calculate' as const),
    left: fc.oneof(path, fc.constant('2.5')),
    sign: fc.constantFrom(...SIGNS),
    right: fc.oneof(path, fc.constant('3')),
  }),
  fc.record({
    kind: fc.constant('by percent' as const),
    of: path,
    way: fc.constantFrom('less' as const, 'more' as const),
    percent: fc.oneof(path, fc.constant('15')),
  }),
  fc.record({
    kind: fc.constant('best' as const),
    how: fc.constantFrom('min' as const, 'max' as const),
    list,
    field: fc.constant(F.fed),
  }),
  fc.record({
    kind: fc.constant('rank' as const),
    first: fc.constantFrom('highest' as const, 'lowest' as const),
    list,
    field: fc.constant(F.fed),
    of: fc.constantFrom(`this_${T.hives}.${F.weight}`, F.weight),
  }),
  fc.record({
    kind: fc.constant('words' as const),
    parts: fc.array(fc.oneof(fc.record({ text: fc.string() }), fc.record({ value })), { minLength: 1, maxLength: 4 }),
  }),
  fc.record({
    kind: fc.constant('tidy' as const),
    how: fc.constantFrom('trim' as const, 'spaces' as const, 'upper' as const, 'lower' as const, 'capital' as const),
    path,
  }),
);

describe('guided sentences', () => {
  it('open as a formula and come back as the same sentence (property)', () => {
    fc.assert(
      fc.property(sentence, (s) => {
        expect(toSentence(toFormula(s)!)).toEqual(s);
      }),
      { numRuns: 500 },
    );
  });
  it.each([
    `(${F.weight} + 1) * 2`,
    'sum(for i in [1] return i)',
    `count(${F.hive}_back[count(x) > 2])`,
    'if (',
    '3',
    `${F.weight}`,
  ])('%s is no sentence', (formula) => expect(toSentence(formula)).toBeNull());
  it.each([`count(this_${T.hives}.${F.hive}_back)`, `count(${F.keeper}_back.${F.hive}_back)`, `count(${F.hive}_back)`])(
    '%s is a plain count, not one by the same values',
    (formula) => expect(toSentence(formula)).toMatchObject({ kind: 'total' }),
  );
  it('has no formula while a place is not filled in', () => {
    expect(
      toFormula({
        kind: 'total',
        how: 'sum',
        list: `${F.hive}_back`,
        field: '',
        where: { match: 'all', conditions: [] },
      }),
    ).toBeNull();
    expect(
      toFormula({
        kind: 'choose',
        when: { match: 'all', conditions: [{ left: F.weight, op: 'over', right: '' }] },
        then: '1',
        otherwise: '2',
      }),
    ).toBeNull();
  });
  it.each<[Sentence, unknown]>([
    [{ kind: 'bring', path: `${F.keeper}.${F.mail}` }, 'odile@heatherfield.example'],
    [
      {
        kind: 'total',
        how: 'sum',
        list: `${F.hive}_back`,
        field: F.fed,
        where: { match: 'all', conditions: [{ left: F.fed, op: 'over', right: '2' }] },
      },
      2.2,
    ],
    [
      {
        kind: 'total',
        how: 'count',
        list: `all_${T.visits}`,
        field: '',
        where: {
          match: 'any',
          conditions: [
            { left: F.fed, op: 'is empty', right: '' },
            { left: F.hiveTag, op: 'is', right: '"HB-1"' },
          ],
        },
      },
      2,
    ],
    [
      {
        kind: 'total by',
        how: 'count',
        list: `all_${T.visits}`,
        field: '',
        same: [{ there: F.hiveTag, here: `this_${T.hives}.${F.tag}` }],
      },
      1,
    ],
    [{ kind: 'join', list: `${F.hive}_back`, field: F.hiveTag, separator: ' + ' }, 'HB-1 + hb-1 '],
    [
      {
        kind: 'choose',
        when: { match: 'all', conditions: [{ left: F.weight, op: 'under', right: '20' }] },
        then: '"light"',
        otherwise: '"heavy"',
      },
      'light',
    ],
    [{ kind: 'since', from: '@"2026-11-01"', until: 'today()', unit: 'days' }, 22],
    [{ kind: 'since', from: '@"2026-11-22T11:30:00"', until: 'now()', unit: 'hours' }, 24],
    [{ kind: 'percent', part: F.weight, whole: '50', places: 1 }, 28.4],
    [{ kind: 'calculate', left: F.weight, sign: '*', right: '2' }, 28.4],
    [{ kind: 'calculate', left: F.weight, sign: '-', right: '4.2' }, 10],
    [{ kind: 'by percent', of: F.weight, way: 'less', percent: '50' }, 7.1],
    [{ kind: 'by percent', of: F.weight, way: 'more', percent: '10' }, 15.62],
    [{ kind: 'since', from: 'date("2024-01-10")', until: 'today()', unit: 'months' }, 34],
    [{ kind: 'since', from: 'date("2024-01-10")', until: 'today()', unit: 'years' }, 2],
    [{ kind: 'rank', first: 'highest', list: `all_${T.hives}`, field: F.weight, of: `this_${T.hives}.${F.weight}` }, 2],
    [{ kind: 'rank', first: 'lowest', list: `all_${T.hives}`, field: F.weight, of: `this_${T.hives}.${F.weight}` }, 1],
    [{ kind: 'words', parts: [{ text: 'Weighs ' }, { value: F.weight }, { text: ' kg' }] }, 'Weighs 14.2 kg'],
    [{ kind: 'words', parts: [{ text: 'Was ' }, { value: 'null' }] }, 'Was '],
    [{ kind: 'tidy', how: 'upper', path: F.name }, 'BRAMBLE'],
    [{ kind: 'tidy', how: 'capital', path: `${F.keeper}.${F.mail}` }, 'Odile@heatherfield.example'],
    [{ kind: 'best', how: 'max', list: `${F.hive}_back`, field: F.fed }, 'v2'],
  ])('%j works out', (s, expected) => {
    const r = new Records(
      hiveApp({ hives: [{ id: 'f_guided00', name: 'Guided', type: 'formula', formula: toFormula(s)! }] }),
      () => Date.UTC(2026, 10, 23, 12),
    );
    someRecords(r);
    expect(toJson(r.row(T.hives, 'bramble')!.get('Guided'))).toEqual(expected);
  });
});
