import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Condition, Where } from '../document/pieces.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere, everyCondition } from './conditions.ts';

const options = {
  names: ['a', 'b', 'n'].map((id, i) => ({
    id,
    name: id,
    type: { k: 'any' as const },
    read: (f: Value[]) => f[i + 1] ?? null,
  })),
  firstSlot: 4,
};
const given = (a: Value, b: Value = null): Value[] => [null, a, b, null];

describe('conditions', () => {
  const holds = (where: Where, a: Value, b?: Value): boolean => compileWhere(where, options).test(given(a, b));
  const over = (n: number): Condition => ({ left: 'a', op: 'over', right: String(n) });
  it('may stand in groups', () => {
    const where: Where = {
      match: 'all',
      conditions: [over(1)],
      groups: [{ match: 'any', conditions: [{ left: 'a', op: 'under', right: '3' }, over(8)] }],
    };
    expect([0, 2, 5, 9].map((n) => holds(where, n))).toEqual([false, true, false, true]);
  });
  it('count only while what they compare with is filled in, where the maker says so', () => {
    const same: Condition = { left: 'a', op: 'is', right: 'b' };
    const when = (match: Where['match'], ...conditions: Condition[]): Where => ({ match, conditions });
    expect(holds(when('all', same), 1, null)).toBe(false);
    expect(holds(when('all', { ...same, whileFilled: true }), 1, null)).toBe(true);
    expect(holds(when('all', { ...same, whileFilled: true }), 1, 2)).toBe(false);
    // Of several by “or”, one that is left out makes none of the others hold.
    expect(holds(when('any', { ...same, whileFilled: true }, over(5)), 1, null)).toBe(false);
    expect(holds(when('any', { ...same, whileFilled: true }, { ...same, whileFilled: true }), 1, '')).toBe(true);
  });
  it('that are not filled in are left out and told, in groups too', () => {
    const where: Where = {
      match: 'all',
      conditions: [{ left: '', op: 'is', right: '' }],
      groups: [{ match: 'any', conditions: [{ left: 'a', op: 'is', right: '' }] }],
    };
    expect(compileWhere(where, options).problems).toHaveLength(2);
    expect(holds(where, 1)).toBe(true);
    expect(everyCondition(where)).toHaveLength(2);
  });
  it('come to what going through them one by one comes to (property)', () => {
    const condition = fc.record({
      left: fc.constant('a'),
      op: fc.constantFrom('is' as const, 'over' as const, 'is empty' as const),
      right: fc.constantFrom('1', '2', 'b'),
      whileFilled: fc.constantFrom(true as const, undefined),
    });
    const { where } = fc.letrec<{ where: Where }>((tie) => ({
      where: fc.record({
        match: fc.constantFrom('all' as const, 'any' as const),
        conditions: fc.array(condition, { maxLength: 3 }),
        groups: fc.option(fc.array(tie('where'), { maxLength: 2 }), { nil: undefined, depthSize: 'small' }),
      }) as fc.Arbitrary<Where>,
    }));
    const value = fc.constantFrom(null, 1, 2, 3);
    const plain = (w: Where, a: Value, b: Value): boolean | null => {
      const one = (c: Condition): boolean | null => {
        const right = c.right === 'b' ? b : Number(c.right);
        if (c.op === 'is empty') return a === null;
        if (c.whileFilled && right === null) return null;
        if (c.op === 'is') return a === right;
        return a !== null && right !== null && Number(a) > Number(right);
      };
      const all = [...w.conditions.map(one), ...(w.groups ?? []).map((g) => plain(g, a, b))].filter((x) => x !== null);
      if (all.length === 0) return null;
      return w.match === 'all' ? all.every(Boolean) : all.some(Boolean);
    };
    fc.assert(
      fc.property(where, value, value, (w, a, b) => {
        expect(compileWhere(w, options).test(given(a, b))).toBe(plain(w, a, b) ?? true);
      }),
      { numRuns: 300 },
    );
  });
});
