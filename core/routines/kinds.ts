import { GivenKinds } from '../document/given.ts';
import type { AnyStepDefinition } from './step.ts';
import type { AnyTriggerDefinition } from './trigger.ts';

/** Every kind of step, in the order they are offered. A phone has none here: it fetches those its app uses. */
export const stepKinds = new GivenKinds<AnyStepDefinition>('kinds of step');

/** Every kind of trigger, in the order the index shows them. A phone has none here either. */
export const triggerKinds = new GivenKinds<AnyTriggerDefinition>('kinds of trigger');
