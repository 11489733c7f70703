import { VARIABLES } from '../../../core/document/ids.ts';
import { formula, oneOf, variable } from '../../../core/document/meaning.ts';
import { plus } from '../../../core/formula/operators.ts';
import { keptCell } from '../../../core/records/cells.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError, type StepScope } from '../../../core/routines/step.ts';
import type { Value } from '../../../core/formula/values.ts';
import type { Field } from '../../../core/tables/schema.ts';

export const setVariable = defineStep({
  do: 'variable',
  said: { name: 'Set a variable', hint: 'set, add to, put behind, clear' },
  only: 'phone',
  properties: {
    how: oneOf('what is done', { set: 'Set', add: 'Add to', append: 'Put behind', clear: 'Clear' }),
    variable: variable('the variable', {
      unfilled: { severity: 'stops', said: 'the variable to set is not chosen yet.' },
    }),
    value: formula('the value', 'any'),
  },
}).does({
  begin: () => ({ how: 'set', variable: '', value: '' }),
  notes: (step) =>
    step.how !== 'clear' && !step.value
      ? [{ severity: 'stops', said: 'the value of a variable is not filled in yet.' }]
      : [],
  start(step, s) {
    const field = s.records.model.tables.get(VARIABLES)?.fields.get(step.variable);
    if (!field) throw new StepError('The variable to set is not chosen yet.');
    const { next, said } = step.how === 'clear' ? { next: null, said: 'nothing' } : changed(step, field, s);
    return {
      ask: { ask: 'variable', variable: field.id, cell: keptCell(field, next) },
      did: {
        said: `${SAID[step.how]} ${field.name}${step.how === 'clear' ? '' : `: ${said}`}`,
        gave: display(next, field),
      },
    };
  },
});

const SAID = { set: 'Set', add: 'Added to', append: 'Put behind', clear: 'Cleared' } as const;

function changed(step: { how: string; value: string }, field: Field, s: StepScope): { next: Value; said: string } {
  const { value, text } = s.value(step.value, `The value for ${field.name}`);
  if (step.how === 'set') return { next: value, said: text || 'nothing' };
  const now = s.value(field.id, field.name).value;
  if (step.how === 'append') {
    const behind = Array.isArray(value) ? value : [value];
    if (field.several) return { next: [...(Array.isArray(now) ? now : []), ...behind], said: text };
    return { next: `${display(now)}${text}`, said: text };
  }
  // Nothing yet counts as nothing to add to.
  const sum = now === null ? value : plus(now, value);
  if (sum === null) throw new StepError(`${text || 'Nothing'} cannot be added to ${field.name}.`);
  return { next: sum, said: text };
}
