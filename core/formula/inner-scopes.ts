import { spend } from './budget.ts';
import type { Node } from './ast.ts';
import { isAnyOf } from './checking.ts';
import type { Run } from './closures.ts';
import type { Compiling, Piece } from './compiling.ts';
import { itemScope } from './item-scope.ts';
import { Scope, type Frame, type Shapes } from './scope.ts';
import { listOf, typeText, type Type } from './types.ts';
import { newContext, type Value } from './values.ts';

/** Parts of a formula in which more has a name than outside: brackets behind a list, and contexts. */

/** `list[condition]`, or `list[position]`: inside the brackets the item comes first. */
export function compileFilter(c: Compiling, shapes: Shapes, n: Node & { t: 'filter' }, scope: Scope): Piece {
  const of = c.node(n.of, scope);
  const item: Type = of.type.k === 'list' ? of.type.of : of.type;
  const slot = c.takeSlot();
  const by = c.node(n.by, itemScope(shapes, scope, item, slot, of.origin));
  c.giveSlots(1);
  const [run, cond] = [of.run, by.run];
  const listed = (f: Frame): Value[] => {
    const v = run(f);
    return Array.isArray(v) ? v : v === null ? [] : [v];
  };
  const origin = of.origin;
  if (by.type.k === 'number') {
    return {
      type: item,
      origin,
      run: (f) => {
        const list = listed(f);
        f[slot] = null;
        const i = cond(f);
        if (typeof i !== 'number' || i === 0) return null;
        return list[i > 0 ? i - 1 : list.length + i] ?? null;
      },
    };
  }
  if (!isAnyOf(by.type, ['boolean', 'any', 'null']))
    c.problem(n.by, `A condition is yes or no, or a position; this is a ${typeText(by.type)}.`, 'warning');
  return {
    type: of.type.k === 'list' ? of.type : listOf(of.type),
    origin,
    run: (f) => {
      const list = listed(f);
      spend(list.length);
      const out: Value[] = [];
      for (let i = 0; i < list.length; i++) {
        f[slot] = list[i]!;
        const r = cond(f);
        if (r === true) out.push(list[i]!);
        else if (typeof r === 'number') return list[r > 0 ? r - 1 : list.length + r] ?? null;
      }
      return out;
    },
  };
}

/** `{a: 1, b: a + 1}`: each entry can name those before it. */
export function compileContext(c: Compiling, n: Node & { t: 'context' }, scope: Scope): Piece {
  const entries: Record<string, Type> = {};
  const steps: { key: string; slot: number; run: Run }[] = [];
  let inner = scope;
  for (const e of n.entries) {
    const piece = c.node(e.value, inner);
    const slot = c.takeSlot();
    entries[e.key] = piece.type;
    steps.push({ key: e.key, slot, run: piece.run });
    inner = new Scope(inner, [{ id: '', name: e.key, type: piece.type, read: (f) => f[slot]! }]);
  }
  c.giveSlots(n.entries.length);
  return {
    type: { k: 'context', entries },
    run: (f) => {
      const out = newContext();
      for (const s of steps) out[s.key] = f[s.slot] = s.run(f);
      return out;
    },
  };
}
