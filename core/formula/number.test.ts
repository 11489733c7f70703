import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile } from './compile.ts';
import { add, divide, modulo, multiply, numberText, round, subtract, type Rounding } from './number.ts';

/** Exact decimals to hold the operators against: digits and a power of ten, with no rounding anywhere. */
interface Exact {
  n: bigint;
  e: number;
}
const exact = (x: number): Exact => {
  const [m, e = '0'] = String(x).split('e') as [string, string?];
  const [whole, fraction = ''] = m.split('.') as [string, string?];
  return { n: BigInt(whole + fraction), e: Number(e) - fraction.length };
};
const scaled = (x: Exact, e: number): bigint => x.n * 10n ** BigInt(x.e - e);
const plus = (a: Exact, b: Exact): Exact => {
  const e = Math.min(a.e, b.e);
  return { n: scaled(a, e) + scaled(b, e), e };
};
const nearest = (x: Exact): number => Number(`${x.n}e${x.e}`);
/** Is `x` within so many units of the 15th digit of an exact value? */
function within(x: number, value: Exact, units: number): boolean {
  if (value.n === 0n) return x === 0;
  const difference = plus(exact(x), { n: -value.n, e: value.e });
  const abs = (n: bigint): bigint => (n < 0n ? -n : n);
  const e = Math.min(difference.e, value.e);
  // |difference| <= units * |value| * 10^-14
  return abs(scaled(difference, e)) * 10n ** 14n * 10n <= abs(scaled(value, e)) * BigInt(Math.round(units * 10));
}

/** Figures as people write them, of up to 15 digits. */
const figure = fc
  .tuple(fc.integer({ min: -999_999_999, max: 999_999_999 }), fc.integer({ min: 0, max: 9 }))
  .map(([n, e]) => Number(`${n}e-${e}`));
// Whole numbers beyond 2^53 are not told apart by doubles.
const any = fc.double({ min: -9e15, max: 9e15, noNaN: true }).map((x) => (Math.abs(x) < 1e-140 ? 0 : x));
/** Significant digits of an exact value. */
const digitsOf = ({ n }: Exact): number => String(n).replace(/^-|0+$/g, '').length;

describe('decimals', () => {
  it.each([
    ['10.1 - 10', 0.1],
    ['10.1 - 10 = 0.1', true],
    ['10.1 - 10 >= 0.1', true],
    ['1000000.01 - 1000000', 0.01],
    ['0.1 + 0.2', 0.3],
    ['1.1 * 1.1', 1.21],
    ['round half up(2.4999999999, 0)', 2],
    ['round half up(2.5, 0)', 3],
    ['round half down(2.5000000001, 0)', 3],
    ['round half up(1.005, 2)', 1.01],
    ['round half up(-2.5, 0)', -3],
    ['modulo(0.3, 0.1)', 0],
    ['modulo(-0.3, 0.1)', 0],
    ['modulo(-7, 3)', 2],
    ['modulo(7, -3)', -2],
    ['modulo(5.5, 2)', 1.5],
    ['modulo(1, 0)', null],
    ['median([1, null, 3])', 2],
    ['product([2, null, 3])', 6],
    ['stddev([2, null, 4])', Math.SQRT2],
    ['mode([1, null, 1])', [1]],
    ['mode([null])', []],
    ['median([null])', null],
    ['median([1, "a"])', null],
  ])('%s is %j', (text, value) => {
    expect(compile(text).run([])).toEqual(value);
  });
  it('add and take away exactly what people write (property)', () => {
    fc.assert(
      fc.property(figure, figure, (a, b) => {
        for (const [r, value] of [
          [add(a, b), plus(exact(a), exact(b))],
          [subtract(a, b), plus(exact(a), exact(-b))],
        ] as const)
          if (digitsOf(value) <= 15) expect(r).toBe(nearest(value) + 0);
          else expect(within(r, value, 1)).toBe(true);
      }),
      { numRuns: 5000 },
    );
  });
  it('give sums and products of any numbers to 15 digits (property)', () => {
    fc.assert(
      fc.property(any, any, (a, b) => {
        const product = { n: exact(a).n * exact(b).n, e: exact(a).e + exact(b).e };
        expect(within(add(a, b), plus(exact(a), exact(b)), 1)).toBe(true);
        expect(within(multiply(a, b), product, 1)).toBe(true);
      }),
      { numRuns: 3000 },
    );
  });
  it('divide so that multiplying gives back what was divided (property)', () => {
    fc.assert(
      fc.property(
        figure,
        figure.filter((b) => b !== 0),
        (a, b) => {
          const q = divide(a, b)!;
          expect(within(q, { n: (exact(a).n * 10n ** 40n) / exact(b).n, e: exact(a).e - exact(b).e - 40 }, 1)).toBe(
            true,
          );
        },
      ),
      { numRuns: 3000 },
    );
  });
  it('leave exactly what is over (property)', () => {
    fc.assert(
      fc.property(
        figure,
        figure.filter((b) => b !== 0),
        (a, b) => {
          const e = Math.min(exact(a).e, exact(b).e);
          const [p, q] = [scaled(exact(a), e), scaled(exact(b), e)];
          let rest = p % q;
          if (rest !== 0n && rest < 0n !== q < 0n) rest += q;
          expect(modulo(a, b)).toBe(nearest({ n: rest, e }) + 0);
        },
      ),
      { numRuns: 3000 },
    );
  });
  it('round by the digits that stand there (property)', () => {
    const rules: Rounding[] = ['half up', 'half down', 'half even', 'floor', 'ceiling', 'up', 'down'];
    fc.assert(
      fc.property(figure, fc.integer({ min: -2, max: 6 }), fc.constantFrom(...rules), (x, scale, rule) => {
        const v = exact(x);
        const unit = -scale;
        if (v.e >= unit) return;
        const p = 10n ** BigInt(unit - v.e);
        let floor = v.n / p;
        let rest = v.n % p;
        if (rest < 0n) [floor, rest] = [floor - 1n, rest + p];
        const half = rest * 2n - p;
        const away = x > 0 ? 1n : 0n;
        const up: Record<Rounding, bigint> = {
          floor: 0n,
          ceiling: rest > 0n ? 1n : 0n,
          up: rest > 0n ? away : 0n,
          down: rest > 0n ? 1n - away : 0n,
          'half up': half > 0n ? 1n : half < 0n ? 0n : away,
          'half down': half > 0n ? 1n : half < 0n ? 0n : 1n - away,
          'half even': half > 0n ? 1n : half < 0n ? 0n : ((floor % 2n) + 2n) % 2n,
        };
        expect(round(x, scale, rule)).toBe(nearest({ n: floor + up[rule], e: unit }) + 0);
      }),
      { numRuns: 5000 },
    );
  });
  it('print all their digits without an exponent (property)', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (x) => {
        expect(numberText(x)).toMatch(/^-?\d+(\.\d+)?$/);
        expect(Number(numberText(x))).toBe(x + 0);
      }),
    );
  });
});
