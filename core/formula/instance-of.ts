import { kindOf, Range, type Value } from './values.ts';

/** `instance of` with a type name of the standard, lists and contexts included. */
export function instanceOf(v: Value, type: string): boolean {
  if (type === 'Any') return v !== null;
  if (type === 'Null') return v === null;
  if (v === null) return false;
  const k = kindOf(v);
  const list = /^list<(.*)>$/.exec(type);
  if (list) return Array.isArray(v) && v.every((x) => instanceOf(x, list[1]!));
  const range = /^range<(.*)>$/.exec(type);
  if (range) return v instanceof Range && instanceOf(v.start ?? v.end, range[1]!);
  const context = /^context<(.*)>$/.exec(type);
  if (context) {
    if (k !== 'context') return false;
    return context[1]!.split(/,\s*(?=[^,:]+:)/).every((entry) => {
      const [key, of] = entry.split(/:\s*/) as [string, string];
      return key in (v as object) && instanceOf((v as Record<string, Value>)[key]!, of);
    });
  }
  const names: Record<string, string[]> = {
    boolean: ['boolean'],
    number: ['number'],
    text: ['string'],
    date: ['date'],
    time: ['time'],
    datetime: ['date and time', 'dateTime'],
    days: ['days and time duration', 'day time duration'],
    months: ['years and months duration', 'year month duration'],
    list: ['list'],
    context: ['context'],
    record: ['context'],
    range: ['range'],
    function: ['function'],
    null: [],
  };
  return names[k]!.includes(type.replace(/<.*$/, ''));
}
