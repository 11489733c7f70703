import { stoppedWords } from '../formula/guarded.ts';
import type { Condition, Where } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import type { Dependency } from '../formula/scope.ts';
import { compile, type Compiled, type CompileOptions, type Run } from '../formula/compile.ts';
import { compare, equal, RecordValue, type Value } from '../formula/values.ts';
import { display } from './format.ts';

export type ConditionOp = Condition['op'];

const empty = (v: Value): boolean => v === null || v === '' || (Array.isArray(v) && v.length === 0);

/** What each comparison word of a condition means. Text is compared without regard to case. */
const MEANING: Record<ConditionOp, (a: Value, b: Value) => boolean> = {
  is: same,
  'is not': (a, b) => !same(a, b),
  over: (a, b) => (compare(a, b) ?? 0) > 0,
  under: (a, b) => (compare(a, b) ?? 0) < 0,
  'at least': (a, b) => (compare(a, b) ?? -1) >= 0,
  'at most': (a, b) => (compare(a, b) ?? 1) <= 0,
  contains: (a, b) =>
    Array.isArray(a) ? a.some((x) => same(x, b)) : display(a).toLowerCase().includes(display(b).toLowerCase()),
  'is empty': (a) => empty(a),
  'is filled': (a) => !empty(a),
  holds: (a) => a === true,
};

function same(a: Value, b: Value): boolean {
  if (typeof a === 'string' && typeof b === 'string') return a.toLowerCase() === b.toLowerCase();
  if (empty(a) || empty(b)) return empty(a) && empty(b);
  if (Array.isArray(a) && b instanceof RecordValue) return a.some((x) => equal(x, b) === true);
  return equal(a, b) === true;
}

/** True for comparisons with nothing on their right. */
export const isUnary = (op: ConditionOp): boolean => op === 'is empty' || op === 'is filled' || op === 'holds';

export interface CompiledWhere {
  test: (frame: Value[]) => boolean;
  problems: Problem[];
  reads: Dependency[];
  volatile: boolean;
  /** Why the last test came to no answer, when one of its formulas was stopped; nothing otherwise. */
  stopped(): string;
}

/** Compiles a group of conditions to one test. An unfinished condition is left out and reported. */
export function compileWhere(where: Where, options: CompileOptions): CompiledWhere {
  const problems: Problem[] = [];
  const reads: Dependency[] = [];
  let volatile = false;
  const sides: Compiled[] = [];
  const tests: ((frame: Value[]) => boolean)[] = [];
  for (const c of where.conditions) {
    if (!c.left || (!c.right && !isUnary(c.op))) {
      problems.push({
        message: 'A condition is not filled in yet; until then it is left out.',
        from: 0,
        to: 0,
        severity: 'warning',
      });
      continue;
    }
    const left = compile(c.left, options);
    const right = isUnary(c.op) ? null : compile(c.right, options);
    for (const side of [left, right]) {
      if (!side) continue;
      sides.push(side);
      problems.push(...side.problems);
      reads.push(...side.dependencies);
      volatile ||= side.volatile;
    }
    const [l, r, meaning]: [Run, Run, (a: Value, b: Value) => boolean] = [
      left.run,
      right?.run ?? (() => null),
      MEANING[c.op],
    ];
    tests.push((f) => meaning(l(f), r(f)));
  }
  const stopped = (): string => sides.map(stoppedWords).find(Boolean) ?? '';
  const found = { problems, reads, volatile, stopped };
  if (tests.length === 0) return { test: () => true, ...found };
  if (tests.length === 1) return { test: tests[0]!, ...found };
  return { test: where.match === 'all' ? (f) => tests.every((t) => t(f)) : (f) => tests.some((t) => t(f)), ...found };
}

/** How a comparison reads in a sentence. */
export const OP_WORDS: Record<ConditionOp, string> = {
  is: 'is',
  'is not': 'is not',
  over: 'is over',
  under: 'is under',
  'at least': 'is at least',
  'at most': 'is at most',
  contains: 'contains',
  'is empty': 'is empty',
  'is filled': 'is filled in',
  holds: 'holds',
};
