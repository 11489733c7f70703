import {
  DndContext,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useDndContext,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
  type DragMoveEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { flushSync } from 'react-dom';

/** Where something that is dragged is now. */
export interface DragAt {
  /** What is dragged. */
  id: string;
  /** The place it is over; null over none. */
  over: string | null;
  /** How far across and down that place it is, from 0 to 1. */
  share: { x: number; y: number };
  /** How far it has come, in pixels of the page. */
  by: { x: number; y: number };
  /** Where the finger or mouse is in the window. */
  point: { x: number; y: number };
}

/** Data that a place for dropping may carry: `inside` when things can be put into it as well as before and behind it. */
export interface DropData {
  inside?: boolean;
  name?: string;
}

interface Point {
  x: number;
  y: number;
}

type Place = Parameters<CollisionDetection>[0]['droppableContainers'][number];

/** The places under a point, the smallest first. `rectOf` is where a place is, when it is anywhere. */
const placesAt = <
  R extends { left: number; top: number; right: number; bottom: number; width: number; height: number },
>(
  at: Point,
  places: readonly Place[],
  rectOf: (place: Place) => R | null | undefined,
) =>
  places
    .flatMap((c) => {
      const rect = rectOf(c);
      const within = rect && at.x >= rect.left && at.x <= rect.right && at.y >= rect.top && at.y <= rect.bottom;
      return within ? [{ id: c.id, rect, size: rect.width * rect.height }] : [];
    })
    .sort((a, b) => a.size - b.size);

/** The smallest place under a point. */
const under: CollisionDetection = ({ pointerCoordinates, collisionRect, droppableContainers, droppableRects }) =>
  placesAt(
    // Moved by keys there is no pointer: the upper edge of what is moved stands for it.
    pointerCoordinates ?? { x: collisionRect.left + 8, y: collisionRect.top },
    droppableContainers,
    (c) => droppableRects.get(c.id),
  );

/** Tells where the finger or mouse is, and which places there are in the context around. */
function Follow({ onPoint, onPlaces }: { onPoint(at: Point): void; onPlaces(of: () => readonly Place[]): void }) {
  const { droppableContainers } = useDndContext();
  useEffect(() => onPlaces(() => droppableContainers.getEnabled()), [droppableContainers, onPlaces]);
  useEffect(() => {
    const hear = (e: MouseEvent | TouchEvent): void => {
      const at = 'changedTouches' in e ? e.changedTouches[0] : e;
      if (at) onPoint({ x: at.clientX, y: at.clientY });
    };
    const events = ['mousemove', 'mouseup', 'touchmove', 'touchend'] as const;
    for (const name of events) addEventListener(name, hear, { capture: true, passive: true });
    return () => {
      for (const name of events) removeEventListener(name, hear, { capture: true });
    };
  }, [onPoint]);
  return null;
}

/** Arrow keys go from place to place: before each, into those that hold others, and behind the last. */
const stepByKeys: KeyboardCoordinateGetter = (e, { currentCoordinates, context }) => {
  if (e.code !== 'ArrowDown' && e.code !== 'ArrowUp') return undefined;
  e.preventDefault();
  const rects = context.droppableContainers.getEnabled().flatMap((c) => {
    const r = context.droppableRects.get(c.id);
    return r ? [{ r, inside: (c.data.current as DropData | undefined)?.inside ?? false }] : [];
  });
  const last = rects.reduce((low, { r }) => Math.max(low, r.bottom - 3), 0);
  const stops = rects.flatMap(({ r, inside }) => [r.top + r.height * 0.15, ...(inside ? [r.top + r.height / 2] : [])]);
  const ordered = [...stops, last].sort((a, b) => a - b);
  const y =
    e.code === 'ArrowDown'
      ? ordered.find((s) => s > currentCoordinates.y + 1)
      : ordered.findLast((s) => s < currentCoordinates.y - 1);
  return y === undefined ? undefined : { x: currentCoordinates.x, y };
};

/** Where a drag is now; `over` is the place it is over. */
function whereOf(
  e: DragMoveEvent | DragEndEvent,
  over: { id: string | number; rect: { left: number; top: number; width: number; height: number } } | null = e.over,
  by: Point = e.delta,
): DragAt {
  const { active, activatorEvent } = e;
  const start = startOf(activatorEvent, active.rect.current.initial);
  const point = { x: start.x + by.x, y: start.y + by.y };
  const r = over?.rect;
  const share = r ? { x: (point.x - r.left) / r.width, y: (point.y - r.top) / r.height } : { x: 0, y: 0 };
  return { id: String(active.id), over: over ? String(over.id) : null, share, by, point };
}

function startOf(e: Event, rect: { left: number; top: number } | null): Point {
  if (e instanceof MouseEvent) return { x: e.clientX, y: e.clientY };
  const touch = 'touches' in e ? (e as TouchEvent).touches[0] : undefined;
  return touch ? { x: touch.clientX, y: touch.clientY } : { x: (rect?.left ?? 0) + 8, y: rect?.top ?? 0 };
}

// Made once: with other options everything in the area that can be dragged would be drawn anew.
const BY_MOUSE = { activationConstraint: { distance: 4 } };
const BY_TOUCH = { activationConstraint: { delay: 180, tolerance: 8 } };
const BY_KEYS = {
  coordinateGetter: stepByKeys,
  keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
};
const NO_KEYS = { ...BY_KEYS, keyboardCodes: { ...BY_KEYS.keyboardCodes, start: [] } };

/**
 * An area in which things are dragged by mouse, by finger (held for a moment, so that a list still scrolls) and, with
 * `keys`, by keyboard: space picks up and puts down, arrow keys move, Escape leaves it where it was.
 */
export function DragArea({
  children,
  onStart,
  onMove,
  onDrop,
  keys = false,
  nameOf = () => 'it',
}: {
  children: (at: DragAt | null) => ReactNode;
  onStart?(at: Point, id: string): void;
  onMove?(at: DragAt): void;
  onDrop(at: DragAt): void;
  keys?: boolean;
  nameOf?(id: string): string;
}) {
  const [at, setAt] = useState<DragAt | null>(null);
  const mouse = useSensor(MouseSensor, BY_MOUSE);
  const touch = useSensor(TouchSensor, BY_TOUCH);
  const keyboard = useSensor(KeyboardSensor, keys ? BY_KEYS : NO_KEYS);
  const sensors = useSensors(mouse, touch, keyboard);
  // The last move may be reported after the drop, by an effect that was still waiting: it must not bring `at` back.
  const dragging = useRef(false);
  const last = useRef<Point | null>(null);
  const places = useRef<() => readonly Place[]>(() => []);
  const onPoint = useCallback((at: Point) => void (last.current = at), []);
  const onPlaces = useCallback((of: () => readonly Place[]) => void (places.current = of), []);
  /** A quick hand lets go before the last move is drawn: where it let go counts, not the place drawn last. */
  const droppedAt = (e: DragEndEvent): DragAt => {
    const point = last.current;
    if (!point || e.activatorEvent instanceof KeyboardEvent) return whereOf(e);
    const [over] = placesAt(point, places.current(), (c) => c.node.current?.getBoundingClientRect());
    const start = startOf(e.activatorEvent, e.active.rect.current.initial);
    return whereOf(e, over ?? null, { x: point.x - start.x, y: point.y - start.y });
  };
  const end = (): void => {
    dragging.current = false;
    setAt(null);
  };
  const overWords = (id: unknown): string => (id === undefined ? 'no place' : nameOf(String(id)));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={under}
      onDragStart={(e) => {
        dragging.current = true;
        onStart?.(startOf(e.activatorEvent, e.active.rect.current.initial), String(e.active.id));
      }}
      onDragMove={(e) => {
        if (!dragging.current) return;
        const now = whereOf(e);
        setAt(now);
        onMove?.(now);
      }}
      onDragEnd={(e) => {
        // At once: what is dropped must not be seen at its new place and dragged from there as well.
        const dropped = droppedAt(e);
        flushSync(end);
        onDrop(dropped);
      }}
      onDragCancel={end}
      accessibility={{
        // What is said aloud stands outside: inside a grid or a list only their own parts may stand.
        container: document.body,
        screenReaderInstructions: {
          draggable: 'Press space to pick it up, arrow keys to move it, space to put it down, Escape to leave it.',
        },
        announcements: {
          onDragStart: ({ active }) => `Picked up ${nameOf(String(active.id))}.`,
          onDragOver: ({ over }) => `Over ${overWords(over?.id)}.`,
          onDragEnd: ({ over }) => (over ? `Put down at ${overWords(over.id)}.` : 'Put back.'),
          onDragCancel: () => 'Left where it was.',
        },
      }}
    >
      <Follow onPoint={onPoint} onPlaces={onPlaces} />
      {children(at)}
    </DndContext>
  );
}
