import type { Cell } from '../fields/lists.ts';
import type { Draft } from '../records/change.ts';

/** How a screen opens, and what its own variables begin with, by their ids. */
export interface Opened {
  as?: 'over' | 'instead' | 'sheet' | undefined;
  height?: 'low' | 'half' | 'full' | undefined;
  values?: Record<string, Cell> | undefined;
}

/**
 * What a routine asks of the world, as data. Each is answered before the routine goes on, so that the same routine
 * runs in a page, on a server and in a test, and can be put away between an ask and its answer.
 */
export type Ask =
  /** Changes to records. `together` are taken or refused as one. */
  | { ask: 'write'; drafts: Draft[]; together: boolean }
  | ({ ask: 'open'; screen: string; record: string | null } & Opened)
  | { ask: 'back' }
  | { ask: 'message'; words: string }
  | { ask: 'variable'; variable: string; cell: Cell }
  | { ask: 'mail'; id: string; to: string[]; subject: string; body: string }
  /** Nothing until a time, in milliseconds as the world's clock counts them. */
  | { ask: 'wait'; until: number };

export type Answer = { ok: true } | { ok: false; reason: string };

/** Does what routines ask. Each promise resolves when it is done, and rejects with words when it cannot be. */
export type Ports = { [A in Ask['ask']]: (ask: Extract<Ask, { ask: A }>) => Promise<void> | void };

/** Answers an ask by the port for it. Never rejects: what went wrong is in the answer. */
export async function answerTo(ask: Ask, ports: Ports): Promise<Answer> {
  try {
    await (ports[ask.ask] as (ask: Ask) => Promise<void> | void)(ask);
    return { ok: true };
  } catch (e) {
    return { ok: false, reason: (e as Error).message };
  }
}
