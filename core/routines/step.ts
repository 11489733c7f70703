import type { Upgrade } from '../document/upgrade.ts';
import type { AnyElement, AnyStep, Held, Properties, Unfilled } from '../document/meaning.ts';
import type { FieldValue, Query, Where } from '../document/pieces.ts';
import type { Type } from '../formula/types.ts';
import type { Value } from '../formula/values.ts';
import type { Cell } from '../fields/lists.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { Asking } from '../services/answer-type.ts';
import type { Table } from '../tables/schema.ts';
import type { Ask } from './asks.ts';

/** Something a step cannot do, in words for the maker. */
export class StepError extends Error {
  override name = 'StepError';
  constructor(
    message: string,
    /** What sort of failure it is, where more than one can be told apart. */
    readonly sort?: string,
  ) {
    super(message);
  }
}

/** A run has done as much as one may, and ends. */
export class RunStopped extends StepError {}

/** Plain data that a run keeps over a reload. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/** What a step did, in words with the values that were at hand, and what it gave. */
export interface Did {
  /** "Set Bramble 3 › Welcomed on to Mon 23 Nov 2026". */
  said: string;
  /** In a word or two. */
  gave: string;
  /** The value of its result, for later steps. */
  result?: Value;
  /** The message it sent, to be shown. */
  sent?: { to: string[]; subject: string; body: string };
}

/** What follows when a step has begun or goes on. */
export type Outcome =
  /** It is done. */
  | { did: Did }
  /** It needs something of the world. With the answer it goes on by `answered`, or is done as `did` says. */
  | { ask: Ask; kept?: Json; did?: Did }
  /**
   * The steps in one of its slots come next. `gather` holds what they write back until {@link Outcome} `send`; up to
   * `atOnce` turns of it are under way at a time.
   */
  | { enter: string; kept?: Json; did?: Did; gather?: boolean; only?: number; atOnce?: number }
  /** Another routine runs, and is given these; what it gives back goes to `answered`. */
  | { call: string; record: string | null; values?: Record<string, Value>; kept?: Json }
  /** The routine ends here and gives a value back to the one that ran it. */
  | { back: Value; did: Did }
  /** The routine ends here. */
  | { stop: true; did: Did }
  /** Sends what was gathered, as one. */
  | { send: true; did: Did };

/** What a step may ask of the run it stands in. */
export interface StepScope {
  readonly records: Records;
  readonly screens: StepStanding['screens'];
  readonly routines: readonly RoutineSeen[];
  readonly services: Asking['services'];
  /** The world's clock, in milliseconds. */
  now(): number;
  newId(): string;
  /** The value of a formula and how people read it; `what` names the place when it is empty or broken. */
  value(formula: string, what: string): { value: Value; text: string };
  words(template: string): string;
  /** Words for each of some records, which stand under this id while its line is read. */
  lines(rows: readonly Row[], id: string, template: string): string[];
  /** The one record a formula leads to. */
  record(formula: string, what: string): Row;
  /** The record or the records of a list that a formula leads to, each once; none of an empty list. */
  someRecords(formula: string, what: string): readonly Row[];
  /** Cells of a record from formulas, checked by their fields; a link given a record writes what makes it match. */
  cells(table: string, values: readonly FieldValue[]): { cells: Record<string, Cell>; said: [string, string][] };
  /** Stops when a record may not become what these cells make of it. */
  allow(table: string, record: string, cells: Record<string, Cell>): void;
  /** The records a query finds now, in order, no more than its limit. */
  find(query: Query): readonly Row[];
  holds(where: Where): boolean;
  /** Conditions as people read them. */
  conditions(where: Where): string;
  /** A stored formula with today's names. */
  shown(formula: string): string;
}

/** A routine as the steps that run it see it. */
export interface RoutineSeen {
  id: string;
  name: string;
  given: string | null;
  inputs?: readonly { id: string; name: string }[] | undefined;
}

/** What preflight knows when it looks at a step. */
export interface StepStanding {
  tables: readonly Table[];
  screens: readonly {
    id: string;
    name: string;
    given: string | null;
    root?: AnyElement | undefined;
    optional?: boolean | undefined;
    finds?: string | undefined;
  }[];
  routines: readonly RoutineSeen[];
  services?: Asking['services'];
}

/** A kind of step. One folder holds this definition and its sentence on the desk. `P` is what the document holds of it. */
export interface StepDefinition<K extends string = string, P extends Properties = Properties> {
  readonly do: K;
  /** `standIn` says what it does in place of what one may expect. */
  readonly said: { name: string; hint: string; standIn?: string };
  readonly properties: P;
  /**
   * It runs on somebody’s phone alone, since it needs a screen, a person or the device; or on the host alone, which waits
   * for people. The others run anywhere.
   */
  readonly only?: 'phone' | 'host';
  /** May a run that stands at this step outlive the page? Then it is kept before each ask. */
  readonly lasts?: boolean;
  begin(at: { id(letter: string): string }): Held<P>;
  /** The type of its result, for a step that has the property `result`. */
  gives?(step: Held<P> & AnyStep, app: Asking): Type;
  start(step: Held<P> & AnyStep, scope: StepScope): Outcome;
  /** Goes on when its ask was answered, with the value that was asked for. */
  answered?(step: Held<P> & AnyStep, scope: StepScope, kept: Json, value: Value): Outcome;
  /** Goes on when the steps in the slot it entered have ended. Without it the step is done. */
  nextTurn?(step: Held<P> & AnyStep, scope: StepScope, kept: Json): Outcome;
  /** What is unfinished beyond properties that are not filled in; the first counts. */
  notes?(step: Held<P> & AnyStep, at: StepStanding): Unfilled[];
  /** Once its properties have changed: an earlier form of it as today's. */
  upgrade?: Upgrade;
}

type StepData<K extends string, P extends Properties> = Pick<
  StepDefinition<K, P>,
  'do' | 'said' | 'properties' | 'lasts' | 'only'
>;
/** Defines a kind of step: first what it is and holds, then what it does. */
export const defineStep = <const K extends string, P extends Properties>(data: StepData<K, P>) => ({
  does: (functions: Omit<StepDefinition<K, P>, keyof StepData<K, P>>): StepDefinition<K, P> => ({
    ...data,
    ...functions,
  }),
});

/** A definition of any kind, as generic code sees it. */
export interface AnyStepDefinition extends Pick<StepDefinition, 'do' | 'said' | 'properties' | 'lasts' | 'only'> {
  begin(at: { id(letter: string): string }): object;
  gives?(step: AnyStep, app: Asking): Type;
  start(step: AnyStep, scope: StepScope): Outcome;
  answered?(step: AnyStep, scope: StepScope, kept: Json, value: Value): Outcome;
  nextTurn?(step: AnyStep, scope: StepScope, kept: Json): Outcome;
  notes?(step: AnyStep, at: StepStanding): Unfilled[];
  upgrade?: Upgrade;
}
export type StepKinds = ReadonlyMap<string, AnyStepDefinition>;
