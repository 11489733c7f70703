import { useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { WalkApi } from '../../core/phone/walk.ts';
import type { Still } from '../../core/rehearsal/seen.ts';
import type { App } from '../../core/app/schema.ts';
import { Player } from '../../player/Player.tsx';
import { frameSeen } from '../shell/frame-seen.ts';
import { useEngine } from '../state/studio.ts';

const WIDTH = 390;
const HEIGHT = 844;

/** What a phone showed at some time, drawn anew and still. `focus` is ringed, and brought into view where it is cut off. */
export function StillPhone({
  still,
  app,
  width,
  height = (HEIGHT * width) / WIDTH,
  focus,
}: {
  still: Still;
  app: App;
  /** In pixels; with a lower height the phone is cut off below. */
  width: number;
  height?: number;
  focus?: { element: string; record: string | null } | undefined;
}) {
  const engine = useEngine();
  const frame = frameSeen(app);
  const box = useRef<HTMLDivElement>(null);
  const [ring, setRing] = useState<{ left: number; top: number; width: number; height: number } | null>(null);
  const { api, walk } = useMemo(() => stillPhone(still, (address) => engine.phone.file(address)), [still, engine]);
  const scale = width / WIDTH;
  const shownHeight = height / scale;

  useLayoutEffect(() => {
    if (!focus) return;
    const look = (): void => {
      const on = box.current && placed(box.current, focus);
      if (!on) return;
      bringIntoView(on, box.current!);
      const [a, b] = [on.getBoundingClientRect(), box.current!.getBoundingClientRect()];
      const by = b.width / WIDTH || 1;
      setRing({ left: (a.left - b.left) / by, top: (a.top - b.top) / by, width: a.width / by, height: a.height / by });
    };
    const watch = new MutationObserver(look);
    watch.observe(box.current!, { childList: true, subtree: true });
    look();
    return () => watch.disconnect();
  }, [focus?.element, focus?.record, still]);

  const middle = ring ? ring.top + ring.height / 2 : 0;
  const up = ring ? Math.max(0, Math.min(HEIGHT - shownHeight, middle - shownHeight / 2)) : 0;
  const palette = frame.look.light;
  return (
    <div
      aria-hidden
      inert
      className="relative overflow-hidden rounded-lg border border-line"
      style={{ width, height, background: palette.ground }}
    >
      <div
        ref={box}
        className="absolute top-0 left-0 origin-top-left [font-size:16px]"
        style={{ width: WIDTH, height: HEIGHT, transform: `translateY(${-up * scale}px) scale(${scale})` }}
      >
        <Player api={api} walk={walk} frame={frame} />
        {ring && (
          <div
            className="absolute rounded-lg ring-[6px] ring-dusk"
            style={{ left: ring.left, top: ring.top, width: ring.width, height: ring.height }}
          />
        )}
      </div>
    </div>
  );
}

/** Scrolls what lies around something within a phone, and nothing of the page. */
function bringIntoView(on: Element, within: HTMLElement): void {
  for (let e = on.parentElement; e && e !== within; e = e.parentElement) {
    if (e.scrollHeight <= e.clientHeight + 1 && e.scrollWidth <= e.clientWidth + 1) continue;
    if (getComputedStyle(e).overflow === 'visible') continue;
    const [a, b] = [on.getBoundingClientRect(), e.getBoundingClientRect()];
    const scale = b.width / e.offsetWidth || 1;
    if (a.bottom > b.bottom || a.top < b.top) e.scrollTop += (a.top - b.top - (b.height - a.height) / 2) / scale;
    if (a.right > b.right || a.left < b.left) e.scrollLeft += (a.left - b.left) / scale;
  }
}

/** Where something is drawn: in the row of its record, or outside of rows. */
function placed(box: HTMLElement, { element, record }: { element: string; record: string | null }): Element | null {
  const all = [...box.querySelectorAll(`[data-e="${CSS.escape(element)}"]`)];
  if (record === null) return all[0] ?? null;
  const inRow = all.find((e) => e.closest<HTMLElement>('[data-record]')?.dataset['record'] === record);
  return inRow ?? all[0]?.querySelector(`[data-record="${CSS.escape(record)}"]`) ?? null;
}

/** A phone that shows what it is given, and does nothing. */
function stillPhone(still: Still, file: (address: string) => Promise<Blob | null>): { api: PhoneApi; walk: WalkApi } {
  const nothing = async (): Promise<null> => null;
  const known: Partial<PhoneApi> = {
    show: async () => false,
    choices: async () => [],
    titles: async () => ({}),
    file,
  };
  const api = new Proxy(known as PhoneApi, {
    get: (of, name) => of[name as keyof PhoneApi] ?? nothing,
  });
  const walk: WalkApi = {
    async begin(page) {
      page.where({ ...still.where, by: 'begin' }, {});
      for (const { opening, patch } of still.screens) void page.draw(opening, patch);
      page.asks(still.asked.filter((a) => a.do !== 'device'));
    },
    async end() {},
    go: async () => true,
    async inRoom() {},
    async drafted() {},
    async saved() {},
    async leaveAnyway() {},
    async stay() {},
  };
  return { api, walk };
}
