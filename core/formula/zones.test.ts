import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluate } from './evaluate.ts';
import { minus, plus } from './operators.ts';
import { DateTime, DaysDuration } from './values.ts';
import { inZone, offsetAt, onClock } from './zones.ts';

const value = (formula: string): unknown => evaluate(formula).value;

describe('time zones through the changes of the clocks', () => {
  it.each([
    // An hour that is left out in spring, and one that comes twice in autumn.
    ['@"2026-03-29T01:30:00@Europe/Paris" + duration("PT1H")', '2026-03-29T03:30:00@Europe/Paris'],
    ['@"2026-10-25T02:30:00@Europe/Paris" + duration("PT1H")', '2026-10-25T02:30:00@Europe/Paris'],
    ['(@"2026-10-25T02:30:00@Europe/Paris").time offset', 'PT2H'],
    ['(@"2026-10-25T02:30:00@Europe/Paris" + duration("PT1H")).time offset', 'PT1H'],
    ['@"2026-03-29T02:30:00@Europe/Paris"', '2026-03-29T03:30:00@Europe/Paris'],
    // A day of 24 hours, and the same time a month later.
    ['@"2026-03-28T12:00:00@Europe/Paris" + duration("P1D")', '2026-03-29T13:00:00@Europe/Paris'],
    ['@"2026-02-28T12:00:00@Europe/Paris" + duration("P1M")', '2026-03-28T12:00:00@Europe/Paris'],
    ['@"2026-03-28T12:00:00@Europe/Paris" + duration("P1M")', '2026-04-28T12:00:00@Europe/Paris'],
    ['@"2026-03-29T04:00:00@Europe/Paris" - @"2026-03-29T00:00:00@Europe/Paris"', 'PT3H'],
    ['@"2026-03-29T03:00:00@Europe/Paris" > @"2026-03-29T01:00:00Z"', false],
    ['@"2026-03-29T03:00:00@Europe/Paris" = @"2026-03-29T01:00:00Z"', true],
    ['date and time(@"2026-07-01T10:00:00Z", "America/New_York")', '2026-07-01T06:00:00@America/New_York'],
    ['date and time(@"2026-07-01T10:00:00", "America/New_York")', '2026-07-01T10:00:00@America/New_York'],
    ['date and time(2026, 3, 29, 2, 30, 0, "Europe/Paris")', '2026-03-29T03:30:00@Europe/Paris'],
    ['date and time(2026, 3, 29, 2, 30, 0, duration("PT1H"))', '2026-03-29T02:30:00+01:00'],
    ['date and time(2026, 2, 29, 2, 30, 0)', null],
    ['date and time(2026, 2, 28, 24, 0, 0)', null],
    ['@"2026-07-01T10:00:00@Nowhere/Land"', null],
    ['@"12:00:00+01:00:30"', '12:00:00+01:00:30'],
    ['@"12:00:00-01:00:30"', '12:00:00-01:00:30'],
  ])('%s is %j', (formula, expected) => {
    expect(value(formula)).toEqual(expected);
  });
  it.each([
    ['date and time("2026-12-31T24:00:00")', '2027-01-01T00:00:00'],
    ['@"2026-11-25T24:00:00Z" - @"2026-11-25T00:00:00Z"', 'P1D'],
    ['time("24:00:00")', '00:00:00'],
    ['date and time("2026-12-31T24:00:01")', null],
  ])('midnight at the end of a day is that of the next: %s is %j', (formula, expected) => {
    expect(value(formula)).toBe(expected);
  });
  it.each([
    ['is(@"12:00:00Z", @"12:00:00+00:00")', true],
    ['is(@"12:00:00Z", @"12:00:00")', false],
    ['is(@"2026-07-01T12:00:00+02:00", @"2026-07-01T10:00:00Z")', false],
    ['@"2026-07-01T12:00:00+02:00" = @"2026-07-01T10:00:00Z"', true],
    ['is([@"12:00:00+01:00"], [@"11:00:00Z"])', false],
    ['is({a: @"12:00:00+01:00"}, {a: @"12:00:00+01:00"})', true],
    ['is(1, 1.0)', true],
    ['is(null, null)', true],
    ['is(1, "1")', false],
  ])('%s is %j', (formula, expected) => {
    expect(value(formula)).toBe(expected);
  });

  const zones = fc.constantFrom('Europe/Paris', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'UTC');
  const seconds = fc.integer({ min: Date.UTC(1975, 0) / 1000, max: Date.UTC(2035, 0) / 1000 });
  const stretch = fc.integer({ min: -4e7, max: 4e7 });
  it('what is added is what lies between (property)', () => {
    fc.assert(
      fc.property(zones, seconds, stretch, (zone, s, d) => {
        const from = inZone(s * 1000, zone)!;
        const to = plus(from, new DaysDuration(d * 1000)) as DateTime;
        expect(to.instant).toBe((s + d) * 1000);
        expect(to.offset).toBe(offsetAt(zone, to.instant));
        expect(minus(to, from)).toEqual(new DaysDuration(d * 1000));
      }),
    );
  });
  it('what a clock shows is the first instant at which it shows it (property)', () => {
    fc.assert(
      fc.property(zones, seconds, (zone, s) => {
        const shown = inZone(s * 1000, zone)!;
        const again = onClock(shown.ms, zone)!;
        expect(again.ms).toBe(shown.ms);
        expect(again.instant).toBeLessThanOrEqual(shown.instant);
        expect(shown.instant - again.instant).toBeLessThanOrEqual(3_600_000);
      }),
    );
  });
});

describe('values by the standard’s names', () => {
  it.each([
    ['before(point: 1, range: [2..3])', true],
    ['before(range: [0..1], point: 2)', true],
    ['before(point1: 2, point2: 1)', false],
    ['meets(range1: [1..2], range2: [2..3])', true],
    ['finishes(range: [1..3], point: 3)', true],
    ['includes(range: [1..3], point: 2)', true],
    ['insert before(list: [1], position: 1, newItem: 0)', [0, 1]],
    ['list replace(list: [1, 2], match: function(x, n) x = 1, newItem: 9)', [9, 2]],
    ['list replace(list: [1, 2], position: 2, newItem: 9)', [1, 9]],
    ['get value(m: {a: 1}, key: "a")', 1],
    ['get entries(m: {a: 1})', [{ key: 'a', value: 1 }]],
    ['context put(context: {a: 1}, keys: ["b", "c"], value: 2)', { a: 1, b: { c: 2 } }],
    ['date(from: "2026-11-25")', '2026-11-25'],
    ['date(year: 2026, month: 11, day: 25)', '2026-11-25'],
    ['time(from: "10:00:00")', '10:00:00'],
    ['date and time(from: "2026-11-25T10:00:00")', '2026-11-25T10:00:00'],
    ['date and time(date: @"2026-11-25", time: @"10:00:00")', '2026-11-25T10:00:00'],
    ['number(from: "1 000,5", grouping separator: " ", decimal separator: ",")', 1000.5],
    ['modulo(divisor: 2, dividend: 7)', 1],
    ['before(point: 1, nonsense: 2)', null],
  ])('%s is %j', (formula, expected) => {
    expect(value(formula)).toEqual(expected);
  });
});

describe('names that begin with a word of the language', () => {
  const context = {
    'for sale': true,
    'if needed': 'x',
    'true north': 5,
    'in stock': true,
    needed: true,
    'some more': [1, 2],
    'every day': 3,
    'function name': 'f',
    'of age': true,
    'null point': 9,
  };
  it.each([
    ['for sale', true],
    ['for sale and of age', true],
    ['if needed', 'x'],
    ['if needed then 1 else 2', 1],
    ['if if needed = "x" then 1 else 2', 1],
    ['if for sale then 1 else 2', 1],
    ['if in stock then 1 else 2', 1],
    ['true north + 1', 6],
    ['null point', 9],
    ['count(some more) + every day', 5],
    ['function name', 'f'],
    ['for sale in [1, 2] return sale', [1, 2]],
    ['some x in some more satisfies x > 1', true],
    ['(function(a) a + 1)(2)', 3],
  ])('%s is %j', (formula, expected) => {
    expect(evaluate(formula, context)).toMatchObject({ value: expected, problems: [] });
  });
});
