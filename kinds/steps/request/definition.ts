import { fieldValues, optional, request as requestOf, result, text, yesNo } from '../../../core/document/meaning.ts';
import { isContext } from '../../../core/formula/values.ts';
import { display } from '../../../core/records/format.ts';
import { toCell } from '../../../core/records/cells.ts';
import { defineStep, StepError } from '../../../core/routines/step.ts';
import { answerType, requestIn } from '../../../core/services/answer-type.ts';

/** Asks a service, and takes what the request picks out of its answer. */
export const requestStep = defineStep({
  do: 'request',
  said: { name: 'Ask a service', hint: 'and take what it answers' },
  properties: {
    request: requestOf('the request', { unfilled: { severity: 'stops', said: 'the request is not chosen.' } }),
    values: optional(fieldValues('what its inputs are given', 'request')),
    /** Where a server stopped before the answer came: is it asked again, with the same key, or not? */
    onceAtMost: optional(yesNo('at most once')),
    result: result('what it is called'),
    resultName: text('what it is called'),
  },
}).does({
  begin: ({ id }) => ({ request: '', result: id('v'), resultName: 'the answer' }),
  gives: (step, app) => answerType(app, step.request),
  notes(step, { services }) {
    const request = requestIn({ tables: [], services }, step.request);
    if (!request) return [];
    const missing = request.inputs.find((i) => !i.optional && !(step.values ?? []).some((v) => v.field === i.id));
    return missing ? [{ severity: 'stops', said: `${request.name} needs ${missing.name}, and is given none.` }] : [];
  },
  start(step, s) {
    const request = requestIn({ tables: [], services: s.services }, step.request);
    if (!request) throw new StepError('The request is not chosen yet.');
    const inputs = Object.fromEntries(
      (step.values ?? []).map((v) => {
        const input = request.inputs.find((i) => i.id === v.field);
        return [v.field, toCell(s.value(v.value, input ? `The value for ${input.name}` : 'A value it is given').value)];
      }),
    );
    return {
      ask: { ask: 'service', request: request.id, inputs, ...(step.onceAtMost && { onceAtMost: true }) },
      kept: request.name,
    };
  },
  answered(_step, _s, kept, value) {
    const status = isContext(value) ? value['status'] : null;
    return {
      did: {
        said: `Asked ${String(kept)}`,
        gave: status === null || status === undefined ? 'done' : `answered ${display(status)}`,
        result: value,
      },
    };
  },
});
