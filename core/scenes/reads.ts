import type { DrawnNode } from '../screens/element.ts';
import { rowsOf } from '../rehearsal/seen.ts';

/** What of something drawn is read as words, in this order. */
const WORDS = ['label', 'title', 'words', 'value', 'said', 'shown', 'text'] as const;

type Nodes = ReadonlyMap<string, DrawnNode>;

/** What people read at a place of a screen, with all that is drawn within it, in one line. */
export function wordsOf(nodes: Nodes, key: string): string {
  const read: string[] = [];
  collect(nodes, key, read, 0);
  return read.join(' ').replace(/\s+/g, ' ').trim();
}

/** Deeper nobody reads. */
const DEEPEST = 40;

function collect(nodes: Nodes, key: string, read: string[], depth: number): void {
  const node = nodes.get(key);
  if (!node || depth > DEEPEST) return;
  // What a value is called belongs to the design, and may be renamed.
  const isNamed = ['value', 'said', 'shown', 'cell'].some((name) => node[name] !== undefined);
  for (const name of WORDS) {
    const text = name === 'label' && isNamed ? '' : node[name];
    if (typeof text === 'string' && text) read.push(text);
  }
  if (node.kind === 'input' && typeof node['cell'] !== 'object' && !node['shown']) read.push(inputReads(node));
  const rows = rowsOf(node);
  if (rows.length === 0 && typeof node['empty'] === 'string') read.push(node['empty']);
  const cells = node['cells'];
  if (Array.isArray(cells)) read.push(...(cells as string[][]).flat());
  const points = node['points'];
  if (Array.isArray(points))
    for (const p of points as { label?: string; said?: string }[]) read.push(p.label ?? '', p.said ?? '');
  for (const row of rows) for (const child of row.children) collect(nodes, child, read, depth + 1);
  for (const child of childrenOf(node)) collect(nodes, child, read, depth + 1);
}

/** The keys of what stands in the slots of an element. */
function childrenOf(node: DrawnNode): string[] {
  const { children } = node;
  return Array.isArray(children) ? (children as unknown[]).filter((k): k is string => typeof k === 'string') : [];
}

/** What an input shows. */
const inputReads = ({ cell }: DrawnNode): string =>
  typeof cell === 'string' || typeof cell === 'number' ? String(cell) : cell === true ? 'Yes' : '';

/** What people read of a row of a list. */
export function rowReads(nodes: Nodes, node: DrawnNode, key: string): string {
  const row = rowsOf(node).find((r) => r.key === key);
  return (row?.children ?? [])
    .map((k) => wordsOf(nodes, k))
    .join(' ')
    .trim();
}

/** Is it something that people press? */
export const isPressed = (node: DrawnNode): boolean => node['tap'] === 'act' || node['tap'] === 'save';
