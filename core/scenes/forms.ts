import type { Cell } from '../fields/lists.ts';
import type { DrawnNode } from '../screens/element.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { SeenScreen } from '../rehearsal/seen.ts';

interface InputFound {
  view: string;
  node: DrawnNode;
}
interface FormFound extends InputFound {
  /** What its fields have before anything is typed. */
  begins: Record<string, Cell>;
  shown: SeenScreen;
}

/** The form for a record of a table, or for a new one, that is open on a phone; null for none. */
export function formOn(phone: RehearsedPhone, table: string, record: string | null): FormFound | null {
  for (const { opening, shown } of phone.seen.open)
    for (const node of shown.nodes.values()) {
      if (node.kind !== 'form' || node['table'] !== table || node['record'] !== record) continue;
      const place = phone.seen.where?.stack.find((p) => p.opening === opening);
      const values = node['values'] as Record<string, Cell>;
      return { view: opening, node, shown, begins: record === null ? { ...values, ...place?.values } : values };
    }
  return null;
}

/** The fields of the inputs that a form shows now. */
export function fieldsIn({ nodes }: SeenScreen, keys: readonly string[]): DrawnNode[] {
  return keys.flatMap((key) => {
    const node = nodes.get(key);
    if (!node) return [];
    if (node.kind === 'input') return node['into'] === 'form' ? [node] : [];
    return Array.isArray(node['children']) ? fieldsIn({ nodes } as SeenScreen, node['children'] as string[]) : [];
  });
}

/** Where a value of a record, or a new record by its name, is filled in at once; null where nothing takes it. */
export function inputOn(
  phone: RehearsedPhone,
  table: string,
  record: string | null,
  fields: readonly string[],
): InputFound | null {
  const [field] = fields;
  for (const { opening, shown } of phone.seen.open)
    for (const node of shown.nodes.values()) {
      const isInput =
        node.kind === 'input' &&
        (record === null
          ? node['link'] === table && node['adds'] !== null
          : node['into'] === 'record' && node['record'] === record && node['field'] === field);
      const isBoard =
        node.kind === 'board' && node['table'] === table && node['by'] === field && node['drags'] === true;
      if (isInput || isBoard) return { view: opening, node };
    }
  return null;
}
