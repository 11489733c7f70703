import { useDraggable } from '@dnd-kit/core';
import { useCallback, useEffect, useRef, useState, type ReactNode, type RefObject } from 'react';
import { kindName } from '../../core/app/names.ts';
import { elementOf, moveElement } from '../../core/app/edits.ts';
import { useStudio } from '../state/studio.ts';
import { elementBehind, selectorOf } from './drawn.ts';
import { DragArea } from '../ui/drag.tsx';

interface Frame {
  id: string;
  top: number;
  left: number;
  width: number;
  height: number;
}

/** What leads from screen to screen is used in Arrange too. */
const OF_FRAME = '[data-tab], [data-way], .k-back, .k-menu, .k-more, .k-close';

/** Lies over the phone in Arrange: finds elements by their id, selects on a press and moves on a drag. */
export function ArrangeOverlay({
  host,
  drawn,
  scale,
  selected,
  onSelect,
}: {
  host: RefObject<HTMLDivElement | null>;
  /** Grows when the phone shows something else. */
  drawn: number;
  scale: number;
  selected: string | null;
  onSelect(id: string): void;
}) {
  const app = useStudio((s) => s.app);
  const edit = useStudio((s) => s.edit);
  const [hover, setHover] = useState<Frame | null>(null);
  const [chosen, setChosen] = useState<Frame | null>(null);
  const [target, setTarget] = useState<(Frame & { where: 'before' | 'after' }) | null>(null);
  /** What is dragged. */
  const taken = useRef<string | null>(null);

  const frameOf = useCallback(
    (id: string | null): Frame | null => {
      const box = host.current;
      const el = id ? box?.querySelector(selectorOf(id)) : null;
      if (!box || !el || !id) return null;
      const [a, b] = [el.getBoundingClientRect(), box.getBoundingClientRect()];
      return {
        id,
        top: (a.top - b.top) / scale,
        left: (a.left - b.left) / scale,
        width: a.width / scale,
        height: a.height / scale,
      };
    },
    [host, scale],
  );

  useEffect(() => {
    const place = (): void => setChosen(frameOf(selected));
    const t = requestAnimationFrame(place);
    const scroller = host.current?.querySelector('.k-scroll');
    scroller?.addEventListener('scroll', place);
    return () => {
      cancelAnimationFrame(t);
      scroller?.removeEventListener('scroll', place);
    };
  }, [selected, drawn, frameOf, host]);

  const under = (x: number, y: number, overlay: Element): string | null => {
    const stack = document.elementsFromPoint(x, y).filter((e) => !overlay.contains(e));
    for (const e of stack) {
      const found = e.closest('[data-e]');
      if (found && host.current?.contains(found))
        return elementBehind(
          found.getAttribute('data-e')!,
          found.closest<HTMLElement>('.k-app')?.dataset['screen'] ?? '',
        );
    }
    return null;
  };

  const press = (x: number, y: number, overlay: Element): void => {
    const tab = document
      .elementsFromPoint(x, y)
      .find((e) => e.closest(OF_FRAME))
      ?.closest<HTMLElement>(OF_FRAME);
    if (tab) {
      taken.current = null;
      tab.click();
      return;
    }
    taken.current = under(x, y, overlay);
    if (taken.current) onSelect(taken.current);
  };
  const targetAt = (x: number, y: number, overlay: Element | null): typeof target => {
    const over = overlay && frameOf(under(x, y, overlay));
    const box = host.current;
    if (!over || !box || over.id === taken.current) return null;
    const below = (y - box.getBoundingClientRect().top) / scale >= over.top + over.height / 2;
    return { ...over, where: below ? 'after' : 'before' };
  };
  const surface = useRef<HTMLDivElement>(null);
  return (
    <DragArea
      onMove={({ point }) => setTarget(taken.current ? targetAt(point.x, point.y, surface.current) : null)}
      onDrop={({ point }) => {
        const id = taken.current;
        const to = id && targetAt(point.x, point.y, surface.current);
        setTarget(null);
        if (id && to) void edit('Moved an element', (a) => moveElement(a, id, to.id, to.where));
      }}
    >
      {(at) => (
        <Surface
          onNode={(node) => {
            surface.current = node;
          }}
          onPress={press}
          onHover={(x, y, overlay) => !at && setHover(frameOf(under(x, y, overlay)))}
          onLeave={() => setHover(null)}
          onWheel={(by) => host.current?.querySelector('.k-scroll')?.scrollBy(0, by)}
        >
          {hover && hover.id !== selected && !at && <Outline frame={hover} />}
          {chosen && <Outline frame={chosen} label={app ? labelOf(elementOf(app, chosen.id)) : ''} />}
          {at && target && (
            <div
              className="pointer-events-none absolute h-[3px] rounded bg-persimmon"
              style={{
                left: target.left,
                width: target.width,
                top: (target.where === 'before' ? target.top : target.top + target.height) - 2,
              }}
            />
          )}
        </Surface>
      )}
    </DragArea>
  );
}

/** What lies over the phone: pressed to select, dragged to move what is under the finger. */
function Surface({
  onNode,
  onPress,
  onHover,
  onLeave,
  onWheel,
  children,
}: {
  onNode(node: HTMLDivElement | null): void;
  onPress(x: number, y: number, overlay: Element): void;
  onHover(x: number, y: number, overlay: Element): void;
  onLeave(): void;
  onWheel(by: number): void;
  children: ReactNode;
}) {
  const { setNodeRef, listeners } = useDraggable({ id: 'the element' });
  return (
    <div
      ref={(node) => {
        onNode(node);
        setNodeRef(node);
      }}
      className="absolute inset-0 z-10 touch-none"
      {...listeners}
      onPointerDown={(e) => onPress(e.clientX, e.clientY, e.currentTarget)}
      onPointerMove={(e) => onHover(e.clientX, e.clientY, e.currentTarget)}
      onPointerLeave={onLeave}
      onWheel={(e) => onWheel(e.deltaY)}
    >
      {children}
    </div>
  );
}

const labelOf = (e: ReturnType<typeof elementOf>): string => (e ? (e.name ?? kindName(e.kind)) : '');

function Outline({ frame, label }: { frame: Frame; label?: string }) {
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
