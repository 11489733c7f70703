import { describe, expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import { display } from '../records/format.ts';
import { setFormula, unitOfFormula } from './formula-unit.ts';
import type { Field } from '../tables/schema.ts';

const app = hiveApp({
  hives: [
    { id: 'f_price0000', name: 'Price', type: 'money', unit: '£' },
    { id: 'f_cost00000', name: 'Cost', type: 'money', unit: '£' },
    { id: 'f_euros0000', name: 'Euros', type: 'money' },
    { id: 'f_count0000', name: 'Count', type: 'number' },
  ],
});

describe('the unit of a formula', () => {
  it.each([
    ['f_count0000 * f_price0000', '£'],
    ['f_price0000 * (1 - 15 / 100)', '£'],
    ['f_price0000 - f_cost00000', '£'],
    ['f_price0000 / f_count0000', '£'],
    [`sum(all_${T.hives}.f_price0000)`, '£'],
    [`sum(all_${T.hives}[f_count0000 > 2].f_price0000)`, '£'],
    ['round half up(f_price0000 * 1.2, 2)', '£'],
    ['if f_count0000 > 3 then f_price0000 else 0', '£'],
    ['f_euros0000', '€'],
    // Where they do not agree, and where there is none, none is told.
    ['f_price0000 + f_euros0000', undefined],
    ['f_price0000 / f_cost00000', undefined],
    ['f_price0000 * f_cost00000', undefined],
    ['max(f_price0000, f_cost00000)', '£'],
    ['sum(f_price0000, f_count0000)', undefined],
    ['mean([f_price0000, f_euros0000])', undefined],
    [`count(all_${T.hives})`, undefined],
    ['f_price0000 > 3', undefined],
    [F.name, undefined],
    ['1 +', undefined],
  ])('%s: %s', (formula, unit) => expect(unitOfFormula(app, formula)).toBe(unit));

  it('follows the formula, unless the maker has said another', () => {
    const field: Pick<Field, 'formula' | 'unit'> = { formula: '' };
    setFormula(app, field, 'f_count0000 * f_price0000');
    expect(field.unit).toBe('£');
    setFormula(app, field, 'f_count0000 * 2');
    expect('unit' in field).toBe(false);
    field.unit = 'boxes';
    setFormula(app, field, 'f_count0000 * f_price0000');
    expect(field.unit).toBe('boxes');
  });

  it('makes money of it, with its sign, for one record and for totals', () => {
    const field = { type: 'formula' as const, unit: '£' };
    expect([
      display(1234.5, field),
      display(12, { type: 'formula', unit: 'kg' }),
      display(3, { type: 'formula' }),
    ]).toEqual(['£1,234.50', '12 kg', '3']);
  });
});
