import type { App } from '../app/schema.ts';
export type { Persona } from '../app/scene-schema.ts';

/** So many phones stand side by side at most. */
export const MOST_PHONES = 6;

/** Nobody has signed in on a phone, and the app shows nothing without that. */
export const isShut = (app: App, { state }: { state: { person: string | null } }): boolean =>
  state.person === null && app.access !== undefined && app.access.opens !== 'anybody';
