import { variable } from '../../../core/document/meaning.ts';
import { startersKept } from '../../../core/routines/starters.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A variable has another value, by an input or by a step. */
export const variableChanged = defineTrigger({
  on: 'variable changed',
  said: { group: 'When a value changes', name: 'a variable changes' },
  properties: {
    variable: variable('the variable', { unfilled: { severity: 'stops', said: 'its variable is not chosen.' } }),
  },
  knows: ['value before', 'value now'],
}).does({
  begin: (app) => ({ variable: app.variables?.[0]?.id ?? '' }),
  starters: (app, routine) =>
    startersKept<{ on: 'variable changed'; variable?: string }>(app, routine, 'variable changed', (t) => {
      const found = app.variables?.find((v) => v.id === t.variable);
      return found ? { said: `${found.name} changes` } : null;
    }),
  answers: (trigger, happening) =>
    happening.on === 'variable changed' &&
    happening.variable === trigger.variable && {
      record: null,
      knows: { 'value before': happening.before, 'value now': happening.now },
    },
});
