import { useCallback, useEffect, useState, type RefObject } from 'react';
import { kindName } from '../../core/app/names.ts';
import { elementOf, moveElement } from '../../core/app/edits.ts';
import { useStudio } from '../state/studio.ts';

interface Frame {
  id: string;
  top: number;
  left: number;
  width: number;
  height: number;
}

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
  const [drag, setDrag] = useState<{
    id: string;
    x: number;
    y: number;
    moved: boolean;
    target: (Frame & { where: 'before' | 'after' }) | null;
  } | null>(null);

  const frameOf = useCallback(
    (id: string | null): Frame | null => {
      const box = host.current;
      const el = id ? box?.querySelector(`[data-e="${id}"]`) : null;
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
      if (found && host.current?.contains(found)) return found.getAttribute('data-e');
    }
    return null;
  };

  return (
    <div
      className="absolute inset-0 z-10 touch-none"
      onPointerDown={(e) => {
        const id = under(e.clientX, e.clientY, e.currentTarget);
        const tab = document
          .elementsFromPoint(e.clientX, e.clientY)
          .find((x) => x.closest('[data-tab], .k-back'))
          ?.closest<HTMLElement>('[data-tab], .k-back');
        if (tab) {
          tab.click();
          return;
        }
        if (!id) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrag({ id, x: e.clientX, y: e.clientY, moved: false, target: null });
        onSelect(id);
      }}
      onPointerMove={(e) => {
        if (!drag) {
          setHover(frameOf(under(e.clientX, e.clientY, e.currentTarget)));
          return;
        }
        const moved = drag.moved || Math.hypot(e.clientX - drag.x, e.clientY - drag.y) > 5;
        const over = frameOf(under(e.clientX, e.clientY, e.currentTarget));
        const box = host.current!.getBoundingClientRect();
        const target =
          moved && over && over.id !== drag.id
            ? {
                ...over,
                where: ((e.clientY - box.top) / scale < over.top + over.height / 2 ? 'before' : 'after') as
                  'before' | 'after',
              }
            : null;
        setDrag({ ...drag, moved, target });
      }}
      onPointerUp={() => {
        if (drag?.target) {
          const { id, target } = drag;
          void edit('Moved an element', (a) => moveElement(a, id, target.id, target.where));
        }
        setDrag(null);
      }}
      onPointerLeave={() => setHover(null)}
      onWheel={(e) => host.current?.querySelector('.k-scroll')?.scrollBy(0, e.deltaY)}
    >
      {hover && hover.id !== selected && !drag && <Outline frame={hover} />}
      {chosen && <Outline frame={chosen} label={app ? labelOf(elementOf(app, chosen.id)) : ''} />}
      {drag?.target && (
        <div
          className="pointer-events-none absolute h-[3px] rounded bg-persimmon"
          style={{
            left: drag.target.left,
            width: drag.target.width,
            top: (drag.target.where === 'before' ? drag.target.top : drag.target.top + drag.target.height) - 2,
          }}
        />
      )}
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
