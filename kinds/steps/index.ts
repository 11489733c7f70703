import { add } from './add/definition.ts';
import { back } from './back/definition.ts';
import { each } from './each/definition.ts';
import { ifStep } from './if/definition.ts';
import { mail } from './mail/definition.ts';
import { message } from './message/definition.ts';
import { open } from './open/definition.ts';
import { remove } from './remove/definition.ts';
import { repeat } from './repeat/definition.ts';
import { set } from './set/definition.ts';
import { stop } from './stop/definition.ts';
import { together } from './together/definition.ts';
import { setVariable } from './variable/definition.ts';
import { wait } from './wait/definition.ts';
import type { StepKinds } from '../../core/routines/step.ts';

/** Every kind of step, in the order they are offered. One line a kind. */
export const STEPS = [
  set,
  add,
  remove,
  setVariable,
  ifStep,
  each,
  repeat,
  stop,
  together,
  mail,
  message,
  open,
  back,
  wait,
] as const;

export const stepKinds: StepKinds = new Map(STEPS.map((d) => [d.do, d]));
