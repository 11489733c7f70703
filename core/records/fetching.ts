import type { Query } from '../document/pieces.ts';
import type { Cell } from '../fields/lists.ts';
import type { Problem } from '../formula/ast.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import type { Model, Thing } from './model.ts';
import type { Row } from './row.ts';

/** The answer of a service for one place, as far as it is here. */
export interface FetchedRows {
  /** Its records in their order; null while nothing has come. */
  rows: readonly Row[] | null;
  /** It is being asked for now. */
  asking: boolean;
  /** Why it could not be had the last time, in words; null where it could. */
  said: string | null;
  /** When it came, in milliseconds; null while nothing has come. */
  at: number | null;
  /** There are more records than have come. */
  more: boolean;
  /** What waits here to be written to the table at its service, with why it was refused; absent where nothing does. */
  waits?: readonly { record: string; title: string; said: string | null }[];
}

/** What a list is told of the answer it shows, as plain data. */
export type FetchState = Omit<FetchedRows, 'rows'>;

/** Fetches what services answer, and puts it among the records. What comes changes the record of answers. */
export interface Fetcher {
  /**
   * The records that a fetched table’s request answers to these inputs. They are asked for where they are not here, or
   * not fresh any more. `place` is who shows them: of what it asks for quickly one after the other the last counts.
   */
  rows(table: string, inputs: Readonly<Record<string, Cell>>, place: object): FetchedRows;
  /** More of them are wanted. */
  more(table: string, inputs: Readonly<Record<string, Cell>>): void;
  /** One record is wanted that is not here, by its id. What is known of it, for whoever shows it. */
  one(table: string, id: string): FetchState;
  /** All that is shown is asked for again. */
  refresh(): void;
  /** A record of a table was written at its service: what is shown of the table is asked for again. */
  changed(table: string): void;
  /** A record is asked for again now; resolves when it is here as it is, or cannot be had. */
  renew(table: string, id: string): Promise<void>;
  /** What failed is asked for again. */
  retry(): void;
}

/** What a query gives to the request of its fetched table, compiled. */
export interface Asks {
  readonly problems: readonly Problem[];
  readonly reads: readonly Dependency[];
  /** The input that takes what people look for; null where that is looked for among the records here. */
  readonly search: string | null;
  /** What the inputs are given, in the order of their ids. */
  at(frame: Value[], search: string): Record<string, Cell>;
  /** One place that shows what is answered. */
  place(frame: Value[], fetcher: () => Fetcher | null): AskingPlace;
}

/** A place that shows what a service answers. */
export interface AskingPlace {
  /** What is known of the answer that it shows; null where nothing is fetched here. */
  state(wanted: string): FetchState | null;
  /** Its records: those of before until there are newer ones; null where nothing is fetched here. */
  rows(wanted: string): readonly Row[] | null;
  /** More is wanted where what is shown comes near the end of what is here. */
  wantsMore(wanted: string): void;
  /** Are other words another question to the service? */
  differs(wanted: string): boolean;
}

/** Compiles what a query asks; phones fetch it with the first screen that shows a fetched table. */
export const asking: {
  compile: ((model: Model, query: Pick<Query, 'table' | 'asks'>, things: readonly Thing[]) => Asks) | null;
} = { compile: null };
