import dagre from '@dagrejs/dagre';
import type { App } from '../../core/app/schema.ts';
import { waysBetween } from '../../core/app/ways-between.ts';

/** A small screen on the map, in pixels, its name below it included. */
export const CARD = { width: 132, height: 276 };

/**
 * Where every screen stands: where the maker put it; otherwise tabs side by side, and below each what it leads to. Of
 * several ways to a screen the shortest decides where it stands; the others are lines across.
 */
export function placesOnMap(app: App): Map<string, { x: number; y: number }> {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: 'TB', nodesep: 30, ranksep: 70 });
  graph.setDefaultEdgeLabel(() => ({}));
  const ways = waysBetween(app);
  const seen = new Set<string>();
  const queue: string[] = [];
  const take = (id: string): void => {
    if (seen.has(id)) return;
    seen.add(id);
    graph.setNode(id, { ...CARD });
    queue.push(id);
  };
  const follow = (): void => {
    for (let next = queue.shift(); next !== undefined; next = queue.shift())
      for (const w of ways) {
        if (w.from !== next || seen.has(w.to)) continue;
        take(w.to);
        graph.setEdge(w.from, w.to);
      }
  };
  for (const id of [...app.tabs, ...(app.drawer?.ways ?? [])].map((t) => t.screen)) take(id);
  follow();
  for (const s of app.screens) {
    take(s.id);
    follow();
  }
  dagre.layout(graph);
  return new Map(
    app.screens.map((s) => {
      const { x, y } = graph.node(s.id) as { x: number; y: number };
      return [s.id, s.place ?? { x: x - CARD.width / 2, y: y - CARD.height / 2 }];
    }),
  );
}
