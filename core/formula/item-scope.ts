import { Scope, type Name, type Origin, type Shapes } from './scope.ts';
import type { Type } from './types.ts';
import { RecordValue, isContext } from './values.ts';

/** Inside a filter the entries of the item come first, then everything outside. */
export function itemScope(shapes: Shapes, scope: Scope, item: Type, slot: number, origin: Origin | undefined): Scope {
  const self: Name = { id: '', name: 'item', type: item, read: (f) => f[slot]!, ...(origin && { origin }) };
  if (item.k === 'record') {
    const { table } = item;
    const o = origin ?? { from: 'table' as const, table };
    return new Scope(scope, [
      ...shapes.members(table).map((m): Name => ({
        id: m.id,
        name: m.name,
        origin: o,
        field: { table, id: m.id },
        get type() {
          return m.type;
        },
        read: (f) => {
          const v = f[slot];
          return v instanceof RecordValue ? m.get(v) : null;
        },
      })),
      self,
    ]);
  }
  if (item.k === 'context') {
    return new Scope(scope, [
      ...Object.entries(item.entries).map(([name, type]): Name => ({
        id: '',
        name,
        type,
        read: (f) => {
          const v = f[slot]!;
          return isContext(v) ? (v[name] ?? null) : null;
        },
      })),
      self,
    ]);
  }
  return new Scope(scope, [self], item.k === 'any' || item.k === 'null' ? slot : null);
}
