import type { Node, Test } from './ast.ts';
import { arithmeticAdvice, arithmeticType } from './checking.ts';
import { arithmetic, comparison } from './closures.ts';
import type { Compiling, Piece } from './compiling.ts';
import { and, contains, or, test } from './operators.ts';
import type { Scope } from './scope.ts';
import { isPersonCall, isThePerson } from './person.ts';
import { BOOLEAN, typeText } from './types.ts';

/** An operator between two values; the sides of a comparison are kept, for conditions that find items by them. */
export function compileBinary(c: Compiling, n: Node & { t: 'binary' }, scope: Scope): Piece {
  const [left, leftReads] = c.within(() => c.node(n.left, scope));
  const [right, rightReads] = c.within(() => c.node(n.right, scope));
  const [l, r] = [left.run, right.run];
  const { op } = n;
  if ((op === '=' || op === '!=') && isPersonCall(n.left) !== isPersonCall(n.right)) {
    const [who, other, node] = isPersonCall(n.left) ? [l, r, n.right] : [r, l, n.left];
    // “person() = null” asks whether somebody has said who it is.
    if (node.t !== 'literal') return { type: BOOLEAN, run: (f) => isThePerson(other(f), who(f)) === (op === '=') };
  }
  c.compared(n, { left: { run: l, reads: leftReads }, right: { run: r, reads: rightReads } });
  switch (op) {
    case 'and':
      return {
        type: BOOLEAN,
        run: (f) => {
          const a = l(f);
          return a === false ? false : and(a, r(f));
        },
      };
    case 'or':
      return {
        type: BOOLEAN,
        run: (f) => {
          const a = l(f);
          return a === true ? true : or(a, r(f));
        },
      };
    case '=':
    case '!=':
    case '<':
    case '<=':
    case '>':
    case '>=': {
      const [a, b] = [left.type.k, right.type.k];
      if (a !== b && ![a, b].some((k) => k === 'any' || k === 'null')) {
        c.problem(
          n,
          `A ${typeText(left.type)} and a ${typeText(right.type)} cannot be compared, so this is never true.`,
          'warning',
        );
      }
      if (op === '=') return { type: BOOLEAN, run: (f) => test('=', l(f), r(f)) };
      return { type: BOOLEAN, run: comparison(op, l, r) };
    }
    default: {
      const type = arithmeticType(op, left.type, right.type);
      if (type.k === 'null' && left.type.k !== 'null' && right.type.k !== 'null')
        c.problem(n, arithmeticAdvice(op, left.type, right.type), 'warning');
      return { type, run: arithmetic(op, l, r) };
    }
  }
}

/** `x in …`: true for one alternative is enough. */
export function compileIn(c: Compiling, of: Node, tests: Test[], scope: Scope): Piece {
  const v = c.node(of, scope).run;
  const alternatives = tests.map((t) => ({ op: t.op, run: c.node(t.to, scope).run }));
  return {
    type: BOOLEAN,
    run: (f) => {
      const value = v(f);
      let result: boolean | null = false;
      for (const a of alternatives) {
        const r = a.op ? test(a.op, value, a.run(f)) : contains(value, a.run(f));
        if (r === true) return true;
        if (r === null) result = null;
      }
      return result;
    },
  };
}
