import type { Cell } from '../fields/lists.ts';
import { tableOf } from '../tables/names.ts';
import type { Role } from './access-schema.ts';
import type { App } from './schema.ts';

/** A text that is written as it is in a formula; undefined for anything else. */
function plainText(formula: string): string | undefined {
  if (!/^\s*"(?:[^"\\]|\\.)*"\s*$/.test(formula)) return undefined;
  try {
    return JSON.parse(formula) as string;
  } catch {
    return undefined;
  }
}

/**
 * What fields of somebody's record must hold, so that they have a role; null where its conditions ask for more than that
 * fields of the record say yes, or are a text.
 */
export function givesRole(app: Pick<App, 'tables' | 'people'>, { where }: Role): Record<string, Cell> | null {
  const fields = tableOf(app, app.people ?? '')?.fields ?? [];
  if (where.groups?.length || where.conditions.length === 0) return null;
  if (where.match !== 'all' && where.conditions.length > 1) return null;
  const cells: Record<string, Cell> = {};
  for (const { left, op, right } of where.conditions) {
    const field = fields.find((f) => f.id === left && !f.formula && !f.link && !f.several);
    const text = op === 'is' ? plainText(right) : undefined;
    if (!field || left in cells) return null;
    if (field.type === 'yesno' && (op === 'holds' || (op === 'is' && right.trim() === 'true'))) cells[left] = true;
    else if ((field.type === 'choice' || field.type === 'text') && text) cells[left] = text;
    else return null;
  }
  return cells;
}
