import { useLayoutEffect, useRef, type RefObject } from 'react';

/** Room between a card and the edge of the grid, in pixels. */
const EDGE = 6;
/** The names of the columns lie over the first line. */
const HEAD = 36;

/**
 * The card over a cell, kept in view: it is moved up and to the left as far as it would be cut off by the grid, and scrolls
 * within itself where the grid is lower than it.
 */
export function useWithin(): RefObject<HTMLDivElement | null> {
  const card = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const e = card.current;
    const grid = e?.closest('[role=grid]');
    if (!e || !grid) return undefined;
    const place = (): void => {
      e.style.margin = '0';
      e.style.maxHeight = '';
      const [own, around] = [e.getBoundingClientRect(), grid.getBoundingClientRect()];
      const room = around.height - HEAD - 2 * EDGE;
      if (own.height > room) {
        e.style.maxHeight = `${room}px`;
        e.style.overflowY = 'auto';
      }
      const down = own.top + Math.min(own.height, room) + EDGE - around.bottom;
      const right = own.right + EDGE - around.right;
      if (down > 0) e.style.marginTop = `${-down}px`;
      if (right > 0) e.style.marginLeft = `${-Math.min(right, own.left - around.left - EDGE)}px`;
    };
    place();
    // Its choices come later, and are fewer or more as somebody types.
    const sizes = new ResizeObserver(place);
    sizes.observe(e);
    sizes.observe(grid);
    return () => sizes.disconnect();
  }, []);
  return card;
}
