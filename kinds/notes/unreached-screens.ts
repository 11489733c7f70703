import { defineNote } from '../../core/preflight/note.ts';
import { reachedScreens } from '../../core/preflight/reached.ts';

/** Screens that no tab, tap or step opens. */
export const unreachedScreens = defineNote({
  name: 'screens nobody reaches',
  find({ app }) {
    const reached = reachedScreens(app);
    return app.screens
      .filter((s) => !reached.has(s.id))
      .map((s) => ({
        severity: 'look',
        said: `${s.name} cannot be reached: no tab and no tap opens it.`,
        workspace: 'screens',
        screen: s.id,
      }));
  },
});
