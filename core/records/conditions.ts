import { stoppedWords } from '../formula/guarded.ts';
import type { Condition, Where } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import type { Dependency } from '../formula/scope.ts';
import { compile, type Compiled, type CompileOptions } from '../formula/compile.ts';
import { compare, equal, RecordValue, type Value } from '../formula/values.ts';
import { isPersonFormula, isThePerson } from '../formula/person.ts';
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

/** What is said with the person who uses the app on one side: that it is them, or is not. */
const PERSON: Partial<Record<ConditionOp, 'yes' | 'no'>> = { is: 'yes', contains: 'yes', 'is not': 'no' };

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

/** Whether a condition holds for a frame; nothing while it is left out. */
type Test = (frame: Value[]) => boolean | undefined;

const unfinishedCondition = (): Problem => ({
  message: 'A condition is not filled in yet; until then it is left out.',
  from: 0,
  to: 0,
  severity: 'warning',
});

/** Compiles conditions, groups and all, to one test. An unfinished condition is left out and reported. */
export function compileWhere(where: Where, options: CompileOptions): CompiledWhere {
  const problems: Problem[] = [];
  const sides: Compiled[] = [];
  const side = (formula: string): Compiled => {
    const compiled = compile(formula, options);
    sides.push(compiled);
    problems.push(...compiled.problems);
    return compiled;
  };
  const condition = (c: Condition): Test[] => {
    if (isUnfinished(c)) {
      problems.push(unfinishedCondition());
      return [];
    }
    const meaning = MEANING[c.op];
    const left = side(c.left).run;
    if (isUnary(c.op)) return [(f) => meaning(left(f), null)];
    const right = side(c.right).run;
    const sense = isPersonFormula(c.left) !== isPersonFormula(c.right) && PERSON[c.op];
    if (sense) {
      const [who, other] = isPersonFormula(c.left) ? [left, right] : [right, left];
      const fits = (f: Value[]): boolean => isThePerson(other(f), who(f)) === (sense === 'yes');
      return [c.whileFilled ? (f) => (empty(who(f)) ? undefined : fits(f)) : fits];
    }
    if (!c.whileFilled) return [(f) => meaning(left(f), right(f))];
    return [
      (f) => {
        const wanted = right(f);
        return empty(wanted) ? undefined : meaning(left(f), wanted);
      },
    ];
  };
  const group = (w: Where): Test[] => {
    const tests = [...w.conditions.flatMap(condition), ...(w.groups ?? []).flatMap(group)];
    if (tests.length < 2) return tests;
    return [w.match === 'all' ? allOf(tests) : anyOf(tests)];
  };
  const [test] = group(where);
  return {
    test: test ? (f) => test(f) !== false : () => true,
    problems,
    reads: sides.flatMap((s) => s.dependencies),
    volatile: sides.some((s) => s.volatile),
    stopped: () => sides.map(stoppedWords).find(Boolean) ?? '',
  };
}

/** Of several, those that are left out count for nothing; when all are, so is the group. */
const allOf =
  (tests: readonly Test[]): Test =>
  (f) => {
    let found: boolean | undefined;
    for (const t of tests) {
      const holds = t(f);
      if (holds === false) return false;
      found ??= holds;
    }
    return found;
  };
const anyOf =
  (tests: readonly Test[]): Test =>
  (f) => {
    let found: boolean | undefined;
    for (const t of tests) {
      const holds = t(f);
      if (holds === true) return true;
      found ??= holds;
    }
    return found;
  };

/** Is a side of it not filled in? */
export const isUnfinished = (c: Condition): boolean => !c.left || (!c.right && !isUnary(c.op));

/** Every condition, those of groups among them. */
export const everyCondition = (where: Where): Condition[] => [
  ...where.conditions,
  ...(where.groups ?? []).flatMap(everyCondition),
];

/** Conditions in a sentence; `shown` gives a formula with the names of today. */
export function whereWords(where: Where, shown: (formula: string) => string): string {
  const side = (formula: string): string =>
    shown(formula)
      .replace(/\./g, ' › ')
      .replace(/^"(.*)"$/, '$1');
  return [
    ...where.conditions.map((c) => `${side(c.left)} ${OP_WORDS[c.op]} ${side(c.right)}`.trim()),
    ...(where.groups ?? []).map((g) => `(${whereWords(g, shown)})`),
  ].join(where.match === 'all' ? ' and ' : ' or ');
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
  holds: 'is true',
};
