import ICAL from 'ical.js';
import Papa from 'papaparse';
import { SaxesParser } from 'saxes';
import { onClock } from '../formula/zones.ts';

/** More than this of a kind that is not JSON is not made into it. */
const MOST_NODES = 500_000;
const DEEPEST = 100;

/** What an answer is that is data and no JSON; null for anything else. */
export function dataKind(type: string, text: string): 'csv' | 'xml' | 'calendar' | null {
  const start = text.slice(0, 500).trimStart();
  if (type === 'text/calendar' || start.startsWith('BEGIN:VCALENDAR')) return 'calendar';
  if (type === 'text/csv' || type === 'text/tab-separated-values') return 'csv';
  const isMarkup = /^(<\?xml|<(rss|feed|rdf:RDF|\w+:?\w*)[\s>])/.test(start) && !/^<(!doctype\s+)?html/i.test(start);
  return (/[/+]xml$/.test(type) && type !== 'application/xhtml+xml') || (type !== 'text/html' && isMarkup)
    ? 'xml'
    : null;
}

/** The same as JSON, so that places in it have paths; null where it cannot be read as what it says that it is. */
export function asJson(kind: 'csv' | 'xml' | 'calendar', text: string): unknown {
  try {
    return kind === 'csv' ? fromCsv(text) : kind === 'xml' ? fromXml(text) : fromCalendar(text);
  } catch {
    return null;
  }
}

/** A line of names, then a record in each line. What a line has beyond the names is a list of its own. */
function fromCsv(text: string): unknown {
  const { data } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t', '|'],
  });
  return data.map(({ __parsed_extra: more, ...row }) => (more === undefined ? row : { ...row, '(more)': more }));
}

/** An element while it is read. */
interface Node {
  value: Record<string, unknown>;
  text: string;
}

/**
 * XML as JSON: elements by their names, attributes behind an @. What comes several times under one name is a list; an element
 * with nothing but text is that text. Names keep their prefixes (`dc:date`).
 */
function fromXml(text: string): unknown {
  const root: Node = { value: {}, text: '' };
  const open: Node[] = [root];
  let nodes = 0;
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (e) => {
    throw e;
  });
  parser.on('opentag', ({ attributes }) => {
    if (++nodes > MOST_NODES || open.length > DEEPEST) throw new Error('This is too much.');
    const value: Record<string, unknown> = Object.create(null) as Record<string, unknown>;
    for (const [name, v] of Object.entries(attributes)) if (!name.startsWith('xmlns')) value[`@${name}`] = v;
    open.push({ value, text: '' });
  });
  const more = (t: string): void => {
    open.at(-1)!.text += t;
  };
  parser.on('text', more);
  parser.on('cdata', more);
  parser.on('closetag', ({ name }) => {
    const { value, text: own } = open.pop()!;
    const words = own.trim();
    const made = Object.keys(value).length === 0 ? words : words ? { ...value, '#text': words } : { ...value };
    const into = open.at(-1)!.value;
    if (!Object.hasOwn(into, name)) into[name] = made;
    else if (Array.isArray(into[name])) (into[name] as unknown[]).push(made);
    else into[name] = [into[name], made];
  });
  parser.write(text).close();
  return { ...root.value };
}

/** The events, to-dos and other parts of a calendar (RFC 5545), each with its values by name (as RFC 7265 has them). */
function fromCalendar(text: string): unknown {
  const calendars = ICAL.parse(text) as unknown;
  const [first] = calendars as unknown[];
  const all = (typeof first === 'string' ? [calendars] : calendars) as [string, unknown[], unknown[]][];
  const parts: Record<string, unknown[]> = {};
  const take = ([name, properties, inner]: [string, unknown[], unknown[]]): void => {
    if (name !== 'vcalendar' && name !== 'vtimezone')
      (parts[`${name.slice(1)}s`] ??= []).push(valuesOf(properties as Property[]));
    if (name !== 'vtimezone')
      for (const part of inner as [string, unknown[], unknown[]][]) if (part[0] !== 'valarm') take(part);
  };
  for (const calendar of all) take(calendar);
  return parts;
}

type Property = [name: string, params: { tzid?: unknown }, type: string, ...values: unknown[]];

/** The values by name; what comes several times, as people who take part do, is a list. */
function valuesOf(properties: Property[]): Record<string, unknown> {
  const byName = new Map<string, unknown[]>();
  for (const [name, { tzid }, type, ...values] of properties) {
    const zone = type === 'date-time' && typeof tzid === 'string' ? tzid : null;
    const all = byName.get(name) ?? [];
    byName.set(name, all);
    all.push(...(zone ? values.map((v) => withOffset(v, zone)) : values));
  }
  return Object.fromEntries([...byName].map(([name, all]) => [name, all.length === 1 ? all[0] : all]));
}

/** What the clocks of a zone show, with how far that is from UTC; as it was where the zone is not known. */
function withOffset(value: unknown, zone: string): unknown {
  const at = typeof value === 'string' ? Date.parse(`${value}Z`) : NaN;
  const offset = Number.isNaN(at) ? undefined : onClock(at, zone)?.offset;
  if (offset === undefined || offset === null) return value;
  const two = (n: number): string => String(Math.floor(Math.abs(n))).padStart(2, '0');
  return `${value as string}${offset < 0 ? '-' : '+'}${two(Math.trunc(offset / 60))}:${two(offset % 60)}`;
}
