import { GivenKinds } from '../document/given.ts';
import type { FieldDefinition } from './kind.ts';

const types = new GivenKinds<FieldDefinition>('types of field');

/** Gives the types of field that there are, in the order they are offered. */
export function giveFields(definitions: readonly FieldDefinition[]): void {
  for (const d of definitions) types.set(d.type, d);
}

/** Every type of field, in the order they are offered. */
export const fieldTypes = (): FieldDefinition[] => [...types.values()];

/** The definition of a type of field; plain text for one that is not known. */
export const fieldKind = (type: string): FieldDefinition => types.get(type) ?? types.get('text')!;
