import { lostMoves as find } from '../../core/preflight/lost-moves.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';

/** Routines that set a number to itself and something more; the first such place of each is told. */
export const lostMoves = defineNote({
  name: 'numbers whose changes get lost',
  find: ({ app, model }) =>
    app.routines.flatMap((r): Note[] =>
      find(r.steps, (id) => model.field(id))
        .slice(0, 1)
        .map((m) => ({
          workspace: 'logic',
          routine: r.id,
          severity: 'look',
          said: `${r.name}: ${m.said} Raise or lower it by the amount instead.`,
        })),
    ),
});
