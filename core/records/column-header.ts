import { fieldKind } from '../fields/kinds.ts';
import { isKnownUnit } from '../fields/units.ts';
import type { Field } from '../tables/schema.ts';

/** Units in the headers of columns, as people write them: “Weight (kg)”. */

/** A header and the unit at its end; null for any other. */
export function readHeader(header: string): { name: string; unit: string } | null {
  const m = /^(.*\S)\s*[([]\s*([^()[\]]{1,8}?)\s*[)\]]$/.exec(header.trim());
  return m && isKnownUnit(m[2]!) ? { name: m[1]!, unit: m[2]! } : null;
}

/** The unit that a field’s numbers have in a file; undefined for fields without one. */
export const unitOfField = (f: Field): string | undefined => f.unit ?? fieldKind(f.type).usualUnit;

/** The header of a field’s column, with its unit where every reader knows it. */
export function headerOf(f: Field): string {
  const unit = unitOfField(f);
  return unit !== undefined && isKnownUnit(unit) ? `${f.name} (${unit})` : f.name;
}

/** The unit that stands beside each value, where the header does not have it. */
export function besideValues(f: Field): string {
  const unit = unitOfField(f);
  return unit === undefined || isKnownUnit(unit) ? '' : ` ${unit}`;
}

/** The name of a field’s values: with their unit, and shares in percent. */
export const nameWithUnit = (f: Field): string =>
  fieldKind(f.type).range?.times === 100 ? `${f.name} (%)` : headerOf(f);
