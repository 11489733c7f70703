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
        // By a step, by the button of a message. A timer that is switched is started by itself.
        const { routine: named } = s as typeof s & { routine?: string };
        runs ||= s.do !== 'timer' && r.id !== routine && named === routine;
      });
      return runs ? [{ said: `${r.name} runs it`, routine: r.id }] : [];
    }),
});
