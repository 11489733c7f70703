import { fieldValues, formula, optional, result, routine, text } from '../../../core/document/meaning.ts';
import { ANY } from '../../../core/formula/types.ts';
import { display } from '../../../core/records/format.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';

/** Runs another routine and takes back what it gives. */
export const run = defineStep({
  do: 'run',
  said: { name: 'Run a routine', hint: 'and take back what it gives' },
  properties: {
    routine: routine('the routine', { unfilled: { severity: 'stops', said: 'the routine to run is not chosen.' } }),
    record: optional(formula('what it is given', 'record')),
    values: optional(fieldValues('what its inputs are given', 'routine')),
    result: result('what it gives'),
    resultName: text('what it gives'),
  },
}).does({
  begin: ({ id }) => ({ routine: '', result: id('v'), resultName: 'what it gave' }),
  gives: () => ANY,
  notes(step, { routines }) {
    const target = routines.find((r) => r.id === step.routine);
    return target?.given && !step.record
      ? [{ severity: 'stops', said: `${target.name} needs a record, and is given none.` }]
      : [];
  },
  start(step, s) {
    const target = s.routines.find((r) => r.id === step.routine);
    if (!target) throw new StepError('The routine to run is not chosen yet.');
    const row = target.given && step.record ? s.record(step.record, 'What the routine is given') : null;
    if (target.given && row?.tableId !== target.given) throw new StepError(`${target.name} needs another record.`);
    const values = Object.fromEntries(
      (step.values ?? []).map((v) => {
        const input = target.inputs?.find((i) => i.id === v.field);
        return [v.field, s.value(v.value, input ? `The value for ${input.name}` : 'A value it is given').value];
      }),
    );
    return {
      call: target.id,
      record: row?.id ?? null,
      values,
      kept: row ? `${target.name} for ${row.title()}` : target.name,
    };
  },
  answered: (_step, _s, kept, value) => ({
    did: { said: `Ran ${String(kept)}`, gave: value === null ? 'done' : display(value), result: value },
  }),
});
