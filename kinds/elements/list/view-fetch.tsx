import { useEffect, useState } from 'react';
import type { FetchState } from '../../../core/records/fetching.ts';
import { usePlayer } from '../../../player/context.ts';
import './fetch.css';

/** So far the page is pulled down until it is fetched anew, in pixels. */
const FAR = 70;

/** Says that records are being fetched, or why they are not here; pulling the page down fetches them anew. */
export default function Fetch({ state, isEmpty }: { state: FetchState; isEmpty: boolean }) {
  const { api, scroller } = usePlayer();
  const [pulled, setPulled] = useState(0);
  useEffect(() => {
    const page = scroller.current;
    if (!page) return;
    const end = new AbortController();
    const on = { signal: end.signal, passive: true };
    let from: number | null = null;
    let by = 0;
    page.addEventListener('touchstart', (e) => void (from = page.scrollTop <= 0 ? e.touches[0]!.clientY : null), on);
    page.addEventListener(
      'touchmove',
      (e) => {
        if (from === null) return;
        by = page.scrollTop > 0 ? 0 : Math.max(0, e.touches[0]!.clientY - from);
        setPulled(Math.min(by, FAR * 1.2));
      },
      on,
    );
    for (const over of ['touchend', 'touchcancel'] as const)
      page.addEventListener(
        over,
        () => {
          if (over === 'touchend' && by >= FAR) void api.again();
          [from, by] = [null, 0];
          setPulled(0);
        },
        on,
      );
    return () => end.abort();
  }, [api, scroller]);
  const again = (
    <button type="button" className="k-link" onClick={() => void api.again()}>
      Try again
    </button>
  );
  return (
    <>
      {state.waits?.map((w) => (
        <p key={w.record} className="k-waits" role="status" data-bad={w.said !== null || undefined}>
          <span>
            <b>{w.title || 'What you saved'}</b> {w.said === null ? 'waits to be sent.' : `was not taken. ${w.said}`}
          </span>
          {w.said !== null && (
            <button type="button" className="k-link" onClick={() => void api.waits(w.record, 'send')}>
              Send again
            </button>
          )}
          <button type="button" className="k-link" onClick={() => void api.waits(w.record, 'take back')}>
            Take back
          </button>
        </p>
      ))}
      {pulled > 8 && (
        <p className="k-pull" style={{ height: pulled }} aria-hidden>
          {pulled >= FAR ? 'Let go to fetch anew' : 'Pull to fetch anew'}
        </p>
      )}
      {state.asking ? (
        <p className="k-fetch" role="status" data-first={isEmpty || undefined}>
          {isEmpty ? 'Fetching' : ''}
        </p>
      ) : (
        state.said !== null && (
          <p className="k-fetch" role="status" data-bad>
            {isEmpty || state.at === null ? state.said : `${state.said} These are of ${spoken(state.at)}.`} {again}
          </p>
        )
      )}
    </>
  );
}

/** A moment as it is told: the time today, the day before that. */
function spoken(at: number): string {
  const then = new Date(at);
  const time = then.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });
  return then.toDateString() === new Date().toDateString()
    ? time
    : `${then.toLocaleDateString(undefined, { day: 'numeric', month: 'short' })}, ${time}`;
}
