import type { DeviceState, Frame } from './api.ts';

/** What the engine tells the page. */
export type EngineEvent =
  | { kind: 'frame'; frame: Frame; updated: boolean }
  | { kind: 'state'; state: DeviceState }
  | { kind: 'say'; words: string }
  /** Another app, of this name, is at the address now: what is told of the one before. */
  | { kind: 'moved'; name: string; words: string }
  /** Nobody is signed in any more; so many changes wait on this device. */
  | { kind: 'sign in'; waiting: number }
  /** Views that will soon be shown. */
  | { kind: 'needs'; views: string[] };
