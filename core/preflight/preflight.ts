import { NOTES } from '../../kinds/notes/index.ts';
import type { App } from '../app/schema.ts';
import { Looking, type Note } from './note.ts';

export type { Note } from './note.ts';

/** Looks an app over without running it: what is unfinished, broken or unreachable, each with its place. */
export function preflight(app: App): Note[] {
  const at = new Looking(app);
  return NOTES.flatMap((n) => n.find(at));
}

/** Would any note keep the app from being released? */
export const stops = (notes: readonly Note[]): boolean => notes.some((n) => n.severity === 'stops');
