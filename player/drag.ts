import type { PointerEvent as Pressed } from 'react';

/** Near its edge a strip that scrolls is moved along, so far from the edge and so far at once, in pixels. */
const EDGE = 40;
const STEP = 10;

/**
 * Begins to drag what a handle belongs to. The thing follows the finger or mouse; places that the selector finds are
 * marked with `data-over` while it is over them, and `drop` is told the one it is let go on. Escape gives up.
 */
export function beginDrag(
  ev: Pressed<HTMLElement>,
  thing: HTMLElement,
  places: string,
  drop: (place: HTMLElement, isLowerHalf: boolean) => void,
): void {
  ev.preventDefault();
  const handle = ev.currentTarget;
  const start = { x: ev.clientX, y: ev.clientY };
  const box = thing.getBoundingClientRect();
  // Beside the work the phone is drawn smaller than it is.
  const scale = box.width / thing.offsetWidth || 1;
  const strips = scrollersAround(thing);
  let over: HTMLElement | null = null;
  let isLowerHalf = false;

  const placeAt = (x: number, y: number): HTMLElement | null => {
    for (const el of document.elementsFromPoint(x, y)) {
      const place = thing.contains(el) ? null : el.closest<HTMLElement>(places);
      if (place && !thing.contains(place)) return place;
    }
    return null;
  };
  const move = (m: PointerEvent): void => {
    thing.style.transform = `translate(${(m.clientX - start.x) / scale}px, ${(m.clientY - start.y) / scale}px)`;
    const place = placeAt(m.clientX, m.clientY);
    if (place !== over) over?.removeAttribute('data-over');
    over = place;
    if (place) {
      const at = place.getBoundingClientRect();
      isLowerHalf = m.clientY > at.top + at.height / 2;
      place.dataset['over'] = isLowerHalf ? 'below' : 'above';
    }
    for (const strip of strips) scrollNear(strip, m);
  };
  const end = (): void => {
    handle.removeEventListener('pointermove', move);
    handle.removeEventListener('pointerup', letGo);
    handle.removeEventListener('pointercancel', end);
    removeEventListener('keydown', key, true);
    over?.removeAttribute('data-over');
    delete thing.dataset['dragged'];
    thing.style.transform = '';
  };
  const letGo = (): void => {
    const place = over;
    end();
    if (place) drop(place, isLowerHalf);
  };
  const key = (k: KeyboardEvent): void => {
    if (k.key !== 'Escape') return;
    k.stopPropagation();
    end();
  };
  handle.setPointerCapture(ev.pointerId);
  thing.dataset['dragged'] = '';
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', letGo);
  handle.addEventListener('pointercancel', end);
  addEventListener('keydown', key, true);
}

function scrollersAround(thing: HTMLElement): HTMLElement[] {
  const found: HTMLElement[] = [];
  for (let el = thing.parentElement; el && !el.matches('.k-app'); el = el.parentElement)
    if (/auto|scroll/.test(getComputedStyle(el).overflow)) found.push(el);
  return found;
}

function scrollNear(strip: HTMLElement, { clientX, clientY }: PointerEvent): void {
  const at = strip.getBoundingClientRect();
  const way = (n: number, low: number, high: number): number => (n < low + EDGE ? -STEP : n > high - EDGE ? STEP : 0);
  if (strip.scrollWidth > strip.clientWidth) strip.scrollLeft += way(clientX, at.left, at.right);
  if (strip.scrollHeight > strip.clientHeight) strip.scrollTop += way(clientY, at.top, at.bottom);
}
