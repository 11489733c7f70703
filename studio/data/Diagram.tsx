import { useQuery } from '@tanstack/react-query';
import { Table2 } from 'lucide-react';
import { useDraggable } from '@dnd-kit/core';
import type { KeyboardEvent, ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { useApp, useEngine, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { Note } from '../ui/controls.tsx';
import { DragArea, type DragAt } from '../ui/drag.tsx';
import { BOX, layout, linePath } from './diagram-layout.ts';

/** How tables relate: every table with lines to those it links to; what finds nothing is counted and listed. */
export function Diagram() {
  const app = useApp();
  const engine = useEngine();
  const edit = useStudio((s) => s.edit);
  const kept = useStudio((s) => s.kept);
  const revision = useRevisions((s) => s.revision);
  const navigate = useNavigate();
  const { data: figures = {} } = useQuery({
    queryKey: ['links', kept?.id, revision],
    queryFn: () => engine.linkFigures(),
  });
  const { data: counts = {} } = useQuery({ queryKey: ['counts', kept?.id, revision], queryFn: () => engine.counts() });
  const lines = (placed: readonly Placed[]) => {
    const at = new Map(placed.map((p) => [p.table.id, p]));
    return app.tables.flatMap((t) =>
      t.fields.flatMap((f) =>
        f.link && at.has(f.link.table)
          ? [{ table: t, field: f, a: at.get(t.id)!, b: at.get(f.link.table)!, figure: figures[f.id] }]
          : [],
      ),
    );
  };
  const still = layout(app);
  const links = lines(still);
  const lost = links.filter((l) => l.figure && l.figure.found < l.figure.of);
  /** The tables as they stand while one is dragged. */
  const moved = (drag: DragAt | null): Placed[] =>
    still.map((p) =>
      p.table.id === drag?.id ? { ...p, x: Math.max(0, p.x + drag.by.x), y: Math.max(0, p.y + drag.by.y) } : p,
    );

  const incoming = (id: string): string => {
    const n = links.filter((l) => l.b.table.id === id).length;
    return n === 0 ? 'linked to nothing' : n === 1 ? 'one link leads here' : `${n} links lead here`;
  };
  const put = (id: string, x: number, y: number): void =>
    void edit(
      'Moved a table in the diagram',
      (a) => {
        a.tables.find((t) => t.id === id)!.place = { x: Math.max(0, Math.round(x)), y: Math.max(0, Math.round(y)) };
      },
      { merge: `place-${id}` },
    );
  const onKey = (e: KeyboardEvent, id: string): void => {
    const by = { ArrowLeft: [-12, 0], ArrowRight: [12, 0], ArrowUp: [0, -12], ArrowDown: [0, 12] }[e.key];
    const p = still.find((x) => x.table.id === id)!;
    if (!by) return;
    e.preventDefault();
    put(id, p.x + by[0]!, p.y + by[1]!);
  };
  return (
    <div className="thin-scroll flex-1 overflow-auto px-6 py-5">
      <h1 className="text-xl">How tables relate</h1>
      <p className="mb-3 text-md text-ink-soft">
        Each line leads from the many to the one. Drag a table, or move it with the arrow keys; press it to open it.
      </p>
      {lost.map((l) => (
        <div key={l.field.id} className="mb-2 max-w-[760px]">
          <Note
            action={
              <button
                type="button"
                className="font-semibold text-saffron hover:underline"
                onClick={() => void navigate(`/app/${kept!.id}/data/${l.table.id}/${l.field.id}`)}
              >
                Look at it
              </button>
            }
          >
            <b className="font-semibold">
              {(l.figure!.of - l.figure!.found).toLocaleString('en-GB')} of {l.figure!.of.toLocaleString('en-GB')}{' '}
              {l.table.name} find no {l.b.table.one}
            </b>{' '}
            by {l.field.name}: {l.figure!.lost.slice(0, 6).join(', ')}
            {l.figure!.lost.length > 6 ? ' and more' : ''}
          </Note>
        </div>
      ))}
      <DragArea
        onDrop={(drag) => {
          const p = moved(drag).find((x) => x.table.id === drag.id)!;
          put(drag.id, p.x, p.y);
        }}
      >
        {(drag) => {
          const placed = moved(drag);
          const size = {
            width: Math.max(...placed.map((p) => p.x + BOX.width)) + 18,
            height: Math.max(...placed.map((p) => p.y + BOX.height)) + 24,
          };
          return (
            <div className="card thin-scroll relative overflow-auto" style={{ minHeight: 320 }}>
              <div className="relative" style={size}>
                <svg width={size.width} height={size.height} className="absolute inset-0" aria-hidden>
                  {lines(placed).map((l) => {
                    const broken = l.figure && l.figure.found < l.figure.of;
                    return (
                      <g key={l.field.id} className={broken ? 'text-saffron' : 'text-line-strong'}>
                        <path
                          d={linePath(l.a, l.b)}
                          fill="none"
                          stroke="currentColor"
                          strokeWidth={1.6}
                          strokeDasharray={l.field.link!.kind === 'picked' ? undefined : '5 4'}
                        />
                        <circle
                          r={3.5}
                          fill="currentColor"
                          cx={
                            l.b.x +
                            (l.a.x >= l.b.x + BOX.width ? BOX.width : l.a.x + BOX.width <= l.b.x ? 0 : BOX.width / 2)
                          }
                          cy={
                            l.a.x >= l.b.x + BOX.width || l.a.x + BOX.width <= l.b.x
                              ? l.b.y + BOX.height / 2
                              : l.a.y < l.b.y
                                ? l.b.y
                                : l.b.y + BOX.height
                          }
                        />
                      </g>
                    );
                  })}
                </svg>
                {still.map((p) => {
                  const to = placed.find((x) => x.table.id === p.table.id)!;
                  const names = p.table.fields.filter((f) => f.link).map((f) => f.name);
                  return (
                    <TableBox
                      key={p.table.id}
                      id={p.table.id}
                      x={p.x}
                      y={p.y}
                      shift={{ x: to.x - p.x, y: to.y - p.y }}
                      onKeyDown={(e) => onKey(e, p.table.id)}
                      onOpen={() => void navigate(`/app/${kept!.id}/data/${p.table.id}`)}
                    >
                      <span className="flex items-center gap-2 font-semibold">
                        <Table2 size={14} className="shrink-0 text-ink-soft" aria-hidden />
                        <span className="min-w-0 flex-1 truncate">{p.table.name}</span>
                        <span className="text-xs font-normal text-ink-faint">
                          {(counts[p.table.id] ?? 0).toLocaleString('en-GB')}
                        </span>
                      </span>
                      <span className="mt-0.5 block truncate text-xs text-dusk">
                        {names.length ? (
                          names.join(', ')
                        ) : (
                          <span className="text-ink-faint">{incoming(p.table.id)}</span>
                        )}
                      </span>
                    </TableBox>
                  );
                })}
              </div>
            </div>
          );
        }}
      </DragArea>
      <p className="mt-2 text-xs text-ink-faint">A whole line is picked, a broken one matches by a value.</p>
    </div>
  );
}

type Placed = ReturnType<typeof layout>[number];

/** A table in the diagram: pressed to open it, dragged to move it. */
function TableBox({
  id,
  x,
  y,
  shift,
  onKeyDown,
  onOpen,
  children,
}: {
  id: string;
  x: number;
  y: number;
  /** How far it is dragged. It is moved by a transform, which does not alter what is measured. */
  shift: { x: number; y: number };
  onKeyDown(e: KeyboardEvent): void;
  onOpen(): void;
  children: ReactNode;
}) {
  const { setNodeRef, listeners } = useDraggable({ id });
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      onKeyDown={onKeyDown}
      onClick={onOpen}
      className="absolute touch-none rounded-card border border-line-strong bg-raised px-3 text-left shadow-[0_1px_2px_rgb(31_46_42/0.06)] hover:border-dusk"
      style={{
        left: x,
        top: y,
        ...BOX,
        transform: `translate(${shift.x}px, ${shift.y}px)`,
        zIndex: shift.x || shift.y ? 1 : 0,
      }}
    >
      {children}
    </button>
  );
}
