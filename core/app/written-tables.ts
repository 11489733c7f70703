import { freeName, singular } from '../document/names.ts';
import { newId } from '../document/ids.ts';
import { MOST_CHOICES, MOST_FIELDS, MOST_TABLES } from '../document/limits.ts';
import { isCurrency, isKnownUnit } from '../fields/units.ts';
import { phrasesOf } from '../document/search-words.ts';
import type { FieldDefinition } from '../fields/kind.ts';
import { fieldKind, fieldTypes } from '../fields/kinds.ts';
import { fieldWords } from '../fields/words.ts';
import { namesInTable } from '../tables/names.ts';
import type { Field, FieldType, Table } from '../tables/schema.ts';
import { bestFor } from '../tables/serves.ts';
import { emptyApp } from './document.ts';
import { addTable, pickedLink } from './edits.ts';
import { generateScreens } from './generate-screens.ts';
import { ElementMaker } from './make.ts';
import { areNamedPeople } from './people.ts';
import type { App } from './schema.ts';

/** A field as it was written: its name, and what the name or words in brackets say of it. */
export interface WrittenField {
  name: string;
  type: FieldType;
  unit?: string;
  choices?: string[];
  /** The name of the table that it leads to. */
  to?: string;
}
export interface WrittenTable {
  name: string;
  fields: WrittenField[];
}

/** What a table is called that was written without a name. */
const UNNAMED = 'New table';
const MOST_LETTERS = 100;
/** What has more words is a sentence, whose last word says nothing of its type. */
const MOST_WORDS = 4;

/** Names of fields by their last or first words, as people write them, and the type that they mean. */
const BY_NAME: readonly [type: FieldType, names: RegExp][] = [
  [
    'yesno',
    /^(?:is|has|was|can|in stock|on sale)\b|\b(?:done|paid|sold|finished|active|confirmed|returned|present|available|completed|approved|public|urgent)$/i,
  ],
  ['datetime', /^(?:when|starts?|begins?|ends?)$|\b(?:date and time|timestamp|starts at|ends at|begins at)$/i],
  ['date', /\b(?:date|day|due|deadline|birthday|born|since|until|bought on|sold on|held on|expires)$/i],
  ['time', /\btime$/i],
  ['duration', /\b(?:duration|how long)$/i],
  ['mail', /\be-?mail(?: address)?$/i],
  ['phone', /\b(?:phone|telephone|mobile)(?: number)?$/i],
  ['web', /\b(?:website|web address|url|homepage)$/i],
  ['picture', /\b(?:photo|picture|image|avatar|logo)s?$/i],
  ['sound', /\b(?:sound|recording|audio)$/i],
  ['file', /\b(?:file|document|attachment|pdf)$/i],
  ['place', /\b(?:location|place on the map|gps)$/i],
  ['rating', /\b(?:rating|stars)$/i],
  ['percent', /\b(?:percent|percentage|discount|vat)$/i],
  ['money', /\b(?:price|cost|costs|fee|salary|budget|rent|deposit)$/i],
  ['code', /\b(?:barcode|bar code|qr code|ean|isbn)$/i],
  ['longtext', /\b(?:notes?|description|comments?|details|instructions|ingredients|directions|message)$/i],
  [
    'number',
    /\b(?:quantity|count|minimum|maximum|min|max|limit|target|goal|level|pages|age|year|weight|height|width|score|points|seats|capacity|distance|stock|amount|how many|how much)$/i,
  ],
];
/** Names of those whose records they are. */
const OWNER = /^(?:owner|person|who|assignee|assigned to|responsible|whose)$/i;

/** Types by their own names and by the words people have for them; a word of two types means the first. */
const typesByWord = (): Map<string, FieldType> => {
  const byWord = new Map<string, FieldType>();
  const types = fieldTypes() as (FieldDefinition & { type: FieldType })[];
  for (const { type, name } of types) if (name) byWord.set(name.toLowerCase(), type);
  for (const { type } of types)
    for (const phrase of phrasesOf(fieldWords.get(type) ?? [])) if (!byWord.has(phrase)) byWord.set(phrase, type);
  return byWord;
};
/** What no maker types by hand: the app fills these in, or they need a formula. */
const NOT_WRITTEN = new Set<FieldType>(['formula', 'plan', 'link']);

/** Cuts at commas, semicolons, tabs and lines, but not within brackets. */
function cut(text: string, at: RegExp): string[] {
  const parts = [''];
  let depth = 0;
  for (const letter of text) {
    if (letter === '(') depth++;
    else if (letter === ')') depth = Math.max(0, depth - 1);
    if (depth === 0 && at.test(letter)) parts.push('');
    else parts[parts.length - 1] += letter;
  }
  return parts.map((p) => p.replace(/\s+/g, ' ').trim()).filter(Boolean);
}

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** A table that fields may lead to: what it is called in the text, and in the app. */
interface Called {
  said: string;
  name: string;
}

/**
 * Tables as people write them, a line for each: “Boats: name, price in €, owner, state (in, out), photo”. What is in
 * brackets says the type, the unit, the choices or the table that a field leads to; else its name does. `tables` are
 * those that are there already. A list without a name before a colon is a table without a name; no name is given twice.
 */
export function readWritten(text: string, tables: readonly Table[] = []): WrittenTable[] {
  const taken = tables.map((t) => t.name);
  const lines = text.split('\n').flatMap((line) => {
    const clean = line.trim().replace(/^[-*•]\s*/, '');
    if (!clean) return [];
    const colon = clean.indexOf(':');
    const named = colon > 0 && !/[,;(\t]/.test(clean.slice(0, colon));
    const said = named ? clean.slice(0, colon).trim() : UNNAMED;
    const name = freeName(capital(said).slice(0, MOST_LETTERS), taken);
    taken.push(name);
    return [{ said, name, fields: cut(named ? clean.slice(colon + 1) : clean, /[,;\t]/) }];
  });
  // Where a field is called as a table is, in the singular or the plural, it leads there.
  const known: Called[] = [...lines, ...tables.filter((t) => !t.facts).map((t) => ({ said: t.name, name: t.name }))];
  return lines.map(({ name, fields }) => {
    const others = known.filter((t) => t.name !== name);
    return { name, fields: withTitle(distinct(fields.map((f) => fieldOf(f, others)))) };
  });
}

/** What of written tables an app has no room for, in words; null where there is room for all. */
export function beyondRoom(written: readonly WrittenTable[], there = 0): string | null {
  const leftOut = (n: number, of: string): string => `${n} of ${of} ${n === 1 ? 'is' : 'are'} left out.`;
  const tables = written.length - Math.max(0, MOST_TABLES - there);
  if (tables > 0) return `An app has up to ${MOST_TABLES} tables: ${leftOut(tables, 'these')}`;
  const wide = written.find((t) => t.fields.length > MOST_FIELDS);
  return wide
    ? `A table has up to ${MOST_FIELDS} fields: ${leftOut(wide.fields.length - MOST_FIELDS, wide.name)}`
    : null;
}

/** Fields of which no two have one name. */
function distinct(fields: readonly WrittenField[]): WrittenField[] {
  const taken: string[] = [];
  return fields.map((f) => {
    const name = freeName(f.name, taken);
    taken.push(name);
    return { ...f, name };
  });
}

/** The field that a record is called by: its first text; of a line of an order, which has none, its last link. */
const titleAmong = <F extends { type: FieldType }>(fields: readonly F[]): F | undefined => {
  const links = fields.filter((f) => f.type === 'link');
  return fields.find((f) => f.type === 'text') ?? (links.length > 1 ? links.at(-1) : undefined);
};

/** Fields with a name before them, where nothing else says what a record is called. */
const withTitle = (fields: WrittenField[]): WrittenField[] =>
  titleAmong(fields) ? fields : distinct([{ name: 'Name', type: 'text' }, ...fields]);

function fieldOf(text: string, others: readonly Called[]): WrittenField {
  const tableCalled = (said: string): string | undefined =>
    others.find((t) => [t.said.toLowerCase(), singular(t.said)].includes(said.toLowerCase()))?.name;
  const bracketed = /^(.*?\S)\s*\(([^()]*)\)\s*$/.exec(text);
  const asked = /^(.*?\S)\s*\?$/.exec(text);
  const measured = /^(.*?\S) in (\S{1,8})$/.exec(text);
  const name = (n: string): string => capital(n).slice(0, MOST_LETTERS);
  if (bracketed) {
    const [, called, said] = bracketed as unknown as [string, string, string];
    const to = tableCalled(said) ?? tableCalled(said.replace(/^(?:link|one|several) (?:to|of) /i, ''));
    if (to) return { name: name(called), type: 'link', to };
    if (isKnownUnit(said)) return withUnit(name(called), said);
    const type = typesByWord().get(said.toLowerCase());
    if (type && !NOT_WRITTEN.has(type)) return { name: name(called), type };
    const choices = cut(said, /[,;/|]/).map((c) => c.slice(0, MOST_LETTERS));
    if (choices.length > 1)
      return { name: name(called), type: 'choice', choices: [...new Set(choices)].slice(0, MOST_CHOICES) };
    // What cannot be read stays part of the name, where it is seen.
    return { name: name(text), type: 'text' };
  }
  if (asked) return { name: name(asked[1]!), type: 'yesno' };
  if (measured && isKnownUnit(measured[2]!)) return withUnit(name(measured[1]!), measured[2]!);
  const to = tableCalled(text);
  if (to) return { name: name(text), type: 'link', to };
  if (OWNER.test(text)) {
    const people = others.find((t) => areNamedPeople(t.name))?.name;
    return people ? { name: name(text), type: 'link', to: people } : { name: name(text), type: 'person' };
  }
  const isName = text.split(' ').length <= MOST_WORDS;
  return { name: name(text), type: (isName && BY_NAME.find(([, names]) => names.test(text))?.[0]) || 'text' };
}

const withUnit = (name: string, unit: string): WrittenField =>
  unit === '%' ? { name, type: 'percent' } : { name, type: isCurrency(unit) ? 'money' : 'number', unit };

/** What a written field is, in words: “money in €”, “leads to Members”, “choice: in, out”. */
export function writtenInWords({ type, unit, choices, to }: WrittenField): string {
  if (to) return `link to ${to}`;
  if (choices) return choices.join(', ');
  const word = fieldKind(type).name || type;
  return unit ? `${word} in ${unit}` : word;
}

/** An app of written tables, with screens over them. */
export function appOfWritten(written: readonly WrittenTable[]): App {
  const app = emptyApp(written[0]?.name ?? 'New app');
  addWritten(app, written);
  const { screens, tabs } = generateScreens(app, new ElementMaker());
  return screens.length ? { ...app, screens, tabs } : app;
}

/** Adds written tables to an app, and gives them. Links among them and to tables that are there lead to records by choice. */
export function addWritten(app: App, written: readonly WrittenTable[]): Table[] {
  const room = MOST_TABLES - app.tables.length;
  const made = written.slice(0, Math.max(0, room)).map((w) => {
    const table = addTable(app, w.name);
    table.fields = [];
    return { w, table };
  });
  const called = (name: string): Table | undefined =>
    made.find((m) => m.w.name === name)?.table ?? app.tables.find((t) => t.name === name);
  for (const { w, table } of made) {
    for (const f of w.fields.slice(0, MOST_FIELDS)) {
      const to = f.to === undefined ? undefined : called(f.to);
      const taken = namesInTable(app, table.id);
      const field: Field = {
        id: newId('f'),
        name: freeName(f.name, taken),
        type: to ? 'link' : f.type === 'link' ? 'text' : f.type,
      };
      if (f.unit) field.unit = f.unit;
      if (f.choices) field.choices = f.choices.map((name, i) => ({ name, colour: i % 8 }));
      if (to) field.link = pickedLink(app, to, table.name);
      table.fields.push(field);
    }
    table.titleField = (titleAmong(table.fields) ?? table.fields[0])?.id ?? null;
    table.pictureField = bestFor(table.fields, 'picture');
  }
  return made.map((m) => m.table);
}
