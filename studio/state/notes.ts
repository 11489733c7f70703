import { useDeferredValue } from 'react';
import { preflight, type Note } from '../../core/preflight/preflight.ts';
import type { App } from '../../core/app/schema.ts';
import { useApp } from './studio.ts';

const seen = new WeakMap<App, Note[]>();

/** Looks an app over once for each state of the document. */
function notesOf(app: App): Note[] {
  const notes = seen.get(app) ?? preflight(app);
  seen.set(app, notes);
  return notes;
}

/** What preflight finds in the app as it is now. */
export const useNotes = (): Note[] => notesOf(useDeferredValue(useApp()));

/** Where in the studio a note is about. */
export function noteTo(n: Note): string {
  if (n.workspace === 'data') return `data/${n.table ?? ''}${n.field ? `/${n.field}` : ''}`;
  if (n.workspace === 'logic') return `logic/${n.routine ?? ''}`;
  if (n.workspace === 'people') return `people/${n.rule ?? ''}`;
  if (n.workspace === 'services') return `services/${n.service ?? ''}`;
  return `screens/${n.screen ?? ''}${n.element ? `/${n.element}` : ''}`;
}
