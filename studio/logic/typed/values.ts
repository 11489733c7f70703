import { toStored } from '../../../core/formula/stored.ts';
import type { Field } from '../../../core/tables/schema.ts';
import { listOf, memberCalled, ofParts, recordsIn, tableCalled } from './records.ts';
import { bare, isYesNo, personAt, quoted, same, tableAt, type Hand, type Named } from './hand.ts';

/** A value that words mean, as a stored formula. */
export type Meant = string | null;

const COUNTED = [
  'zero',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
];
const CURRENCY = /^[€£$¥]\s*|\s*(?:€|£|\$|¥|euros?|dollars?|pounds?)$/gi;

/** A number as it is written: `12.5`, `€25`, `2 kg` where the unit is the field’s own, `five`. */
export function numberIn(words: string, field?: Field): Meant {
  let text = words.trim();
  if (field?.type === 'money') text = text.replace(CURRENCY, '');
  const unit = field?.unit;
  if (unit && text.toLowerCase().endsWith(unit.toLowerCase())) text = text.slice(0, -unit.length).trim();
  const counted = COUNTED.indexOf(text.toLowerCase());
  if (counted >= 0) return String(counted);
  // “007” is a code, and “1.250” is a thousand and more to half of those who type it.
  if (!/^-?(?:0|[1-9]\d*)(?:\.\d+)?$/.test(text) || /\.\d\d0$/.test(text)) return null;
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}

const SPAN = /^(?:(\d+)|an?|one)\s*(seconds?|secs?|s|minutes?|mins?|m|hours?|h|days?|d|weeks?|w|months?)$/i;

/** A span of time as ISO 8601 has it, and how it reads. */
export function spanIn(words: string): { stored: string; said: string } | null {
  const m = SPAN.exec(words.trim());
  if (!m) return null;
  const many = Number(m[1] ?? 1);
  const unit = m[2]!.toLowerCase();
  const of = unit.startsWith('mo')
    ? 'month'
    : ({ s: 'second', m: 'minute', h: 'hour', d: 'day', w: 'week' } as const)[unit[0] as 's'];
  const iso = {
    second: `PT${many}S`,
    minute: `PT${many}M`,
    hour: `PT${many}H`,
    day: `P${many}D`,
    week: `P${many * 7}D`,
    month: `P${many}M`,
  };
  return { stored: `@"${iso[of as 'day']}"`, said: `${many} ${of}${many === 1 ? '' : 's'}` };
}

/** A day that words name: today, tomorrow, in three days, or as ISO 8601 writes it. */
export function dayIn(words: string, field: Field | undefined, hand: Hand): Meant {
  const text = words.trim().toLowerCase();
  const withTime = field?.type === 'datetime';
  const base = withTime ? 'now()' : 'today()';
  if (text === 'today' || text === 'now') return field ? base : `${text}()`;
  const shifted = (span: { stored: string; said: string }, sign: '+' | '-'): string => {
    const stored = `${base} ${sign} ${span.stored}`;
    hand.said.set(stored, `${withTime ? 'now' : 'today'} ${sign === '+' ? '+' : '−'} ${span.said}`);
    return stored;
  };
  if (text === 'tomorrow') return shifted(spanIn('1 day')!, '+');
  if (text === 'yesterday') return shifted(spanIn('1 day')!, '-');
  const inTime = /^in (.+)$|^(.+) (?:from now|later)$/.exec(text);
  const later = inTime && spanIn(inTime[1] ?? inTime[2]!);
  if (later) return shifted(later, '+');
  const ago = /^(.+) ago$/.exec(text);
  const earlier = ago && spanIn(ago[1]!);
  if (earlier) return shifted(earlier, '-');
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  return iso && !Number.isNaN(Date.parse(text)) ? `@"${text}"` : null;
}

/** The field that words name, with the record it is a field of: “status”, “its weight”, “points of the owner”. */
export function fieldIn(words: string, hand: Hand): { of: Named; field: Field } | null {
  const find = (name: string, of: Named | null): { of: Named; field: Field } | null => {
    if (!of) return null;
    const fields = tableAt(hand, of.table).fields;
    const low = bare(name);
    const field = fields.find((f) => same(f.name, low)) ?? near(fields, low);
    return field ? { of, field } : null;
  };
  const text = words.trim();
  const own = /^(?:its|the|this)\s+(.+)$/i.exec(text)?.[1] ?? text;
  const one = hand.it && tableAt(hand, hand.it.table).one.toLowerCase();
  const ofIt = one && own.toLowerCase().startsWith(`${one} `) ? own.slice(one.length + 1) : own;
  const direct = hand.it && (find(own, hand.it) ?? find(ofIt, hand.it));
  if (direct) return direct;
  const my = /^my\s+(.+)$/i.exec(text);
  if (my) return find(my[1]!, personAt(hand));
  const parts = ofParts(text);
  if (parts) return find(parts.what, recordsIn(parts.of, hand));
  // “supplier mail”: the name of a link, then that of a field there.
  const space = own.lastIndexOf(' ');
  if (space < 0 || !hand.it) return null;
  const link = memberCalled(own.slice(0, space), hand.it.table, hand);
  return link?.type.k === 'record' ? find(own.slice(space + 1), recordsIn(own.slice(0, space), hand)) : null;
}

/** “the start” for a field Starts: the one field whose name differs by an ending only. */
function near(fields: readonly Field[], word: string): Field | undefined {
  const stem = (s: string): string => s.toLowerCase().replace(/(?:s|es)$/, '');
  const found = word.length > 3 ? fields.filter((f) => stem(f.name) === stem(word)) : [];
  return found.length === 1 ? found[0] : undefined;
}

/** What a field of a record holds, as a formula. */
export function pathTo({ of, field }: { of: Named; field: Field }, hand: Hand): string {
  const stored = `${of.stored}.${field.id}`;
  hand.said.set(stored, `${of.said} › ${field.name}`);
  return stored;
}

/** What a step before gave, a variable or an input, by its name. */
export const thingCalled = (words: string, { things }: Hand): Hand['things'][number] | undefined =>
  things.find((t) => same(bare(t.name), bare(words)) && t.type.k !== 'record');

/** A formula over what is at hand: `price * 2`; null when a name in it is nothing here. */
export function sumIn(text: string, hand: Hand): Meant {
  if (!/[-+*/×÷&()]/.test(text)) return null;
  const { stored, compiled } = toStored(text, hand.model.optionsFor(null, hand.things));
  if (compiled.references.length > 0 && compiled.problems.every((p) => p.severity !== 'error')) return stored;
  const simple = /^(.+?)\s*([-+*/])\s*(.+)$/.exec(text.trim());
  if (!simple) return null;
  const [left, right] = [valueIn(simple[1]!, hand), valueIn(simple[3]!, hand)];
  if (!left || !right) return null;
  const made = `${left} ${simple[2]} ${right}`;
  const said = (f: string): string => hand.said.get(f) ?? f;
  hand.said.set(made, `${said(left)} ${simple[2]} ${said(right)}`);
  return made;
}

const NOTHING = /^(?:nothing|nobody|no one|none|empty)$/i;
const NUMBERS = ['number', 'money', 'percent', 'rating'];

/**
 * What words mean as a value of a field, all of them accounted for: null when they are no value of its type. Free words
 * are a value of texts only. Without a field: a number, a day, words in quotation marks, or what is at hand.
 */
export function valueIn(words: string, hand: Hand, field?: Field): Meant {
  const text = words.trim();
  if (!text) return null;
  const inQuotes = /^["“](.*)["”]$/.exec(text);
  const isText =
    field !== undefined && ['text', 'longtext', 'mail', 'phone', 'web', 'place', 'code'].includes(field.type);
  if (inQuotes && (isText || !field)) return quoted(inQuotes[1]!);
  if (NOTHING.test(text)) return 'null';
  const number = !field || NUMBERS.includes(field.type) ? numberIn(text, field) : null;
  if (number !== null) return number;
  if (!field || ['date', 'datetime'].includes(field.type)) {
    const day = dayIn(text, field, hand);
    if (day) return day;
  }
  if (field && isYesNo(field, hand)) {
    if (/^(?:yes|true|on|done)$/i.test(text)) return 'true';
    if (/^(?:no|false|off)$/i.test(text)) return 'false';
  }
  if (field?.type === 'choice') {
    const choice = field.choices?.find((c) => same(c.name, text));
    if (choice) return quoted(choice.name);
  }
  if (field?.type === 'link' || field?.type === 'person') return linked(text, hand, field);
  // A text may be any word, also one that is the name of a field: that is only meant when the words say so.
  const pointed = !isText || /^(?:the|its|my|this)\s|\sof\s|['’]s\s/i.test(text);
  const other = pointed ? fieldIn(text, hand) : null;
  if (other && !other.of.several && fits(other.field, field)) return pathTo(other, hand);
  const thing = thingCalled(text, hand);
  if (thing) return thing.id;
  const sum = !field || NUMBERS.includes(field.type) || field.type === 'duration' ? sumIn(text, hand) : null;
  if (sum) return sum;
  return isText ? quoted(text) : null;
}

/** May a value of one field stand in another, as far as their types say? */
function fits(from: Field, to: Field | undefined): boolean {
  if (!to || from.type === 'formula') return true;
  if (NUMBERS.includes(to.type)) return NUMBERS.includes(from.type);
  if (['choice', 'yesno', 'date', 'datetime'].includes(to.type)) return from.type === to.type;
  return true;
}

/** A record that a link may hold: the person, or one at hand of the right table. */
function linked(text: string, hand: Hand, field: Field): Meant {
  if (field.type === 'person') return /^(?:me|myself)$/i.test(text) ? 'person()' : null;
  const named = recordsIn(text, hand);
  if (!named || named.table !== field.link?.table) return null;
  if (named.several && !field.several) return null;
  hand.said.set(named.stored, named.said);
  return named.stored;
}

/** “count all courses”, “add up the price of all courses”: a figure of several records. */
export function figureIn(how: 'count' | 'sum' | 'mean', words: string, hand: Hand): Meant {
  if (how === 'count') {
    const some = recordsIn(words, hand, true);
    if (!some?.several) return null;
    return noted(`count(${some.stored})`, `count of ${some.said}`, hand);
  }
  const parts = ofParts(words);
  const of =
    parts &&
    (recordsIn(parts.of, hand, true) ??
      (tableCalled(parts.of, hand) && listOf(tableCalled(parts.of, hand)!.table, [], hand)));
  const field = of?.several ? tableAt(hand, of.table).fields.find((f) => same(f.name, parts!.what)) : undefined;
  if (!of || !field) return null;
  const word = how === 'sum' ? 'sum' : 'average';
  return noted(`${how}(${of.stored}.${field.id})`, `${word} of ${of.said} › ${field.name}`, hand);
}
function noted(stored: string, said: string, hand: Hand): string {
  hand.said.set(stored, said);
  return stored;
}
