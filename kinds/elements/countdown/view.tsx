import { useEffect, useState } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { countdown } from './definition.ts';
import './countdown.css';

export default function CountdownView({ e }: { e: Drawn<typeof countdown> }) {
  const until = e.until === null ? NaN : new Date(e.until).getTime();
  const [now, setNow] = useState(() => Date.now());
  const left = Math.max(0, Math.ceil((until - now) / 1000));
  const isOver = !Number.isNaN(until) && left === 0;
  useEffect(() => {
    if (Number.isNaN(until) || isOver) return undefined;
    const tick = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(tick);
  }, [until, isOver]);
  if (Number.isNaN(until)) return <p className="k-text k-none">{e.label}: no moment is known yet</p>;
  if (isOver)
    return (
      <p className="k-text" data-e={e.id} style={sizeOf(e)}>
        {e.ended}
      </p>
    );
  return (
    <div className="k-countdown" data-e={e.id} style={sizeOf(e)} role="timer">
      <span>{e.label}</span>
      <p>
        {partsOf(left).map(([n, unit]) => (
          <span key={unit}>
            <b>{n}</b> {unit}
          </span>
        ))}
      </p>
    </div>
  );
}

/** Days, hours and minutes; seconds on the last day. */
function partsOf(seconds: number): [number, string][] {
  const [d, h, m, s] = [
    Math.floor(seconds / 86_400),
    Math.floor(seconds / 3600) % 24,
    Math.floor(seconds / 60) % 60,
    seconds % 60,
  ];
  const said = (n: number, one: string): [number, string] => [n, n === 1 ? one : `${one}s`];
  if (d > 0) return [said(d, 'day'), said(h, 'hour'), [m, 'min']];
  return [said(h, 'hour'), [m, 'min'], [s, 's']];
}
