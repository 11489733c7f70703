import { defineNote } from '../../core/preflight/note.ts';
import { reachedScreens } from '../../core/preflight/reached.ts';

/** Screens that people get to and see nothing on. */
export const emptyScreens = defineNote({
  name: 'empty screens',
  find({ app }) {
    const reached = reachedScreens(app);
    return app.screens
      .filter((s) => reached.has(s.id) && s.root.children.length === 0)
      .map((s) => ({
        severity: 'look',
        said: `${s.name} is empty: whoever opens it sees nothing.`,
        workspace: 'screens',
        screen: s.id,
      }));
  },
});
