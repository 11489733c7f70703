import { ownRecord, peopleTable } from '../../core/app/people.ts';
import { allId } from '../../core/document/ids.ts';
import type { App } from '../../core/app/schema.ts';
import type { FieldType } from '../../core/tables/schema.ts';
import { parseDuration } from '../../core/formula/temporal.ts';
import { DATE, DATETIME, TEXT, type Type } from '../../core/formula/types.ts';
import { durationWords } from '../../core/records/format.ts';
import type { Model } from '../../core/records/model.ts';
import type { FormulaPlace } from './place.ts';

/** A value that can be had here by walking from what is at hand. */
export interface Path {
  /** Its stored formula. */
  stored: string;
  label: string;
  type: Type;
  depth: number;
  group: string;
}

/** Puts the values of fields of one type first, in a group of their own. */
export function preferring(paths: Path[], model: Model, type: FieldType | undefined, group: string): Path[] {
  if (!type) return paths;
  const is = (p: Path): boolean => {
    const id = p.stored.split('.').at(-1)!;
    return [...model.tables.values()].some((t) => t.fields.get(id)?.type === type);
  };
  return [...paths.filter(is).map((p) => ({ ...p, group })), ...paths.filter((p) => !is(p))];
}

export type Wanted = 'any' | 'value' | 'record' | 'some records' | { record: string } | { records: string } | 'yesno';

function fits(type: Type, wanted: Wanted): boolean {
  const record = type.k === 'record' ? type.table : null;
  const records = type.k === 'list' && type.of.k === 'record' ? type.of.table : null;
  if (wanted === 'any') return true;
  if (wanted === 'value') return record === null && records === null;
  if (wanted === 'record') return record !== null;
  if (wanted === 'some records') return record !== null || records !== null;
  if (wanted === 'yesno') return type.k === 'boolean';
  if ('record' in wanted) return record === wanted.record;
  return records === wanted.records || record === wanted.records;
}

/** So many links deep values are listed; where somebody types, so many values and ways are looked through. */
const LISTED_DEPTH = 3;
const MOST_SEARCHED = 1500;

/**
 * Every value within three links of what is at hand, nearest first; with `deep`, as deep as links lead that go through no
 * table twice.
 */
export function pathsAt(app: App, model: Model, place: FormulaPlace, wanted: Wanted, deep = false): Path[] {
  const out: Path[] = [];
  const most = deep ? Infinity : LISTED_DEPTH;
  // Breadth first: where there are too many, the nearest are those that are found.
  const later: (() => void)[] = [];
  const walk = (stored: string, label: string, table: string, depth: number, group: string, seen: string[]): void => {
    const links: { stored: string; label: string; table: string }[] = [];
    for (const m of model.members(table)) {
      const path = { stored: stored ? `${stored}.${m.id}` : m.id, label: label ? `${label} › ${m.name}` : m.name };
      const { type } = m;
      if (fits(type, wanted)) out.push({ ...path, type, depth, group });
      if (type.k === 'record' && !seen.includes(type.table)) links.push({ ...path, table: type.table });
    }
    if (depth < most)
      for (const l of links)
        later.push(() => walk(l.stored, l.label, l.table, depth + 1, `${l.label}`, [...seen, l.table]));
  };
  if (place.self) {
    const one = model.tables.get(place.self)?.table.one ?? '';
    walk('', '', place.self, 0, `This ${one}`, [place.self]);
  }
  for (const t of place.things) {
    const isRecord = t.type.k === 'record';
    const [group, depth] = t.variable
      ? ['Variables', 0.6]
      : isRecord
        ? ['At hand', -1]
        : [place.alone ? 'It is given' : 'Results', 0.5];
    if (fits(t.type, wanted)) out.push({ stored: t.id, label: t.name, type: t.type, depth, group });
    // What a step gave may have parts: a judgement its choice and why.
    if (t.type.k === 'context')
      for (const [part, type] of Object.entries(t.type.entries))
        if (fits(type, wanted))
          out.push({
            stored: `${t.id}.${part}`,
            label: `${t.name} › ${t.type.names?.[part] ?? part}`,
            type,
            depth: 0.55,
            group,
          });
    if (t.type.k !== 'record') continue;
    walk(t.id, t.name, t.type.table, 0, capital(t.name), [t.type.table]);
  }
  if (place.alone) return out;
  // The person's own record, where people are records; as a value they are told by their name below.
  const person = ownRecord(app);
  if (person) {
    const people = peopleTable(app)!.id;
    const label = 'the person using the app';
    const type: Type = { k: 'record', table: people };
    if (wanted !== 'any' && wanted !== 'value' && fits(type, wanted))
      out.push({ stored: person, label, type, depth: 3.5, group: 'The person using the app' });
    for (const m of model.members(people))
      if (fits(m.type, wanted))
        out.push({
          stored: `${person}.${m.id}`,
          label: `${label} › ${m.name}`,
          type: m.type,
          depth: 3.5,
          group: 'The person using the app',
        });
  }
  for (const t of app.tables) if (t.facts) walk(allId(t.id), '', t.id, 1, t.name, [t.id]);
  for (const [stored, label, type] of AROUND)
    if (fits(type, wanted)) out.push({ stored, label, type, depth: 4, group: 'Around' });
  // Tables that all lead to each other have more ways than anybody could look through.
  const enough = deep ? MOST_SEARCHED : Infinity;
  for (let at = 0; at < later.length && at < enough && out.length < enough; at++) later[at]!();
  return out.sort((a, b) => a.depth - b.depth);
}

/** What is known wherever the app is used. */
const AROUND: readonly (readonly [string, string, Type])[] = [
  ['person()', 'the person using the app', TEXT],
  ['today()', 'today', DATE],
  ['now()', 'now', DATETIME],
];

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** How a chip shows a stored formula: a path with arrows, a plain value, or the formula itself. */
export function chipLabel(model: Model, stored: string): { label: string; kind: 'path' | 'literal' | 'formula' } {
  const text = /^"((?:[^"\\]|\\.)*)"$/.exec(stored);
  if (text && text[1]!.startsWith('file:')) return { label: 'a file of this app', kind: 'literal' };
  if (text) return { label: text[1]!.replace(/\\(.)/g, '$1') || 'empty text', kind: 'literal' };
  if (/^-?\d+(\.\d+)?$/.test(stored)) return { label: stored, kind: 'literal' };
  if (stored === 'true' || stored === 'false') return { label: stored === 'true' ? 'yes' : 'no', kind: 'literal' };
  if (stored === 'now()' || stored === 'today()')
    return { label: stored === 'now()' ? 'now' : 'today', kind: 'literal' };
  if (stored === 'person()') return { label: 'the person using the app', kind: 'path' };
  if (stored === 'null') return { label: 'nothing', kind: 'literal' };
  const date = /^@"(.*)"$/.exec(stored);
  const span = date && parseDuration(date[1]!);
  if (span) return { label: durationWords(span), kind: 'literal' };
  if (date) return { label: date[1]!, kind: 'literal' };
  // The person's own record, and what it holds.
  const own = /^all_t_[a-z0-9]+\[item = person\(\)\]\[1\](?:\.(.+))?$/.exec(stored);
  if (own) {
    const rest = own[1] === undefined ? null : chipLabel(model, own[1]);
    if (rest?.kind !== 'formula')
      return { label: ['the person using the app', ...(rest ? [rest.label] : [])].join(' › '), kind: 'path' };
  }
  if (/^[a-z_][a-z0-9_]*(\.[a-z_][a-z0-9_]*)*$/.test(stored)) {
    const names = stored.split('.').map((id, i) => model.nameOf(id) ?? (i > 0 && /^[a-z]+$/.test(id) ? id : undefined));
    if (names.every((n) => n !== undefined)) return { label: names.join(' › '), kind: 'path' };
  }
  return { label: model.shown(stored), kind: 'formula' };
}
