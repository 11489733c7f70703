import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseDate } from '../formula/temporal.ts';
import { BOOLEAN, DATE, listOf, NUMBER, TEXT } from '../formula/types.ts';
import { CalendarDate, type Value } from '../formula/values.ts';
import type { Field } from '../tables/schema.ts';
import { putTogether, type ReadField } from './groups.ts';
import { filterAs, filtersSet, narrow, type NarrowBy } from './narrow.ts';
import type { Row } from './row.ts';

const rowOf = (values: Record<string, Value>): Row => values as unknown as Row;
const field = (id: string, more: Partial<Field> = {}): Field => ({ id, name: id, type: 'text', ...more }) as Field;
const read = (f: Field): ReadField => ({ field: f, get: (row) => (row as unknown as Record<string, Value>)[f.id]! });
const STATE = field('State', {
  type: 'choice',
  choices: ['waiting', 'taken', 'done'].map((name, colour) => ({ name, colour })),
});
const SKILLS = field('Skills', { type: 'choice', several: true, choices: [] });
const WEIGHT = field('Weight', { type: 'number' });
const SHARE = field('Share', { type: 'percent' });
const DAY = field('Day', { type: 'date' });
const by = (f: Field, as: NarrowBy['as']): NarrowBy => ({ ...read(f), as });

describe('filters that people set', () => {
  const filters = [by(STATE, 'choices'), by(SKILLS, 'choices'), by(WEIGHT, 'range'), by(DAY, 'dates')];
  const row = fc
    .record({
      State: fc.constantFrom<Value>('waiting', 'taken', 'Done', null),
      Skills: fc.subarray(['wax', 'queens', 'teaching']),
      Weight: fc.oneof(fc.integer({ min: 0, max: 9 }), fc.constant(null)),
      Day: fc.oneof(
        fc.integer({ min: 0, max: 6 }).map((d) => new CalendarDate(d)),
        fc.constant(null),
      ),
    })
    .map((r) => rowOf(r as unknown as Record<string, Value>));
  const keys = ['twaiting', 'ttaken', 'tDone', ''];
  const skills = ['twax', 'tqueens', 'tteaching', ''];
  const set = fc.record(
    {
      State: fc.record({ in: fc.subarray(keys, { minLength: 1 }) }),
      Skills: fc.record({ in: fc.subarray(skills, { minLength: 1 }) }),
      Weight: fc.record({ from: fc.constantFrom('2', '4.5'), to: fc.constantFrom('5', '8') }),
      Day: fc.record({ from: fc.constant('1970-01-03') }),
    },
    { requiredKeys: [] },
  );
  const key = (v: Value): string => (v === null ? '' : `t${String(v)}`);

  it('let through what each lets through, and count what one more value would leave (property)', () => {
    fc.assert(
      fc.property(fc.array(row, { maxLength: 40 }), set, (rows, chosen) => {
        const fits = (r: Row, but?: string): boolean => {
          const v = r as unknown as { State: Value; Skills: Value[]; Weight: number | null; Day: CalendarDate | null };
          const { State, Skills, Weight, Day } = chosen;
          const own = v.Skills.length ? v.Skills : [null];
          return (
            (but === 'State' || !State || State.in.includes(key(v.State))) &&
            (but === 'Skills' || !Skills || own.some((s) => Skills.in.includes(key(s)))) &&
            (!Weight || (v.Weight !== null && v.Weight >= Number(Weight.from) && v.Weight <= Number(Weight.to))) &&
            (!Day || (v.Day !== null && v.Day.day >= parseDate('1970-01-03')!.day))
          );
        };
        const found = narrow(rows, filters, chosen);
        expect(found.rows).toEqual(rows.filter((r) => fits(r)));
        const [state, skill] = found.filters;
        for (const o of state!.options)
          expect(o.count).toBe(
            rows.filter((r) => fits(r, 'State') && key((r as unknown as { State: Value }).State) === o.key).length,
          );
        for (const o of skill!.options) {
          const has = (r: Row): boolean => {
            const own = (r as unknown as { Skills: Value[] }).Skills;
            return (own.length ? own : [null]).map(key).includes(o.key);
          };
          expect(o.count).toBe(rows.filter((r) => fits(r, 'Skills') && has(r)).length);
        }
      }),
    );
  });
  it('read numbers as people write them; a percent is typed as it is read', () => {
    const rows = [0.1, 0.25, 0.5].map((n) => rowOf({ Share: n, Weight: n * 10_000 }));
    const shares = (from: string, to = ''): number =>
      narrow(rows, [by(SHARE, 'range')], { Share: { from, to } }).rows.length;
    expect([shares('25'), shares('25 %'), shares('', '12,5')]).toEqual([2, 2, 1]);
    expect(narrow(rows, [by(WEIGHT, 'range')], { Weight: { from: '2,500' } }).rows).toHaveLength(2);
  });
  it('say what they cannot read, and let everything through meanwhile', () => {
    const rows = [rowOf({ Weight: 1 })];
    const found = narrow(rows, [by(WEIGHT, 'range')], { Weight: { from: 'ten', to: '9' } });
    expect(found.filters[0]!.wrong).toBe('from');
    expect(found.rows).toHaveLength(1);
  });
  it('take from a page what is a filter, and nothing else', () => {
    expect(filtersSet({ a: { in: ['x', 1] }, b: { in: [] }, c: { from: ' ' }, d: 7, e: null, f: { to: '3' } })).toEqual(
      {
        a: { in: ['x', '1'] },
        f: { to: '3' },
      },
    );
    expect(filtersSet('x')).toEqual({});
  });
  it('are offered for what people filter by', () => {
    expect(filterAs(STATE, TEXT)).toBe('choices');
    expect(filterAs(field('Yes', { type: 'yesno' }), BOOLEAN)).toBe('choices');
    expect(filterAs(field('Keepers', { type: 'link' }), listOf({ k: 'record', table: 't' }))).toBe('choices');
    expect(filterAs(WEIGHT, NUMBER)).toBe('range');
    expect(filterAs(DAY, DATE)).toBe('dates');
    expect(filterAs(field('Photo', { type: 'picture' }), TEXT)).toBeNull();
  });
});

describe('records put together', () => {
  const states = (list: Value[]): string[] =>
    putTogether(
      list.map((State) => rowOf({ State })),
      read(STATE),
    ).map((g) => `${g.label} ${g.rows.length}`);
  it('stand as their choices do, then what is no choice any more, then what is not filled in', () => {
    expect(states(['done', null, 'waiting', 'lost', 'done', 'Waiting'])).toEqual([
      'waiting 1',
      'done 2',
      'lost 1',
      'Waiting 1',
      'No state 1',
    ]);
  });
  it('keep values apart that only look alike, and lose no record (property)', () => {
    const value = fc.oneof(fc.string(), fc.integer(), fc.boolean(), fc.constant(null));
    fc.assert(
      fc.property(fc.array(value), (values) => {
        const rows = values.map((State) => rowOf({ State }));
        const groups = putTogether(rows, read(field('State')));
        expect(groups.flatMap((g) => g.rows)).toHaveLength(rows.length);
        for (const g of groups) {
          const own = g.rows.map((r) => (r as unknown as { State: Value }).State || null);
          expect(new Set(own.map((v) => (typeof v === 'boolean' ? `b${v}` : v))).size).toBeLessThanOrEqual(
            g.key === '' ? 3 : 1,
          );
        }
      }),
    );
  });
  it('may stand in the order their records come in', () => {
    const rows = [2, 1, 2].map((n) => rowOf({ Weight: n }));
    expect(putTogether(rows, read(WEIGHT), { asTheyCome: true }).map((g) => g.label)).toEqual(['2', '1']);
    expect(putTogether(rows, read(WEIGHT)).map((g) => g.label)).toEqual(['1', '2']);
  });
});
