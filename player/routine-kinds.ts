import type { AnyStepDefinition } from '../core/routines/step.ts';
import type { AnyTriggerDefinition } from '../core/routines/trigger.ts';

// Where each kind is fetched from, in a file of its own: no screen waits for it.
export const steps = import.meta.glob<Record<string, AnyStepDefinition>>('../kinds/steps/*/definition.ts');
export const triggers = import.meta.glob<Record<string, AnyTriggerDefinition>>('../kinds/triggers/*/definition.ts');
