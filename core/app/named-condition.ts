import type { Where } from '../document/pieces.ts';
import { compile } from '../formula/compile.ts';
import { whereText } from '../formula/guided.ts';
import type { Model } from '../records/model.ts';
import { fieldOf, tableOf } from '../tables/names.ts';
import { addField } from './edits.ts';
import type { App } from './schema.ts';

/**
 * Conditions on the records of a table as a formula that a field can keep; null while a place of one is not filled in, and
 * where they go by something that only this place of the app has.
 */
export function keptCondition(model: Model, table: string, where: Where): string | null {
  const formula = whereText(where);
  if (!formula) return null;
  const { problems, type } = compile(formula, model.optionsFor(table));
  return type.k === 'boolean' && !problems.some((p) => p.severity === 'error') ? formula : null;
}

/** Keeps a condition as a yes or no field with a name, so that other places go by the same one. Gives the field's id. */
export function nameCondition(app: App, table: string, name: string, formula: string): string {
  const field = addField(app, table, 'formula', name);
  field.formula = formula;
  return field.id;
}

/** The conditions that go by a named one alone. */
export const byName = (field: string): Where => ({
  match: 'all',
  conditions: [{ left: field, op: 'is', right: 'true' }],
});

/** Do these conditions go by a kept one alone already? */
export function isNamed(app: Pick<App, 'tables'>, table: string, where: Where): boolean {
  const [c, ...others] = where.conditions;
  if (!c || others.length || where.groups?.length || c.op !== 'is' || c.right !== 'true') return false;
  return fieldOf(tableOf(app, table), c.left)?.type === 'formula';
}
