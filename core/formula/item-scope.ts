import type { Run } from './closures.ts';
import { linkInput, slotInput } from './reads.ts';
import { Scope, type Name, type Origin, type Shapes } from './scope.ts';
import type { Type } from './types.ts';
import { RecordValue, isContext } from './values.ts';

/** Inside a filter the entries of the item come first, then everything outside. */
export function itemScope(shapes: Shapes, scope: Scope, item: Type, slot: number, origin: Origin | undefined): Scope {
  const inputs = [slotInput(slot)];
  const self: Name = {
    id: '',
    name: 'item',
    type: item,
    read: (f) => f[slot]!,
    inputs,
    ...(origin && { origin }),
  };
  if (item.k === 'record') {
    const { table } = item;
    const o = origin ?? { from: 'table' as const, table };
    return new Scope(scope, [
      ...shapes.members(table).map((m): Name => {
        const read: Run = (f) => {
          const v = f[slot];
          return v instanceof RecordValue ? m.get(v) : null;
        };
        return {
          id: m.id,
          name: m.name,
          origin: o,
          inputs: m.leadsToOne ? [linkInput(slot, m.id, read)] : inputs,
          field: { table, id: m.id },
          get type() {
            return m.type;
          },
          read,
        };
      }),
      self,
    ]);
  }
  if (item.k === 'context') {
    return new Scope(scope, [
      ...Object.entries(item.entries).map(([name, type]): Name => ({
        id: '',
        name,
        type,
        inputs,
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
