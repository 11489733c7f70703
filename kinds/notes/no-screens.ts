import { defineNote } from '../../core/preflight/note.ts';

/** An app without a screen shows nothing. */
export const noScreens = defineNote({
  name: 'no screen',
  find: ({ app }) =>
    app.screens.length ? [] : [{ severity: 'stops', said: 'The app has no screen.', workspace: 'screens' }],
});
