import type { Node } from './ast.ts';
import { typeOfParam } from './builtins/define.ts';
import { builtins, type Builtin, type Runtime } from './builtins/index.ts';
import { isAnyOf } from './checking.ts';
import type { Compiling, Piece, Planned } from './compiling.ts';
import { FOLDS, type Fold } from './plan.ts';
import { DaysDuration, MonthsDuration, type Value } from './values.ts';
import type { Frame } from './scope.ts';
import { late } from './late.ts';
import { NULL, typeText } from './types.ts';

/** Functions whose answer changes though nothing they are given does. */
const VOLATILE = new Set(['now', 'today', 'random number', 'person', 'new id']);

/**
 * The parameter that each named value is for, -1 for none. A name that could be either of two, such as the point of
 * `before(point, range)` and `before(range, point)`, is for the first that is free, in the order they are written.
 */
function placesOf(named: readonly string[], builtin: Builtin): number[] {
  const places: number[] = [];
  for (const name of named)
    places.push(builtin.params.findIndex((p, i) => p.names.includes(name) && !places.includes(i)));
  return places;
}

/** Reads a figure off the plan of a condition; undefined when it has to be worked out from the items. */
function plannedCall(name: string, planned: Planned | undefined): ((f: Frame) => Value | undefined) | null {
  if (!planned?.plan.whole) return null;
  const { plan, list, of } = planned;
  if (name === 'count' && !of) return (f) => plan.count(f, list(f)) ?? undefined;
  return of && plan.order && FOLDS.has(name) ? (f) => plan.fold(f, list(f), name as Fold, of) : null;
}

/** A call of a built-in function: its values put in order and checked against what it takes. */
export function compileCall(c: Compiling, n: Node & { t: 'call' }, name: string, args: Piece[]): Piece {
  const builtin = builtins().get(name);
  if (!builtin) {
    const near = late.nearest(name, [...builtins().keys()]);
    c.problem(n.of, `There is no function called “${name}”.${near ? ` Did you mean “${near}”?` : ''}`);
    return { type: NULL, run: () => null };
  }
  if (VOLATILE.has(name)) c.markVolatile(name);
  let ordered = args;
  if (n.named) {
    const places = placesOf(n.named, builtin);
    const wrong = n.named.find((_, i) => places[i] === -1);
    if (wrong !== undefined) {
      c.problem(
        n,
        `${name} takes nothing called “${wrong}”. It takes: ${builtin.params.map((p) => p.name).join(', ')}.`,
      );
      return { type: NULL, run: () => null };
    }
    const none: Piece = { type: NULL, run: () => null };
    ordered = builtin.params.map((_, place) => args[places.indexOf(place)] ?? none);
    while (ordered.length && ordered.at(-1) === none) ordered.pop();
  }
  const least = builtin.params.filter((p) => !p.optional).length - (builtin.variadic ? 1 : 0);
  if (ordered.length < least || (!builtin.variadic && ordered.length > builtin.params.length)) {
    c.problem(
      n,
      `${name} takes ${builtin.params.length === least ? least : `${least} to ${builtin.params.length}`} values, not ${ordered.length}: ${builtin.params.map((p) => p.name).join(', ')}.`,
    );
  }
  ordered.forEach((a, i) => {
    const p = builtin.params[Math.min(i, builtin.params.length - 1)];
    const wanted = p && typeOfParam(p.kind);
    if (!wanted || wanted.k === 'any' || wanted.k === 'list' || isAnyOf(a.type, [wanted.k, 'any', 'null', 'list']))
      return;
    c.problem(
      n.args[i] ?? n,
      `${name} needs a ${typeText(wanted)} here; this is a ${typeText(a.type)}, so the result is empty.`,
      'warning',
    );
  });
  const types = ordered.map((a) => a.type);
  const type = typeof builtin.returns === 'function' ? builtin.returns(types) : builtin.returns;
  const runs = ordered.map((a) => a.run);
  // The sum of no durations is none of their length, as the sum of no numbers is 0.
  const nothing =
    name === 'sum' ? { days: new DaysDuration(0), months: new MonthsDuration(0) }[type.k as string] : null;
  const call = nothing
    ? (args: Value[], runtime: Runtime): Value => {
        const value = builtin.call(args, runtime);
        return value === 0 ? nothing : value;
      }
    : builtin.call;
  const [r0] = runs;
  const origin = ordered[0]?.origin;
  const { direct, takes } = builtin;
  const planned = runs.length === 1 && r0 ? plannedCall(name, ordered[0]!.planned) : null;
  if (planned) {
    return {
      type,
      run: (f) => {
        const known = planned(f);
        if (known === undefined) return call([r0!(f)], f[0] as unknown as Runtime);
        return known === 0 && nothing ? nothing : known;
      },
      ...(origin && { origin }),
    };
  }
  if (runs.length === 1 && r0 && direct && !nothing)
    return {
      type,
      run: (f) => {
        const v = r0(f);
        return v !== null && takes(v) ? direct(v, f[0] as unknown as Runtime) : call([v], f[0] as unknown as Runtime);
      },
      ...(origin && { origin }),
    };
  if (runs.length === 1 && r0)
    return { type, run: (f) => call([r0(f)], f[0] as unknown as Runtime), ...(origin && { origin }) };
  return {
    type,
    run: (f) =>
      call(
        runs.map((r) => r(f)),
        f[0] as unknown as Runtime,
      ),
    ...(origin && { origin }),
  };
}
