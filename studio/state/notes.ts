import { useMemo } from 'react';
import { preflight, type Note } from '../../core/preflight/preflight.ts';
import type { App } from '../../core/app/schema.ts';
import { useApp } from './studio.ts';

let last: { app: App; notes: Note[] } | null = null;

/** What preflight finds in the app as it is now; looked over once for each state of the document. */
export function useNotes(): Note[] {
  const app = useApp();
  return useMemo(() => {
    if (last?.app !== app) last = { app, notes: preflight(app) };
    return last.notes;
  }, [app]);
}

/** Where in the studio a note is about. */
export function noteTo(n: Note): string {
  if (n.workspace === 'data') return `data/${n.table ?? ''}${n.field ? `/${n.field}` : ''}`;
  if (n.workspace === 'logic') return `logic/${n.routine ?? ''}`;
  return `screens/${n.screen ?? ''}${n.element ? `/${n.element}` : ''}`;
}
