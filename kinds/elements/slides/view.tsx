import { useEffect, useRef, useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { ElementView, sizeOf } from '../../../player/ElementView.tsx';
import type { slides } from './definition.ts';
import './slides.css';

/** Slides that a finger, the dots and a button move; the last leads on to what a tap does. */
export default function SlidesView({ e }: { e: Drawn<typeof slides> }) {
  const { tap } = usePlayer();
  const strip = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState(0);
  const count = e.children.length;
  const isLast = at >= count - 1;
  useEffect(() => setAt((n) => Math.min(n, Math.max(0, count - 1))), [count]);

  const go = (to: number): void => {
    const slide = strip.current?.children[to];
    if (slide instanceof HTMLElement && strip.current)
      strip.current.scrollTo({ left: slide.offsetLeft - strip.current.offsetLeft, behavior: 'smooth' });
    setAt(to);
  };
  const end = (): void => {
    if (e.tap === 'act') tap(e.key, e.id);
  };
  const onScroll = (): void => {
    const box = strip.current;
    if (!box || count === 0) return;
    const middle = box.scrollLeft + box.clientWidth / 2;
    const nearest = [...box.children].findIndex((c) => {
      const left = (c as HTMLElement).offsetLeft - box.offsetLeft;
      return middle >= left && middle < left + (c as HTMLElement).offsetWidth + 12;
    });
    if (nearest >= 0 && nearest !== at) setAt(nearest);
  };
  const words = isLast ? e.last : e.next;
  return (
    <section
      className="k-slides"
      data-e={e.id}
      data-look={e.look}
      style={sizeOf(e)}
      aria-roledescription="slides"
      aria-label={`Slide ${at + 1} of ${count}`}
    >
      {e.skip && !isLast && (
        <button type="button" className="k-skip" onClick={end}>
          {e.skip}
        </button>
      )}
      <div className="k-strip" ref={strip} onScroll={onScroll} tabIndex={0} aria-label="Slides">
        {e.children.map((k, i) => (
          <div
            key={k}
            className="k-slide"
            aria-hidden={i !== at && e.look === 'whole'}
            inert={i !== at && e.look === 'whole'}
          >
            <ElementView k={k} />
          </div>
        ))}
      </div>
      {e.dots && count > 1 && (
        <div className="k-dots">
          {e.children.map((k, i) => (
            <button
              key={k}
              type="button"
              aria-label={`Slide ${i + 1}`}
              aria-current={i === at ? 'true' : undefined}
              onClick={() => go(i)}
            />
          ))}
        </div>
      )}
      {words && (
        <button type="button" className="k-button" data-look="main" onClick={() => (isLast ? end() : go(at + 1))}>
          {words}
        </button>
      )}
    </section>
  );
}
