import { spend } from './budget.ts';
import type { Node } from './ast.ts';
import { isAnyOf } from './checking.ts';
import type { Run } from './closures.ts';
import type { Compiling, Piece } from './compiling.ts';
import { itemScope } from './item-scope.ts';
import { Plan, type Comparison, type Side } from './plan.ts';
import { Reads, slotId, slotInput, valueInput } from './reads.ts';
import { listed, Scope, type Frame, type Shapes } from './scope.ts';
import { listOf, typeText, type Type } from './types.ts';
import { newContext, type Value } from './values.ts';

/** Parts of a formula in which more has a name than outside: brackets behind a list, and contexts. */

/** `list[condition]`, or `list[position]`: inside the brackets the item comes first. */
export function compileFilter(c: Compiling, shapes: Shapes, n: Node & { t: 'filter' }, scope: Scope): Piece {
  const [of, ofReads] = c.within(() => c.node(n.of, scope));
  const item: Type = of.type.k === 'list' ? of.type.of : of.type;
  const slot = c.takeSlot();
  const [by, byReads] = c.within(() =>
    c.inLoop([slot], () => c.node(n.by, itemScope(shapes, scope, item, slot, of.origin))),
  );
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
  const plan = by.type.k === 'boolean' ? planOf(c, n.by, slot) : null;
  c.readsOnly(filterReads(ofReads, byReads, slot, plan));
  return {
    type: of.type.k === 'list' ? of.type : listOf(of.type),
    origin,
    ...(plan && { planned: { plan, list: listed } }),
    run: (f) => {
      const all = listed(f);
      const list = plan?.candidates(f, all) ?? all;
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

/** What a filtered list hangs on. Where its condition says only what fields equal, it hangs on what they are to equal. */
function filterReads(of: Reads, by: Reads, slot: number, plan: Plan | null): Reads {
  const all = new Reads();
  if (plan?.whole && !plan.order) {
    all.fickle = by.fickle;
    for (const e of plan.equalities) all.add(valueInput(e.with));
  } else {
    all.take(by);
    all.leave(slotId(slot));
  }
  all.take(of);
  return all;
}

/** The parts of a condition that a plan can use: what joins them is “and”. */
function planOf(c: Compiling, by: Node, slot: number): Plan | null {
  const equalities: Comparison[] = [];
  let order: Comparison | null = null;
  let whole = true;
  for (const part of conjuncts(by)) {
    const found = comparisonOf(c, part, slot);
    if (found?.op === '=') equalities.push(found);
    else if (found && !order) order = found;
    else whole = false;
  }
  return equalities.length || (order && whole) ? new Plan(slot, equalities, order, whole) : null;
}

const conjuncts = (n: Node): Node[] =>
  n.t === 'binary' && n.op === 'and' ? [...conjuncts(n.left), ...conjuncts(n.right)] : [n];

const FLIPPED = { '=': '=', '<': '>', '<=': '>=', '>': '<', '>=': '<=' } as const;

/** A comparison of something of the item with something else, whichever stands first. */
function comparisonOf(c: Compiling, n: Node, slot: number): Comparison | null {
  if (n.t !== 'binary' || !(n.op in FLIPPED)) return null;
  const op = n.op as keyof typeof FLIPPED;
  const sides = c.sides(n);
  if (!sides) return null;
  const { left, right } = sides;
  const isItems = (s: Side): boolean => s.reads.isOnly(slotId(slot));
  const isOther = (s: Side): boolean => !s.reads.fickle && !s.reads.mentions(slotId(slot));
  if (isItems(left) && isOther(right)) return { op, of: left, with: right };
  return isItems(right) && isOther(left) ? { op: FLIPPED[op], of: right, with: left } : null;
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
    inner = new Scope(
      inner,
      listed([{ id: '', name: e.key, type: piece.type, read: (f) => f[slot]!, inputs: [slotInput(slot)] }]),
    );
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
