import { useState, type PointerEvent } from 'react';
import { wordsOf } from '../../core/app/names.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import type { Size } from '../../core/document/pieces.ts';
import { WordsField } from '../chips/WordsField.tsx';
import { usePlace } from '../screens/places.ts';
import { useElementEdit } from '../screens/useElementEdit.ts';

/** A place on the phone, in its own pixels. */
export interface Frame {
  id: string;
  top: number;
  left: number;
  width: number;
  height: number;
}

/** The line around what is under the mouse, or, with a label, around what is selected. */
export function FrameLine({ frame, label }: { frame: Frame; label?: string }) {
  const inside = frame.top < 24;
  return (
    <div
      className="pointer-events-none absolute rounded-[10px]"
      style={{
        top: frame.top,
        left: frame.left,
        width: frame.width,
        height: frame.height,
        boxShadow: label === undefined ? 'inset 0 0 0 1.5px rgb(67 84 138 / .45)' : '0 0 0 2px #43548A',
      }}
    >
      {label && (
        <span
          className="absolute right-0 rounded-md bg-dusk px-2 py-0.5 text-[12px] font-semibold whitespace-nowrap text-white"
          style={inside ? { top: 2 } : { bottom: '100%', marginBottom: 3 }}
        >
          {label}
        </span>
      )}
    </div>
  );
}

type Side = 'width' | 'height';
const SIDES: Record<string, { sides: Side[]; style: string; cursor: string; label: string }> = {
  right: {
    sides: ['width'],
    style: 'top-1/2 -right-[7px] -translate-y-1/2 h-7 w-[9px]',
    cursor: 'ew-resize',
    label: 'width',
  },
  bottom: {
    sides: ['height'],
    style: 'left-1/2 -bottom-[7px] -translate-x-1/2 w-7 h-[9px]',
    cursor: 'ns-resize',
    label: 'height',
  },
  corner: {
    sides: ['width', 'height'],
    style: '-right-[7px] -bottom-[7px] size-[13px]',
    cursor: 'nwse-resize',
    label: 'width and height',
  },
};

/** As near as this to all the room there is, a side fills it, in pixels. */
const NEAR = 8;
/** What a double press makes of a size. */
const NEXT: Record<string, Size> = { fit: 'fill', fill: 'fit' };

/**
 * Handles on the edges of what is selected: dragged to a fixed size, or to all the room there is; a double press goes
 * from fit to fill and back.
 */
export function Handles({
  frame,
  around,
  scale,
  element,
}: {
  frame: Frame;
  /** The room inside what it stands in. */
  around: Frame | null;
  scale: number;
  element: Element;
}) {
  const set = useElementEdit<Element>(element);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  const sizeOf = (side: Side, n: number): Size => {
    const room = around ? around[side] - (side === 'width' ? frame.left - around.left : frame.top - around.top) : 0;
    return around && n >= room - NEAR && n <= room + 4 * NEAR ? 'fill' : Math.max(8, Math.min(2000, Math.round(n)));
  };
  const begin = (ev: PointerEvent<HTMLElement>, sides: Side[]): void => {
    ev.preventDefault();
    ev.stopPropagation();
    const handle = ev.currentTarget;
    const from = { x: ev.clientX, y: ev.clientY };
    let now = { width: frame.width, height: frame.height };
    let moved = false;
    handle.setPointerCapture(ev.pointerId);
    const move = (m: globalThis.PointerEvent): void => {
      moved ||= Math.abs(m.clientX - from.x) + Math.abs(m.clientY - from.y) > 3;
      now = {
        width: sides.includes('width') ? frame.width + (m.clientX - from.x) / scale : frame.width,
        height: sides.includes('height') ? frame.height + (m.clientY - from.y) / scale : frame.height,
      };
      if (moved) setSize(now);
    };
    const end = (): void => {
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', end);
      handle.removeEventListener('pointercancel', end);
      setSize(null);
      if (moved) for (const side of sides) set(side, sizeOf(side, now[side]));
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', end);
    handle.addEventListener('pointercancel', end);
  };
  const said = (side: Side): string => {
    const s = sizeOf(side, size![side]);
    return typeof s === 'number' ? String(s) : 'fill';
  };
  return (
    <div
      className="pointer-events-none absolute z-10"
      style={{
        top: frame.top,
        left: frame.left,
        width: Math.max(4, size?.width ?? frame.width),
        height: Math.max(4, size?.height ?? frame.height),
        boxShadow: size ? '0 0 0 1.5px #C7421F' : 'none',
      }}
    >
      {size && (
        <span className="absolute -bottom-6 left-0 rounded-md bg-persimmon px-1.5 py-0.5 font-mono text-[12px] whitespace-nowrap text-white">
          {said('width')} × {said('height')}
        </span>
      )}
      {Object.entries(SIDES).map(([key, { sides, style, cursor, label }]) => (
        <span
          key={key}
          data-handle={key}
          title={`Drag to set the ${label}; press twice for fit or fill`}
          className={`pointer-events-auto absolute rounded-full border-2 border-dusk bg-white ${style}`}
          style={{ cursor }}
          onMouseDown={(e) => e.stopPropagation()}
          onTouchStart={(e) => e.stopPropagation()}
          onPointerDown={(e) => begin(e, sides)}
          onClick={(e) => e.stopPropagation()}
          onDoubleClick={(e) => {
            e.stopPropagation();
            for (const side of sides) {
              const usual = side === 'width' ? 'fill' : 'fit';
              set(side, NEXT[String(element[side] ?? usual)] ?? usual);
            }
          }}
        />
      ))}
    </div>
  );
}

/** The words of an element, written where they stand. */
export function WordsInPlace({
  frame,
  element,
  screen,
  onEnd,
}: {
  frame: Frame;
  element: Element;
  screen: Screen;
  onEnd(): void;
}) {
  const set = useElementEdit<Element>(element) as (key: string, value: unknown) => void;
  const place = usePlace(screen, element.id);
  const key = wordsOf(element);
  if (!key) return null;
  return (
    <div
      className="float absolute z-20 p-1.5"
      style={{ top: frame.top - 8, left: Math.max(4, frame.left - 8), width: Math.max(220, frame.width + 16) }}
      onPointerDown={(e) => e.stopPropagation()}
      onMouseDown={(e) => e.stopPropagation()}
      onTouchStart={(e) => e.stopPropagation()}
      onClick={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onEnd();
      }}
    >
      <WordsField
        name="Words, in place"
        autoFocus
        value={String((element as unknown as Record<string, unknown>)[key] ?? '')}
        onChange={(v) => set(key, v)}
        place={place}
      />
    </div>
  );
}
