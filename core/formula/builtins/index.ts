import type { Builtin } from './define.ts';
import { CONVERSION_FUNCTIONS } from './convert.ts';
import { LIST_FUNCTIONS } from './lists.ts';
import { NUMBER_FUNCTIONS } from './numbers.ts';
import { TEXT_FUNCTIONS } from './text.ts';

export type { Builtin, Runtime } from './define.ts';

/** Functions that come with files of their own, since few formulas call them. */
const more: Builtin[] = [];
let table: Map<string, Builtin> | undefined;

export function addBuiltins(functions: readonly Builtin[]): void {
  more.push(...functions);
  table = undefined;
}

/** The built-in functions that are here, by name. Made on first use, because parsing and ranges know each other. */
export function builtins(): ReadonlyMap<string, Builtin> {
  table ??= new Map(
    [...TEXT_FUNCTIONS, ...NUMBER_FUNCTIONS, ...LIST_FUNCTIONS, ...CONVERSION_FUNCTIONS, ...more].map((b) => [
      b.name,
      b,
    ]),
  );
  return table;
}

export const builtinNames = (): string[] => [...builtins().keys()];

/** The functions of ranges, as a formula calls them. */
const OF_RANGES =
  /\b(before|after|meets|met by|overlaps(?: before| after)?|overlapped by|finishes|finished by|includes|during|starts|started by|coincides|range)\s*\(/;
/** Does a part of a document hold a formula that needs them? Anything like one counts. */
export const usesRanges = (json: string): boolean => OF_RANGES.test(json);
