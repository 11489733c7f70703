import { LiveScreen, type ScreenDoc } from './live-screen.ts';
import type { CompiledNode, ScreenCompiler } from './compile.ts';
import { reachOfScreen } from './reach.ts';

/** What drawing a screen once takes. */
export interface Weight {
  screen: string;
  /** Elements that are drawn, those in rows each counted. */
  elements: number;
  queries: number;
  /** Records that its lists and charts go through. */
  records: number;
  /** What travels to the page, in bytes of JSON. */
  bytes: number;
  /** Milliseconds to work it out here, once. */
  ms: number;
  /** The element with the most records behind it; null where none has any. */
  heaviest: { element: string; records: number } | null;
}

/**
 * Draws a screen once and measures that. The compiler must not have drawn it before, so that what is compiled counts;
 * a screen that needs a record is given one.
 */
export function weigh(compiler: ScreenCompiler, screen: ScreenDoc, record: string | null): Weight {
  const started = performance.now();
  const live = new LiveScreen(compiler, screen, record);
  const patch = live.take();
  const ms = performance.now() - started;
  live.close();
  const nodes = patch?.set ?? [];
  const behind = new Map<string, number>();
  for (const n of nodes) {
    const records = typeof n['records'] === 'number' ? n['records'] : n['total'];
    if (typeof records === 'number') behind.set(n.id, (behind.get(n.id) ?? 0) + records);
  }
  const [first] = [...behind].sort((a, b) => b[1] - a[1]);
  const queries = (n: CompiledNode): number =>
    n.queries.length + n.slots.flatMap((s) => s.nodes).reduce((sum, c) => sum + queries(c), 0);
  return {
    screen: screen.id,
    elements: nodes.length,
    queries: queries(compiler.node(screen.root, reachOfScreen(compiler.records.model, screen))),
    records: [...behind.values()].reduce((a, b) => a + b, 0),
    bytes: JSON.stringify(patch ?? {}).length,
    ms,
    heaviest: first ? { element: first[0], records: first[1] } : null,
  };
}

/** The heaviest first: by bytes and time, each beside the heaviest of all. */
export function byWeight(weights: readonly Weight[]): Weight[] {
  const [most, longest] = [Math.max(1, ...weights.map((w) => w.bytes)), Math.max(1, ...weights.map((w) => w.ms))];
  const of = (w: Weight): number => w.bytes / most + w.ms / longest;
  return [...weights].sort((a, b) => of(b) - of(a));
}
