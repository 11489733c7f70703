import { defineNote, type Note } from '../../core/preflight/note.ts';
import { startedRoutines } from '../../core/preflight/reached.ts';
import { orderMistakes } from '../../core/preflight/step-order.ts';

/** Routines whose steps stand in an order that cannot be meant; the first such place of each is told. */
export const mistakenOrder = defineNote({
  name: 'steps in an order that cannot be meant',
  find({ app, model }) {
    const started = startedRoutines(app);
    return app.routines.flatMap((r): Note[] => {
      const all = orderMistakes(r, model.nameOf);
      const worst = all.find((m) => m.fails) ?? all[0];
      if (!worst) return [];
      const severity = worst.fails && started.has(r.id) ? 'stops' : 'look';
      return [{ workspace: 'logic', routine: r.id, severity, said: `${r.name}: ${worst.said}` }];
    });
  },
});
