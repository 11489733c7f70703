import type { Drawn } from '../../../core/screens/element.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import type { progress } from './definition.ts';
import './progress.css';

const RADIUS = 42;
const ROUND = 2 * Math.PI * RADIUS;

export default function ProgressView({ e }: { e: Drawn<typeof progress> }) {
  const percent = e.share === null ? null : Math.round(e.share * 100);
  return (
    <div
      className="k-progress"
      data-e={e.id}
      data-look={e.look}
      style={sizeOf(e)}
      role="progressbar"
      aria-label={e.label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={percent ?? undefined}
      aria-valuetext={e.said || 'not known'}
    >
      {e.look === 'ring' ? (
        <svg viewBox="0 0 100 100" aria-hidden>
          <circle className="k-progress-ground" cx="50" cy="50" r={RADIUS} />
          <circle
            className="k-progress-done"
            cx="50"
            cy="50"
            r={RADIUS}
            strokeDasharray={`${(e.share ?? 0) * ROUND} ${ROUND}`}
          />
          <text x="50" y="50">
            {percent === null ? '–' : `${percent} %`}
          </text>
        </svg>
      ) : (
        <div className="k-progress-bar" aria-hidden>
          <span style={{ width: `${percent ?? 0}%` }} />
        </div>
      )}
      <p>
        <span>{e.label}</span>
        <b>{e.said || 'not known yet'}</b>
      </p>
    </div>
  );
}
