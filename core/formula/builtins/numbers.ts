import { readableId } from '../../document/ids.ts';
import { fix, round, subtract, multiply, type Rounding } from '../number.ts';
import { BOOLEAN, NUMBER, TEXT, DATE, DATETIME } from '../types.ts';
import { dayOfYear, monthName, parts, weekOfYear, weekdayName, daysInMonth, civil } from '../temporal.ts';
import { CalendarDate, DateTime, DaysDuration, MonthsDuration } from '../values.ts';
import { define, type Runtime } from './define.ts';

const finite = (x: number): number | null => (Number.isFinite(x) ? fix(x) : null);
const rounding = (name: string, rule: Rounding, help: string) =>
  define(
    name,
    'n: number, scale?: number',
    NUMBER,
    (n: number, scale: number | null) => (Math.abs(scale ?? 0) > 6176 ? null : round(n, scale ?? 0, rule)),
    help,
  );
const dateOf = (v: CalendarDate | DateTime): CalendarDate => (v instanceof DateTime ? parts(v).date : v);

export const NUMBER_FUNCTIONS = [
  define(
    'decimal',
    'n: number, scale: number',
    NUMBER,
    (n: number, scale: number) => round(n, scale, 'half even'),
    'Rounds to a number of decimal places; ties go to the even digit.',
  ),
  rounding('floor', 'floor', 'Rounds down.'),
  rounding('ceiling', 'ceiling', 'Rounds up.'),
  rounding('round up', 'up', 'Rounds away from zero.'),
  rounding('round down', 'down', 'Rounds towards zero.'),
  rounding('round half up', 'half up', 'Rounds to the nearest; a tie goes away from zero.'),
  rounding('round half down', 'half down', 'Rounds to the nearest; a tie goes towards zero.'),
  define(
    'abs',
    'n: any',
    (a) => a[0] ?? NUMBER,
    (n) => {
      if (typeof n === 'number') return Math.abs(n);
      if (n instanceof DaysDuration) return new DaysDuration(Math.abs(n.ms));
      return n instanceof MonthsDuration ? new MonthsDuration(Math.abs(n.months)) : null;
    },
    'The value without its sign.',
  ),
  define(
    'modulo',
    'dividend: number, divisor: number',
    NUMBER,
    (a: number, b: number) => (b === 0 ? null : subtract(a, multiply(b, Math.floor(a / b)))),
    'What is left after a whole division.',
  ),
  define('sqrt', 'number: number', NUMBER, (n: number) => (n < 0 ? null : finite(Math.sqrt(n))), 'The square root.'),
  define('log', 'number: number', NUMBER, (n: number) => (n <= 0 ? null : Math.log(n)), 'The natural logarithm.'),
  define(
    'exp',
    'number: number',
    NUMBER,
    (n: number) => (Number.isFinite(Math.exp(n)) ? Math.exp(n) : null),
    'e raised to a power.',
  ),
  define('odd', 'number: number', BOOLEAN, (n: number) => Math.abs(n % 2) === 1, 'Is the number odd?'),
  define('even', 'number: number', BOOLEAN, (n: number) => n % 2 === 0, 'Is the number even?'),
  define('random number', '', NUMBER, () => Math.random(), 'A number from 0 up to 1, another each time.'),
  define(
    'now',
    '',
    DATETIME,
    function (this: Runtime) {
      return new DateTime(this.now());
    },
    'The date and time at this moment.',
  ),
  define(
    'today',
    '',
    DATE,
    function (this: Runtime) {
      return new CalendarDate(Math.floor(this.now() / 86_400_000));
    },
    'The date of today.',
  ),
  define(
    'person',
    '',
    TEXT,
    function (this: Runtime) {
      return this.person?.() ?? null;
    },
    'Who uses the app here, by name; empty while nobody has said so.',
  ),
  define('new id', '', TEXT, () => readableId(), 'A new id of eight letters and digits, another each time.'),
  define(
    'day of year',
    'date: dated',
    NUMBER,
    (d: CalendarDate | DateTime) => dayOfYear(dateOf(d)),
    'The number of a day in its year.',
  ),
  define(
    'day of week',
    'date: dated',
    TEXT,
    (d: CalendarDate | DateTime) => weekdayName(dateOf(d)),
    'The name of the weekday.',
  ),
  define(
    'month of year',
    'date: dated',
    TEXT,
    (d: CalendarDate | DateTime) => monthName(dateOf(d)),
    'The name of the month.',
  ),
  define(
    'week of year',
    'date: dated',
    NUMBER,
    (d: CalendarDate | DateTime) => weekOfYear(dateOf(d)),
    'The week number (ISO 8601).',
  ),
  define(
    'last day of month',
    'date: dated',
    NUMBER,
    (d: CalendarDate | DateTime) => {
      const c = civil(dateOf(d).day);
      return daysInMonth(c.year, c.month);
    },
    'The number of the last day of the month.',
  ),
];
