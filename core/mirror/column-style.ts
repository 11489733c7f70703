import { fieldKind } from '../fields/kinds.ts';
import type { ColumnStyle, FileValue } from '../fields/file-cell.ts';
import { listCell, type Cell } from '../fields/lists.ts';
import { readDateText, readDateTimeText, readYesNoText } from '../fields/read-text.ts';
import { harmless } from '../fields/harmless.ts';
import type { ColumnDraft } from '../formats/infer.ts';
import { civil } from '../formula/temporal.ts';
import type { CalendarDate } from '../formula/values.ts';
import type { Field } from '../tables/schema.ts';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const two = (n: number): string => String(n).padStart(2, '0');
const isoDate = (d: CalendarDate): string => {
  const c = civil(d.day);
  return `${c.year}-${two(c.month)}-${two(c.day)}`;
};

/** Words for yes and no that go together. */
const PAIRS: [string, string][] = [
  ['yes', 'no'],
  ['Yes', 'No'],
  ['YES', 'NO'],
  ['true', 'false'],
  ['TRUE', 'FALSE'],
  ['True', 'False'],
  ['ja', 'nein'],
  ['Ja', 'Nein'],
  ['oui', 'non'],
  ['Oui', 'Non'],
  ['si', 'no'],
  ['sí', 'no'],
  ['y', 'n'],
  ['Y', 'N'],
  ['1', '0'],
  ['on', 'off'],
  ['x', ''],
  ['X', ''],
  ['✓', ''],
];

export function styleOf(samples: readonly string[], column: Pick<ColumnDraft, 'decimal' | 'dayOrder'>): ColumnStyle {
  const filled = samples.map((s) => s.trim()).filter(Boolean);
  const number = filled.find((s) => /\d/.test(s)) ?? '';
  const [yes, no] = PAIRS.find(([y, n]) => filled.every((s) => s === y || s === n)) ?? ['yes', 'no'];
  const timed = filled.find((s) => readDateTimeText(s, column.dayOrder) !== null);
  const between = timed ? (/\d(T|,? at |, | )\d{1,2}[:.h]\d{2}/.exec(timed)?.[1] ?? ' ') : ' ';
  return {
    decimal: column.decimal,
    before: /^-?([€$£¥]\s?)/.exec(number)?.[1] ?? '',
    after: /(\s?[€$£¥%])$/.exec(number)?.[1] ?? '',
    yes: readYesNoText(yes) === true ? yes : 'yes',
    no,
    date: dateWriter(filled, column.dayOrder),
    between,
    seconds: timed ? /\d[:.]\d{2}:\d{2}/.test(timed) : false,
  };
}

function dateWriter(samples: readonly string[], order: ColumnDraft['dayOrder']): (d: CalendarDate) => string {
  const days = samples.map((s) => s.replace(/(T|,? at |, | )\d{1,2}[:.h]\d{2}.*$/, ''));
  const numeric = days
    .map((s) => /^(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})$/.exec(s))
    .filter((m): m is RegExpExecArray => m !== null);
  const worded = days.find((s) => /^\d{1,2} [A-Za-z]{3,} \d{4}$/.test(s) && readDateText(s) !== null);
  const [first] = numeric;
  if (first) {
    const sign = first[2]!;
    const short = first[4]!.length === 2;
    const padded =
      numeric.some((m) => m[1]!.startsWith('0') || m[3]!.startsWith('0')) ||
      numeric.every((m) => m[1]!.length === 2 && m[3]!.length === 2);
    return (d) => {
      const { year, month, day } = civil(d.day);
      const n = (x: number): string => (padded ? two(x) : String(x));
      const parts = order === 'day first' ? [n(day), n(month)] : [n(month), n(day)];
      return [...parts, short ? two(year % 100) : String(year)].join(sign);
    };
  }
  if (worded)
    return (d) => {
      const { year, month, day } = civil(d.day);
      return `${day} ${MONTHS[month - 1]} ${year}`;
    };
  return isoDate;
}

/** A cell as its column in the file writes it. `title` gives the name of a linked record. */
export function fileValue(
  field: Field,
  cell: Cell,
  style: ColumnStyle,
  title: (table: string, record: string) => string,
): FileValue {
  if (cell === null || cell === '') return { text: '' };
  if (field.link) {
    const ids = field.several ? listCell(cell) : [String(cell)];
    return { text: harmless(ids.map((id) => title(field.link!.table, id)).join(', ')) };
  }
  const own = fieldKind(field.type).inFile?.(cell, style, field);
  return own ?? { text: typeof cell === 'string' ? harmless(cell) : String(cell) };
}
