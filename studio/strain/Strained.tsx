import { useCallback, useEffect, useMemo, useRef } from 'react';
import type { Screen } from '../../core/app/schema.ts';
import { frameFor } from '../shell/frame-seen.ts';
import { picture } from '../../player/picture.ts';
import { Player } from '../../player/Player.tsx';
import type { ScreenStore } from '../../player/screen-store.ts';
import { usePhone } from '../state/phone.ts';
import { useApp, useEngine, usePreview } from '../state/studio.ts';
import { measured, type Finding } from './measure.ts';
import { grown, heightsOf, holdPictures } from './slow.ts';
import { inTrial, withLongest, type Strain } from './strains.ts';

/** Each of the small pages fits into this, in pixels. */
const ROOM = { width: 200, height: 380 };
/** Pictures and fonts arrive, and the page comes to rest. */
const REST_MS = 700;
/** A slow phone needs so many times as long as this machine. */
const SLOW = 4;
/** A screen that takes longer than this, in milliseconds, makes people wonder whether it comes. */
const PATIENCE_MS = 3000;

/** The screen under one strain, drawn by the real player, which nobody can press here. */
export function Strained({
  strain,
  screen,
  count,
  tell,
}: {
  strain: Strain;
  screen: Screen;
  count: number | null;
  tell(id: string, found: Finding[]): void;
}) {
  const app = useApp();
  const preview = usePreview();
  const engine = useEngine();
  const place = usePhone((s) => s.place);
  const frame = useMemo(() => frameFor(app), [app]);
  const { api, worked } = useMemo(() => {
    const worked = { ms: 0 };
    const took = (ms: number): void => void (worked.ms = ms);
    const api = strain.trial ? inTrial(preview, strain.trial, engine, took) : preview;
    return { api: strain.longest ? withLongest(api) : api, worked };
  }, [preview, engine, strain]);
  const record = place?.screen === screen.id ? place.record : null;
  const walk = useMemo(() => picture(api, { screen: screen.id, record }), [api, screen.id, record]);
  const box = useRef<HTMLDivElement>(null);
  const rest = useRef(0);
  const [w, h] = strain.size;
  const scale = Math.min(ROOM.width / w, ROOM.height / h);
  const zoom = strain.zoom ?? 1;

  const come = useRef<() => void>(() => undefined);
  useEffect(() => {
    if (strain.slow) come.current = holdPictures(box.current!);
    return () => come.current();
  }, [strain.slow]);
  const onDrawn = useCallback(
    (store: ScreenStore) => {
      const later = (what: (page: HTMLElement) => void): void => {
        clearTimeout(rest.current);
        rest.current = window.setTimeout(() => {
          const page = box.current?.querySelector<HTMLElement>('.k-app');
          if (page) what(page);
        }, REST_MS);
      };
      later((page) => {
        const found = measured(page, scale * zoom, zoom);
        const slow = worked.ms * SLOW;
        if (slow > PATIENCE_MS) found.push(...tooSlow(page, store, slow));
        if (!strain.slow) {
          tell(strain.id, marked(page, found));
          return;
        }
        // What the pictures move when they come is measured; then they are on their way again.
        const before = heightsOf(page);
        come.current();
        later((now) => {
          found.push(...grown(now, before));
          come.current = holdPictures(box.current!);
          tell(strain.id, marked(now, found));
        });
      });
    },
    [tell, strain, scale, zoom, worked],
  );
  useEffect(() => () => clearTimeout(rest.current), []);
  return (
    <figure className="m-0">
      <figcaption
        className="mb-1.5 flex items-baseline justify-between gap-2 font-semibold"
        style={{ width: w * scale }}
      >
        {strain.name}
        {count !== null && count > 0 && <span className="text-saffron">{count}</span>}
      </figcaption>
      <div
        ref={box}
        inert
        data-strain={strain.id}
        className="overflow-hidden rounded-[14px] shadow-[0_0_0_1px_var(--color-line)]"
        style={{ width: w * scale, height: h * scale }}
      >
        <div
          dir={strain.rightToLeft ? 'rtl' : undefined}
          className="origin-top-left font-normal [font-size:16px]"
          style={{ width: w / zoom, height: h / zoom, transform: `scale(${scale * zoom})` }}
        >
          <Player api={api} walk={walk} frame={frame} dark={strain.dark ?? false} onDrawn={onDrawn} />
        </div>
      </div>
    </figure>
  );
}

/** Marks on a small page where its findings are, and nothing else. */
function marked(page: HTMLElement, found: Finding[]): Finding[] {
  for (const e of page.querySelectorAll('[data-fault]')) e.removeAttribute('data-fault');
  for (const f of found) f.node.setAttribute('data-fault', '');
  return found;
}

/** What shows the most records, when the screen takes so many milliseconds on a slow phone. */
function tooSlow(page: HTMLElement, store: ScreenStore, ms: number): Finding[] {
  const behind = (n: Record<string, unknown>): number => Number(n['records'] ?? n['total'] ?? 0);
  const [heaviest] = [...store.all()].filter((n) => behind(n) > 0).sort((a, b) => behind(b) - behind(a));
  const node = heaviest && page.querySelector(`[data-e="${CSS.escape(heaviest.id)}"]`);
  if (!heaviest || !node) return [];
  const said = `Its ${behind(heaviest).toLocaleString('en-GB')} records take ${(ms / 1000).toFixed(1)} seconds on a slow phone`;
  return [{ element: heaviest.id, kind: 'slow', said, node }];
}
