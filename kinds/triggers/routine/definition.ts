import { walkSteps } from '../../../core/document/walk.ts';
import { defineTrigger } from '../../../core/routines/trigger.ts';

/** A step of another routine. It is kept with that step. */
export const byRoutine = defineTrigger({
  on: 'routine',
  said: { group: 'Run by other routines', name: 'another routine' },
  properties: {},
}).does({
  starters: (app, routine) =>
    app.routines.flatMap((r) => {
      let runs = false;
      walkSteps(r.steps, (s) => {
        runs ||= s.do === 'run' && r.id !== routine && (s as typeof s & { routine?: string }).routine === routine;
      });
      return runs ? [{ said: `${r.name} runs it`, routine: r.id }] : [];
    }),
});
