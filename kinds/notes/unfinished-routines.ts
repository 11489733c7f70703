import type { Unfilled } from '../../core/document/meaning.ts';
import { walkSteps } from '../../core/document/walk.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { propertyNotes } from '../../core/preflight/places.ts';
import { startedRoutines } from '../../core/preflight/reached.ts';
import { thingsInRoutine } from '../../core/routines/program.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';

/** Routines with a step or a trigger that is not filled in or does not work out; the first such place is told. */
export const unfinishedRoutines = defineNote({
  name: 'routines that are not finished',
  find({ app, model, steps }) {
    const started = startedRoutines(app);
    return app.routines.flatMap((r): Note[] => {
      const reach = { things: thingsInRoutine(steps, model, r), form: null };
      let first: Unfilled | undefined;
      const take = (notes: readonly Unfilled[]): void => {
        first ??= notes.find((n) => n.severity === 'stops');
      };
      for (const t of r.starts ?? [])
        take(propertyNotes(model, app, triggerKinds.get(t.on)?.properties ?? {}, t, reach));
      walkSteps(r.steps, (s) => {
        const definition = steps.get(s.do)!;
        take([
          ...propertyNotes(model, app, definition.properties, s, reach),
          ...(definition.notes?.(s, { tables: app.tables, screens: app.screens, routines: app.routines }) ?? []),
        ]);
      });
      return first
        ? [
            {
              workspace: 'logic',
              routine: r.id,
              severity: started.has(r.id) ? 'stops' : 'look',
              said: `${r.name}: ${first.said}`,
            },
          ]
        : [];
    });
  },
});
