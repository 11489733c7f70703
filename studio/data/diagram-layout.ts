import dagre from '@dagrejs/dagre';
import type { App } from '../../core/app/schema.ts';
import type { Table } from '../../core/tables/schema.ts';

/** A table in the diagram, in pixels. */
export const BOX = { width: 168, height: 60 };

export interface Point {
  x: number;
  y: number;
}
export interface Placed extends Point {
  table: Table;
  /** It stands where the maker put it. */
  moved: boolean;
}
export interface Layout {
  tables: Placed[];
  /** The way of the line of a link from the many to the one, around the tables between, by its field. */
  routes: ReadonlyMap<string, readonly Point[]>;
}

/** Places tables so that what is pointed at stands to the left of what points, and lines cross as little as may be. */
export function layout(app: App): Layout {
  const graph = new dagre.graphlib.Graph({ multigraph: true });
  graph.setGraph({ rankdir: 'RL', nodesep: 28, edgesep: 18, ranksep: 84, marginx: 18, marginy: 20 });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const t of app.tables) graph.setNode(t.id, { ...BOX });
  for (const t of app.tables)
    for (const f of t.fields)
      if (f.link && f.link.table !== t.id && app.tables.some((o) => o.id === f.link!.table))
        graph.setEdge(t.id, f.link.table, {}, f.id);
  dagre.layout(graph);
  const columns = app.tables.map((t) => (graph.node(t.id) as Point).x);
  const routes = new Map<string, readonly Point[]>();
  for (const e of graph.edges()) {
    const { points } = graph.edge(e) as { points?: Point[] };
    if (e.name && points)
      routes.set(e.name, around(points, graph.node(e.v) as Point, graph.node(e.w) as Point, columns));
  }
  return {
    tables: app.tables.map((table) => {
      const { x, y } = graph.node(table.id) as Point;
      const auto = { x: x - BOX.width / 2, y: y - BOX.height / 2 };
      return { table, moved: table.place !== undefined, ...(table.place ?? auto) };
    }),
    routes,
  };
}

/** Room between a line and the column of tables that it passes. */
const BESIDE = 10;

/** A way from the left of one table to the right of another that goes straight through the gaps of columns between. */
function around(points: readonly Point[], from: Point, to: Point, columns: readonly number[]): Point[] {
  const half = BOX.width / 2;
  const between = points.slice(1, -1).flatMap((p): Point[] => {
    if (!columns.some((x) => Math.abs(x - p.x) < 1)) return [];
    return [
      { x: p.x + half + BESIDE, y: p.y },
      { x: p.x - half - BESIDE, y: p.y },
    ];
  });
  return [{ x: from.x - half, y: from.y }, ...between, { x: to.x + half, y: to.y }];
}

/** A line through points, with a soft bend between each two. */
export function curve(points: readonly Point[]): string {
  const [first, ...rest] = points;
  if (!first) return '';
  let before = first;
  let path = `M${first.x} ${first.y}`;
  for (const p of rest) {
    const mid = (before.x + p.x) / 2;
    path += before.y === p.y ? `L${p.x} ${p.y}` : `C${mid} ${before.y} ${mid} ${p.y} ${p.x} ${p.y}`;
    before = p;
  }
  return path;
}
