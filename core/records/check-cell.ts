import { fieldKind } from '../fields/kinds.ts';
import { keptProblem } from '../fields/kept-file.ts';
import { MAX_CELL } from '../fields/kind.ts';
import { listCell, type Cell } from '../fields/lists.ts';
import { patternFits } from '../fields/pattern.ts';
import type { Field } from '../tables/schema.ts';
import { readCell } from './cells.ts';

/** Says why a cell may not stand in a field, or null when it may. Sizes are bounded here for every border. */
export function checkCell(field: Field, cell: unknown): string | null {
  if (cell === null) return null;
  if (field.type === 'formula') return `${field.name} is worked out and cannot be written.`;
  if (field.link?.kind === 'matched') return `${field.name} follows from another field and cannot be written.`;
  const { longest = MAX_CELL, tooLong, holdsFile } = fieldKind(field.type);
  if (typeof cell === 'string' && cell.length > longest)
    return tooLong?.(field) ?? `${field.name} is longer than ${longest.toLocaleString('en-GB')} characters.`;
  if (typeof cell !== 'string' && typeof cell !== 'number' && typeof cell !== 'boolean')
    return `${field.name} takes one plain value.`;
  const unkept = holdsFile && typeof cell === 'string' ? keptProblem(cell) : null;
  if (unkept) return unkept;
  if (cell !== '' && readCell(field, cell) === null)
    return `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)} for ${field.name}.`;
  return rangeProblem(field, cell) ?? choiceProblem(field, cell) ?? patternProblem(field, cell);
}

function choiceProblem(field: Field, cell: unknown): string | null {
  if (!field.only || field.type !== 'choice' || !field.choices?.length) return null;
  const odd = (field.several ? listCell(cell as Cell) : [String(cell)]).find(
    (c) => c !== '' && !field.choices!.some((x) => x.name === c),
  );
  return odd === undefined
    ? null
    : `“${odd.slice(0, 40)}” is none of the choices of ${field.name}: ${field.choices
        .slice(0, 6)
        .map((c) => c.name)
        .join(', ')}${field.choices.length > 6 ? ' and others' : ''}.`;
}

const patternProblem = (field: Field, cell: unknown): string | null =>
  !field.pattern || typeof cell !== 'string' || cell === '' || patternFits(field.pattern, cell)
    ? null
    : `${field.name} looks like ${field.pattern}, where # is a digit and @ a letter; “${cell.slice(0, 40)}” does not.`;

function rangeProblem(field: Field, cell: unknown): string | null {
  if (typeof cell !== 'number') return null;
  if (field.least !== undefined && cell < field.least)
    return `${field.name} is at least ${shownLimit(field, field.least)}.`;
  if (field.most !== undefined && cell > field.most)
    return `${field.name} is at most ${shownLimit(field, field.most)}.`;
  return null;
}

const shownLimit = (field: Field, n: number): string => fieldKind(field.type).limit?.(n) ?? String(n);

export const spokenType = (field: Pick<Field, 'type'>): string => fieldKind(field.type).name;
