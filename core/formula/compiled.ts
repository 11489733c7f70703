import type { Problem } from './ast.ts';
import type { Run } from './closures.ts';
import type { NamesInScope } from './names-in-scope.ts';

import type { Dependency, Name, Shapes } from './scope.ts';
import type { Type } from './types.ts';

/** A formula ready to run, with what is known about it before it has. */
export interface Compiled {
  type: Type;
  run: Run;
  problems: Problem[];
  /** Places in the text that name something, with the id of what they name. */
  references: { from: number; to: number; id: string }[];
  dependencies: Dependency[];
  /** True when the result changes by itself: with the clock or by chance. */
  volatile: boolean;
}

export interface CompileOptions {
  names?: readonly Name[];
  /** The same names ready to be looked up, where many formulas are compiled among them. */
  known?: NamesInScope;
  shapes?: Shapes;
  /** The first slot of the frame that is free for the formula's own variables. Slot 0 is the runtime. */
  firstSlot?: number;
}
