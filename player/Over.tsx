import { useEffect, useRef, type ReactNode } from 'react';
import type { Way } from '../core/app/frames.ts';
import { iconOf } from './icons.tsx';
import './over.css';

/** A finger that moved so far to a side, or down, means it. */
const MOVED = 70;

/** A screen upon the one before, of some height; closed by its button, a tap beside it, Escape or a finger downwards. */
export function Sheet({
  height,
  label,
  children,
  onClose,
}: {
  height: 'low' | 'half' | 'full';
  label: string;
  children: ReactNode;
  onClose(): void;
}) {
  const Close = iconOf('close');
  const box = useRef<HTMLDivElement>(null);
  const from = useRef<number | null>(null);
  useFocusIn(box);
  useEscape(onClose);
  return (
    <div className="k-over" onClick={(e) => e.target === e.currentTarget && onClose()}>
      <div className="k-sheet" data-height={height} role="dialog" aria-modal aria-label={label} ref={box} tabIndex={-1}>
        <div
          className="k-grip"
          onPointerDown={(e) => {
            // The button in it is pressed, not dragged.
            if (e.target instanceof Element && e.target.closest('button')) return;
            from.current = e.clientY;
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerUp={(e) => {
            if (from.current !== null && e.clientY - from.current > MOVED) onClose();
            from.current = null;
          }}
        >
          <span aria-hidden />
          <button type="button" className="k-close" aria-label="Close" onClick={onClose}>
            {Close && <Close size={20} aria-hidden />}
          </button>
        </div>
        {children}
      </div>
    </div>
  );
}

/** What opens at the side: a head, and ways to screens. */
export function Drawer({
  logo,
  head,
  ways,
  current,
  onOpen,
  onClose,
}: {
  logo: string;
  head: string | null;
  /** Those that are seen, each with its count. */
  ways: readonly [Way, string | null][];
  current: string;
  onOpen(screen: string): void;
  onClose(): void;
}) {
  const box = useRef<HTMLDivElement>(null);
  useFocusIn(box);
  useEscape(onClose);
  return (
    <div className="k-over" data-side onClick={(e) => e.target === e.currentTarget && onClose()}>
      <nav className="k-drawer" aria-label="Menu" ref={box} tabIndex={-1}>
        {(head || logo) && (
          <div className="k-drawer-head">
            {logo && <img src={logo} alt="" />}
            {head && <p>{head}</p>}
          </div>
        )}
        {ways.map(([w, count]) => {
          const Icon = iconOf(w.icon);
          return (
            <button
              key={w.screen}
              data-way={w.screen}
              aria-current={current === w.screen ? 'page' : undefined}
              onClick={() => onOpen(w.screen)}
            >
              {Icon && <Icon size={21} aria-hidden />}
              <span>{w.name}</span>
              {count && <b className="k-count">{count}</b>}
            </button>
          );
        })}
      </nav>
    </div>
  );
}

/** Asks before typed words are thrown away. */
export function LeaveAsk({ onStay, onLeave }: { onStay(): void; onLeave(): void }) {
  const box = useRef<HTMLDivElement>(null);
  useFocusIn(box);
  useEscape(onStay);
  return (
    <div className="k-over" data-ask>
      <div className="k-ask" role="alertdialog" aria-modal aria-label="Not saved yet" ref={box} tabIndex={-1}>
        <p className="k-text" data-style="heading">
          Not saved yet
        </p>
        <p>What you typed here is lost when you leave.</p>
        <button type="button" className="k-button" data-look="main" onClick={onStay}>
          Stay here
        </button>
        <button type="button" className="k-button" data-look="quiet" onClick={onLeave}>
          Throw it away
        </button>
      </div>
    </div>
  );
}

function useEscape(then: () => void): void {
  const now = useRef(then);
  useEffect(() => {
    now.current = then;
  });
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') now.current();
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);
}

/** What opens takes the focus, and gives it back to where it was. */
function useFocusIn(box: React.RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const before = document.activeElement;
    box.current?.focus({ preventScroll: true });
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    };
  }, [box]);
}
