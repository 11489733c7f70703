import type { Node } from './ast.ts';

/** So many nodes of the tree may stand below one another; a sum of so many numbers is such a tree. */
export const MOST_DEEP = 500;

/** Are more nodes below one another? Looks without going into itself: what is too deep would end that. */
export function isDeep(tree: Node): boolean {
  const open: { node: unknown; depth: number }[] = [{ node: tree, depth: 1 }];
  for (let top = open.pop(); top; top = open.pop()) {
    if (top.depth > MOST_DEEP) return true;
    if (typeof top.node !== 'object' || top.node === null) continue;
    const depth = top.depth + ('t' in top.node ? 1 : 0);
    for (const node of Object.values(top.node)) if (typeof node === 'object') open.push({ node, depth });
  }
  return false;
}
