import type { App } from '../app/schema.ts';
import { Looking, type Note, type NoteDefinition } from './note.ts';

export type { Note } from './note.ts';

let given: readonly NoteDefinition[] = [];

/** Gives what preflight looks for, in the order its notes are listed. */
export function giveNotes(notes: readonly NoteDefinition[]): void {
  given = notes;
}

/** Looks an app over without running it: what is unfinished, broken or unreachable, each with its place. */
export function preflight(app: App): Note[] {
  const at = new Looking(app);
  return given.flatMap((n) => n.find(at));
}

/** Would any note keep the app from being released? */
export const stops = (notes: readonly Note[]): boolean => notes.some((n) => n.severity === 'stops');
