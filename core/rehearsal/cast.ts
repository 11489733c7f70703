/** So many phones stand side by side at most. */
export const MOST_PHONES = 6;

/** As whom a phone is used: one of the people, somebody who has not signed in, or somebody who was just invited. */
export type Persona =
  { is: 'person'; record: string } | { is: 'nobody' } | { is: 'invited'; mail: string; role?: string | undefined };
