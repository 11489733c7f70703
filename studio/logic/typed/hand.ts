import type { ElementMaker } from '../../../core/app/make.ts';
import { ownRecord, peopleTable } from '../../../core/app/people.ts';
import type { App, Routine, Step } from '../../../core/app/schema.ts';
import { thisId } from '../../../core/document/ids.ts';
import type { Condition, Query } from '../../../core/document/pieces.ts';
import type { Model, Thing } from '../../../core/records/model.ts';
import type { Field, Table } from '../../../core/tables/schema.ts';

/** One record or several that words name. */
export interface Named {
  /** The stored formula that gives them. */
  stored: string;
  table: string;
  several: boolean;
  /** How they read in an offer. */
  said: string;
  /** The same records as a query, where they are those of a table that fit. */
  query?: Query;
}

/** Conditions that words mean, and whether all or any of them must hold. */
export interface Told {
  match: 'all' | 'any';
  conditions: Condition[];
}

/** What is at hand where typed words are read. Readers note in `said` how the formulas they make are read. */
export interface Hand {
  app: App;
  model: Model;
  routine: Routine;
  make: ElementMaker;
  things: readonly Thing[];
  /** The record that “it” and “its” mean; null where there is none. */
  it: Named | null;
  said: Map<string, string>;
  /** Reads conditions; given, since conditions name records and records have conditions. */
  conditions(words: string, hand: Hand, table?: Table): Told | null;
  /** What has been read already, and how many clauses may still be read: a sentence is read while it is typed. */
  work: { read: Map<string, Step[] | null>; left: number };
}
/** Enough for every sentence that people type; what takes more is not understood. */
const MOST_READ = 400;

/** What is at hand at a place of a routine, with the things that its formulas may name there. */
export function handOf(place: Pick<Hand, 'app' | 'model' | 'routine' | 'make' | 'things' | 'conditions'>): Hand {
  const given = place.model.tables.get(place.routine.given ?? '')?.table;
  const it = given ? { stored: thisId(given.id), table: given.id, several: false, said: `this ${given.one}` } : null;
  return { ...place, it, said: new Map(), work: { read: new Map(), left: MOST_READ } };
}

/** The same, inside a loop over records: “it” is the record of a turn. */
export function withTurn(hand: Hand, result: string, table: Table): Hand {
  const name = `this ${table.one}`;
  const things: Thing[] = [...hand.things, { id: result, name, type: { k: 'record', table: table.id } }];
  hand.said.set(result, name);
  return { ...hand, things, it: { stored: result, table: table.id, several: false, said: name } };
}

/** The record of the person using the app, where people are records. */
export function personAt({ app, said }: Hand): Named | null {
  const people = peopleTable(app);
  if (!people) return null;
  const stored = ownRecord(app)!;
  said.set(stored, PERSON);
  return { stored, table: people.id, several: false, said: PERSON };
}
export const PERSON = 'the person using the app';

/** A step with the words of it that were not understood. */
export interface Reading {
  steps: Step[];
  /** Words that were left over, in their order. */
  left: string[];
}

/** A yes or no: kept as one, or worked out. */
export const isYesNo = (field: Field, hand: Hand): boolean =>
  field.type === 'yesno' ||
  (field.type === 'formula' &&
    [...hand.model.tables.values()].some((t) => t.members.find((m) => m.id === field.id)?.type.k === 'boolean'));

export const tableAt = (hand: Hand, id: string): Table => hand.model.tables.get(id)!.table;
export const quoted = (s: string): string => `"${s.replace(/["\\]/g, '\\$&')}"`;
export const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
/** Without the articles that lead some words. */
export const bare = (s: string): string => s.trim().replace(/^(?:(?:the|a|an)\s+)+/i, '');
export const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** The forms of a name that people type: as it is, as one, as several. */
export function forms(...names: string[]): string[] {
  const all = names.flatMap((n) => {
    const low = n.toLowerCase();
    return [
      low,
      `${low}s`,
      ...(low.endsWith('y') ? [`${low.slice(0, -1)}ies`] : []),
      ...(low.endsWith('s') ? [low.slice(0, -1)] : []),
    ];
  });
  return [...new Set(all)];
}
