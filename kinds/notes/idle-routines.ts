import { defineNote, type Note } from '../../core/preflight/note.ts';
import { startedRoutines } from '../../core/preflight/reached.ts';

/** Routines without steps, and those that nothing starts. */
export const idleRoutines = defineNote({
  name: 'routines that do nothing',
  find({ app }) {
    const started = startedRoutines(app);
    return app.routines.flatMap((r): Note[] => {
      const at = { workspace: 'logic' as const, routine: r.id, severity: 'look' as const };
      return [
        ...(r.steps.length ? [] : [{ ...at, said: `${r.name} has no steps yet.` }]),
        ...(started.has(r.id) ? [] : [{ ...at, said: `${r.name} is not started by anything.` }]),
      ];
    });
  },
});
