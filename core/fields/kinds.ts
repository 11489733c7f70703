import type { FieldDefinition } from './kind.ts';

// A plain map: phones have these with their first screen, and nothing of them is looked for before they are given.
const types = new Map<string, FieldDefinition>();

/** Gives the types of field that there are, in the order they are offered. */
export function giveFields(definitions: readonly FieldDefinition[]): void {
  for (const d of definitions) types.set(d.type, d);
}

/** Every type of field, in the order they are offered. */
export const fieldTypes = (): FieldDefinition[] => [...types.values()];

/** The definition of a type of field; plain text for one that is not known. */
export const fieldKind = (type: string): FieldDefinition => types.get(type) ?? types.get('text')!;
