import type { Node, Problem, Span } from './ast.ts';
import type { Run } from './closures.ts';
import type { Plan, Side } from './plan.ts';
import type { Reads } from './reads.ts';
import type { Frame, Origin, Scope } from './scope.ts';
import type { Type } from './types.ts';
import type { Value } from './values.ts';

/** A compiled part of a formula: its type, how it runs, and where its records come from. */
export interface Piece {
  type: Type;
  run: Run;
  origin?: Origin;
  /** How its condition finds items, for a part of a list. */
  planned?: Planned;
}

/** A list of those items that fulfil a condition, and its plan. */
export interface Planned {
  plan: Plan;
  /** The list before the condition. */
  list: (f: Frame) => Value[];
  /** What is read from each item, once a field has been asked for. */
  of?: (item: Value) => Value;
}

/** What the parts of the compiler ask of the whole. */
export interface Compiling {
  node(n: Node, scope: Scope): Piece;
  problem(at: Span, message: string, severity?: Problem['severity']): void;
  /** A place in the frame for a variable. */
  takeSlot(): number;
  giveSlots(count: number): void;
  /** Notes that the result changes by itself: with the clock or by chance. */
  markVolatile(name: string): void;
  /** What is compiled, and what it reads. */
  within<T>(work: () => T): [T, Reads];
  /** Notes that the part being compiled reads this, and nothing else. */
  readsOnly(reads: Reads): void;
  /** Compiles what is worked out for each turn of a loop over these variables. */
  inLoop<T>(slots: readonly number[], work: () => T): T;
  /** Keeps the sides of a comparison that is being compiled. */
  compared(n: Node, sides: { left: Side; right: Side }): void;
  /** The sides of a comparison that has been compiled. */
  sides(n: Node): { left: Side; right: Side } | undefined;
}
