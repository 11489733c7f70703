import { readableId } from '../../document/ids.ts';
import { fix, modulo, round, type Rounding } from '../number.ts';
import { BOOLEAN, NUMBER, TEXT, DATE, DATETIME } from '../types.ts';
import { dayOfYear, monthName, parts, weekOfYear, weekdayName, daysInMonth, civil } from '../temporal.ts';
import { CalendarDate, DateTime, DaysDuration, MonthsDuration } from '../values.ts';
import { define, type Runtime } from './define.ts';

const finite = (x: number): number | null => (Number.isFinite(x) ? fix(x) : null);
const rounding = (name: string, rule: Rounding) =>
  define(name, 'n: number, scale?: number', NUMBER, (n: number, scale: number | null) =>
    Math.abs(scale ?? 0) > 6176 ? null : round(n, scale ?? 0, rule),
  );
const dateOf = (v: CalendarDate | DateTime): CalendarDate => (v instanceof DateTime ? parts(v).date : v);

export const NUMBER_FUNCTIONS = [
  define('decimal', 'n: number, scale: number', NUMBER, (n: number, scale: number) => round(n, scale, 'half even')),
  rounding('floor', 'floor'),
  rounding('ceiling', 'ceiling'),
  rounding('round up', 'up'),
  rounding('round down', 'down'),
  rounding('round half up', 'half up'),
  rounding('round half down', 'half down'),
  define(
    'abs',
    'n: any',
    (a) => a[0] ?? NUMBER,
    (n) => {
      if (typeof n === 'number') return Math.abs(n);
      if (n instanceof DaysDuration) return new DaysDuration(Math.abs(n.ms));
      return n instanceof MonthsDuration ? new MonthsDuration(Math.abs(n.months)) : null;
    },
  ),
  define('modulo', 'dividend: number, divisor: number', NUMBER, (a: number, b: number) => modulo(a, b)),
  define('sqrt', 'number: number', NUMBER, (n: number) => (n < 0 ? null : finite(Math.sqrt(n)))),
  define('log', 'number: number', NUMBER, (n: number) => (n <= 0 ? null : Math.log(n))),
  define('exp', 'number: number', NUMBER, (n: number) => (Number.isFinite(Math.exp(n)) ? Math.exp(n) : null)),
  define('odd', 'number: number', BOOLEAN, (n: number) => Math.abs(n % 2) === 1),
  define('even', 'number: number', BOOLEAN, (n: number) => n % 2 === 0),
  define('random number', '', NUMBER, () => Math.random()),
  define('now', '', DATETIME, function (this: Runtime) {
    return new DateTime(this.now());
  }),
  define('today', '', DATE, function (this: Runtime) {
    return new CalendarDate(Math.floor(this.now() / 86_400_000));
  }),
  define('person', '', TEXT, function (this: Runtime) {
    return this.person?.() ?? null;
  }),
  define('new id', '', TEXT, () => readableId()),
  define('day of year', 'date: dated', NUMBER, (d: CalendarDate | DateTime) => dayOfYear(dateOf(d))),
  define('day of week', 'date: dated', TEXT, (d: CalendarDate | DateTime) => weekdayName(dateOf(d))),
  define('month of year', 'date: dated', TEXT, (d: CalendarDate | DateTime) => monthName(dateOf(d))),
  define('week of year', 'date: dated', NUMBER, (d: CalendarDate | DateTime) => weekOfYear(dateOf(d))),
  define('last day of month', 'date: dated', NUMBER, (d: CalendarDate | DateTime) => {
    const c = civil(dateOf(d).day);
    return daysInMonth(c.year, c.month);
  }),
];
