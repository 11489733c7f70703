/** Types of formulas, known before any record is read. */
export type Type =
  | { k: 'any' | 'null' | 'boolean' | 'number' | 'text' | 'date' | 'time' | 'datetime' | 'days' | 'months' }
  | { k: 'list'; of: Type }
  | { k: 'range'; of: Type }
  /** With `names`, what its entries are called, where they are stored by an id. */
  | { k: 'context'; entries: Record<string, Type>; names?: Readonly<Record<string, string>> }
  | { k: 'record'; table: string }
  | { k: 'function'; returns: Type };

export type TypeName = Type['k'];

const simple = <
  K extends 'any' | 'null' | 'boolean' | 'number' | 'text' | 'date' | 'time' | 'datetime' | 'days' | 'months',
>(
  k: K,
) => ({ k }) as Type;
export const ANY = simple('any');
export const NULL = simple('null');
export const BOOLEAN = simple('boolean');
export const NUMBER = simple('number');
export const TEXT = simple('text');
export const DATE = simple('date');
export const TIME = simple('time');
export const DATETIME = simple('datetime');
export const DAYS = simple('days');
export const MONTHS = simple('months');
export const listOf = (of: Type): Type => ({ k: 'list', of });

const SPOKEN: Record<TypeName, string> = {
  any: 'anything',
  null: 'nothing',
  boolean: 'yes/no',
  number: 'number',
  text: 'text',
  date: 'date',
  time: 'time',
  datetime: 'date and time',
  days: 'days and time duration',
  months: 'years and months duration',
  list: 'list',
  range: 'range',
  context: 'context',
  record: 'record',
  function: 'function',
};

/** The type in plain words, as problems and the command line print it. */
export function typeText(t: Type): string {
  if (t.k === 'list') return t.of.k === 'any' ? 'list' : `list of ${typeText(t.of)}`;
  if (t.k === 'range') return t.of.k === 'any' ? 'range' : `range of ${typeText(t.of)}`;
  return SPOKEN[t.k];
}

/** The smallest type that holds both. */
export function union(a: Type, b: Type): Type {
  if (a.k === 'null') return b;
  if (b.k === 'null') return a;
  if (a.k !== b.k) return ANY;
  if (a.k === 'list' && b.k === 'list') return listOf(union(a.of, b.of));
  if (a.k === 'record' && b.k === 'record') return a.table === b.table ? a : ANY;
  if (a.k === 'context' && b.k === 'context') {
    const entries: Record<string, Type> = {};
    for (const key of new Set([...Object.keys(a.entries), ...Object.keys(b.entries)])) {
      entries[key] = union(a.entries[key] ?? NULL, b.entries[key] ?? NULL);
    }
    return { k: 'context', entries };
  }
  return a;
}
