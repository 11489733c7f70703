import { bounded, spend } from '../budget.ts';
import { ANY, BOOLEAN, DATE, DATETIME, DAYS, MONTHS, NUMBER, TEXT, TIME, listOf, type Type } from '../types.ts';
import type { WorkCalendar } from '../work-time.ts';
import { FunctionValue, isContext, kindOf, type Value } from '../values.ts';

/** What a formula may ask of the world around it. */
export interface Runtime {
  /** The wall clock, in milliseconds from 1970-01-01 as if it were UTC. */
  now(): number;
  /** Who uses the app here, by name; null when nobody has said so. */
  person?(): string | null;
  /** When work is done, as the app says; null where it does not. */
  work?(): WorkCalendar | null;
  /** Another object whenever any record may have changed; absent where nobody keeps count. */
  readonly stamp?: object;
}

export interface Builtin {
  name: string;
  /** `names` are all that it goes by when values are given by name: the standard has several signatures for some. */
  params: { name: string; names: readonly string[]; kind: ParamKind; optional: boolean }[];
  /** The last parameter takes any number of values. */
  variadic: boolean;
  returns: Type | ((args: Type[]) => Type);
  call(args: Value[], runtime: Runtime): Value;
  /** The same for a single value that is not null and of the kind it takes: what most calls are. */
  direct: ((v: Value, runtime: Runtime) => Value) | null;
  /** Is a value what its first parameter takes? */
  takes(v: Value): boolean;
}

export type ParamKind =
  | 'any'
  | 'number'
  | 'text'
  | 'boolean'
  | 'list'
  | 'context'
  | 'date'
  | 'datetime'
  | 'time'
  | 'days'
  | 'months'
  | 'function'
  | 'range'
  | 'dated'
  | 'point'
  | 'duration';

/**
 * Defines a function from a signature such as `string: text, start position: number, length?: number`. A parameter
 * that goes by several names has them with bars between, the usual one first.
 * A value of the wrong kind makes the result null, as the standard has it; a list of one stands for its item
 * and an item for a list of one. What it says of itself to people stands in `about.ts`, which phones do not load.
 */
export function define(
  name: string,
  signature: string,
  returns: Builtin['returns'],
  call: (...args: any[]) => Value,
): Builtin {
  const variadic = signature.endsWith('...');
  const params = signature
    .replace(/\.\.\.$/, '')
    .split(',')
    .map((s) => s.trim())
    .filter(Boolean)
    .map((s) => {
      const [n, kind] = s.split(':').map((x) => x.trim()) as [string, ParamKind];
      const names = n.replace(/\?$/, '').split('|');
      return { name: names[0]!, names, kind, optional: n.endsWith('?') };
    });
  const required = params.filter((p) => !p.optional).length - (variadic ? 1 : 0);
  return {
    name,
    params,
    variadic,
    returns,
    direct:
      params.length === 1
        ? (v, runtime) => {
            if (typeof v === 'object') weigh(v);
            return weighed(call.call(runtime, v) ?? null);
          }
        : null,
    takes: params.length ? (v) => matches(v, params[0]!.kind) : () => false,
    call(args, runtime) {
      if (args.length < required || (!variadic && args.length > params.length)) return null;
      const given: Value[] = [];
      for (let i = 0; i < Math.max(args.length, variadic ? 0 : params.length); i++) {
        const param = params[Math.min(i, params.length - 1)]!;
        const v = args[i] ?? null;
        if (v === null) {
          if (param.kind === 'any' || (param.optional && i >= args.length) || param.optional) {
            given.push(null);
            continue;
          }
          return null;
        }
        const fitted = fit(v, param.kind);
        if (fitted === undefined) return null;
        if (typeof fitted === 'object') weigh(fitted);
        given.push(fitted);
      }
      return weighed(call.apply(runtime, given) ?? null);
    },
  };
}

/** A list costs as many steps as it has items, going in and coming out; a text one for some letters. */
function weigh(v: Value): void {
  if (Array.isArray(v)) spend(v.length);
}
function weighed(v: Value): Value {
  if (typeof v === 'string') {
    spend(v.length >> 4);
    return bounded(v);
  }
  if (Array.isArray(v)) spend(v.length);
  return v;
}

function matches(v: Value, kind: ParamKind): boolean {
  if (kind === 'text') return typeof v === 'string';
  if (kind === 'number') return typeof v === 'number';
  if (kind === 'any') return true;
  const k = kindOf(v);
  switch (kind) {
    case 'dated':
      return k === 'date' || k === 'datetime';
    case 'duration':
      return k === 'days' || k === 'months';
    case 'point':
      return (
        k === 'number' ||
        k === 'text' ||
        k === 'date' ||
        k === 'datetime' ||
        k === 'time' ||
        k === 'days' ||
        k === 'months' ||
        k === 'range'
      );
    case 'context':
      return isContext(v);
    case 'function':
      return v instanceof FunctionValue;
    default:
      return k === kind;
  }
}

function fit(v: Value, kind: ParamKind): Value | undefined {
  if (matches(v, kind)) return v;
  if (kind === 'list') return [v];
  if (Array.isArray(v) && v.length === 1 && matches(v[0]!, kind)) return v[0];
  return undefined;
}

/** `sum(1, 2)` and `sum([1, 2])` are the same: the values that such a function works on. */
export const spread = (args: Value[]): Value[] => (args.length === 1 && Array.isArray(args[0]) ? args[0] : args);

/** The type of the items when a function takes a list or several values. */
export function itemType(args: Type[]): Type {
  const [first] = args;
  if (!first) return ANY;
  return args.length === 1 && first.k === 'list' ? first.of : first;
}

const KIND_TYPES: Partial<Record<ParamKind, Type>> = {
  number: NUMBER,
  text: TEXT,
  boolean: BOOLEAN,
  date: DATE,
  datetime: DATETIME,
  time: TIME,
  days: DAYS,
  months: MONTHS,
  list: listOf(ANY),
};
export const typeOfParam = (kind: ParamKind): Type => KIND_TYPES[kind] ?? ANY;
