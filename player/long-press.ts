/** So long a finger rests for a long press, in milliseconds; it may move so many pixels meanwhile. */
const LONG_MS = 550;
const STILL = 10;

type Tap = (key: string, element: string, property: string) => void;

/**
 * A finger is down on something that hears long presses, since this event; `end` is aborted when it is lifted. Lifting
 * it after a long press is no tap.
 */
export function begin(down: PointerEvent, on: HTMLElement, end: AbortController, tap: Tap): void {
  const { signal } = end;
  const { e, long } = on.dataset;
  if (signal.aborted) return;
  const moved = (e: PointerEvent): void => {
    if (Math.abs(e.clientX - down.clientX) + Math.abs(e.clientY - down.clientY) > STILL) end.abort();
  };
  const timer = setTimeout(
    () => {
      end.abort();
      // The click that follows is the end of the press.
      const swallow = (e: Event): void => {
        e.stopPropagation();
        e.preventDefault();
      };
      on.addEventListener('click', swallow, { capture: true, once: true });
      const lifted = (): void => void setTimeout(() => on.removeEventListener('click', swallow, true), 50);
      addEventListener('pointerup', lifted, { once: true });
      addEventListener('pointercancel', lifted, { once: true });
      tap(long!, e!, 'long');
    },
    LONG_MS - (performance.now() - down.timeStamp),
  );
  signal.addEventListener('abort', () => clearTimeout(timer));
  addEventListener('pointermove', moved, { signal });
  addEventListener('pointercancel', () => end.abort(), { signal });
  // Phones that know a long press of their own would show a menu.
  addEventListener('contextmenu', (e) => e.preventDefault(), { signal });
}
