import type { Run } from './closures.ts';
import { linkInput, slotInput } from './reads.ts';
import { listed, Scope, type Member, type Name, type Names, type Origin, type Shapes } from './scope.ts';
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
  if (item.k === 'record') return new Scope(scope, fieldNames(shapes, item.table, slot, origin, self));
  if (item.k === 'context') {
    const entries = Object.entries(item.entries).map(([name, type]): Name => ({
      id: '',
      name,
      type,
      inputs,
      read: (f) => {
        const v = f[slot]!;
        return isContext(v) ? (v[name] ?? null) : null;
      },
    }));
    return new Scope(scope, listed([...entries, self]));
  }
  return new Scope(scope, listed([self]), item.k === 'any' || item.k === 'null' ? slot : null);
}

/** The fields and links of a record at a place of the frame. A table may have very many, so they are made when named. */
function fieldNames(shapes: Shapes, table: string, slot: number, origin: Origin | undefined, self: Name): Names {
  const made = new Map<Member, Name>();
  const nameOf = (m: Member): Name => {
    let name = made.get(m);
    if (!name) made.set(m, (name = fieldName(m, table, slot, origin ?? { from: 'table', table })));
    return name;
  };
  return {
    get: (name) => {
      const member = shapes.member(table, name);
      return member ? nameOf(member) : name === 'item' ? self : undefined;
    },
    all: () => [...shapes.members(table).map(nameOf), self],
  };
}

function fieldName(m: Member, table: string, slot: number, origin: Origin): Name {
  const read: Run = (f) => {
    const v = f[slot];
    return v instanceof RecordValue ? m.get(v) : null;
  };
  return {
    id: m.id,
    name: m.name,
    origin,
    inputs: [m.leadsToOne ? linkInput(slot, m.id, read) : slotInput(slot)],
    field: { table, id: m.id },
    get type() {
      return m.type;
    },
    read,
  };
}
