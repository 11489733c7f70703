import type { Sending } from '../../core/host/link.ts';
import type { Effect, Happened } from '../../core/session/effects.ts';

/** What the engine tells the page. */
export type EngineEvent =
  | { kind: 'changed'; tables: string[] }
  | { kind: 'happened'; what: Happened }
  | { kind: 'effect'; effect: Effect }
  | { kind: 'host'; online: boolean; waiting: number; sending: Sending | null }
  | { kind: 'mirror' }
  | { kind: 'failed'; words: string };
