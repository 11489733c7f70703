export type { Persona } from '../app/scene-schema.ts';

/** So many phones stand side by side at most. */
export const MOST_PHONES = 6;
