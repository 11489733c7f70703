import { screenOpened } from './screen-opened/definition.ts';
import { tap } from './tap/definition.ts';
import type { TriggerKinds } from '../../core/routines/trigger.ts';

/** Every kind of trigger, in the order the index shows them. One line a kind. */
export const TRIGGERS = [tap, screenOpened] as const;

export const triggerKinds: TriggerKinds = new Map(TRIGGERS.map((d) => [d.on, d]));
