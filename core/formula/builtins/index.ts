import type { Builtin } from './define.ts';
import { CONVERSION_FUNCTIONS } from './convert.ts';
import { LIST_FUNCTIONS } from './lists.ts';
import { NUMBER_FUNCTIONS } from './numbers.ts';
import { TEXT_FUNCTIONS } from './text.ts';

export type { Builtin, Runtime } from './define.ts';

let table: Map<string, Builtin> | undefined;
const more: Builtin[] = [];

/** Gives functions that come apart from the others: phones fetch them for apps that use them. */
export function addFunctions(functions: readonly Builtin[]): void {
  more.push(...functions);
  table = undefined;
}

/** All built-in functions by name. Made on first use, because parsing and ranges know each other. */
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
