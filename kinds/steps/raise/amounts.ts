import type { FieldValue } from '../../../core/document/pieces.ts';
import { canRaise } from '../../../core/records/raise.ts';
import { StepError, type StepScope } from '../../../core/routines/step.ts';
import type { Field } from '../../../core/tables/schema.ts';

/** The numbers that are added to fields of a table. Stops in words where one is none, or nothing can be added to its field. */
export function amountsOf(
  values: readonly FieldValue[],
  of: string,
  s: Pick<StepScope, 'records' | 'value'>,
): { field: Field; amount: number }[] {
  const table = s.records.model.tables.get(of);
  return values.map((v) => {
    const field = table?.fields.get(v.field);
    if (!field) throw new StepError('A field to raise is not chosen yet.');
    if (!canRaise(field)) throw new StepError(`Nothing can be added to ${field.name}: it keeps no number.`);
    const { value, text } = s.value(v.value, `The amount for ${field.name}`);
    if (typeof value !== 'number')
      throw new StepError(`The amount for ${field.name} is no number: ${text || 'nothing'}.`);
    return { field, amount: value };
  });
}
