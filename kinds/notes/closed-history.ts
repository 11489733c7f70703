import { walkSteps } from '../../core/document/walk.ts';
import { defineNote } from '../../core/preflight/note.ts';

/** Routines that show the history of a record, where no rule lets anybody look back. */
export const closedHistory = defineNote({
  name: 'history that nobody may see',
  find({ app }) {
    if (app.access?.rules.some((r) => r.may.includes('look back'))) return [];
    return app.routines.flatMap((r) => {
      let shows = false;
      walkSteps(r.steps, (s) => (shows ||= s.do === 'look back' && !s.off));
      return shows
        ? [
            {
              severity: 'look' as const,
              said: `${r.name} shows the history of a record, and no rule lets anybody look back at one.`,
              workspace: 'logic' as const,
              routine: r.id,
            },
          ]
        : [];
    });
  },
});
