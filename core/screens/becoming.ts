import type { Value } from '../formula/values.ts';
import { adopting, type Drawer } from './adopting.ts';
import type { CompiledNode } from './compile.ts';
import type { Instance } from './instance.ts';

// Taken into use by being loaded.
adopting.become = become;

/** Puts an element of a changed document in the place of what it was. */
function become(at: Drawer, i: Instance, node: CompiledNode): void {
  if (i.node === node) return;
  const before = i.node;
  i.adopt(node);
  for (const slot of node.slots) {
    const was = before.slots.find((s) => s.name === slot.name);
    if (!i.drawn || !was) continue;
    if (slot.each)
      for (const row of i.rows) {
        row.reach = slot.reach;
        row.children = reconcile(at, row.children, slot.nodes, `${row.key}/`, row.frame);
      }
    else i.children.set(slot.name, reconcile(at, i.children.get(slot.name) ?? [], slot.nodes, i.prefix, i.frame));
  }
  at.draw(i);
}

function reconcile(
  at: Drawer,
  there: readonly Instance[],
  nodes: readonly CompiledNode[],
  prefix: string,
  frame: Value[],
): Instance[] {
  const byId = new Map(there.map((c) => [c.node.element.id, c]));
  const list = nodes.map((node) => {
    const known = byId.get(node.element.id);
    // With other things in reach the values stand at other places.
    const fits =
      known?.node.element.kind === node.element.kind && known.node.reach.things.length === node.reach.things.length;
    if (!known || !fits) {
      if (known) at.forget(known);
      byId.delete(node.element.id);
      const made = at.instance(node, prefix, frame);
      at.draw(made);
      return made;
    }
    byId.delete(node.element.id);
    become(at, known, node);
    return known;
  });
  for (const c of byId.values()) at.forget(c);
  return list;
}
