import type { Node } from './ast.ts';
import { spend } from './budget.ts';
import { iterate } from './closures.ts';
import type { Compiling, Piece } from './compiling.ts';
import { and, or } from './operators.ts';
import { slotInput } from './reads.ts';
import { listed, Scope, type Frame, type Name } from './scope.ts';
import { ANY, BOOLEAN, listOf, type Type } from './types.ts';
import { FunctionValue, type Value } from './values.ts';

/** Opens the loops of `for`, `some` and `every`, and runs `each` once for every combination. */
function nested(c: Compiling, loops: (Node & { t: 'for' })['loops'], scope: Scope, extra: Name[] = []) {
  let inner = new Scope(scope, listed(extra));
  const levels = loops.map((l) => {
    const over = c.node(l.over, inner);
    const upTo = l.upTo && c.node(l.upTo, inner);
    const slot = c.takeSlot();
    const type: Type = upTo ? over.type : over.type.k === 'list' || over.type.k === 'range' ? over.type.of : over.type;
    inner = new Scope(
      inner,
      listed([
        {
          id: '',
          name: l.name,
          type,
          read: (f) => f[slot]!,
          inputs: [slotInput(slot)],
          ...(over.origin && { origin: over.origin }),
        },
      ]),
    );
    return { slot, values: (f: Frame): Value[] | null => iterate(over.run(f), upTo ? upTo.run(f) : undefined) };
  });
  const walk = (f: Frame, each: () => boolean, depth = 0): boolean | null => {
    const level = levels[depth];
    if (!level) return each();
    const values = level.values(f);
    if (!values) return null;
    for (const v of values) {
      spend(1);
      f[level.slot] = v;
      const go = walk(f, each, depth + 1);
      if (go !== true) return go;
    }
    return true;
  };
  return { scope: inner, walk, slots: levels.map((l) => l.slot) };
}

/** A copy of what there is so far, which does not grow when it does. */
function partOf(list: Value[]): Value[] {
  spend(list.length);
  return list.slice();
}

/** `for … in … return …`; `partial` holds what has been returned so far. */
export function compileFor(c: Compiling, n: Node & { t: 'for' }, scope: Scope): Piece {
  const partial = c.takeSlot();
  const loops = nested(c, n.loops, scope, [
    { id: '', name: 'partial', type: listOf(ANY), read: (f) => partOf(f[partial] as Value[]) },
  ]);
  const body = c.inLoop(loops.slots, () => c.node(n.body, loops.scope));
  c.giveSlots(loops.slots.length + 1);
  return {
    type: listOf(body.type),
    run: (f) => {
      const out: Value[] = [];
      f[partial] = out;
      const done = loops.walk(f, () => (out.push(body.run(f)), true));
      return done === null ? null : out;
    },
    ...(body.origin && { origin: body.origin }),
  };
}

/** `some` and `every`, by three-valued logic. */
export function compileQuantified(c: Compiling, n: Node & { t: 'quantified' }, scope: Scope): Piece {
  const loops = nested(c, n.loops, scope);
  const body = c.inLoop(loops.slots, () => c.node(n.body, loops.scope)).run;
  c.giveSlots(loops.slots.length);
  const { every } = n;
  return {
    type: BOOLEAN,
    run: (f) => {
      let result: boolean | null = every;
      const done = loops.walk(f, () => {
        result = every ? and(result, body(f)) : or(result, body(f));
        return result !== !every;
      });
      return done === null ? null : result;
    },
  };
}

/** A function defined in a formula. It keeps the values it saw where it was made. */
export function compileFunction(c: Compiling, n: Node & { t: 'function' }, scope: Scope): Piece {
  const slots = n.params.map(() => c.takeSlot());
  const inner = new Scope(
    scope,
    listed(
      n.params.map((name, i): Name => ({
        id: '',
        name,
        type: ANY,
        read: (f) => f[slots[i]!]!,
        inputs: [slotInput(slots[i]!)],
      })),
    ),
  );
  const body = c.inLoop(slots, () => c.node(n.body, inner));
  return {
    type: { k: 'function', returns: body.type },
    run: (f) => {
      const captured = f.slice();
      return new FunctionValue(n.params, (args) => {
        spend(1);
        const g = captured.slice();
        slots.forEach((s, i) => {
          g[s] = args[i] ?? null;
        });
        return body.run(g);
      });
    },
  };
}
