import { useRef, useState, type MouseEvent } from 'react';
import { toast } from 'sonner';
import { useApp } from '../state/studio.ts';
import { plainSentence } from '../../core/scenes/sentence.ts';
import { useRoom } from './room.ts';

interface Pointed {
  element: string;
  record: string | null;
  box: { left: number; top: number; width: number; height: number };
}

/** Lies over a phone while something on it is pointed at: a press expects it, and does nothing there. */
export function PointHere({ phone }: { phone: string }) {
  const engine = useRoom((s) => s.engine)!;
  const soFar = useRoom((s) => s.soFar);
  const expect = useRoom((s) => s.expect);
  const app = useApp();
  const cover = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<Pointed | null>(null);
  return (
    <div
      ref={cover}
      className="absolute inset-0 z-10 cursor-crosshair"
      onMouseMove={(e) => setAt(pointed(cover.current!, e))}
      onMouseLeave={() => setAt(null)}
      onClick={(e) => {
        const here = pointed(cover.current!, e);
        if (!here) return;
        void engine.expectSeen(phone, here.element, here.record).then((step) => {
          if (step) toast(`Expected: ${plainSentence(app, soFar, step)}`);
          expect(false);
        });
      }}
    >
      {at && (
        <div
          aria-hidden
          className="pointer-events-none absolute rounded-lg bg-dusk/10 ring-2 ring-dusk"
          style={{ ...at.box }}
        />
      )}
    </div>
  );
}

/** What lies below the cover at the mouse: an element, or the row of a list. */
function pointed(cover: HTMLElement, e: MouseEvent): Pointed | null {
  const below = document.elementsFromPoint(e.clientX, e.clientY).find((x) => x !== cover && !cover.contains(x));
  const on = below?.closest<HTMLElement>('[data-e], [data-record]');
  const app = cover.parentElement;
  if (!on || !app?.contains(on)) return null;
  const element = on.closest<HTMLElement>('[data-e]')?.dataset['e'];
  if (!element) return null;
  const record = on.closest<HTMLElement>('[data-record]')?.dataset['record'] ?? null;
  const [of, room] = [on.getBoundingClientRect(), cover.getBoundingClientRect()];
  // The phone is drawn smaller than it is.
  const scale = room.width / cover.offsetWidth;
  const box = {
    left: (of.left - room.left) / scale,
    top: (of.top - room.top) / scale,
    width: of.width / scale,
    height: of.height / scale,
  };
  return { element, record, box };
}
