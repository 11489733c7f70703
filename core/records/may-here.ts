import type { Tap } from '../document/pieces.ts';
import type { CompileOptions } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import type { Draft } from './change.ts';
import type { KeptValue } from './kept-value.ts';
import type { Row } from './row.ts';

/** What a list lets people do with its rows: a swipe, something with every marked one, a field that is set by dragging. */
export interface Offers {
  swipe?: Tap | undefined;
  several?: Tap | undefined;
  ordered?: string | undefined;
}
/** The ids of rows for which each of these would be refused. */
export type RefusedOf = Partial<Record<keyof Offers, string[]>>;

/** What whoever uses the app here may do with its records, as far as that is known here. */
export interface MayHere {
  /** Why a change would be refused, in words; null where it would not be, or that is not known here. */
  refusal(draft: Draft): string | null;
  /** The fields of a record that may be changed, as it is now. */
  changes(row: Row): ReadonlySet<string>;
  removes(row: Row): boolean;
  /** May what happened to a record be looked at? */
  looksBack(row: Row): boolean;
  /** The fields of a new record of a table that may be filled in; null where none may be added. */
  adds(table: string): ReadonlySet<string> | null;
  /** Would what a tap does be refused, with what is at hand where it stands, the nearest last? */
  refusesTap(tap: Tap, frame: readonly Value[]): boolean;
  /** What of a list would be refused for which of its rows, with what is at hand where the list stands. */
  refusedOf(rows: readonly Row[], offers: Offers, frame: readonly Value[]): RefusedOf;
  /** Does a formula that names a field come to nothing because that is hidden from them? */
  hides(formula: string, frame: Value[], options: CompileOptions): boolean;
  /** A value that the host has worked out, as formulas see it. */
  told(kept: KeptValue): Value;
  /** Is a screen closed to them? */
  isClosed(screen: string): boolean;
}
