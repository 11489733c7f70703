import type { Still } from '../rehearsal/seen.ts';

/** What came of a step when its scene was played. */
export interface StepResult {
  step: string;
  did: 'passed' | 'failed' | 'left out' | 'not reached';
  /** The time of the scene then, in milliseconds since 1970. */
  at: number;
  /** What is otherwise, in a sentence; of an expectation also both sides. */
  said?: string;
  expected?: string;
  actual?: string;
  /** What is most like what was looked for. */
  nearest?: string[];
  /** Why it may be so, by the rules. */
  why?: string;
  /** It went on, with something found by its words or name. */
  remarks: string[];
}

/** What a phone showed after a step. */
export interface PhoneStill {
  /** The member of the cast. */
  who: string;
  name: string;
  isOpen: boolean;
  /** Nobody has signed in, and without that nothing is shown. */
  isShut: boolean;
  still: Still | null;
}

export interface SceneResult {
  scene: string;
  passed: boolean;
  /** The first difference, with where it is. */
  failed: StepResult | null;
  steps: StepResult[];
  /** How long it took, in milliseconds. */
  ms: number;
  /** Why it could not begin; absent where it did. */
  problem?: string;
  touched: Touched;
  /** The ids that records have now which had others when it was recorded. */
  ids: Record<string, string>;
}

/** What of an app a scene has come to, by ids. */
export interface Touched {
  screens: string[];
  routines: string[];
  forms: string[];
  rules: string[];
  roles: string[];
}
