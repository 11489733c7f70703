import '@xyflow/react/dist/base.css';
import '../ui/graph.css';
import './diagram.css';
import {
  BaseEdge,
  Controls,
  getBezierPath,
  Handle,
  Position,
  ReactFlow,
  type Edge,
  type EdgeProps,
  type Node,
  type NodeProps,
} from '@xyflow/react';
import { useQuery } from '@tanstack/react-query';
import { Table2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { App } from '../../core/app/schema.ts';
import { useApp, useEngine, useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Note } from '../ui/controls.tsx';
import { useMeasured } from '../ui/useMeasured.ts';
import { BOX, curve, layout, type Point } from './diagram-layout.ts';

interface TableCard extends Record<string, unknown> {
  name: string;
  count: number;
  /** The names of its links, or how many lead to it. */
  said: string;
  hasLinks: boolean;
  open(): void;
}
type TableNode = Node<TableCard, 'table'>;
/** Absent where a table was moved: then it goes straight. */
type LinkEdge = Edge<{ route: readonly Point[] | undefined }, 'link'>;

const nodeTypes = { table: TableBox };
const edgeTypes = { link: LinkLine };

/** Every link between tables that are there. */
const linksOf = (app: App) =>
  app.tables.flatMap((table) =>
    table.fields.flatMap((field) => {
      const to = app.tables.find((t) => t.id === field.link?.table);
      return to ? [{ table, field, to }] : [];
    }),
  );

/** How tables relate: every table with lines to those it links to; what finds nothing is counted and listed. */
export function Diagram() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const revision = useRevisions((s) => s.revision);
  const navigate = useNavigate();
  const [dragged, setDragged] = useState<Record<string, Point>>({});
  const { data: figures = {} } = useQuery({
    queryKey: ['links', home, revision],
    queryFn: () => engine.looking.linkFigures(),
  });
  const { data: counts = {} } = useQuery({
    queryKey: ['counts', home, revision],
    queryFn: () => engine.looking.counts(),
  });
  const { sizes, measure } = useMeasured();
  const placed = useMemo(() => layout(app), [app]);
  const links = linksOf(app);
  const isLost = (field: string): boolean => figures[field] !== undefined && figures[field].found < figures[field].of;
  const lost = links.filter((l) => isLost(l.field.id));

  const incoming = (id: string): string => {
    const n = links.filter((l) => l.to.id === id).length;
    return n === 0 ? 'linked to nothing' : n === 1 ? 'one link leads here' : `${n} links lead here`;
  };
  const put = (id: string, to: Point): void =>
    void edit(
      'Moved a table in the diagram',
      (a) => {
        a.tables.find((t) => t.id === id)!.place = {
          x: Math.max(0, Math.round(to.x)),
          y: Math.max(0, Math.round(to.y)),
        };
      },
      { merge: `place-${id}` },
    ).then(() => setDragged(({ [id]: _put, ...rest }) => rest));

  const nodes = placed.tables.map(({ table, x, y }): TableNode => {
    const names = table.fields.filter((f) => f.link).map((f) => f.name);
    return {
      id: table.id,
      type: 'table',
      position: dragged[table.id] ?? { x, y },
      ...(sizes[table.id] && { measured: sizes[table.id] }),
      ariaLabel: table.name,
      data: {
        name: table.name,
        count: counts[table.id] ?? 0,
        said: names.join(', ') || incoming(table.id),
        hasLinks: names.length > 0,
        open: () => void navigate(`${home}/data/${table.id}`),
      },
    };
  });
  const still = (id: string): boolean => !dragged[id] && !placed.tables.find((p) => p.table.id === id)?.moved;
  const edges = links.map(({ table, field, to }): LinkEdge => ({
    id: field.id,
    ariaLabel: `${table.name} to ${to.name}, by ${field.name}`,
    type: 'link',
    source: table.id,
    target: to.id,
    className: isLost(field.id) ? 'kite-link-lost' : 'kite-link',
    data: { route: still(table.id) && still(to.id) ? placed.routes.get(field.id) : undefined },
    ...(field.link!.kind === 'matched' && { style: { strokeDasharray: '5 4' } }),
  }));
  const height = Math.max(320, ...placed.tables.map((p) => p.y + BOX.height + 40));
  return (
    <div className="thin-scroll flex-1 overflow-auto px-6 py-5">
      <h1 className="text-xl">How tables relate</h1>
      <p className="mb-3 text-md text-ink-soft">
        Each line leads from the many to the one. Drag a table, or move it with the arrow keys; press it to open it.
      </p>
      {lost.map((l) => {
        const figure = figures[l.field.id]!;
        return (
          <div key={l.field.id} className="mb-2 max-w-[760px]">
            <Note
              action={
                <button
                  type="button"
                  className="font-semibold text-saffron hover:underline"
                  onClick={() => void navigate(`${home}/data/${l.table.id}/${l.field.id}`)}
                >
                  Look at it
                </button>
              }
            >
              <b className="font-semibold">
                {(figure.of - figure.found).toLocaleString('en-GB')} of {figure.of.toLocaleString('en-GB')}{' '}
                {l.table.name} find no {l.to.one}
              </b>{' '}
              by {l.field.name}: {figure.lost.slice(0, 6).join(', ')}
              {figure.lost.length > 6 ? ' and more' : ''}
            </Note>
          </div>
        );
      })}
      <div className="kite-diagram kite-graph card" style={{ height: Math.min(height, 720) }}>
        <ReactFlow
          nodes={nodes}
          edges={edges}
          nodeTypes={nodeTypes}
          edgeTypes={edgeTypes}
          onNodesChange={(changes) => {
            measure(changes);
            for (const c of changes) {
              if (c.type !== 'position' || !c.position) continue;
              // A drag is put down at its end; the keys move at once.
              if (c.dragging === undefined) put(c.id, c.position);
              else setDragged((d) => ({ ...d, [c.id]: c.position! }));
            }
          }}
          onNodeDragStop={(_, node) => put(node.id, node.position)}
          onNodeClick={(_, node) => (node.data as TableCard).open()}
          fitView
          fitViewOptions={{ maxZoom: 1, padding: '12px' }}
          nodesConnectable={false}
          edgesFocusable={false}
          minZoom={0.3}
          maxZoom={1.5}
          preventScrolling={false}
          zoomOnScroll={false}
          zoomOnDoubleClick={false}
          deleteKeyCode={null}
          proOptions={{ hideAttribution: true }}
        >
          <Controls showInteractive={false} position="bottom-right" />
        </ReactFlow>
      </div>
      <p className="mt-2 text-xs text-ink-faint">A whole line is picked, a broken one matches by a value.</p>
    </div>
  );
}

/** A table in the diagram: pressed to open it, dragged to move it. */
function TableBox({ data }: NodeProps<TableNode>) {
  return (
    <div
      className="flex flex-col justify-center rounded-card border border-line-strong bg-raised px-3 text-left shadow-[0_1px_2px_rgb(31_46_42/0.06)] hover:border-dusk"
      style={BOX}
    >
      <Handle type="target" position={Position.Right} isConnectable={false} />
      <span className="flex items-center gap-2 font-semibold">
        <Table2 size={14} className="shrink-0 text-ink-soft" aria-hidden />
        <span className="min-w-0 flex-1 truncate">{data.name}</span>
        <span className="text-xs font-normal text-ink-faint">{data.count.toLocaleString('en-GB')}</span>
      </span>
      <span className={`mt-0.5 block truncate text-xs ${data.hasLinks ? 'text-dusk' : 'text-ink-faint'}`}>
        {data.said}
      </span>
      <Handle type="source" position={Position.Left} isConnectable={false} />
    </div>
  );
}

/** The line of a link, around the tables between; a dot stands at the one it leads to. */
function LinkLine({
  data,
  style,
  sourceX,
  sourceY,
  targetX,
  targetY,
  sourcePosition,
  targetPosition,
}: EdgeProps<LinkEdge>) {
  const ends = { sourceX, sourceY, targetX, targetY, sourcePosition, targetPosition };
  const path = data?.route ? curve(data.route) : getBezierPath(ends)[0];
  const to = data?.route?.at(-1) ?? { x: targetX, y: targetY };
  return (
    <>
      <BaseEdge path={path} {...(style && { style })} />
      <circle r={3.5} cx={to.x} cy={to.y} className="kite-link-end" />
    </>
  );
}
