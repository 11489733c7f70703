import type { Sending } from '../../core/host/link.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import type { Happened } from '../../core/session/effects.ts';

/** A run that stands before a step, with what it did so far. */
export interface PausedRun {
  run: string;
  step: string;
  trace: RunTrace;
  /** So many other runs stand still too, and are shown after it. */
  behind: number;
}

/** What the engine tells the page. */
export type EngineEvent =
  | { kind: 'changed'; tables: string[] }
  | { kind: 'happened'; what: Happened }
  | { kind: 'host'; online: boolean; waiting: number; sending: Sending | null }
  /** A run stands still, or goes on. */
  | { kind: 'paused'; paused: PausedRun | null }
  | { kind: 'mirror' }
  | { kind: 'failed'; words: string };
