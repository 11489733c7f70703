import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Field, FieldType } from '../tables/schema.ts';
import { inferType } from '../formats/infer.ts';
import { typedCell } from '../records/cells.ts';
import type { Cell } from '../fields/lists.ts';
import { withoutApostrophe } from '../fields/harmless.ts';
import { fileValue, styleOf } from './column-style.ts';

const field = (type: FieldType, more: Partial<Field> = {}): Field => ({ id: 'f_x000000', name: 'X', type, ...more });
const title = (_table: string, record: string): string => ({ k1: 'Odile', k2: 'Ines' })[record] ?? '';
/** What a column with these values writes for a cell. */
const written = (samples: readonly string[], type: FieldType, cell: Cell, more: Partial<Field> = {}): string =>
  fileValue(field(type, more), cell, styleOf(samples, inferType([...samples], 'X')), title).text;

describe('a column writes as it has written before', () => {
  it.each([
    [['14,5', '9,0'], 'number', 1234.25, '1234,25'],
    [['14.5'], 'number', -3, '-3'],
    [['€ 4,50', '€ 12,00'], 'money', 7.5, '€ 7,5'],
    [['$4.50'], 'money', -7.5, '-$7.5'],
    [['12 €'], 'money', 3, '3 €'],
    [['12,5 %', '50 %'], 'percent', 0.125, '12,5 %'],
    [['12%'], 'percent', 0.2, '20%'],
    [['0.5'], 'percent', 0.2, '20%'],
    [['ja', 'nein'], 'yesno', true, 'ja'],
    [['x', ''], 'yesno', false, ''],
    [['TRUE'], 'yesno', false, 'FALSE'],
    [[], 'yesno', true, 'yes'],
    [['23.11.2026', '01.02.2026'], 'date', '2026-03-04', '04.03.2026'],
    [['3/4/26', '25/12/26'], 'date', '2026-03-04', '4/3/26'],
    [['12/25/2026', '03/04/2026'], 'date', '2026-03-04', '03/04/2026'],
    [['23 Nov 2026'], 'date', '2026-03-04', '4 Mar 2026'],
    [['2026-11-23'], 'date', '2026-03-04', '2026-03-04'],
    [[], 'date', '2026-03-04', '2026-03-04'],
    [['23.11.2026 08:15'], 'datetime', '2026-03-04T07:05:00', '04.03.2026 07:05'],
    [['2026-11-23T08:15:30'], 'datetime', '2026-03-04T07:05:09', '2026-03-04T07:05:09'],
    [['08:15'], 'time', '07:05:00', '07:05'],
    [['plain'], 'text', '=HYPERLINK("x")', '\'=HYPERLINK("x")'],
    [['1 hour'], 'duration', 'PT90M', '1 h 30 min'],
    [['a, b'], 'choice', '["wax","queens"]', 'wax, queens', { several: true }],
  ] as [string[], FieldType, Cell, string, Partial<Field>?][])(
    '%j as %s: %j is %j',
    (samples, type, cell, text, more) => expect(written(samples, type, cell, more)).toBe(text),
  );
  it('names linked records', () => {
    const link = { kind: 'picked' as const, table: 't_keepers', backName: 'x' };
    expect(written(['Odile'], 'link', 'k1', { link })).toBe('Odile');
    expect(written(['Odile'], 'link', '["k1","k2"]', { link, several: true })).toBe('Odile, Ines');
    expect(written(['Odile'], 'link', null, { link })).toBe('');
  });
  it('takes back the apostrophe it gave', () => {
    expect(['=1', '+a', '-b', '@c', "it's"].map((t) => withoutApostrophe(written(['x'], 'text', t)))).toEqual([
      '=1',
      '+a',
      '-b',
      '@c',
      "it's",
    ]);
  });
  it('and reads what it wrote (property)', () => {
    const day = fc.integer({ min: 0, max: 25_000 }).map((d) => new Date(d * 86_400_000).toISOString().slice(0, 10));
    const samples = fc.constantFrom(
      ['13.01.2026', '1.2.2026'],
      ['25/12/2026'],
      ['12/25/2026'],
      ['2026-01-31'],
      ['31 Jan 2026'],
    );
    fc.assert(
      fc.property(samples, day, (list, cell) => {
        const { dayOrder, decimal } = inferType([...list], 'X');
        expect(typedCell(field('date'), written(list, 'date', cell), dayOrder, decimal)).toBe(cell);
      }),
    );
    fc.assert(
      fc.property(
        fc.constantFrom(['1,5'], ['1.5'], ['€ 1,50'], ['1.50 €']),
        fc.integer({ min: -1e7, max: 1e7 }),
        (list, n) => {
          const { dayOrder, decimal } = inferType([...list], 'X');
          expect(typedCell(field('money'), written(list, 'money', n / 100), dayOrder, decimal)).toBe(n / 100);
        },
      ),
    );
  });
});
