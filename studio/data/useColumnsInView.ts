import { useCallback, useEffect, useState, type RefObject } from 'react';
import type { Column } from './fields.ts';

/** Pixels beyond the edges in which columns are drawn already. */
const AHEAD = 200;

/**
 * Places of the columns that are in view, frozen ones always among them, and the way to bring one into view. The
 * scroll position is read once a frame, when the page stands still: reading it in between makes the browser lay
 * everything out again.
 */
export function useColumnsInView(
  scroller: RefObject<HTMLElement | null>,
  columns: readonly Column[],
): { visible: readonly number[]; show(column: number): void } {
  const [range, setRange] = useState({ from: 0, to: 2000 });
  useEffect(() => {
    const element = scroller.current;
    if (!element) return undefined;
    let frame = 0;
    let left = -1;
    const look = (): void => {
      frame = 0;
      if (element.scrollLeft === left) return;
      left = element.scrollLeft;
      setRange({ from: left - AHEAD, to: left + element.clientWidth + AHEAD });
    };
    const later = (): void => {
      frame ||= requestAnimationFrame(look);
    };
    const resized = (): void => {
      left = -1;
      later();
    };
    const watch = new ResizeObserver(resized);
    watch.observe(element);
    element.addEventListener('scroll', later, { passive: true });
    return () => {
      cancelAnimationFrame(frame);
      watch.disconnect();
      element.removeEventListener('scroll', later);
    };
  }, [scroller]);

  const visible = columns.flatMap((c, i) =>
    c.frozen || (c.left + c.width > range.from && c.left < range.to) ? [i] : [],
  );
  const show = useCallback(
    (at: number): void => {
      const element = scroller.current;
      const column = columns[at];
      if (!element || !column || column.frozen) return;
      const pinned = columns.reduce((w, c) => (c.frozen ? w + c.width : w), 0);
      if (column.left - pinned < element.scrollLeft) element.scrollTo({ left: column.left - pinned });
      else if (column.left + column.width > element.scrollLeft + element.clientWidth)
        element.scrollTo({ left: column.left + column.width - element.clientWidth });
    },
    [scroller, columns],
  );
  return { visible: useSame(visible), show };
}

/** The list of the draw before, while it says the same. */
function useSame(list: readonly number[]): readonly number[] {
  const [kept, setKept] = useState(list);
  if (kept.length === list.length && kept.every((n, i) => n === list[i])) return kept;
  setKept(list);
  return list;
}
