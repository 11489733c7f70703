import type { ServiceRequest } from '../../core/services/schema.ts';

/** Changes a request as one named edit; `merge` names a change that belongs to the one before. */
export type ChangeRequest = (label: string, recipe: (r: ServiceRequest) => void, merge?: string) => void;
