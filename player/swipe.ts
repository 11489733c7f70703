/** A finger that begins so near the edge, and moves so far to the side, goes back or opens the drawer; in pixels. */
const EDGE = 26;
const SWIPED = 70;

/** A finger is down since this event: does something when it has moved from the left edge to the right. */
export function begin({ touches }: TouchEvent, on: HTMLElement, then: () => void): void {
  const [finger] = touches;
  if (!finger || touches.length > 1 || finger.clientX - on.getBoundingClientRect().left >= EDGE) return;
  const began = { x: finger.clientX, y: finger.clientY };
  const end = new AbortController();
  const lifted = ({ changedTouches: [t] }: TouchEvent): void => {
    end.abort();
    if (t && t.clientX - began.x > SWIPED && Math.abs(t.clientY - began.y) < SWIPED) then();
  };
  addEventListener('touchend', lifted, { signal: end.signal });
  addEventListener('touchcancel', () => end.abort(), { signal: end.signal });
}
