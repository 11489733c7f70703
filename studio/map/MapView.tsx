import '@xyflow/react/dist/base.css';
import '../ui/graph.css';
import './map.css';
import {
  Background,
  Controls,
  Handle,
  MarkerType,
  Position,
  ReactFlow,
  type Connection,
  type Edge,
  type Node,
  type NodeProps,
} from '@xyflow/react';
import { Flag, House } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { elementOf } from '../../core/app/edits.ts';
import { ElementMaker } from '../../core/app/make.ts';
import { elementName, screenOf } from '../../core/app/names.ts';
import type { App, Element } from '../../core/app/schema.ts';
import { waysBetween } from '../../core/app/ways-between.ts';
import { thisId } from '../../core/document/ids.ts';
import { reachedScreens } from '../../core/preflight/reached.ts';
import type { Frame } from '../../player/api.ts';
import { frameFor } from '../shell/frame-seen.ts';
import { picture } from '../../player/picture.ts';
import { Player } from '../../player/Player.tsx';
import { usePhone } from '../state/phone.ts';
import { useApp, useEngine, useHome, usePreview, useStudio } from '../state/studio.ts';
import { useMeasured } from '../ui/useMeasured.ts';
import { CARD, placesOnMap } from './layout.ts';

interface ScreenCard extends Record<string, unknown> {
  name: string;
  screen: string;
  given: string | null;
  frame: Frame;
  /** "Tab 1", "First", or that nobody reaches it. */
  mark: string;
  lost: boolean;
  starts: boolean;
  /** Goes to where it is worked on. */
  work(): void;
}
type ScreenNode = Node<ScreenCard, 'screen'>;

/** The size that small screens are drawn for. */
const PHONE = { width: 390, height: 760 };
/** How large the map is when it opens. */
const BEGIN = 0.6;
const nodeTypes = { screen: SmallScreen };

/** Every screen as a small live picture, with the ways between them. */
export function MapView() {
  const app = useApp();
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const [dragged, setDragged] = useState<Record<string, { x: number; y: number }>>({});
  const [chosen, setChosen] = useState<string | null>(null);
  // A small screen shows neither tabs nor drawer.
  const frame = useMemo(() => ({ ...frameFor(app), tabs: [], drawer: undefined, isLive: false }), [app]);
  const places = useMemo(() => placesOnMap(app), [app]);
  const ways = useMemo(() => waysBetween(app), [app]);
  const reached = useMemo(() => reachedScreens(app), [app]);
  const { sizes, measure } = useMeasured();
  const nodes = app.screens.map((s): ScreenNode => {
    const tab = app.tabs.findIndex((t) => t.screen === s.id);
    const starts = Object.values(app.starts ?? {}).includes(s.id);
    const lost = !reached.has(s.id);
    return {
      id: s.id,
      type: 'screen',
      position: dragged[s.id] ?? places.get(s.id)!,
      ...(sizes[s.id] && { measured: sizes[s.id] }),
      selected: s.id === chosen,
      ariaLabel: s.name,
      data: {
        name: s.name,
        screen: s.id,
        given: s.given && !s.optional ? s.given : null,
        frame,
        mark: starts
          ? 'before the first'
          : tab === 0
            ? 'start, tab 1'
            : tab > 0
              ? `tab ${tab + 1}`
              : lost
                ? 'nobody gets here'
                : '',
        lost,
        starts: starts || tab === 0,
        work: () => void navigate(`${home}/screens/${s.id}`),
      },
    };
  });
  const pairs = new Map<string, typeof ways>();
  for (const w of ways) pairs.set(`${w.from} ${w.to}`, [...(pairs.get(`${w.from} ${w.to}`) ?? []), w]);
  const edges = [...pairs].map(([id, list]): Edge => {
    const touched = chosen !== null && (list[0]!.from === chosen || list[0]!.to === chosen);
    return {
      id,
      ariaLabel: `From ${screenOf(app, list[0]!.from)?.name ?? 'a screen'} to ${screenOf(app, list[0]!.to)?.name ?? 'a screen'}`,
      source: list[0]!.from,
      target: list[0]!.to,
      className: touched ? 'kite-way-near' : isBelow(places, list[0]!) ? 'kite-way' : 'kite-way-across',
      label: touched
        ? list
            .map((w) => labelOf(app, w.element))
            .slice(0, 2)
            .join(', ')
        : undefined,
      markerEnd: { type: MarkerType.ArrowClosed, width: 16, height: 16 },
      ...(list.every((w) => w.as === 'sheet') && { style: { strokeDasharray: '5 4' } }),
    };
  });

  const connect = ({ source, target }: Connection): void => {
    const [from, to] = [screenOf(app, source), screenOf(app, target)];
    if (!from || !to || from.id === to.id) return;
    const give = to.given && to.given === from.given ? thisId(to.given) : '';
    void edit(`Led ${from.name} to ${to.name}`, (a) => {
      const button = new ElementMaker().button(to.name, { do: 'open', screen: to.id, give }, { look: 'quiet' });
      a.screens.find((s) => s.id === from.id)!.root.children.push(button as Element);
    });
    toast(
      to.given && !to.optional && !to.finds && !give
        ? `${from.name} has a button now that opens ${to.name}. Choose what it gives.`
        : `${from.name} has a button now that opens ${to.name}.`,
    );
  };
  return (
    <div className="kite-map kite-graph h-full" aria-label="Map of the app" role="region">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={nodeTypes}
        onNodesChange={(changes) => {
          measure(changes);
          for (const c of changes)
            if (c.type === 'position' && c.position) setDragged((d) => ({ ...d, [c.id]: c.position! }));
        }}
        onNodeDragStop={(_, node) => {
          const { x, y } = node.position;
          void edit(
            `Moved ${(node.data as ScreenCard).name} on the map`,
            (a) => {
              a.screens.find((s) => s.id === node.id)!.place = { x: Math.round(x), y: Math.round(y) };
            },
            { merge: `map-${node.id}` },
          ).then(() => setDragged(({ [node.id]: _put, ...rest }) => rest));
        }}
        onNodeClick={(_, node) => setChosen(node.id === chosen ? null : node.id)}
        onPaneClick={() => setChosen(null)}
        onConnect={connect}
        onlyRenderVisibleElements
        minZoom={0.15}
        maxZoom={2}
        onInit={(flow) => {
          // It begins at the first tab; the rest is a drag or a zoom away.
          const at = places.get(app.tabs[0]?.screen ?? app.screens[0]?.id ?? '');
          if (at) void flow.setViewport({ x: 96 - at.x * BEGIN, y: 28 - at.y * BEGIN, zoom: BEGIN });
        }}
        zoomOnDoubleClick={false}
        deleteKeyCode={null}
        proOptions={{ hideAttribution: true }}
      >
        <Background gap={24} size={1.4} color="#D9D1BF" />
        <Controls showInteractive={false} position="bottom-right" />
      </ReactFlow>
    </div>
  );
}

/** Does a way lead just to the row below? The others go across, and are drawn lightly until they are asked for. */
function isBelow(places: ReadonlyMap<string, { y: number }>, w: { from: string; to: string }): boolean {
  const down = (places.get(w.to)?.y ?? 0) - (places.get(w.from)?.y ?? 0);
  return down > 0 && down < CARD.height * 1.6;
}

const labelOf = (app: App, id: string): string => {
  const e = elementOf(app, id);
  return e ? elementName(app, e) : '';
};

/** One screen of the map. Pressed it shows its ways, and the button that leads to it. */
function SmallScreen({ data, selected }: NodeProps<ScreenNode>) {
  const api = usePreview();
  const engine = useEngine();
  const dark = usePhone((s) => s.dark);
  const [record, setRecord] = useState<string | null | undefined>(data.given ? undefined : null);
  useEffect(() => {
    let current = true;
    if (data.given) void engine.looking.recordIds(data.given, 1).then((ids) => current && setRecord(ids[0] ?? null));
    else setRecord(null);
    return () => {
      current = false;
    };
  }, [engine, data.given]);
  const walk = useMemo(
    () => (record === undefined ? null : picture(api, { screen: data.screen, record })),
    [api, data.screen, record],
  );
  const scale = CARD.width / PHONE.width;
  const Icon = data.starts ? House : data.lost ? Flag : null;
  return (
    <div style={{ width: CARD.width }}>
      <Handle type="target" position={Position.Top} />
      <div
        inert
        className="overflow-hidden rounded-[12px] bg-raised"
        style={{
          width: CARD.width,
          height: PHONE.height * scale,
          boxShadow: `0 0 0 ${selected ? 2 : 1}px var(${selected ? '--color-dusk' : data.lost ? '--color-saffron' : '--color-line-strong'})`,
        }}
      >
        <div
          className="origin-top-left font-normal [font-size:16px]"
          style={{ ...PHONE, transform: `scale(${scale})` }}
        >
          {walk && <Player api={api} walk={walk} frame={data.frame} dark={dark} />}
        </div>
      </div>
      <p className="mt-1.5 truncate text-center text-[12px] leading-tight font-semibold">{data.name}</p>
      {data.mark && (
        <p
          className={`flex items-center justify-center gap-1 text-[10.5px] ${data.lost ? 'text-saffron' : 'text-ink-faint'}`}
        >
          {Icon && <Icon size={11} aria-hidden />} {data.mark}
        </p>
      )}
      {selected && (
        <button
          type="button"
          className="nodrag mx-auto mt-1 block rounded-[7px] bg-dusk px-2 py-0.5 text-[11px] font-semibold text-white"
          onClick={(e) => {
            e.stopPropagation();
            data.work();
          }}
        >
          Work on it
        </button>
      )}
      <Handle type="source" position={Position.Bottom} />
    </div>
  );
}
