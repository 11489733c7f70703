import type { CalendarDate } from '../formula/values.ts';

/** What is written to a cell of a file: its text, and the plain value where the file keeps values by type. */
export interface FileValue {
  text: string;
  /** A number, yes/no, or a date as days from 1899-12-30; absent for text. */
  number?: number;
  bool?: boolean;
  serial?: number;
  /** A duration in days. */
  days?: number;
}

/** How a column of a file writes its values, learned from those it has. */
export interface ColumnStyle {
  decimal: '.' | ',';
  /** Before and behind a number: a currency, a percent sign. */
  before: string;
  after: string;
  yes: string;
  no: string;
  date(d: CalendarDate): string;
  /** What stands between a date and a time, and whether seconds are written. */
  between: string;
  seconds: boolean;
}

/** Days from 1899-12-30, where spreadsheet programs count from, to 1970-01-01. */
const EPOCH = 25_569;
export const serialOf = (days: number): number => days + EPOCH;

/** A number as its column writes it; `kept` is what the file keeps where it keeps values by type. */
export function numberInFile(shown: number, kept: number, style: ColumnStyle): FileValue {
  const digits = String(shown).replace('.', style.decimal);
  const text = shown < 0 ? `-${style.before}${digits.slice(1)}` : `${style.before}${digits}`;
  return { text: text + style.after, number: kept };
}
