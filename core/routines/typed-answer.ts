import { readNumberText } from '../fields/read-number.ts';
import { dateText, parseDate } from '../formula/temporal.ts';
import { DATE, NUMBER, TEXT, type Type } from '../formula/types.ts';
import { CalendarDate, type Value } from '../formula/values.ts';
import type { Question } from './asks.ts';

/** What people are asked to type. */
type As = Extract<Question, { wants: 'a value' }>['as'];

const CALLED: Record<As, string> = { text: 'text', 'long text': 'text', number: 'number', date: 'date' };

export const typeOfAnswer = (as: string): Type => (as === 'number' ? NUMBER : as === 'date' ? DATE : TEXT);

/** What somebody typed, as what they were asked for; or in words why it is none. */
export function readAnswer(as: As, text: string): { value: Value } | { problem: string } {
  const typed = text.trim();
  if (!typed) return { problem: 'Nothing was answered.' };
  const value =
    as === 'number' ? (readNumberText(typed) ?? readNumberText(typed, ',')) : as === 'date' ? parseDate(typed) : typed;
  return value === null ? { problem: `“${typed}” is no ${CALLED[as]}.` } : { value };
}

/** A value as it is typed: a number without its unit, a date as the box of a date wants it; null for others. */
export const asTyped = (v: Value): string | null =>
  typeof v === 'number' ? String(v) : v instanceof CalendarDate ? dateText(v) : null;
