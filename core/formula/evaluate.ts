import type { Problem } from './ast.ts';
import './patterns-engine.ts';
import './rare-functions.ts';
import { wallClock } from './wall-clock.ts';
import { compile } from './compile.ts';
import { fromJson, toJson, typeOfValue } from './json.ts';
import type { Name } from './scope.ts';
import { typeText } from './types.ts';
import type { Value } from './values.ts';
import type { WorkCalendar } from './work-time.ts';

export interface Answer {
  value: unknown;
  type: string;
  problems: Problem[];
}

/** Evaluates a formula once against a JSON context, as `kite formula` does. */
export function evaluate(
  formula: string,
  context: unknown = {},
  now: () => number = wallClock,
  work: WorkCalendar | null = null,
): Answer {
  const values = Object.entries((context ?? {}) as Record<string, unknown>).map(([k, v]) => [k, fromJson(v)] as const);
  const names = values.map(([name, v], i): Name => ({ id: '', name, type: typeOfValue(v), read: (f) => f[i + 1]! }));
  const compiled = compile(formula, { names, firstSlot: values.length + 1 });
  const frame: Value[] = [{ now, work: () => work } as unknown as Value, ...values.map(([, v]) => v)];
  const value = compiled.problems.some((p) => p.severity === 'error' && compiled.type.k === 'any')
    ? null
    : compiled.run(frame);
  return { value: toJson(value), type: typeText(typeOfValue(value)), problems: compiled.problems };
}
