import { defineNote, type Note } from '../../core/preflight/note.ts';
import { orderMistakes } from '../../core/preflight/step-order.ts';

/** Routines whose steps stand in an order that cannot be meant; the first such place of each is told. */
export const mistakenOrder = defineNote({
  name: 'steps in an order that cannot be meant',
  find: ({ app, model }) =>
    app.routines.flatMap((r): Note[] =>
      orderMistakes(r, model.nameOf)
        .slice(0, 1)
        .map((m) => ({ workspace: 'logic', routine: r.id, severity: 'look', said: `${r.name}: ${m.said}` })),
    ),
});
