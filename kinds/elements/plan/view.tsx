import { useState, type CSSProperties } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { iconOf } from '../../../player/icons.tsx';
import { useKept } from '../../../player/kept.ts';
import { ListFrame, NoneShown, RecordRow } from '../list/view-frame.tsx';
import type { plan } from './definition.ts';
import './plan.css';

/** How large the ground can be drawn, to the room there is. */
const SIZES = [1, 1.5, 2.25, 3.5];

/** Marks on a picture or a map. The one that is pressed is shown below, and leads on from there. */
export default function PlanView({ e }: { e: Drawn<typeof plan> }) {
  const { look, api } = usePlayer();
  const [size, setSize] = useState(0);
  const { url } = useKept(api, e.ground);
  const Nearer = iconOf('plus')!;
  const Farther = iconOf('minus')!;
  const style = { '--k-zoom': SIZES[size], ...(e.ratio && { aspectRatio: e.ratio }) } as CSSProperties;
  return (
    <ListFrame e={e} label={`${e.marks.length} marks`}>
      {(e.marks.length > 0 || url || e.land) && (
        <div className="k-plan">
          <div className="k-plan-scroll" tabIndex={0} role="region" aria-label={e.ratio ? 'Map' : 'Plan'}>
            <div className="k-plan-ground" data-map={!url || undefined} style={style}>
              {url && <img src={url} alt="" draggable={false} />}
              {e.land && (
                <svg className="k-plan-land" viewBox={`0 0 1000 ${1000 / (e.ratio ?? 1)}`} aria-hidden>
                  <path className="k-plan-area" d={e.land.areas} />
                  <path className="k-plan-line" d={e.land.lines} />
                </svg>
              )}
              {e.marks.map((m) => (
                <button
                  key={m.record}
                  type="button"
                  className="k-plan-mark"
                  aria-label={m.label}
                  aria-pressed={m.record === e.chosen}
                  style={{ left: `${m.x * 100}%`, top: `${m.y * 100}%` }}
                  onClick={() => look(e.key, { mark: m.record === e.chosen ? null : m.record })}
                >
                  <i />
                </button>
              ))}
              {e.scale && (
                <span className="k-plan-scale" style={{ width: `${e.scale.share * 100}%` }}>
                  {e.scale.said}
                </span>
              )}
            </div>
          </div>
          <div className="k-plan-zoom">
            <button
              type="button"
              aria-label="Nearer"
              disabled={size === SIZES.length - 1}
              onClick={() => setSize(size + 1)}
            >
              <Nearer size={20} aria-hidden />
            </button>
            <button type="button" aria-label="Farther" disabled={size === 0} onClick={() => setSize(size - 1)}>
              <Farther size={20} aria-hidden />
            </button>
          </div>
        </div>
      )}
      {e.marks.length === 0 && <NoneShown e={e} />}
      {e.rows.map((row) => (
        <RecordRow key={row.record} e={e} row={row} surface="card" />
      ))}
      {e.without > 0 && (
        <p className="k-help">{e.without === 1 ? 'One has no place here.' : `${e.without} have no place here.`}</p>
      )}
    </ListFrame>
  );
}
