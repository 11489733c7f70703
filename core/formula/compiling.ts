import type { Node, Problem, Span } from './ast.ts';
import type { Run } from './closures.ts';
import type { Origin, Scope } from './scope.ts';
import type { Type } from './types.ts';

/** A compiled part of a formula: its type, how it runs, and where its records come from. */
export interface Piece {
  type: Type;
  run: Run;
  origin?: Origin;
}

/** What the parts of the compiler ask of the whole. */
export interface Compiling {
  node(n: Node, scope: Scope): Piece;
  problem(at: Span, message: string, severity?: Problem['severity']): void;
  /** A place in the frame for a variable. */
  takeSlot(): number;
  giveSlots(count: number): void;
  /** Notes that the result changes by itself: with the clock or by chance. */
  markVolatile(): void;
}
