import { screenOf } from '../../core/app/names.ts';
import { defineNote } from '../../core/preflight/note.ts';

/** Tabs whose screen was removed. */
export const lostTabs = defineNote({
  name: 'tabs without a screen',
  find: ({ app }) =>
    app.tabs
      .filter((t) => !screenOf(app, t.screen))
      .map((t) => ({
        severity: 'stops',
        said: `The tab ${t.name} opens a screen that is gone.`,
        workspace: 'screens',
      })),
});
