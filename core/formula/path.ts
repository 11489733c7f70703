import { spend } from './budget.ts';
import { property } from './temporal.ts';
import type { Frame, Member } from './scope.ts';
import { listOf, type Type } from './types.ts';
import { Range, RecordValue, isContext, type Value } from './values.ts';

/** Type of a field read from one record or from many; a list read from each of many records becomes one flat list. */
export function pathType(of: Type, member: Type): Type {
  if (of.k !== 'list') return member;
  return member.k === 'list' ? member : listOf(member);
}

/** Reads a settled field, or a name looked up at run time, from one value or from each of a list. */
export function readPath(run: (f: Frame) => Value, of: Type, member: Member | string): (f: Frame) => Value {
  if (typeof member === 'string') return (f) => entry(run(f), member);
  const { get } = member;
  if (of.k === 'record') {
    return (f) => {
      // What has the type of a record is one, or nothing.
      const v = run(f);
      return v ? get(v as RecordValue) : null;
    };
  }
  const flat = member.type.k === 'list';
  return (f) => {
    const list = run(f);
    if (!Array.isArray(list)) return list instanceof RecordValue ? get(list) : null;
    spend(list.length);
    const out: Value[] = [];
    for (let i = 0; i < list.length; i++) {
      const row = list[i];
      const v = row instanceof RecordValue ? get(row) : null;
      if (flat && Array.isArray(v)) for (const x of v) out.push(x);
      else out.push(v);
    }
    return out;
  };
}

/** A named part of any value: an entry, a field, a property of a date; from a list, of each item. */
export function entry(v: Value, name: string): Value {
  if (v === null) return null;
  if (Array.isArray(v)) {
    spend(v.length);
    return v.map((x) => entry(x, name));
  }
  if (v instanceof RecordValue) return v.get(name);
  if (isContext(v)) return Object.hasOwn(v, name) ? v[name]! : null;
  if (v instanceof Range) {
    if (name === 'start') return v.start;
    if (name === 'end') return v.end;
    if (name === 'start included') return v.startIncluded;
    return name === 'end included' ? v.endIncluded : null;
  }
  return property(v, name) ?? null;
}
